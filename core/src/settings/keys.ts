/** Keys a person changed, by command; an empty text takes a command's key away. */
import { Type } from 'typebox';
import { defineSetting } from './define';

export type ChangedKeys = Readonly<Record<string, string>>;

const schema = Type.Record(
  Type.String({ minLength: 1, maxLength: 80, pattern: '^[A-Za-z0-9_-]+$' }),
  Type.String({ maxLength: 40 }),
  { maxProperties: 1000, additionalProperties: false },
);

export const keys = defineSetting<'keys', typeof schema, ChangedKeys>({
  name: 'keys',
  schema,
  first: {},
  most: 256 * 1024,
});
