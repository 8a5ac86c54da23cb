/** docs/operations.md: every direct operation with its parameters, from their schemas. */
import { OPERATIONS } from '@urnsmith/core/ops/index';
import { SELECT_SCHEMAS } from '@urnsmith/core/select/rules';
import type { TObject } from 'typebox';
import { parameterTable } from './parameterTable';

const WORD = { face: 'faces', edge: 'edges', vertex: 'points' };

export function operationsDoc(): string {
  const out = [
    '# Operations',
    '',
    'Written by `npm run docs` from the operations themselves. A piece’s `actions` apply them to its base, one after the',
    'other, before any step: `{ "op": "inset", "select": { "rule": "facing", "direction": [0, 1, 0] }, "thickness": 5 }`.',
    'An action that cannot act says why and passes the mesh on. Lengths in millimetres, angles in degrees, in the piece’s',
    'own frame. Every parameter may be left out.',
    '',
    'A `surface` is another mesh points are drawn onto: its `base` (a primitive, `{ "file": … }`, or a stored mesh) and its',
    '`place` in the piece’s frame, 16 numbers column by column. `lines` are lists of points; one that ends where it began is closed.',
    '',
    '## What `select` can be',
    '',
    'A list — `{ "faces": [0, 5] }`, `{ "edges": […] }`, `{ "points": […] }` — or a rule:',
    '',
    ...Object.entries(SELECT_SCHEMAS)
      .slice(3)
      .map(([name, s]) => {
        const keys = Object.keys((s as TObject).properties).filter((k) => k !== 'rule');
        return `- \`${name}\`${keys.length ? `: ${keys.map((k) => `\`${k}\``).join(', ')}` : ''}`;
      }),
    '',
  ];
  for (const op of Object.values(OPERATIONS)) {
    out.push(`## \`${op.kind}\``, '', `${op.title}, on ${op.on.map((k) => WORD[k]).join(', ')}.`, '');
    out.push(...parameterTable(op.params.properties));
  }
  return out.join('\n');
}
