/** Several pieces put in order: aligned, spaced, scattered. */
import type { Matrix } from '../mesh/transform';
import type { Vec3 } from '../mesh/vec3';
import { placedAt } from './arrangePieces';
import { completeTransform, worldMatrix } from './placement';
import type { Piece } from './schema';

/** The lowest and highest place of a piece along an axis of the world, mm; null where it has no faces. */
export type Extent = (id: string) => readonly [number, number] | null;

/** The part of a piece that is brought in line: its pivot, or a side or the middle of what is seen of it. */
export type AlignBy = 'pivot' | 'low' | 'middle' | 'high';

const pivotOf = (byId: ReadonlyMap<string, Piece>, id: string): Vec3 => {
  const m = worldMatrix(byId, id);
  return [m[12], m[13], m[14]];
};

function shifted(byId: ReadonlyMap<string, Piece>, id: string, by: Vec3): Piece {
  const m = [...worldMatrix(byId, id)] as Matrix;
  for (let k = 0; k < 3; k++) m[12 + k] += by[k];
  return placedAt(byId, byId.get(id)!, m);
}

/** Brings the pieces in line with the last one along an axis. Those without faces go by their pivots. */
export function aligned(
  pieces: ReadonlyArray<Piece>,
  ids: ReadonlyArray<string>,
  axis: 0 | 1 | 2,
  by: AlignBy = 'pivot',
  extent: Extent = () => null,
): Map<string, Piece> {
  const byId = new Map(pieces.map((p) => [p.id, p]));
  const placeOf = (id: string): number => {
    const seen = by === 'pivot' ? null : extent(id);
    if (!seen) return pivotOf(byId, id)[axis];
    return by === 'low' ? seen[0] : by === 'high' ? seen[1] : (seen[0] + seen[1]) / 2;
  };
  const to = placeOf(ids[ids.length - 1]);
  return moved(byId, ids, (id) => to - placeOf(id), axis);
}

/** Spaces the pieces evenly between the outermost two along an axis: their pivots, or the gaps between them. */
export function spaced(
  pieces: ReadonlyArray<Piece>,
  ids: ReadonlyArray<string>,
  axis: 0 | 1 | 2,
  by: 'pivot' | 'gap' = 'pivot',
  extent: Extent = () => null,
): Map<string, Piece> {
  const byId = new Map(pieces.map((p) => [p.id, p]));
  const at = new Map(
    ids.map((id) => {
      const pivot = pivotOf(byId, id)[axis];
      return [id, (by === 'gap' && extent(id)) || ([pivot, pivot] as const)];
    }),
  );
  const middle = (id: string): number => at.get(id)![0] + at.get(id)![1];
  const order = [...ids].sort((a, b) => middle(a) - middle(b));
  const [first, last] = [at.get(order[0])!, at.get(order[order.length - 1])!];
  const taken = order.reduce((sum, id) => sum + at.get(id)![1] - at.get(id)![0], 0);
  const gap = (last[1] - first[0] - taken) / Math.max(1, order.length - 1);
  const to = new Map<string, number>();
  let next = first[0];
  for (const id of order) {
    to.set(id, next);
    next += at.get(id)![1] - at.get(id)![0] + gap;
  }
  return moved(byId, order, (id) => to.get(id)! - at.get(id)![0], axis);
}

function moved(
  byId: ReadonlyMap<string, Piece>,
  ids: ReadonlyArray<string>,
  far: (id: string) => number,
  axis: 0 | 1 | 2,
): Map<string, Piece> {
  const out = new Map<string, Piece>();
  for (const id of ids) {
    const by: Vec3 = [0, 0, 0];
    by[axis] = far(id);
    if (Math.abs(by[axis]) > 1e-12) out.set(id, shifted(byId, id, by));
  }
  return out;
}

export interface Scatter {
  /** mm, degrees, share: at most so much either way. */
  move: number;
  turn: number;
  size: number;
  seed: number;
}

/** Random move, turn and even size within limits; the same seed gives the same places. */
export function scattered(
  pieces: ReadonlyArray<Piece>,
  ids: ReadonlyArray<string>,
  s: Scatter,
): Map<string, Piece> {
  const byId = new Map(pieces.map((p) => [p.id, p]));
  const random = mulberry32(s.seed);
  const either = (most: number): number => (2 * random() - 1) * most;
  const out = new Map<string, Piece>();
  for (const id of ids) {
    const t = completeTransform(byId.get(id)!.transform);
    const factor = 1 + either(Math.min(0.95, s.size));
    out.set(id, {
      ...byId.get(id)!,
      transform: {
        move: t.move.map((x) => x + either(s.move)) as Vec3,
        turn: t.turn.map((x) => x + either(s.turn)) as Vec3,
        size: t.size.map((x) => x * factor) as Vec3,
      },
    });
  }
  return out;
}

/** Small seeded generator, uniform in 0…1 (Tommy Ettinger's mulberry32, 2017). */
function mulberry32(seed: number): () => number {
  let a = seed >>> 0;
  return () => {
    a = (a + 0x6d2b79f5) >>> 0;
    let t = Math.imul(a ^ (a >>> 15), 1 | a);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
}
