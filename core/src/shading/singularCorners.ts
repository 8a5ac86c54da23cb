/** Corners at which a surface has no one normal, as at the point of a cone. */
import type { PolyMesh } from '../mesh/PolyMesh';
import { nextCorner, prevCorner, topologyOf } from '../mesh/Topology';
import { isZero } from './unknownRoles';
import { whereNormalsDiffer } from './whereNormalsDiffer';

/** Normals that differ by less are one; cosine. */
const COS_SAME = Math.cos(Math.PI / 180);

const known = new WeakMap<PolyMesh, Uint8Array | null>();

/**
 * 1 per corner where over both of its edges the next face has another normal, and the same one at the edge's other end:
 * inside its face the normals at the other corners say all. Null where there are none. Cached.
 */
export function singularCorners(mesh: PolyMesh): Uint8Array | null {
  let out = known.get(mesh);
  if (out === undefined) known.set(mesh, (out = found(mesh)));
  return out;
}

function found(mesh: PolyMesh): Uint8Array | null {
  const surface = mesh.layers.corner.surface?.data;
  if (!surface) return null;
  const t = topologyOf(mesh);
  let out: Uint8Array | null = null;
  const apart = (a: number, b: number): boolean =>
    surface[3 * a] * surface[3 * b] + surface[3 * a + 1] * surface[3 * b + 1] + surface[3 * a + 2] * surface[3 * b + 2] < COS_SAME; // prettier-ignore
  for (const c of whereNormalsDiffer(mesh, surface)) {
    const [d, into] = [t.twin[c], t.twin[prevCorner(mesh, t, c)]];
    if (d < 0 || into < 0) continue;
    const onward = nextCorner(mesh, t, d);
    if (!apart(c, onward) || !apart(c, into)) continue;
    if (isZero(surface, c) || isZero(surface, onward) || isZero(surface, into)) continue;
    if (apart(nextCorner(mesh, t, c), d) || apart(prevCorner(mesh, t, c), nextCorner(mesh, t, into)))
      continue;
    out ??= new Uint8Array(mesh.corners.length);
    out[c] = 1;
  }
  return out;
}
