/** Counts the changes of an operation, from the mesh before and after it. */
import { sizeOf } from '../mesh/measure';
import type { PolyMesh } from '../mesh/PolyMesh';

/** A shorter way than this share of the piece's size is that of rounding, not of a point. */
const STILL = 1e-9;

/** The points among some that have moved. @param positions of the same points afterwards, 3 numbers each */
export function movedOf(
  mesh: PolyMesh,
  positions: ArrayLike<number>,
  points: ReadonlyArray<number>,
): number[] {
  const still = STILL * sizeOf(mesh);
  const { positions: before } = mesh;
  const has = (i: number): boolean => Math.abs(positions[i] - before[i]) > still;
  return [...new Set(points)].filter((v) => has(3 * v) || has(3 * v + 1) || has(3 * v + 2));
}

/** How many of all points have moved. */
export function movedPoints(mesh: PolyMesh, positions: ArrayLike<number>): number {
  const still = STILL * sizeOf(mesh);
  const { positions: before } = mesh;
  let n = 0;
  for (let i = 0; i < before.length; i += 3)
    for (let k = i; k < i + 3; k++)
      if (Math.abs(positions[k] - before[k]) > still) {
        n++;
        break;
      }
  return n;
}

/** How many of some rows of points have a point that has moved. */
export const movedRows = (
  mesh: PolyMesh,
  positions: ArrayLike<number>,
  rows: ReadonlyArray<ReadonlyArray<number>>,
): number => rows.filter((points) => movedOf(mesh, positions, points).length).length;

/** How many numbers of a layer differ among some elements; one that is not there counts as 0. */
export const changedAmong = (
  before: ArrayLike<number> | undefined,
  after: ArrayLike<number>,
  elements: ReadonlyArray<number>,
): number => elements.filter((e) => (before?.[e] ?? 0) !== after[e]).length;
