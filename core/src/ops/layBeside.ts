/** UVs of new faces: laid in rows to the right of everything that is laid out already, so nothing comes on top. */
import { type PolyMesh, faceCount } from '../mesh/PolyMesh';
import { surfaceArea } from '../mesh/measure';
import { add, cross, dot, pointOf, sub, unit, type Vec3 } from '../mesh/vec3';

/**
 * Lays faces out as they are on the surface, at the mean density of the layout before. A wall that
 * begins where the one before ended goes on beside it.
 * @param before the mesh whose layout stays
 * @param mesh the mesh with the new faces; its `uv` layer is its own and is written to
 * @param walls the faces to lay; their first sides lie along the row
 */
export function layBeside(before: PolyMesh, mesh: PolyMesh, walls: ReadonlyArray<number>): void {
  const from = before.layers.corner.uv?.data;
  const uv = mesh.layers.corner.uv?.data;
  if (!from || !uv || !walls.length) return;
  const bounds = boundsOfLayout(from);
  const density = densityOf(before, from, bounds);
  const gap = 0.02 * Math.max(bounds.width, bounds.height);
  const left = bounds.right + gap;
  const room = Math.max(bounds.width, bounds.height);
  let [x, y, high, last, straight] = [left, bounds.bottom, 0, -1, true];
  for (const f of walls) {
    const c = mesh.faceStart[f];
    const flat = unrolled(mesh, f, density);
    const [from, to] = [Math.min(...flat.map((p) => p[0])), Math.max(...flat.map((p) => p[0]))];
    const h = Math.max(...flat.map((p) => p[1]));
    // Straight ends that meet share their line; slanted ones keep apart.
    const joins = mesh.corners[c] === last && from === 0 && straight;
    if (!joins && x > left) x += gap;
    if (x + to - from > left + room && x > left) [x, y, high] = [left, y + high + gap, 0];
    high = Math.max(high, h);
    flat.forEach(([u, v], k) => {
      uv[2 * (c + k)] = x - from + u;
      uv[2 * (c + k) + 1] = y + v;
    });
    x += to - from;
    last = mesh.corners[c + 1];
    straight = to === flat[1][0];
  }
}

/** A face's corners in its plane (Newell's): its first side along u from 0, its lowest corner at v = 0. */
function unrolled(mesh: PolyMesh, f: number, density: number): Array<[number, number]> {
  const at = Array.from({ length: mesh.faceStart[f + 1] - mesh.faceStart[f] }, (_, k) =>
    pointOf(mesh.positions, mesh.corners[mesh.faceStart[f] + k]),
  );
  const from = at.map((p) => sub(p, at[0]));
  const along = unit(from[1]);
  const normal = from.reduce<Vec3>((s, d, k) => add(s, cross(d, from[(k + 1) % from.length])), [0, 0, 0]);
  const up = unit(cross(normal, along));
  const low = Math.min(...from.map((d) => dot(d, up)));
  return from.map((d) => {
    const u = dot(d, along);
    return [Math.abs(u) < 1e-9 ? 0 : u * density, (dot(d, up) - low) * density];
  });
}

function boundsOfLayout(uv: ArrayLike<number>): {
  right: number;
  bottom: number;
  width: number;
  height: number;
} {
  let [l, r, b, t] = [Infinity, -Infinity, Infinity, -Infinity];
  for (let i = 0; i < uv.length; i += 2) {
    l = Math.min(l, uv[i]);
    r = Math.max(r, uv[i]);
    b = Math.min(b, uv[i + 1]);
    t = Math.max(t, uv[i + 1]);
  }
  if (!(r >= l)) return { right: 0, bottom: 0, width: 1, height: 1 };
  return { right: r, bottom: b, width: r - l || 1, height: t - b || 1 };
}

/** Layout units per mm: what the faces take up, or the square the layout fills where they take up nothing. */
function densityOf(mesh: PolyMesh, uv: ArrayLike<number>, bounds: { width: number; height: number }): number {
  let area = 0;
  for (let f = 0; f < faceCount(mesh); f++) {
    let twice = 0;
    const [s, e] = [mesh.faceStart[f], mesh.faceStart[f + 1]];
    for (let c = s; c < e; c++) {
      const d = c + 1 < e ? c + 1 : s;
      twice += uv[2 * c] * uv[2 * d + 1] - uv[2 * d] * uv[2 * c + 1];
    }
    area += Math.abs(twice) / 2;
  }
  const surface = surfaceArea(mesh);
  return Math.sqrt((area || bounds.width * bounds.height) / (surface || 1));
}
