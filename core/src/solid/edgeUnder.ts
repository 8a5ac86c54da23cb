/** Finds the edge of an operand that a piece of the result runs along. */
import { MARKS } from '../mesh/layerKinds';
import type { PolyMesh } from '../mesh/PolyMesh';
import { nextCorner, topologyOf } from '../mesh/Topology';
import { pointOf, type Vec3 } from '../mesh/vec3';
import { facesOfRegion, type Solid } from './Solid';

/**
 * @param region whose border is looked at
 * @param accept edges that may be meant, by the corner they start from
 * @returns the edge that passes nearest to a point, −1 when none is within reach
 */
export function edgeUnder(
  solid: Solid,
  region: number,
  at: Vec3,
  reach: number,
  accept: (corner: number) => boolean,
): number {
  const { mesh } = solid;
  const t = topologyOf(mesh);
  let best = -1;
  let nearest = reach;
  for (const f of facesOfRegion(solid, region))
    for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) {
      if (!accept(c)) continue;
      const far = distanceToSide(mesh, c, nextCorner(mesh, t, c), at);
      if (far <= nearest) [best, nearest] = [t.edgeOfCorner[c], far];
    }
  return best;
}

function distanceToSide(mesh: PolyMesh, from: number, to: number, at: Vec3): number {
  const p = mesh.positions;
  const [a, b] = [3 * mesh.corners[from], 3 * mesh.corners[to]];
  let dd = 0;
  let dq = 0;
  for (let k = 0; k < 3; k++) {
    const d = p[b + k] - p[a + k];
    dd += d * d;
    dq += d * (at[k] - p[a + k]);
  }
  const s = Math.min(1, Math.max(0, dd > 0 ? dq / dd : 0));
  let out = 0;
  for (let k = 0; k < 3; k++) {
    const r = at[k] - p[a + k] - s * (p[b + k] - p[a + k]);
    out += r * r;
  }
  return Math.sqrt(out);
}

/** Tells edges a person marked by corner; null when the mesh has none. */
export function markedSides(mesh: PolyMesh): ((corner: number) => boolean) | null {
  const layers = MARKS.flatMap((name) => mesh.layers.edge[name]?.data ?? []);
  if (!layers.some((data) => data.some((x) => x !== 0))) return null;
  const t = topologyOf(mesh);
  return (c) => layers.some((data) => data[t.edgeOfCorner[c]] !== 0);
}

/** The middle between two points. */
export function middle(p: ArrayLike<number>, a: number, b: number): Vec3 {
  const [u, v] = [pointOf(p, a), pointOf(p, b)];
  return [(u[0] + v[0]) / 2, (u[1] + v[1]) / 2, (u[2] + v[2]) / 2];
}
