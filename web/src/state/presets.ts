/** Presets of the scene: kept from a piece's steps, and taken away; those for all scenes are a setting of the workshop. */
import { presetSteps, type Preset } from '@urnsmith/core/document/presets';
import type { Step } from '@urnsmith/core/steps/index';
import type { OpenScene } from './OpenScene';
import { commitDocument } from './actions';

/** A preset of what can be lent of some steps; null when none can. */
export function presetOf(
  name: string,
  steps: ReadonlyArray<Step>,
  others: ReadonlyArray<Preset>,
): Preset | null {
  const kept = presetSteps(steps);
  if (!kept.length || !name.trim()) return null;
  const taken = new Set(others.map((p) => p.id));
  let k = 1;
  while (taken.has(`preset${k}`)) k++;
  return { id: `preset${k}`, name: name.trim(), steps: kept };
}

export const keepPreset = (scene: OpenScene, preset: Preset): boolean =>
  commitDocument(scene, `Keep the preset ${preset.name}`, (doc) => ({
    ...doc,
    presets: { ...doc.presets, [preset.id]: preset },
  }));

export const forgetPreset = (scene: OpenScene, { id, name }: Preset): boolean =>
  commitDocument(scene, `Forget the preset ${name}`, (doc) => {
    const { [id]: _, ...presets } = doc.presets;
    return { ...doc, presets };
  });
