/** npm run docs: the documents that are written from the code: recipe schema, primitives and steps, operations, keys. */
import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { RecipeSchema } from '@urnsmith/core/document/schema';
import { SELECT_SCHEMAS } from '@urnsmith/core/select/rules';
import { format } from 'prettier';
import { keyboardDoc } from './keyboardDoc';
import { kindsDoc } from './kindsDoc';
import { operationsDoc } from './operationsDoc';

const schema = {
  $schema: 'http://json-schema.org/draft-07/schema#',
  title: 'Urnsmith recipe',
  ...RecipeSchema,
  definitions: { select: { anyOf: Object.values(SELECT_SCHEMAS) } },
};
// The same choice of selections stands in every action: it is written once.
const once = JSON.stringify(schema, (key, value: unknown) =>
  key === 'select' && (value as { anyOf?: unknown[] }).anyOf && value !== schema.definitions.select
    ? { $ref: '#/definitions/select' }
    : value,
);

export async function documents(): Promise<Record<string, string>> {
  return {
    'recipe.schema.json': await format(once, { parser: 'json', printWidth: 110 }),
    'keyboard.md': await format(keyboardDoc(), {
      parser: 'markdown',
      printWidth: 110,
      proseWrap: 'preserve',
    }),
    'kinds.md': await format(kindsDoc(), {
      parser: 'markdown',
      printWidth: 110,
      proseWrap: 'preserve',
    }),
    'operations.md': await format(operationsDoc(), {
      parser: 'markdown',
      printWidth: 110,
      proseWrap: 'preserve',
    }),
  };
}

if (process.argv[1] === import.meta.filename)
  for (const [name, text] of Object.entries(await documents())) {
    writeFileSync(join(import.meta.dirname, '../docs', name), text);
    console.log(`Wrote docs/${name}`);
  }
