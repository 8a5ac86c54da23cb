/** Parameters as the documents show them, from their schemas. */
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
  anyOf?: Array<Field & { const?: string }>;
  /** The value is a selection rule. */
  scope?: true;
  /** The value is an action of any operation. */
  action?: true;
}

function range(f: Field): string {
  if (f.scope) return 'a [rule](operations.md#what-select-can-be)';
  if (f.action) return 'an [action](operations.md)';
  if (f.anyOf) return f.anyOf.map((o) => (o.const === undefined ? range(o) : `\`${o.const}\``)).join(', ');
  if (f.properties) return `an object of ${Object.keys(f.properties).map((k) => `\`${k}\``).join(', ')}`; // prettier-ignore
  if (Array.isArray(f.items)) return `${f.items.length} numbers${f.unit ? `, ${f.unit}` : ''}`;
  if (f.items?.anyOf) return `some of ${range(f.items)}`;
  if (f.items?.type === 'number') return `${f.minItems} numbers`;
  if (f.items?.type === 'string') return 'ids of pieces';
  if (f.items?.type === 'integer') return `${f.minItems} whole numbers`;
  if (f.items) return `lists of ${Array.isArray(f.items.items) || f.items.items ? range(f.items) : 'numbers'}`.replace('lists of lists of', 'lists of'); // prettier-ignore
  if (f.minimum === undefined) return f.type === 'boolean' ? 'yes or no' : '';
  return `${f.minimum} … ${f.maximum}${f.unit ? ` ${f.unit}` : ''}`;
}

/** Rows of a Markdown table of parameters: name, meaning, range, default. */
export function parameterTable(properties: object): string[] {
  const fields = Object.entries(properties as Record<string, Field>);
  if (!fields.length) return [];
  return [
    '| parameter | meaning | range | default |',
    '| --- | --- | --- | --- |',
    ...fields.map(
      ([k, f]) =>
        `| \`${k}\` | ${f.title ?? ''} | ${range(f)} | ${f.default === undefined ? '' : `\`${JSON.stringify(f.default)}\``} |`,
    ),
    '',
  ];
}
