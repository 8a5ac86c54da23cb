/** How far the shading of a mesh is from that of the exact body it stands for, sampled inside its triangles. */
import type { PolyMesh } from '../src/mesh/PolyMesh';
import { cross, dot, length, pointOf, sub, unit, type Vec3 } from '../src/mesh/vec3';
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

interface Corners {
  /** Places, mm, and normals. */
  p: [Vec3, Vec3, Vec3];
  n: [Vec3, Vec3, Vec3];
}

function trianglesOf(mesh: PolyMesh): Corners[] {
  const shown = shadingNormals(mesh);
  const { corners, face } = triangulate(mesh);
  return Array.from(face, (_, i) => {
    const c = [corners[3 * i], corners[3 * i + 1], corners[3 * i + 2]];
    return {
      p: c.map((k) => pointOf(mesh.positions, mesh.corners[k])) as Corners['p'],
      n: c.map((k) => pointOf(shown, k)) as Corners['n'],
    };
  });
}

/** The triangles of a written file with one mesh, as any reader of glTF 2.0 would see them. */
export function trianglesOfGlb(bytes: Uint8Array): Corners[] {
  const view = new DataView(bytes.buffer, bytes.byteOffset);
  const length = view.getUint32(12, true);
  const gltf = JSON.parse(new TextDecoder().decode(bytes.subarray(20, 20 + length)));
  const out: Corners[] = [];
  for (const { attributes, indices } of gltf.meshes.flatMap((m: { primitives: unknown[] }) => m.primitives)) {
    const reader = (index: number): ((i: number, k: number) => number) => {
      const a = gltf.accessors[index];
      const v = gltf.bufferViews[a.bufferView];
      const size = { SCALAR: 1, VEC3: 3 }[a.type as 'SCALAR' | 'VEC3'];
      const width = { 5123: 2, 5125: 4, 5126: 4 }[a.componentType as 5123 | 5125 | 5126];
      const start = 28 + length + (v.byteOffset ?? 0) + (a.byteOffset ?? 0);
      const stride = v.byteStride ?? size * width;
      return (i, k) => {
        const at = start + stride * i + width * k;
        if (a.componentType === 5126) return view.getFloat32(at, true);
        return width === 2 ? view.getUint16(at, true) : view.getUint32(at, true);
      };
    };
    const [place, normal, index] = [attributes.POSITION, attributes.NORMAL, indices].map(reader);
    const triple = (read: typeof place, v: number, by: number): Vec3 =>
      [0, 1, 2].map((k) => by * read(v, k)) as Vec3;
    for (let i = 0; i < gltf.accessors[indices].count; i += 3) {
      const v = [0, 1, 2].map((k) => index(i + k, 0));
      out.push({
        p: v.map((x) => triple(place, x, 1000)) as Corners['p'],
        n: v.map((x) => triple(normal, x, 1)) as Corners['n'],
      });
    }
  }
  return out;
}

/** @param only samples that count */
export function exactError(
  of: PolyMesh | Corners[],
  body: Body,
  only: (p: Vec3, exact: Vec3) => boolean = () => true,
): Exact {
  const sum = { over2: 0, over10: 0, mean: 0, worst: 0, area: 0 };
  for (const { p, n } of Array.isArray(of) ? of : trianglesOf(of)) {
    const normal = cross(sub(p[1], p[0]), sub(p[2], p[0]));
    const area = length(normal) / 2;
    if (area < 1e-12) continue;
    for (const w of SAMPLES) {
      const mix = (v: Vec3[]): Vec3 =>
        [0, 1, 2].map((k) => w[0] * v[0][k] + w[1] * v[1][k] + w[2] * v[2][k]) as Vec3;
      const at = mix(p);
      const exact = body(at, unit(normal));
      if (!exact || !only(at, exact)) continue;
      const off = (Math.acos(Math.min(1, Math.max(-1, dot(unit(mix(n)), exact)))) * 180) / Math.PI;
      const part = area / SAMPLES.length;
      sum.area += part;
      sum.mean += off * part;
      if (off > 2) sum.over2 += part;
      if (off > 10) sum.over10 += part;
      sum.worst = Math.max(sum.worst, off);
    }
  }
  for (const k of ['over2', 'over10', 'mean'] as const) sum[k] /= sum.area || 1;
  return sum;
}

/** The middles of the parts of a triangle divided along its sides: those that stand, and those on their heads. */
const SAMPLES = Array.from({ length: DIVISIONS * DIVISIONS }, (_, i) => {
  const [a, b] = [i % DIVISIONS, Math.floor(i / DIVISIONS)];
  const [x, y] = a + b < DIVISIONS ? [a + 1 / 3, b + 1 / 3] : [DIVISIONS - a - 1 / 3, DIVISIONS - b - 1 / 3];
  return [x / DIVISIONS, y / DIVISIONS, 1 - (x + y) / DIVISIONS];
});

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

/** A plate with rounded corners, its rims rounded. */
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
