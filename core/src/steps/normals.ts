/** Normals: shading normals of corners, weighted within their smooth fans. */
import { Type } from 'typebox';
import { warn } from '../mesh/errors';
import type { PolyMesh } from '../mesh/PolyMesh';
import { choice } from '../ops/fields';
import { resolveSelect, ScopeSchema, type Scope } from '../select/rules';
import { convertSelection } from '../select/selection';
import { FACE_LEADS, type FaceLead } from '../shading/leads';
import { defineStep } from './define';
import { shade, type ShadeOptions } from './shade';

const isBuilt = ({ weight }: { weight?: string }): boolean => weight === 'built';

export const normals = defineStep({
  kind: 'normals',
  title: 'Normals',
  lane: 'Shade',
  example: { kind: 'normals', weight: 'built', hardAngle: 40 },
  params: {
    hardAngle: Type.Optional(
      Type.Number({ title: 'Hard angle', unit: '°', minimum: 0, maximum: 180, default: 40 }),
    ),
    weight: Type.Optional(choice('Shading', ['built', 'angle', 'area', 'both', 'squared'], 'area')),
    /** The order in which kinds of faces lead where true normals differ. Kinds left out come last. */
    leads: Type.Optional(
      Type.Array(Type.Unsafe<FaceLead>(Type.Union(FACE_LEADS.map((x) => Type.Literal(x)))), {
        title: 'Who leads',
        minItems: 1,
        maxItems: FACE_LEADS.length,
        uniqueItems: true,
        default: [...FACE_LEADS],
      }),
    ),
    rank: Type.Optional(Type.Boolean({ title: 'Large faces lead', default: true })),
    cutOff: Type.Optional(Type.Number({ title: 'Cut-off', unit: '', minimum: 0, maximum: 1, default: 0 })),
    /** Faces whose weights are this near to the heaviest count as that one. */
    alike: Type.Optional(
      Type.Number({ title: 'Count as equal', unit: '%', minimum: 0, maximum: 100, default: 0 }),
    ),
    held: Type.Optional(choice('Held normals', ['keep', 'replace', 'blend'], 'keep')),
    hardSeams: Type.Optional(Type.Boolean({ title: 'Hard at UV seams', default: false })),
    hardMaterials: Type.Optional(Type.Boolean({ title: 'Hard between materials', default: false })),
    strength: Type.Optional(Type.Number({ title: 'Strength', unit: '', minimum: 0, maximum: 1, default: 1 })),
    /** Only the corners of these faces; all where it is left out. */
    scope: Type.Optional(ScopeSchema),
  },
  fields: [
    { key: 'weight', as: 'shading' },
    { key: 'leads', as: 'leads', when: isBuilt },
    { key: 'rank', label: 'Flat faces lead, roundings follow', when: (s) => !isBuilt(s) },
    { key: 'scope', label: 'Only', none: 'off' },
    { key: 'hardAngle', fine: true },
    { key: 'hardSeams', label: 'Hard at UV seams', fine: true },
    { key: 'hardMaterials', label: 'Hard between materials', fine: true },
    { key: 'alike', fine: true, when: (s) => !isBuilt(s) },
    { key: 'cutOff', perPixel: 0.01, fine: true, when: (s) => !isBuilt(s) },
    { key: 'strength', perPixel: 0.01, fine: true },
    {
      key: 'held',
      fine: true,
      hints: {
        keep: 'What was set by hand or came with a file stays',
        replace: 'All are made anew',
        blend: 'Half of what was held, half of the new',
      },
    },
  ],
  adds: [
    {
      id: 'normals',
      title: 'Set shading normals',
      short: 'Normals',
      words: 'shading weighted smooth hard clean',
      step: { kind: 'normals', weight: 'built', hardAngle: 30 },
      ring: { piece: 2 },
      offers: ({ steps, drift }) =>
        drift.faces && !steps.some((s) => s.kind === 'normals')
          ? { text: 'Flatten shading', value: `drift ${drift.worst.toFixed(1)}°` }
          : null,
    },
  ],
  shadesOnly: true,
  scopes: ({ scope }) => (scope ? [scope] : []),
  run(mesh, step) {
    const options = optionsOf(mesh, step);
    const key = options.weight === 'built' ? `as built` : `${options.weight} · ${options.hardAngle}°`;
    if (options.faces && !options.faces.length)
      return { mesh, key, warnings: [warn('none-in-scope', 'No face is in scope.')] };
    return { mesh: shade(mesh, options), key };
  },
});

type Asked = Partial<ShadeOptions> & { scope?: Scope };

/** The shading options of a step of this kind. */
export function optionsOf(mesh: PolyMesh, step: Asked): ShadeOptions {
  return {
    weight: step.weight ?? 'area',
    leads: step.leads ?? FACE_LEADS,
    hardAngle: step.hardAngle ?? 40,
    rank: step.rank ?? true,
    cutOff: step.cutOff ?? 0,
    alike: (step.alike ?? 0) / 100,
    held: step.held ?? 'keep',
    hardSeams: step.hardSeams ?? false,
    hardMaterials: step.hardMaterials ?? false,
    strength: step.strength ?? 1,
    faces: step.scope ? convertSelection(mesh, resolveSelect(mesh, step.scope), 'face').indices : null,
  };
}
