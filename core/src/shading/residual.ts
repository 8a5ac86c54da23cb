/**
 * How much of a mesh is shaded wrong: the angle between the shading, as a renderer interpolates it inside triangles, and
 * the normals that are meant there, over the whole of its area.
 */
import { areaVectors } from '../mesh/measure';
import { faceCount, type PolyMesh } from '../mesh/PolyMesh';
import { pointOf, type Vec3 } from '../mesh/vec3';
import { triangulate } from '../planar/triangulate';
import { FAR_OFF, OFF } from './limits';
import { meantNormals } from './meantNormals';
import { shadingNormals } from './shadingNormals';

export interface Residual {
  /** Shares of the area whose shading is off by more than `OFF` and `FAR_OFF`, 0…1. */
  over2: number;
  over10: number;
  /** Over the area, and the most anywhere, degrees. */
  mean: number;
  worst: number;
  /** Where that is, mm; null where nothing is off. */
  place: Vec3 | null;
  /** Area by degrees, one each: mm² between 0° and 1°, and so on; the last holds all above. */
  areas: Float64Array;
  /** Per face, the most in it, degrees. */
  ofFace: Float32Array;
  /** Per corner, degrees. */
  ofCorner: Float32Array;
  /** Faces that are off by more than `OFF` anywhere. */
  wrong: number[];
  /** FLAT_FACE, CURVED or STRIP per face. */
  roles: Uint8Array;
}

const BARS = 31;
/** A triangle is looked at in the middle of so many squared parts. */
const DIVISIONS = 6;
/** The middles of the parts, as weights of the triangle's corners. */
const SAMPLES = samples();
/** Corners that differ by less are the same; square of the sine. */
const SAME = 1e-10;

/** Linear in corners. Where shading is as it is meant at all corners of a face, it is so inside. */
export function residual(mesh: PolyMesh): Residual {
  const shown = shadingNormals(mesh);
  const { normals, singular, roles } = meantNormals(mesh, shown);
  const F = faceCount(mesh);
  const { faceStart } = mesh;
  const ofCorner = new Float32Array(mesh.corners.length);
  const ofFace = new Float32Array(F);
  const areas = new Float64Array(BARS);
  const area = areaVectors(mesh);
  const off = new Uint8Array(F);
  const out: Residual = { over2: 0, over10: 0, mean: 0, worst: 0, place: null, areas, ofFace, ofCorner, wrong: [], roles }; // prettier-ignore
  let total = 0;
  let some = false;
  for (let f = 0; f < F; f++) {
    for (let c = faceStart[f]; c < faceStart[f + 1]; c++) {
      const apart = between(shown, normals, c);
      ofCorner[c] = singular?.[c] ? 0 : apart;
      if (apart > 0 || singular?.[c]) off[f] = 1;
    }
    const [x, y, z] = [area[3 * f], area[3 * f + 1], area[3 * f + 2]];
    const own = Math.sqrt(x * x + y * y + z * z) / 2;
    total += own;
    if (off[f]) some = true;
    else areas[0] += own;
  }
  if (some) sample(mesh, shown, normals, singular, off, out);
  for (let f = 0; f < F; f++) if (ofFace[f] > OFF) out.wrong.push(f);
  if (total > 0) for (const k of ['over2', 'over10', 'mean'] as const) out[k] /= total;
  return out;
}

/** Adds what faces that are off are off by. */
function sample(
  mesh: PolyMesh,
  shown: Float32Array,
  meant: Float32Array,
  singular: Uint8Array | null,
  off: Uint8Array,
  out: Residual,
): void {
  const { corners, face } = triangulate(mesh);
  const p = mesh.positions;
  const c = [0, 0, 0];
  const m = [0, 0, 0];
  const n = [0, 0, 0];
  for (let i = 0; i < face.length; i++) {
    const f = face[i];
    if (!off[f]) continue;
    for (let j = 0; j < 3; j++) c[j] = corners[3 * i + j];
    const [a, b, d] = [3 * mesh.corners[c[0]], 3 * mesh.corners[c[1]], 3 * mesh.corners[c[2]]];
    const [ux, uy, uz] = [p[b] - p[a], p[b + 1] - p[a + 1], p[b + 2] - p[a + 2]];
    const [vx, vy, vz] = [p[d] - p[a], p[d + 1] - p[a + 1], p[d + 2] - p[a + 2]];
    const part =
      Math.hypot(uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx) / 2 / (SAMPLES.length / 3);
    for (let s = 0; s < SAMPLES.length; s += 3) {
      for (let k = 0; k < 3; k++) {
        n[k] = m[k] = 0;
        for (let j = 0; j < 3; j++) {
          n[k] += SAMPLES[s + j] * shown[3 * c[j] + k];
          if (!singular?.[c[j]]) m[k] += SAMPLES[s + j] * meant[3 * c[j] + k];
        }
      }
      const x = n[1] * m[2] - n[2] * m[1];
      const y = n[2] * m[0] - n[0] * m[2];
      const z = n[0] * m[1] - n[1] * m[0];
      const angle = (Math.atan2(Math.sqrt(x * x + y * y + z * z), n[0] * m[0] + n[1] * m[1] + n[2] * m[2]) * 180) / Math.PI; // prettier-ignore
      out.mean += angle * part;
      if (angle > OFF) out.over2 += part;
      if (angle > FAR_OFF) out.over10 += part;
      out.areas[Math.min(BARS - 1, Math.floor(angle))] += part;
      if (angle > out.ofFace[f]) out.ofFace[f] = angle;
      if (angle <= out.worst) continue;
      out.worst = angle;
      out.place = [0, 1, 2].map((k) =>
        c.reduce((sum, q, j) => sum + SAMPLES[s + j] * pointOf(p, mesh.corners[q])[k], 0),
      ) as Vec3;
    }
  }
}

/** Degrees between two normals of a corner; 0 where they are the same but for rounding. */
function between(a: Float32Array, b: Float32Array, c: number): number {
  const k = 3 * c;
  if (a[k] === b[k] && a[k + 1] === b[k + 1] && a[k + 2] === b[k + 2]) return 0;
  const x = a[k + 1] * b[k + 2] - a[k + 2] * b[k + 1];
  const y = a[k + 2] * b[k] - a[k] * b[k + 2];
  const z = a[k] * b[k + 1] - a[k + 1] * b[k];
  const dot = a[k] * b[k] + a[k + 1] * b[k + 1] + a[k + 2] * b[k + 2];
  const sin2 = x * x + y * y + z * z;
  return sin2 < SAME && dot > 0 ? 0 : (Math.atan2(Math.sqrt(sin2), dot) * 180) / Math.PI;
}

function samples(): Float64Array {
  const out: number[] = [];
  const n = DIVISIONS;
  for (let a = 0; a < n; a++)
    for (let b = 0; a + b < n; b++) {
      out.push((a + 1 / 3) / n, (b + 1 / 3) / n, (n - a - b - 2 / 3) / n);
      if (a + b < n - 1) out.push((a + 2 / 3) / n, (b + 2 / 3) / n, (n - a - b - 4 / 3) / n);
    }
  return Float64Array.from(out);
}
