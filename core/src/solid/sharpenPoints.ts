/**
 * Moves the kernel's new points, known to single precision, onto the exact meeting point of the planes of the
 * faces around them: three planes give the point, two the nearest point of their line, one its foot.
 */
import { areaVectors, sizeOf } from '../mesh/measure';
import { TOLERANCE } from '../mesh/tolerance';
import type { Vec3 } from '../mesh/vec3';
import { cross, dot, length, scale, unit } from '../mesh/vec3';
import type { Groups } from './rebuild';

interface Plane {
  n: Vec3;
  d: number;
}

export function sharpenPoints(positions: Float64Array, fresh: number[], g: Groups): void {
  if (!fresh.length) return;
  const slot = new Int32Array(g.pointCount).fill(-1);
  fresh.forEach((v, i) => (slot[v] = i));
  const around: number[][] = fresh.map(() => []);
  for (let t = 0; t < g.groupOf.length; t++)
    for (let k = 0; k < 3; k++) {
      const s = slot[g.triVerts[3 * t + k]];
      if (s >= 0 && !around[s].includes(g.groupOf[t])) around[s].push(g.groupOf[t]);
    }
  const planes = new Map<number, Plane>();
  const planeOf = (group: number): Plane => {
    let p = planes.get(group);
    if (!p) planes.set(group, (p = groupPlane(g, group)));
    return p;
  };
  const limit = 4 * TOLERANCE.kernel * sizeOf(g.operands[0].solid.mesh);
  fresh.forEach((v, i) => {
    const at: Vec3 = [positions[3 * v], positions[3 * v + 1], positions[3 * v + 2]];
    const moved = meetingPoint(at, around[i].map(planeOf));
    if (Math.hypot(moved[0] - at[0], moved[1] - at[1], moved[2] - at[2]) <= limit)
      positions.set(moved, 3 * v);
  });
}

function groupPlane(g: Groups, group: number): Plane {
  const { mesh } = g.operands[g.operandOf(group)].solid;
  const f = group - g.base[g.operandOf(group)];
  const a = areaVectors(mesh);
  const n = unit([a[3 * f], a[3 * f + 1], a[3 * f + 2]]);
  let d = 0;
  const s = mesh.faceStart[f];
  const e = mesh.faceStart[f + 1];
  for (let c = s; c < e; c++) {
    const v = 3 * mesh.corners[c];
    d += n[0] * mesh.positions[v] + n[1] * mesh.positions[v + 1] + n[2] * mesh.positions[v + 2];
  }
  return { n, d: d / (e - s) };
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
