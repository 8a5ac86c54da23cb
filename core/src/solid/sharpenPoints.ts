/**
 * Moves the kernel's new points, known to single precision or made where flush faces had been parted, onto the meeting
 * point of the planes of the facets around them: three planes give the point, two the nearest point of their line, one its foot.
 */
import { faceCount } from '../mesh/PolyMesh';
import { type Vec3, cross, dot, length, scale, unit } from '../mesh/vec3';
import { facetOfFace, facetsOf } from './facets';
import type { Groups } from './Groups';

interface Plane {
  n: Vec3;
  d: number;
}

/**
 * @param welds points that become another: the planes around them count for that one
 * @param limit points are moved no farther than this
 */
export function sharpenPoints(
  positions: Float64Array,
  g: Groups,
  welds: ReadonlyMap<number, number>,
  limit: number,
): void {
  const fresh: number[] = [];
  const slot = new Int32Array(g.pointCount).fill(-1);
  for (let v = 0; v < slot.length; v++)
    if (g.sourceOperand[v] < 0 && !welds.has(v)) slot[v] = fresh.push(v) - 1;
  for (const [from, to] of welds) slot[from] = slot[to];
  // Per point the facets around it, as a triangle of each.
  const around: number[][] = fresh.map(() => []);
  const sameFacet = (t: number, u: number): boolean =>
    g.groupOf[t] === g.groupOf[u] && g.idOf[t] === g.idOf[u];
  for (let t = 0; t < g.groupOf.length; t++)
    for (let k = 0; k < 3; k++) {
      const s = slot[g.triVerts[3 * t + k]];
      if (s >= 0 && !around[s].some((u) => sameFacet(t, u))) around[s].push(t);
    }
  const planes = new Map<number, Plane>();
  const planeAt = (t: number): Plane => {
    const key = g.operandOf(g.groupOf[t]) * 2 ** 33 + g.idOf[t];
    let plane = planes.get(key);
    if (!plane) planes.set(key, (plane = planeOf(g, t)));
    return plane;
  };
  fresh.forEach((v, i) => {
    const at: Vec3 = [positions[3 * v], positions[3 * v + 1], positions[3 * v + 2]];
    const moved = meetingPoint(at, around[i].map(planeAt));
    if (Math.hypot(moved[0] - at[0], moved[1] - at[1], moved[2] - at[2]) <= limit)
      positions.set(moved, 3 * v);
  });
}

/** The plane of the facet a triangle came from, where its operand belongs. */
function planeOf(g: Groups, t: number): Plane {
  const o = g.operandOf(g.groupOf[t]);
  const { solid, positions } = g.operands[o];
  const { mesh } = solid;
  const facets = facetsOf(mesh);
  const id = g.idOf[t] - faceCount(mesh);
  const facet = id < 0 ? facetOfFace(facets, g.idOf[t]) : id;
  const n: Vec3 = [facets.normal[3 * facet], facets.normal[3 * facet + 1], facets.normal[3 * facet + 2]];
  let d = 0;
  for (let c = facets.start[facet]; c < facets.start[facet + 1]; c++) {
    const v = 3 * mesh.corners[facets.corners[c]];
    d += n[0] * positions[v] + n[1] * positions[v + 1] + n[2] * positions[v + 2];
  }
  return { n, d: d / (facets.start[facet + 1] - facets.start[facet]) };
}

/** Nearest point to `at` on as many independent planes as there are (three at most). */
export function meetingPoint(at: Vec3, planes: Plane[]): Vec3 {
  const [p1] = planes;
  if (!p1) return at;
  let p2: Plane | null = null;
  let across = 1e-3;
  for (const p of planes) {
    const s = length(cross(p1.n, p.n));
    if (s > across) [p2, across] = [p, s];
  }
  const onFirst = (x: Vec3): Vec3 => {
    const h = p1.d - dot(p1.n, x);
    return [x[0] + h * p1.n[0], x[1] + h * p1.n[1], x[2] + h * p1.n[2]];
  };
  if (!p2) return onFirst(at);
  const line = cross(p1.n, p2.n);
  let p3: Plane | null = null;
  let det = 1e-2 * across;
  for (const p of planes) {
    const s = Math.abs(dot(line, p.n));
    if (s > det) [p3, det] = [p, s];
  }
  // Without a third plane, the plane through the point across the line.
  const dir = unit(line);
  p3 ??= { n: dir, d: dot(dir, at) };
  const full = dot(line, p3.n);
  const a = scale(cross(p2.n, p3.n), p1.d / full);
  const b = scale(cross(p3.n, p1.n), p2.d / full);
  const c = scale(line, p3.d / full);
  return [a[0] + b[0] + c[0], a[1] + b[1] + c[1], a[2] + b[2] + c[2]];
}
