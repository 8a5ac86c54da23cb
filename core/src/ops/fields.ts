/** The kinds of parameter operations have, with their range and unit. */
import {
  Type,
  type TLiteral,
  type TObject,
  type TOptional,
  type TProperties,
  type TSchema,
  type TUnion,
} from 'typebox';
import { OperationError } from '../mesh/errors';
import { unit, type Vec3 } from '../mesh/vec3';

const LENGTH = 1e6;

export const length = (title: string, initial: number, minimum = -LENGTH, maximum = LENGTH) =>
  Type.Number({ title, unit: 'mm', minimum, maximum, default: initial });
export const angle = (title: string, initial: number, minimum = -36000, maximum = 36000) =>
  Type.Number({ title, unit: '°', minimum, maximum, default: initial });
export const share = (title: string, initial: number, minimum = 0, maximum = 1) =>
  Type.Number({ title, unit: '', minimum, maximum, default: initial });
export const count = (title: string, initial: number, minimum: number, maximum: number) =>
  Type.Integer({ title, unit: '', minimum, maximum, default: initial });
export const flag = (title: string, initial: boolean) => Type.Boolean({ title, default: initial });
type Literals<T extends ReadonlyArray<string>> = { -readonly [I in keyof T]: TLiteral<T[I] & string> };
export const choice = <const T extends ReadonlyArray<string>>(
  title: string,
  options: T,
  initial: T[number],
): TUnion<Literals<T>> =>
  // One literal for each option: the compiler does not follow a list that is mapped.
  Type.Union<TSchema[]>(
    options.map((o) => Type.Literal(o)),
    { title, default: initial },
  ) as TSchema as TUnion<Literals<T>>;
export const vector = (title: string, initial: [number, number, number], limit = LENGTH, unit = 'mm') => {
  const n = Type.Number({ minimum: -limit, maximum: limit });
  return Type.Tuple([n, n, n], { title, unit, default: initial });
};
type AllOptional<T extends TProperties> = { [K in keyof T]: TOptional<T[K]> };
/** Parameters a recipe may leave out; each has a default. */
export const params = <T extends TProperties>(properties: T): TObject<AllOptional<T>> =>
  Type.Object(
    Object.fromEntries(Object.entries(properties).map(([k, v]) => [k, Type.Optional(v)])) as AllOptional<T>,
    { additionalProperties: false },
  );

/**
 * The unit normal of a plane a person gave.
 * @throws OperationError `no-direction` for 0, 0, 0
 */
export function planeNormal(direction: Vec3): Vec3 {
  const n = unit(direction);
  if (n.every((x) => x === 0))
    throw new OperationError(
      'no-direction',
      'The plane has no direction.',
      undefined,
      'Give it a direction other than 0, 0, 0.',
    );
  return n;
}
