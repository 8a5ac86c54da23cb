/** Parts of what a cut gives, and several together, with the source of each face kept. */
import { faceCount, type PolyMesh } from '../mesh/PolyMesh';
import { partOf } from '../mesh/part';
import { joinMeshes } from '../ops/join';
import type { CutResult } from '../solid/cutResult';

/** The faces for which a test holds; the same result where all of them are. */
export function facesOfCut(result: CutResult, holds: (face: number) => boolean): CutResult {
  const picked = Uint8Array.from({ length: faceCount(result.mesh) }, (_, f) => Number(holds(f)));
  if (!picked.includes(0)) return result;
  const source = (of: Uint32Array): Uint32Array => of.filter((_, f) => picked[f]);
  return {
    ...result,
    mesh: partOf(result.mesh, picked).mesh,
    operandOfFace: source(result.operandOfFace),
    sourceFace: source(result.sourceFace),
  };
}

/** Bodies of several cuts of the same operands as one result. */
export function besideEachOther(results: CutResult[]): CutResult {
  if (results.length === 1) return results[0];
  const sum = (of: (r: CutResult) => number): number => results.reduce((n, r) => n + of(r), 0);
  const all = (of: (r: CutResult) => Uint32Array): Uint32Array =>
    Uint32Array.from(results.flatMap((r) => [...of(r)]));
  return {
    mesh: joinMeshes(results.map((r) => r.mesh)),
    operandOfFace: all((r) => r.operandOfFace),
    sourceFace: all((r) => r.sourceFace),
    report: {
      cutFaces: sum((r) => r.report.cutFaces),
      keptFaces: sum((r) => r.report.keptFaces),
      rimEdges: sum((r) => r.report.rimEdges),
      touched: results.some((r) => r.report.touched),
    },
  };
}

/**
 * A cut of what another cut gave, told by the operands of both.
 * @param operandOf the operand of both that each operand of the second is; 0, the first one's result, stands for those of the first
 */
export function after(
  first: CutResult,
  second: CutResult,
  operandOf: (operand: number) => number,
): CutResult {
  const n = second.operandOfFace.length;
  const operandOfFace = new Uint32Array(n);
  const sourceFace = new Uint32Array(n);
  for (let f = 0; f < n; f++) {
    const [o, s] = [second.operandOfFace[f], second.sourceFace[f]];
    operandOfFace[f] = o ? operandOf(o) : first.operandOfFace[s];
    sourceFace[f] = o ? s : first.sourceFace[s];
  }
  return {
    mesh: second.mesh,
    operandOfFace,
    sourceFace,
    report: { ...second.report, touched: first.report.touched || second.report.touched },
  };
}

/** A mesh no cut has been at yet, as the result of one. */
export const uncut = (mesh: PolyMesh, operand: number): CutResult => ({
  mesh,
  operandOfFace: new Uint32Array(faceCount(mesh)).fill(operand),
  sourceFace: Uint32Array.from({ length: faceCount(mesh) }, (_, f) => f),
  report: { cutFaces: 0, keptFaces: faceCount(mesh), rimEdges: 0, touched: false },
});
