/**
 * Booleans that keep the polygons: the kernel works on triangles, each tagged with the face it came from; its
 * result is put back together into faces.
 *
 * - A face the cut did not touch is recognised by its unchanged set of triangles and comes back as it was,
 *   corner order, double-precision positions and layers included.
 * - A face that was cut is traced along the rim of its triangles; where holes are left it is divided by the
 *   fewest, shortest bridge edges (see planar/divideRegion).
 * - New points are moved from the kernel's single precision onto the exact meeting point of the planes that
 *   made them, so flat stays flat.
 *
 * Ways that lost: carrying vertex indices as kernel properties doubles every vertex at every seam and cost 1.7
 * times the kernel on 130k triangles; matching positions by hash costs a tenth of that and is exact, because
 * the kernel never moves a vertex it keeps.
 */
import type { PolyMesh } from '../mesh/PolyMesh';
import { kernel } from './kernel';
import { divideDoubled } from '../mesh/makeManifold';
import { TOLERANCE } from '../mesh/tolerance';
import { exactOf, movedBody, type Exact } from './exact';
import { flushPairs } from './flush';
import { partOperands } from './partOperands';
import type { CutMode, CutResult } from './cutResult';
import type { Operand } from './Groups';
import { cutterCode } from '../births/hash';
import { partOf, UNWATCHED, type Watch } from '../watch';
import { rebuild } from './rebuild';
import { markSound, solidOf, trimSolids } from './Solid';
import { without } from './united';

export type { CutMode, CutResult } from './cutResult';

export interface Cutter {
  /** In the host's frame. */
  mesh: PolyMesh;
  name: string;
  /** Piece id, for messages and for rim codes. */
  id: string;
}

/**
 * Cuts a closed host with closed cutters. The kernel must be loaded. Subtract and union take the cutters
 * together; intersect keeps what lies inside the host and every cutter.
 * @param joins flat neighbours that come from different operands become one face
 * @param widest corners a polygon may have where a face must be divided; the fewest polygons when left out
 * @param watch asked between its stages and per cutter; what it throws leaves nothing behind
 * @throws OperationError naming the operand that is not a closed, uncrossed solid.
 */
export function cut(
  host: { mesh: PolyMesh; name: string; id?: string },
  cutters: ReadonlyArray<Cutter>,
  mode: CutMode,
  joins = true,
  widest = Infinity,
  watch: Watch = UNWATCHED,
): CutResult {
  const { Manifold } = kernel();
  const hostSolid = solidOf(host.mesh, host.name, host.id);
  const each = (i: number): void => watch((0.3 * i) / (cutters.length + 1));
  const solids = [
    hostSolid,
    ...cutters.map((c, i) => {
      each(i + 1);
      return solidOf(c.mesh, c.name, c.id);
    }),
  ];
  const pairs = cutters.length ? flushPairs(solids) : [];
  watch(0.35);
  const { parted, hair } = partOperands(solids, pairs, mode);
  const exact = pairs.length > 0;
  const placed: Exact[] = solids.map((s, i) =>
    !exact ? s : parted[i] ? movedBody(s, parted[i].apart) : exactOf(s),
  );
  const operate = { subtract: 'difference', union: 'union', intersect: 'intersection' } as const;
  watch(0.4);
  const [first, ...others] = placed.map((p) => p.body);
  // Bodies made for this cut alone are given back after it.
  const lasting = mode === 'subtract' && !parted.some(Boolean);
  const body = lasting ? without(first, others) : Manifold[operate[mode]]([first, ...others]);
  try {
    const operands = solids.map((solid, i): Operand => ({
      solid,
      code: i ? cutterCode(cutters[i - 1].id) : 0,
      positions: parted[i]?.target ?? solid.mesh.positions,
      index: placed[i].index,
    }));
    const reach = Math.max(2 * TOLERANCE.kernel * hostSolid.size, 16 * hair);
    const result = rebuild(body, operands, { mode, pairs, exact, reach, joins, widest }, partOf(watch, 0.6, 0.95)); // prettier-ignore
    const divided = divideDoubled(result.mesh);
    markSound(divided?.mesh ?? result.mesh);
    return divided
      ? {
          ...result,
          mesh: divided.mesh,
          operandOfFace: Uint32Array.from(divided.sourceFace, (f: number) => result.operandOfFace[f]),
          sourceFace: Uint32Array.from(divided.sourceFace, (f: number) => result.sourceFace[f]),
        }
      : result;
  } finally {
    body.delete();
    placed.forEach((p, i) => parted[i] && p.body.delete());
    trimSolids(solids);
  }
}
