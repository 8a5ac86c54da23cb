/** npm run docs: writes the recipe's JSON Schema from the code that checks recipes. */
import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { RecipeSchema } from '@urnsmith/core/document/schema';
import { format } from 'prettier';

const schema = {
  $schema: 'http://json-schema.org/draft-07/schema#',
  title: 'Urnsmith recipe',
  ...RecipeSchema,
};
const path = join(import.meta.dirname, '../docs/recipe.schema.json');
writeFileSync(path, await format(JSON.stringify(schema), { parser: 'json', printWidth: 110 }));
console.log(`Wrote ${path}`);
