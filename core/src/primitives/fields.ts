/** The kinds of parameter primitives have. */
import { Type } from 'typebox';

export const length = (title: string, initial: number, minimum = 0.001) =>
  Type.Number({ title, unit: 'mm', minimum, maximum: 100000, default: initial });
export const count = (title: string, initial: number, minimum: number, maximum = 1024) =>
  Type.Integer({ title, unit: '', minimum, maximum, default: initial });
export const segments = (axes: number, maximum: number) =>
  Type.Array(Type.Integer({ minimum: 1, maximum }), {
    title: 'Segments',
    minItems: axes,
    maxItems: axes,
    default: Array<number>(axes).fill(1),
  });
