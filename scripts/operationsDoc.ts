/** docs/operations.md: every direct operation with its parameters, from their schemas. */
import { OPERATIONS } from '@urnsmith/core/ops/index';
import { SELECT_SCHEMAS } from '@urnsmith/core/select/rules';

const WORD = { face: 'faces', edge: 'edges', vertex: 'points' };

interface Field {
  type?: string;
  items?: Field | Field[];
  minItems?: number;
  properties?: Record<string, Field>;
  title?: string;
  unit?: string;
  minimum?: number;
  maximum?: number;
  default?: unknown;
  anyOf?: Array<{ const: string }>;
}

function range(f: Field): string {
  if (f.anyOf) return f.anyOf.map((o) => `\`${o.const}\``).join(', ');
  if (f.properties) return `an object of ${Object.keys(f.properties).map((k) => `\`${k}\``).join(', ')}`; // prettier-ignore
  if (Array.isArray(f.items)) return `${f.items.length} numbers${f.unit ? `, ${f.unit}` : ''}`;
  if (f.items?.anyOf) return `some of ${range(f.items)}`;
  if (f.items?.type === 'number') return `${f.minItems} numbers`;
  if (f.items) return `lists of ${Array.isArray(f.items.items) || f.items.items ? range(f.items) : 'numbers'}`.replace('lists of lists of', 'lists of'); // prettier-ignore
  if (f.minimum === undefined) return f.type === 'boolean' ? 'yes or no' : '';
  return `${f.minimum} … ${f.maximum}${f.unit ? ` ${f.unit}` : ''}`;
}

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
        const keys = Object.keys(s.properties).filter((k) => k !== 'rule');
        return `- \`${name}\`${keys.length ? `: ${keys.map((k) => `\`${k}\``).join(', ')}` : ''}`;
      }),
    '',
  ];
  for (const op of Object.values(OPERATIONS)) {
    out.push(`## \`${op.kind}\``, '', `${op.title}, on ${op.on.map((k) => WORD[k]).join(', ')}.`, '');
    const fields = Object.entries(op.params.properties as Record<string, Field>);
    if (!fields.length) continue;
    out.push('| parameter | meaning | range | default |', '| --- | --- | --- | --- |');
    for (const [k, f] of fields)
      out.push(
        `| \`${k}\` | ${f.title ?? ''} | ${range(f)} | ${f.default === undefined ? '' : `\`${JSON.stringify(f.default)}\``} |`,
      );
    out.push('');
  }
  return out.join('\n');
}
