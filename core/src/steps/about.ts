/** The parameter by which mirror and repeat say what they work about. */
import { Type } from 'typebox';
import { reference } from '../schema/references';
import { OperationError } from '../mesh/errors';
import { transformMatrix } from '../mesh/transform';
import type { About } from './define';

const vec3 = (limit: number) => {
  const n = Type.Number({ minimum: -limit, maximum: limit });
  return Type.Tuple([n, n, n]);
};

export const aboutParams = {
  about: Type.Optional(
    Type.Union(
      [
        Type.Literal('piece'),
        Type.Literal('world'),
        Type.Literal('peg'),
        Type.Object({ piece: reference('pieces', 'mention') }, { additionalProperties: false }),
      ],
      { title: 'About', default: 'piece' },
    ),
  ),
  /** The peg's placement in the world when the step was told to work about it. */
  peg: Type.Optional(Type.Object({ move: vec3(1e6), turn: vec3(36000) }, { additionalProperties: false })),
};

interface AboutStep {
  about?: 'piece' | 'world' | 'peg' | { piece: string };
  peg?: { move: [number, number, number]; turn: [number, number, number] };
}

/** @throws OperationError `no-peg` */
export function aboutOf({ about, peg }: AboutStep): About {
  if (about !== 'peg') return about ?? 'piece';
  if (!peg)
    throw new OperationError(
      'no-peg',
      'The step works about a peg, but does not say where it stands.',
      undefined,
      'Set a peg and choose it again, or work about the piece.',
    );
  return { peg: transformMatrix({ ...peg, size: [1, 1, 1] }) };
}
