/** Presets of steps for all scenes. */
import { Type } from 'typebox';
import type { Preset } from '../document/presets';
import { presetFaults } from '../document/validate';
import { defineSetting } from './define';

const schema = Type.Array(Type.Unknown(), { maxItems: 500 });

export const presets = defineSetting<'presets', typeof schema, ReadonlyArray<Preset>>({
  name: 'presets',
  schema,
  first: [],
  most: 4 * 1024 * 1024,
  faults: (list) => list.flatMap((preset, k) => presetFaults(preset, String(k))),
});
