/** How a placement is written down: what is left out stands where the frame does, unturned and of its own size. */
import { Type, type Static } from 'typebox';

const vec3 = (minimum: number, maximum: number, initial: [number, number, number]) =>
  Type.Tuple(
    [Type.Number({ minimum, maximum }), Type.Number({ minimum, maximum }), Type.Number({ minimum, maximum })],
    { default: initial },
  );

export const TransformSchema = Type.Object(
  {
    move: Type.Optional(vec3(-1e6, 1e6, [0, 0, 0])),
    turn: Type.Optional(vec3(-36000, 36000, [0, 0, 0])),
    size: Type.Optional(vec3(-1000, 1000, [1, 1, 1])),
  },
  { additionalProperties: false },
);

export type PieceTransform = Static<typeof TransformSchema>;
