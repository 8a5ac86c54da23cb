/** A piece of a primitive with steps and cutters, built. */
import type { Piece } from '../src/document/schema';
import type { PolyMesh } from '../src/mesh/PolyMesh';
import type { Primitive } from '../src/primitives';
import { Evaluator } from '../src/build/evaluate';
import type { Step } from '../src/steps';

const none = (): never => {
  throw new Error('no file is used');
};

export function builtPiece(base: Primitive, steps: Step[] = [], cutters: Piece[] = []): PolyMesh {
  const e = new Evaluator({ blob: none, file: none });
  e.setPieces([{ id: 'a', base, steps }, ...cutters]);
  return e.build('a').mesh;
}
