/** Input and result of a cut. */
import type { PolyMesh } from '../mesh/PolyMesh';

export type CutMode = 'subtract' | 'union' | 'intersect';

export interface CutResult {
  mesh: PolyMesh;
  /** Operand per face: 0 the host, i the cutter i−1. */
  operandOfFace: Uint32Array;
  /** Source face in that operand. */
  sourceFace: Uint32Array;
  /** Per cutter whether it did something, where its faces cannot tell: they are not in the result. */
  worked?: ReadonlyArray<boolean>;
  /** Faces that were cut, faces that came through as they were; whether the operands touch each other at all. */
  report: { cutFaces: number; keptFaces: number; rimEdges: number; touched: boolean };
}
