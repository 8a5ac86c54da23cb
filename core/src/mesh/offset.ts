/**
 * The displacement of a point that moves every plane through it by a given distance: exact where up to three planes
 * fix it, least squares where more disagree, and of least length where fewer leave it free.
 */
import { dot, type Vec3 } from './vec3';

/**
 * Solves n·d = h for all (n, h) by the pseudo-inverse of the normal matrix (Moore–Penrose; eigenvectors by Jacobi's
 * rotations, Golub & Van Loan 2013, §8.5). Directions in which the planes hardly differ are left alone.
 * @param planes unit normals and how far along them to go
 */
export function displacement(planes: ReadonlyArray<{ n: Vec3; h: number }>): Vec3 {
  const m = [0, 0, 0, 0, 0, 0, 0, 0, 0];
  const r: Vec3 = [0, 0, 0];
  for (const { n, h } of planes)
    for (let i = 0; i < 3; i++) {
      r[i] += n[i] * h;
      for (let j = 0; j < 3; j++) m[3 * i + j] += n[i] * n[j];
    }
  const { values, vectors } = eigen(m);
  const most = Math.max(...values);
  const out: Vec3 = [0, 0, 0];
  if (most <= 0) return out;
  values.forEach((value, k) => {
    if (value < 1e-6 * most) return;
    const v = vectors[k];
    const s = dot(v, r) / value;
    for (let i = 0; i < 3; i++) out[i] += s * v[i];
  });
  return out;
}

/** Eigenvalues and unit eigenvectors of a symmetric 3 × 3 matrix. */
export function eigen(matrix: ReadonlyArray<number>): { values: number[]; vectors: Vec3[] } {
  const a = [...matrix];
  const v = [1, 0, 0, 0, 1, 0, 0, 0, 1];
  for (let sweep = 0; sweep < 24; sweep++) {
    const off = Math.abs(a[1]) + Math.abs(a[2]) + Math.abs(a[5]);
    if (off < 1e-18 * (Math.abs(a[0]) + Math.abs(a[4]) + Math.abs(a[8])) || off === 0) break;
    for (const [p, q] of [
      [0, 1],
      [0, 2],
      [1, 2],
    ])
      rotate(a, v, p, q);
  }
  return {
    values: [a[0], a[4], a[8]],
    vectors: [0, 1, 2].map((k): Vec3 => [v[k], v[3 + k], v[6 + k]]),
  };
}

function rotate(a: number[], v: number[], p: number, q: number): void {
  const apq = a[3 * p + q];
  if (apq === 0) return;
  const theta = (a[3 * q + q] - a[3 * p + p]) / (2 * apq);
  const t = Math.sign(theta || 1) / (Math.abs(theta) + Math.sqrt(theta * theta + 1));
  const c = 1 / Math.sqrt(t * t + 1);
  const s = t * c;
  for (let k = 0; k < 3; k++) {
    const [akp, akq] = [a[3 * k + p], a[3 * k + q]];
    a[3 * k + p] = c * akp - s * akq;
    a[3 * k + q] = s * akp + c * akq;
  }
  for (let k = 0; k < 3; k++) {
    const [apk, aqk] = [a[3 * p + k], a[3 * q + k]];
    a[3 * p + k] = c * apk - s * aqk;
    a[3 * q + k] = s * apk + c * aqk;
    const [vkp, vkq] = [v[3 * k + p], v[3 * k + q]];
    v[3 * k + p] = c * vkp - s * vkq;
    v[3 * k + q] = s * vkp + c * vkq;
  }
}
