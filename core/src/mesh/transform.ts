/** Piece transforms: move (mm), turn (degrees, XYZ Euler), size (factors), and matrices made of them. */
import { DIRECTIONS } from './layerKinds';
import { type PolyMesh, makeMesh } from './PolyMesh';
import { copyLayers, type Layer } from './layers';
import { edgeBetween, topologyOf } from './Topology';
import type { Vec3 } from './vec3';

export interface Transform {
  move: Vec3;
  turn: Vec3;
  size: Vec3;
}
export const IDENTITY_TRANSFORM: Transform = { move: [0, 0, 0], turn: [0, 0, 0], size: [1, 1, 1] };

/** 4×4, column-major as in glTF. */
export type Matrix = number[];
export const IDENTITY: Matrix = [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1];

/** Cosine and sine of an angle in degrees, exact at quarter turns. */
export function cosSin(degrees: number): [number, number] {
  const q = degrees / 90;
  if (Number.isInteger(q)) {
    const k = ((q % 4) + 4) % 4;
    return [[1, 0, -1, 0][k], [0, 1, 0, -1][k]];
  }
  const a = (degrees * Math.PI) / 180;
  return [Math.cos(a), Math.sin(a)];
}

/** move · turnX · turnY · turnZ · size: the intrinsic XYZ order of glTF viewers and three's default. */
export function transformMatrix(t: Transform): Matrix {
  const [cx, sx] = cosSin(t.turn[0]);
  const [cy, sy] = cosSin(t.turn[1]);
  const [cz, sz] = cosSin(t.turn[2]);
  const [x, y, z] = t.size;
  return [
    cy * cz * x,
    (cx * sz + sx * sy * cz) * x,
    (sx * sz - cx * sy * cz) * x,
    0,
    -cy * sz * y,
    (cx * cz - sx * sy * sz) * y,
    (sx * cz + cx * sy * sz) * y,
    0,
    sy * z,
    -sx * cy * z,
    cx * cy * z,
    0,
    t.move[0],
    t.move[1],
    t.move[2],
    1,
  ];
}

/** Matrix product a·b. */
export function multiply(a: Matrix, b: Matrix): Matrix {
  const out = new Array<number>(16).fill(0);
  for (let c = 0; c < 4; c++)
    for (let r = 0; r < 4; r++) for (let k = 0; k < 4; k++) out[4 * c + r] += a[4 * k + r] * b[4 * c + k];
  return out;
}

export function applyMatrix(m: Matrix, p: ArrayLike<number>): Vec3 {
  return [0, 1, 2].map((r) => m[r] * p[0] + m[4 + r] * p[1] + m[8 + r] * p[2] + m[12 + r]) as Vec3;
}

export function determinant(m: Matrix): number {
  return (
    m[0] * (m[5] * m[10] - m[6] * m[9]) -
    m[4] * (m[1] * m[10] - m[2] * m[9]) +
    m[8] * (m[1] * m[6] - m[2] * m[5])
  );
}

/** Inverse of an affine matrix. @throws RangeError when it flattens space. */
export function invert(m: Matrix): Matrix {
  const d = determinant(m);
  if (!d) throw new RangeError('A transform with a size of zero cannot be undone.');
  const c = cofactors(m).map((x) => x / d);
  const t = [0, 1, 2].map((r) => -(c[r] * m[12] + c[3 + r] * m[13] + c[6 + r] * m[14]));
  // c holds the inverse's columns: c[3*column + row].
  return [c[0], c[1], c[2], 0, c[3], c[4], c[5], 0, c[6], c[7], c[8], 0, t[0], t[1], t[2], 1];
}

/** Adjugate of the upper 3×3, column-major. */
function cofactors(m: Matrix): number[] {
  const [a, b, c, , d, e, f, , g, h, i] = m;
  return [
    e * i - f * h,
    c * h - b * i,
    b * f - c * e,
    f * g - d * i,
    a * i - c * g,
    c * d - a * f,
    d * h - e * g,
    b * g - a * h,
    a * e - b * d,
  ];
}

/**
 * Move, turn and size of a matrix without shear: the inverse of `transformMatrix`. A mirroring matrix gets a negative
 * size along x (Shoemake 1994, Euler angle conversion, order XYZ).
 */
export function transformOf(m: Matrix): Transform {
  const lengths = [0, 1, 2].map((k) => Math.hypot(m[4 * k], m[4 * k + 1], m[4 * k + 2]));
  if (determinant(m) < 0) lengths[0] = -lengths[0];
  const e = (row: number, column: number): number => m[4 * column + row] / (lengths[column] || 1);
  const sin = Math.min(1, Math.max(-1, e(0, 2)));
  const level = Math.abs(sin) < 1 - 1e-12;
  const turn = [
    level ? Math.atan2(-e(1, 2), e(2, 2)) : Math.atan2(e(2, 1), e(1, 1)),
    Math.asin(sin),
    level ? Math.atan2(-e(0, 1), e(0, 0)) : 0,
  ];
  const tidy = (x: number): number => Number(x.toFixed(9)) + 0;
  return {
    move: [tidy(m[12]), tidy(m[13]), tidy(m[14])],
    turn: turn.map((a) => tidy((a * 180) / Math.PI)) as Vec3,
    size: lengths.map(tidy) as Vec3,
  };
}

export const isIdentity = (m: Matrix): boolean => m.every((x, i) => x === IDENTITY[i]);

/**
 * The mesh moved by a matrix. Normals turn along; a mirroring matrix turns the faces over so that they still
 * look outward.
 */
export function transformMesh(mesh: PolyMesh, m: Matrix): PolyMesh {
  if (isIdentity(m)) return mesh;
  const p = mesh.positions;
  const positions = new Float64Array(p.length);
  for (let i = 0; i < p.length; i += 3)
    for (let r = 0; r < 3; r++)
      positions[i + r] = m[r] * p[i] + m[4 + r] * p[i + 1] + m[8 + r] * p[i + 2] + m[12 + r];
  const mirrored = determinant(m) < 0;
  const corner = turnNormals(mesh, m, mirrored);
  if (!mirrored) return makeMesh(positions, mesh.faceStart, mesh.corners, { ...mesh.layers, corner });
  return turnOver(makeMesh(positions, mesh.faceStart, mesh.corners, { ...mesh.layers, corner }));
}

function turnNormals(mesh: PolyMesh, m: Matrix, mirrored: boolean): PolyMesh['layers']['corner'] {
  const out: Record<string, Layer> = { ...mesh.layers.corner };
  const adj = cofactors(m);
  const s = mirrored ? -1 : 1;
  for (const name of DIRECTIONS) {
    const layer = out[name];
    if (!layer) continue;
    const n = layer.data;
    const data = new Float32Array(n.length);
    for (let i = 0; i < n.length; i += 3) {
      // Normals go by the inverse transpose: row r of the adjugate's transpose.
      const v = [0, 1, 2].map(
        (r) => s * (adj[3 * r] * n[i] + adj[3 * r + 1] * n[i + 1] + adj[3 * r + 2] * n[i + 2]),
      );
      const l = Math.hypot(v[0], v[1], v[2]) || 1;
      for (let k = 0; k < 3; k++) data[i + k] = v[k] / l;
    }
    out[name] = { size: 3, data };
  }
  return out;
}

/** Reverses every face, keeping its first corner; layers follow. Normals are left as they are. */
export function turnOver(mesh: PolyMesh): PolyMesh {
  const { faceStart } = mesh;
  const source = new Int32Array(mesh.corners.length);
  for (let f = 0; f + 1 < faceStart.length; f++) {
    const s = faceStart[f];
    const n = faceStart[f + 1] - s;
    for (let k = 0; k < n; k++) source[s + k] = s + ((n - k) % n);
  }
  const corners = Uint32Array.from(source, (c) => mesh.corners[c]);
  const turned = makeMesh(mesh.positions, faceStart, corners, {
    ...mesh.layers,
    corner: copyLayers(mesh.layers.corner, source),
  });
  return { ...turned, layers: { ...turned.layers, edge: reorderEdges(mesh, turned) } };
}

function reorderEdges(before: PolyMesh, after: PolyMesh): PolyMesh['layers']['edge'] {
  if (!Object.keys(before.layers.edge).length) return before.layers.edge;
  const a = topologyOf(before);
  const b = topologyOf(after);
  const source = new Int32Array(b.edgeCount);
  for (let e = 0; e < b.edgeCount; e++)
    source[e] = edgeBetween(before, a, b.edges[2 * e], b.edges[2 * e + 1]);
  return copyLayers(before.layers.edge, source);
}

const SAME = 1e-9;
/** Whether two matrices are the same but for rounding. */
export const isAlike = (a: Matrix, b: Matrix): boolean => {
  const size = Math.max(...b.map(Math.abs), 1);
  return a.every((x, k) => Math.abs(x - b[k]) <= SAME * size);
};
