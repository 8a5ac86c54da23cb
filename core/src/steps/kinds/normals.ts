/** Normals: shading normals of corners, weighted within their smooth fans. */
import { Type } from 'typebox';
import { defineStep } from '../define';
import { shade } from '../shade';

export const normals = defineStep({
  kind: 'normals',
  title: 'Normals',
  lane: 'Shade',
  example: { kind: 'normals', weight: 'area', hardAngle: 40 },
  params: {
    hardAngle: Type.Optional(
      Type.Number({ title: 'Hard angle', unit: '°', minimum: 0, maximum: 180, default: 40 }),
    ),
    weight: Type.Optional(
      Type.Union([Type.Literal('angle'), Type.Literal('area'), Type.Literal('both')], {
        title: 'Weight by',
        default: 'area',
      }),
    ),
    rank: Type.Optional(Type.Boolean({ title: 'Large faces lead', default: true })),
    cutOff: Type.Optional(Type.Number({ title: 'Cut-off', unit: '', minimum: 0, maximum: 1, default: 0 })),
  },
  fields: [
    {
      key: 'weight',
      wide: true,
      hints: { angle: 'Corner angle', area: 'Face area', both: 'Angle times area' },
    },
    { key: 'hardAngle' },
    { key: 'cutOff' },
    { key: 'rank', label: 'Large faces lead, strips follow' },
  ],
  adds: [
    {
      id: 'normals',
      title: 'Set shading normals',
      short: 'Normals',
      words: 'shading weighted smooth hard clean',
      step: { kind: 'normals', weight: 'area', hardAngle: 40, rank: true },
      ring: { piece: 2 },
      offers: ({ steps, drift }) =>
        drift.faces && !steps.some((s) => s.kind === 'normals')
          ? { text: 'Flatten shading', value: `drift ${drift.worst.toFixed(1)}°` }
          : null,
    },
  ],
  shadesOnly: true,
  run(mesh, step) {
    const weight = step.weight ?? 'area';
    const hardAngle = step.hardAngle ?? 40;
    const out = shade(mesh, { hardAngle, weight, rank: step.rank ?? true, cutOff: step.cutOff ?? 0 });
    return { mesh: out, key: `${weight} · ${hardAngle}°` };
  },
});
