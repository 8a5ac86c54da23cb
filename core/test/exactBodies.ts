/** How far the shading of a mesh is from that of the exact body it stands for, sampled inside its triangles. */
import { boundsOf } from '../src/mesh/measure';
import type { PolyMesh } from '../src/mesh/PolyMesh';
import { cross, dot, length, pointOf, scale, sub, unit, type Vec3 } from '../src/mesh/vec3';
import { triangulate } from '../src/planar/triangulate';
import { shadingNormals } from '../src/shading/shadingNormals';

/** The exact normal near a point of a triangle that looks a way; null where it is not known. */
export type Body = (p: Vec3, facing: Vec3) => Vec3 | null;

export interface Exact {
  /** Share of the area whose shading is off by more than 2° and 10°, and the mean and the worst, degrees. */
  over2: number;
  over10: number;
  mean: number;
  worst: number;
  /** The area that is known, mm². */
  area: number;
}

const DIVISIONS = 6;

/** @param only samples that count */
export function exactError(
  mesh: PolyMesh,
  body: Body,
  only: (p: Vec3, exact: Vec3) => boolean = () => true,
): Exact {
  const shown = shadingNormals(mesh);
  const { corners } = triangulate(mesh);
  const sum = { over2: 0, over10: 0, mean: 0, worst: 0, area: 0 };
  for (let i = 0; i < corners.length; i += 3) {
    const c = [corners[i], corners[i + 1], corners[i + 2]];
    const p = c.map((k) => pointOf(mesh.positions, mesh.corners[k]));
    const n = c.map((k) => pointOf(shown, k));
    const normal = cross(sub(p[1], p[0]), sub(p[2], p[0]));
    const area = length(normal) / 2;
    if (area < 1e-12) continue;
    const count = DIVISIONS * DIVISIONS;
    for (let a = 0; a < DIVISIONS; a++)
      for (let b = 0; b < DIVISIONS; b++) {
        // The middles of the parts of a triangle divided along its sides: those that stand, and those on their heads.
        const turned = a + b >= DIVISIONS;
        const w = turned
          ? [(DIVISIONS - a - 1 / 3) / DIVISIONS, (DIVISIONS - b - 1 / 3) / DIVISIONS]
          : [(a + 1 / 3) / DIVISIONS, (b + 1 / 3) / DIVISIONS];
        w.push(1 - w[0] - w[1]);
        const mix = (v: Vec3[]): Vec3 =>
          [0, 1, 2].map((k) => w[0] * v[0][k] + w[1] * v[1][k] + w[2] * v[2][k]) as Vec3;
        const at = mix(p);
        const exact = body(at, unit(normal));
        if (!exact || !only(at, exact)) continue;
        const off = (Math.acos(Math.min(1, Math.max(-1, dot(unit(mix(n)), exact)))) * 180) / Math.PI;
        sum.area += area / count;
        sum.mean += (off * area) / count;
        if (off > 2) sum.over2 += area / count;
        if (off > 10) sum.over10 += area / count;
        sum.worst = Math.max(sum.worst, off);
      }
  }
  for (const k of ['over2', 'over10', 'mean'] as const) sum[k] /= sum.area || 1;
  return sum;
}

/** A box about the origin, its edges and corners rounded. */
export const roundedBox =
  (size: Vec3, radius: number): Body =>
  (p) => {
    const d = p.map((x, k) => {
      const inner = size[k] / 2 - radius;
      return x - Math.min(inner, Math.max(-inner, x));
    }) as Vec3;
    return length(d) > 1e-9 ? unit(d) : null;
  };

/** A cylinder about Y with its rims rounded; the wall looks in where it is a hole. */
export const roundedCylinder =
  (radius: number, height: number, rim: number): Body =>
  (p) => {
    const out = Math.hypot(p[0], p[2]);
    const r = Math.max(0, out - (radius - rim));
    const y = p[1] - Math.min(height / 2 - rim, Math.max(rim - height / 2, p[1]));
    const d: Vec3 = [(r * p[0]) / (out || 1), y, (r * p[2]) / (out || 1)];
    return length(d) > 1e-9 ? unit(d) : null;
  };

/** Of a straight body over an outline with rounded corners, all of it known by the rounded distance to the flat inner part. */
export const roundedPlate =
  (width: number, depth: number, corner: number, height: number, rim: number): Body =>
  (p) => {
    const [x, z] = [
      p[0] - Math.min(width / 2 - corner, Math.max(corner - width / 2, p[0])),
      p[2] - Math.min(depth / 2 - corner, Math.max(corner - depth / 2, p[2])),
    ];
    const out = Math.hypot(x, z);
    const r = Math.max(0, out - (corner - rim));
    const y = p[1] - Math.min(height / 2 - rim, Math.max(rim - height / 2, p[1]));
    const d: Vec3 = [(r * x) / (out || 1), y, (r * z) / (out || 1)];
    return length(d) > 1e-9 ? unit(d) : null;
  };

/** The wall of a cylinder or a cone about Y, what else looks up or down left out. */
export const coneWall =
  (bottom: number, top: number, height: number): Body =>
  (p, facing) =>
    Math.abs(facing[1]) > 0.99
      ? null
      : unit([p[0], ((bottom - top) / height) * Math.hypot(p[0], p[2]), p[2]]);

/** The middle of a mesh's bounds. */
export const middleOf = (mesh: PolyMesh): Vec3 => {
  const { min, max } = boundsOf(mesh);
  return scale([min[0] + max[0], min[1] + max[1], min[2] + max[2]], 0.5);
};
