/** Marks: hard, crease, seam and round share on the edges in scope, set anew whenever what is before changes. */
import { Type } from 'typebox';
import { edgeLines } from '../inspect/edgeLines';
import { warn } from '../mesh/errors';
import { isWhole, MARKS, type MarkName } from '../mesh/layerKinds';
import { marked } from '../ops/mark';
import { edgesInScope, ScopeSchema } from '../select/rules';
import { isSound, markSound } from '../solid/Solid';
import { defineStep } from './define';

const SHARP = { rule: 'sharp', angle: 30 } as const;

export const marks = defineStep({
  kind: 'marks',
  title: 'Marks',
  lane: 'Edge',
  example: { kind: 'marks', scope: { rule: 'sharp', angle: 40 }, marks: ['hard', 'seam'] },
  params: {
    scope: Type.Optional(ScopeSchema),
    marks: Type.Array(Type.Unsafe<MarkName>(Type.Union(MARKS.map((m) => Type.Literal(m)))), {
      title: 'Marks',
      uniqueItems: true,
      minItems: 1,
      default: ['hard'],
    }),
    /** 0 clears them. */
    value: Type.Optional(Type.Number({ title: 'Strength', unit: '', minimum: 0, maximum: 10, default: 1 })),
  },
  fields: [
    { key: 'scope' },
    { key: 'marks' },
    { key: 'value', perPixel: 0.02, when: (s) => s.marks.some((m) => !isWhole(m)) || s.value === 0 },
  ],
  adds: [
    {
      id: 'marks-live',
      title: 'Marks, live',
      words: 'hard edges crease seam sharp split smoothing angle',
      label: ({ hasRims }) => (hasRims ? 'Marks on the rims' : 'Marks on edges over 30°'),
      step: ({ hasRims }) => ({
        kind: 'marks' as const,
        scope: hasRims ? ({ rule: 'rims' } as const) : SHARP,
        marks: ['hard' as const],
      }),
    },
  ],
  label: (step) => step.marks.map((m) => m[0].toUpperCase() + m.slice(1)).join(', '),
  scopes: ({ scope }) => (scope ? [scope] : []),
  run(mesh, step) {
    const edges = edgesInScope(mesh, step.scope ?? SHARP);
    const key = `${edges.length} edges`;
    const counts = { edges: edges.length };
    if (!edges.length)
      return { mesh, key, counts, warnings: [warn('none-in-scope', 'No edge is in scope.')] };
    const out = marked(mesh, edges, step.marks, step.value ?? 1);
    if (isSound(mesh)) markSound(out);
    return { mesh: out, key, counts, lines: edgeLines(mesh, edges) };
  },
});
