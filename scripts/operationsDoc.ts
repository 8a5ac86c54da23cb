/** docs/operations.md: every direct operation with its parameters, from their schemas. */
import { OPERATIONS } from '@urnsmith/core/ops/index';
import { REFUSALS } from '@urnsmith/core/ops/operation';
import { LASTING_RULES, SELECT_SCHEMAS } from '@urnsmith/core/select/rules';
import type { TObject } from 'typebox';
import { parameterTable } from './parameterTable';

const WORD = { face: 'faces', edge: 'edges', vertex: 'points' };

const titleOf = (s: object): string => {
  const { title } = s as { title: string };
  return title[0].toLowerCase() + title.slice(1);
};

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
    `Any of them may refuse with ${REFUSALS.map((c) => `\`${c}\``).join(', ')}.`,
    '',
    '## What `select` can be',
    '',
    'A list — `{ "faces": [0, 5] }`, `{ "edges": […] }`, `{ "points": […] }` — or a rule. The `scope` of a step is a rule too, one',
    'that means the same when things before it change; of faces and points it takes the edges.',
    '',
    ...Object.entries(SELECT_SCHEMAS)
      .slice(3)
      .map(([name, s]) => {
        const keys = Object.keys((s as TObject).properties).filter((k) => k !== 'rule');
        const own = keys.length ? `, with ${keys.map((k) => `\`${k}\``).join(', ')}` : '';
        const lasting = name in LASTING_RULES ? '' : ' (not for steps)';
        return `- \`${name}\`: ${titleOf(s)}${own}${lasting}`;
      }),
    '',
  ];
  for (const op of Object.values(OPERATIONS)) {
    const { base, actions } = op.example;
    out.push(
      `## \`${op.kind}\``,
      '',
      `${op.title}, on ${op.on.map((k) => WORD[k]).join(', ')}. For example:`,
      '',
    );
    out.push('```json', JSON.stringify({ base, actions }), '```', '');
    if (op.refuses) out.push(`It may refuse with ${op.refuses.map((c) => `\`${c}\``).join(', ')}.`, '');
    out.push(...parameterTable(op.params.properties));
  }
  return out.join('\n');
}
