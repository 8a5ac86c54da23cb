/**
 * Bodies at exact places. The kernel takes meshes in single precision but computes in double: moving its points is the
 * way to hand it doubles. That costs as much as half a cut, so it is done only where digits decide, between faces that
 * lie in one plane.
 */
import type { PolyMesh } from '../mesh/PolyMesh';
import type { Manifold } from './kernel';
import { PositionIndex } from './PositionIndex';

export interface Exact {
  body: Manifold;
  index: PositionIndex;
}

/** A mesh with its body in single precision. */
interface Single extends Readonly<Exact> {
  readonly mesh: PolyMesh;
}

const cache = new WeakMap<Single, Exact>();

/** The solid's body in double precision; belongs to the solid. */
export function exactOf(solid: Single): Exact {
  let exact = cache.get(solid);
  if (!exact) cache.set(solid, (exact = build(solid)));
  return exact;
}

function build(solid: Single): Exact {
  const { positions } = solid.mesh;
  // Many hand-made bodies have no more digits than single precision holds.
  if (positions.every((x) => Math.fround(x) === x))
    return { body: solid.body.setTolerance(0), index: solid.index };
  return movedBody(solid, positions);
}

/** Gives the kernel's memory back. */
export function dropExact(solid: Single): void {
  const exact = cache.get(solid);
  cache.delete(solid);
  exact?.body.delete();
}

/**
 * The solid's body with its points elsewhere; the caller deletes it.
 * @param to new positions, 3 numbers per vertex
 */
export function movedBody({ body, index }: Single, to: Float64Array): Exact {
  const exact = body.warpBatch((points, count) => {
    for (let i = 0; i < 3 * count; i += 3) {
      const v = 3 * index.find(points[i], points[i + 1], points[i + 2]);
      if (v < 0) continue;
      points[i] = to[v];
      points[i + 1] = to[v + 1];
      points[i + 2] = to[v + 2];
    }
  });
  // Double precision tells apart points that single precision could not.
  const out = exact.setTolerance(0);
  exact.delete();
  return { body: out, index: new PositionIndex(to) };
}

/** A body's points in double precision, 3 numbers each, in the order of its mesh. */
export function exactPoints(body: Manifold): Float64Array {
  let out = new Float64Array(0);
  const same = body.warpBatch((points, count) => {
    out = points.slice(0, 3 * count);
  });
  // The kernel works when it is asked for something.
  same.status();
  same.delete();
  return out;
}
