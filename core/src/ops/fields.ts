/** The kinds of parameter operations have, with their range and unit. */
import { Type, type TSchema } from 'typebox';
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
export const choice = <const T extends ReadonlyArray<string>>(
  title: string,
  options: T,
  initial: T[number],
) =>
  Type.Union(options.map((o) => Type.Literal(o)) as unknown as [TSchema, TSchema], {
    title,
    default: initial,
  });
export const vector = (title: string, initial: [number, number, number], limit = LENGTH, unit = 'mm') => {
  const n = Type.Number({ minimum: -limit, maximum: limit });
  return Type.Tuple([n, n, n], { title, unit, default: initial });
};
export const params = <T extends Record<string, TSchema>>(properties: T) =>
  Type.Object(Object.fromEntries(Object.entries(properties).map(([k, v]) => [k, Type.Optional(v)])), {
    additionalProperties: false,
  });

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
