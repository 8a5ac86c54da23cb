/**
 * Normals of a surface fitted to the points of a sheet: at each point one of degree two and one of degree three over the
 * two rings around it, by weighted least squares (Cazals & Pouget 2005, Estimating differential quantities using polynomial
 * fitting of osculating jets, section 3). The first is steadier, the second follows bends that are coarse for their points.
 */
import type { PolyMesh } from '../mesh/PolyMesh';
import { nextCorner, prevCorner, topologyOf } from '../mesh/Topology';
import { addScaled, cross, dot, length, pointOf, scale, sub, unit, type Vec3 } from '../mesh/vec3';
import { areaVectors } from '../mesh/measure';
import { solveSymmetric } from './solveSymmetric';

/** Coefficients of surfaces of degree two and three over a plane. */
const [QUADRIC, CUBIC] = [6, 10];
/** A fitted normal turns from the mean of the faces around by no more than this; tangent. */
const STEEPEST = Math.tan((20 * Math.PI) / 180);
const LEAST_COSINE = Math.cos(Math.atan(STEEPEST));

/**
 * Writes the fitted normals at corners.
 * @param soft 1 per corner over whose outgoing edge its sheet goes on
 * @param corners to write
 * @param shown the shading, 3 numbers per corner: of surfaces that fit, the one that is nearer to it counts
 * @param into 3 numbers per corner
 */
export function fittedNormals(
  mesh: PolyMesh,
  soft: Uint8Array,
  corners: ReadonlyArray<number>,
  shown: Float32Array,
  into: Float32Array,
): void {
  const fit = new Fit(mesh, soft);
  // Corners of one vertex in one sheet have one normal: the first face of its fan tells them apart.
  const known = new Map<number, Vec3[]>();
  for (const c of corners) {
    const first = fit.fanOf(c)[0];
    let fits = known.get(first);
    if (!fits) known.set(first, (fits = fit.at(c)));
    const is = pointOf(shown, c);
    into.set(
      fits.reduce((best, n) => (dot(n, is) > dot(best, is) ? n : best)),
      3 * c,
    );
  }
}

class Fit {
  private readonly t;
  private readonly areas;

  constructor(
    private readonly mesh: PolyMesh,
    private readonly soft: Uint8Array,
  ) {
    this.t = topologyOf(mesh);
    this.areas = areaVectors(mesh);
  }

  /** The corners around a vertex in the sheet of one of them, the first the same for all of them. */
  fanOf(c: number): number[] {
    const { mesh, t, soft } = this;
    let first = c;
    for (;;) {
      if (!soft[first]) break;
      const back = nextCorner(mesh, t, t.twin[first]);
      if (back === c) return this.closed(c);
      first = back;
    }
    const out = [first];
    for (let at = first; ;) {
      const into = prevCorner(mesh, t, at);
      if (!soft[into] || t.twin[into] === first) return out;
      out.push((at = t.twin[into]));
    }
  }

  private closed(c: number): number[] {
    const { mesh, t } = this;
    const out = [c];
    for (let at = t.twin[prevCorner(mesh, t, c)]; at !== c; at = t.twin[prevCorner(mesh, t, at)])
      out.push(at);
    const least = out.indexOf(Math.min(...out));
    return [...out.slice(least), ...out.slice(0, least)];
  }

  /** Candidate normals at a corner, one for each surface that was fitted. */
  at(c: number): Vec3[] {
    const { mesh, t } = this;
    const fan = this.fanOf(c);
    const v = mesh.corners[c];
    const o = pointOf(mesh.positions, v);
    let n: Vec3 = [0, 0, 0];
    for (const k of fan) {
      const a = pointOf(this.areas, t.faceOfCorner[k]);
      n = [n[0] + a[0], n[1] + a[1], n[2] + a[2]];
    }
    n = unit(n);
    const ring = this.ringOf(fan);
    const around = new Map<number, number>([...ring].map((k) => [mesh.corners[k], k]));
    const points = new Set(around.keys());
    for (const k of around.values())
      for (const far of this.ringOf(this.fanOf(k))) points.add(mesh.corners[far]);
    points.add(v);
    const axis: Vec3 = Math.abs(n[0]) < 0.6 ? [1, 0, 0] : [0, 1, 0];
    const x = unit(sub(axis, scale(n, dot(axis, n))));
    const y = cross(n, x);
    const places = [...points].map((p) => sub(pointOf(mesh.positions, p), o));
    const reach = Math.max(...places.map(length)) || 1;
    const local = places.map((d): Vec3 => [dot(d, x) / reach, dot(d, y) / reach, dot(d, n) / reach]);
    const out = [QUADRIC, CUBIC].flatMap((terms) => {
      // As many points again as there are terms, or a bend is made of noise.
      const slope = local.length < 1.5 * terms ? null : slopeOf(local, terms);
      // Over a few points in a narrow row a fit may say anything.
      if (!slope || Math.hypot(...slope) > STEEPEST) return [];
      return [unit([0, 1, 2].map((k) => n[k] - slope[0] * x[k] - slope[1] * y[k]) as Vec3)];
    });
    return [...out, this.meanAt(fan, n)];
  }

  /**
   * The normal by the faces around alone, exact where the point and its neighbours lie on a ball (Max 1999).
   * @param mean by area, which counts where the other is further from it than a fitted one may be
   */
  private meanAt(fan: ReadonlyArray<number>, mean: Vec3): Vec3 {
    const { mesh, t } = this;
    let sum: Vec3 = [0, 0, 0];
    for (const c of fan) {
      const o = pointOf(mesh.positions, mesh.corners[c]);
      const a = sub(pointOf(mesh.positions, mesh.corners[nextCorner(mesh, t, c)]), o);
      const b = sub(pointOf(mesh.positions, mesh.corners[prevCorner(mesh, t, c)]), o);
      const by = dot(a, a) * dot(b, b);
      if (by > 0) sum = addScaled(sum, cross(a, b), 1 / by);
    }
    return dot(sum, mean) > LEAST_COSINE * length(sum) ? unit(sum) : mean;
  }

  /** Corners, one per point, of the faces around a vertex within its sheet, without the vertex itself. */
  private ringOf(fan: ReadonlyArray<number>): number[] {
    const { mesh, t } = this;
    const out = new Map<number, number>();
    for (const c of fan) {
      const f = t.faceOfCorner[c];
      for (let k = mesh.faceStart[f]; k < mesh.faceStart[f + 1]; k++)
        if (k !== c && !out.has(mesh.corners[k])) out.set(mesh.corners[k], k);
    }
    return [...out.values()];
  }
}

/** The slope at the middle of a surface fitted to points over a plane; null where they do not fix it. */
function slopeOf(points: ReadonlyArray<Vec3>, terms: number): [number, number] | null {
  const A = new Float64Array(terms * terms);
  const b = new Float64Array(terms);
  for (const [x, y, z] of points) {
    const row = [1, x, y, x * x, x * y, y * y, x * x * x, x * x * y, x * y * y, y * y * y];
    const w = Math.exp(-2 * (x * x + y * y + z * z));
    for (let i = 0; i < terms; i++) {
      b[i] += w * row[i] * z;
      for (let k = 0; k < terms; k++) A[terms * i + k] += w * row[i] * row[k];
    }
  }
  const fitted = solveSymmetric(A, b);
  return fitted && [fitted[1], fitted[2]];
}
