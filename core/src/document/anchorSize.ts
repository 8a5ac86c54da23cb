/** The sizes of anchored cutters: held on two opposite sides they stretch, and they reach through the host. */
import { boundsOf, sizeOf } from '../mesh/measure';
import type { PolyMesh } from '../mesh/PolyMesh';
import { transformMatrix, type Transform as Placed } from '../mesh/transform';
import { addScaled, dot, length, pointOf, scale, sub, unit, type Vec3 } from '../mesh/vec3';
import { treeOf } from '../spatial/TriangleTree';

/** Directions this near to each other are the same, as the sine of the angle between. */
export const SAME_WAY = 1e-6;
/** A place that has not moved so far, mm, has not moved. */
export const STILL = 1e-9;

/** Held on two opposite sides, a piece is as much longer as these have come apart. */
export interface Span {
  /** The side that has moved it already: its end there stays. */
  facing: Vec3;
  longer: number;
}

/** The placement with its size along one axis such that its length along a direction is greater. Null where it cannot be. */
export function stretched(t: Placed, mesh: PolyMesh, { facing, longer }: Span): Placed | null {
  if (Math.abs(longer) <= STILL) return t;
  const m = transformMatrix(t);
  const columns = [0, 1, 2].map((k): Vec3 => [m[4 * k], m[4 * k + 1], m[4 * k + 2]]);
  const k = columns.findIndex((c) => Math.abs(dot(unit(c), facing)) > 1 - SAME_WAY);
  if (k < 0) return null;
  const { min, max } = boundsOf(mesh);
  const before = length(columns[k]) * (max[k] - min[k]);
  const f = (before + longer) / before;
  if (!(f > 0) || !Number.isFinite(f)) return null;
  const end = dot(columns[k], facing) > 0 ? max[k] : min[k];
  const size = [...t.size] as Vec3;
  size[k] *= f;
  return { ...t, size, move: addScaled(t.move, columns[k], end * (1 - f)) };
}

/** The placement with its size along Y such that the lower end comes out; the upper end stays. Null where there is no wall. */
export function reaching(
  host: PolyMesh,
  t: Placed,
  mesh: PolyMesh,
  reach: 'through' | 'next',
): Placed | null {
  const { min, max } = boundsOf(mesh);
  const [low, high] = [min[1], max[1]];
  const m = transformMatrix(t);
  const y: Vec3 = [m[4], m[5], m[6]];
  const stretch = length(y);
  if (!(high > low) || !(stretch > 0)) return null;
  const up = scale(y, 1 / stretch);
  const top = addScaled(t.move, up, stretch * high);
  const over = Math.max(1, sizeOf(host) / 100);
  let depth: number;
  if (reach === 'through') {
    depth = -Infinity;
    for (let v = 0; v < host.positions.length / 3; v++)
      depth = Math.max(depth, dot(sub(top, pointOf(host.positions, v)), up));
    depth += over;
  } else {
    const hits: number[] = [];
    for (let from = 0; hits.length < 3;) {
      const hit = treeOf(host).meets(addScaled(top, up, -from), scale(up, -1));
      if (!hit) break;
      const at = dot(sub(top, hit.at), up);
      if (!hits.length || at > hits[hits.length - 1] + 1e-6) hits.push(at);
      from = at + 1e-7 * (1 + Math.abs(at));
    }
    // Begun inside the host, the first thing met is where its wall ends.
    const inside = hits.length > 0 && hits.length % 2 === 1 && hits.length < 3;
    const [out, next] = inside ? [hits[0], hits[1]] : [hits[1], hits[2]];
    if (out === undefined) return null;
    depth = out + Math.min(over, ((next ?? Infinity) - out) / 2);
  }
  if (!(depth > 0)) return null;
  const f = depth / (stretch * (high - low));
  return {
    ...t,
    size: [t.size[0], t.size[1] * f, t.size[2]],
    move: addScaled(t.move, up, stretch * high * (1 - f)),
  };
}
