/**
 * The patch that fills a rounded corner: a grid of quads for any number of sides, each side a profile curve of
 * the same segment count. Every corner of the patch carries a grid of half the segments a side; for odd counts
 * a small n-gon is left in the middle. Points by bilinear Coons blending (Coons 1967) of the sides and of curves
 * from their middles to the centre; where all sides lie on one sphere, the grid is put on it exactly.
 */
import { type Vec3, add, addScaled, cross, dot, lerp, length, scale, sub } from '../../mesh/vec3';

export interface PatchSide {
  /** Point ids, segments + 1 of them. */
  ids: number[];
  points: Vec3[];
  /** The curve's middle (between points when the segment count is odd). */
  middle: Vec3;
  /** Numbers of the normals at its points; null where the patch is flat. */
  normals: number[] | null;
  /** Unit direction in which the strip enters the patch; zero for a straight chord. */
  enters: Vec3;
}

/** The normal at a point inside a patch: that of a ball, or a mixture of those at points of its sides. */
export type PatchNormal =
  { out: Vec3 } | { of: ReadonlyArray<readonly [side: number, point: number, by: number]> };

/**
 * @param sides in order, each starting where the one before ends
 * @param tip where the corner was before rounding
 * @param addPoint stores a new point and returns its id
 */
export function gridPatch(
  sides: PatchSide[],
  segments: number,
  profile: number,
  tip: Vec3,
  size: number,
  addPoint: (p: Vec3, normal: PatchNormal) => number,
): number[][] {
  const M = sides.length;
  const h = Math.floor(segments / 2);
  const even = segments % 2 === 0;
  const centre = centreOf(sides, profile, tip);
  const sphere =
    Math.abs(profile - 1) < 1e-9
      ? fitSphere(
          sides.flatMap((s) => s.points),
          size,
        )
      : null;
  const place = (p: Vec3, of: ReadonlyArray<readonly [number, number, number]>): number => {
    if (!sphere) return addPoint(p, { of });
    const q = ontoSphere(p, sphere);
    return addPoint(q, { out: sub(q, sphere.centre) });
  };
  // The mean of the sides' middles.
  const inMiddle = sides.flatMap((_, s) => [h, segments - h].map((i) => [s, i, 1 / (2 * M)] as const));
  /** The same blending of the normals, in which the curves to the centre cancel. */
  const normalAt = (s: number, i: number, j: number): Array<readonly [number, number, number]> => {
    const [x, y] = [(2 * i) / segments, (2 * j) / segments];
    return [
      [s, i, 1 - y],
      [(s + M - 1) % M, segments - j, 1 - x],
      [s, 0, (x - 1) * (1 - y)],
      ...inMiddle.map(([side, k, by]) => [side, k, by * x * y] as const),
    ];
  };
  const inner = (s: PatchSide, x: number): Vec3 => {
    const lead = addScaled(s.middle, s.enters, 0.55 * dot(sub(centre, s.middle), s.enters));
    return lerp(lerp(s.middle, lead, x), lerp(lead, centre, x), x);
  };
  const at = (s: number, i: number, j: number): Vec3 => {
    const next = sides[s];
    const last = sides[(s + M - 1) % M];
    const x = (2 * i) / segments;
    const y = (2 * j) / segments;
    const k = next.points[0];
    const sum = add(
      add(scale(next.points[i], 1 - y), scale(inner(last, x), y)),
      add(scale(last.points[segments - j], 1 - x), scale(inner(next, y), x)),
    );
    const flat = add(
      add(scale(k, (1 - x) * (1 - y)), scale(next.middle, x * (1 - y))),
      add(scale(last.middle, (1 - x) * y), scale(centre, x * y)),
    );
    return sub(sum, flat);
  };
  const centreId = even ? place(centre, inMiddle) : -1;
  // Ids of corner s's grid; inner points are made once and shared along the lines between grids.
  const middleLine: number[][] = even
    ? sides.map((side, s) =>
        Array.from({ length: h + 1 }, (_, k) =>
          k === 0 ? side.ids[h] : k === h ? centreId : place(at(s, h, k), normalAt(s, h, k)),
        ),
      )
    : [];
  const grids = sides.map((side, s) => {
    const last = sides[(s + M - 1) % M];
    return Array.from({ length: h + 1 }, (_, i) =>
      Array.from({ length: h + 1 }, (_, j) => {
        if (j === 0) return side.ids[i];
        if (i === 0) return last.ids[segments - j];
        if (even && i === h) return middleLine[s][j];
        if (even && j === h) return middleLine[(s + M - 1) % M][i];
        return place(at(s, i, j), normalAt(s, i, j));
      }),
    );
  });
  const faces: number[][] = [];
  for (const g of grids)
    for (let i = 0; i < h; i++)
      for (let j = 0; j < h; j++) faces.push([g[i][j], g[i + 1][j], g[i + 1][j + 1], g[i][j + 1]]);
  if (!even) {
    grids.forEach((g, s) => {
      const after = grids[(s + 1) % M];
      for (let j = 0; j < h; j++) faces.push([g[h][j], after[j][h], after[j + 1][h], g[h][j + 1]]);
    });
    faces.push(grids.map((g) => g[h][h]));
  }
  return faces;
}

function centreOf(sides: PatchSide[], profile: number, tip: Vec3): Vec3 {
  let corners: Vec3 = [0, 0, 0];
  let bulge: Vec3 = [0, 0, 0];
  for (const s of sides) {
    const [a, b] = [s.points[0], s.points[s.points.length - 1]];
    corners = addScaled(corners, a, 1 / sides.length);
    bulge = addScaled(bulge, sub(s.middle, lerp(a, b, 0.5)), 1 / sides.length);
  }
  // 1.7735 puts the centre of three equal round sides at right angles on their sphere.
  const round = addScaled(corners, bulge, 1.7735);
  return profile > 1 ? lerp(round, tip, profile - 1) : round;
}

/**
 * The corner filled by flat faces without points inside: the triangulation of its corners of least area, by dynamic
 * programming over the ways to split it (Barequet and Sharir 1995, Filling gaps in the boundary of a polyhedron, §3.2);
 * cubic in the sides, which are few.
 */
export function plainPatch(sides: PatchSide[]): number[][] {
  const M = sides.length;
  const at = (i: number): Vec3 => sides[i].points[0];
  const areaOf = (i: number, k: number, j: number): number =>
    length(cross(sub(at(k), at(i)), sub(at(j), at(i))));
  /** By first and last corner: the least area between them, and the corner of its triangle on that side. */
  const least = Array.from({ length: M }, () => new Float64Array(M));
  const best = Array.from({ length: M }, () => new Int32Array(M));
  for (let span = 2; span < M; span++)
    for (let i = 0; i + span < M; i++) {
      const j = i + span;
      least[i][j] = Infinity;
      for (let k = i + 1; k < j; k++) {
        const area = least[i][k] + least[k][j] + areaOf(i, k, j);
        if (area < least[i][j]) [least[i][j], best[i][j]] = [area, k];
      }
    }
  const faces: number[][] = [];
  /** Points from a corner to a later one, the last left out: along the side, or straight across. */
  const along = (i: number, j: number): number[] =>
    (j - i + M) % M === 1 ? sides[i].ids.slice(0, -1) : [sides[i].ids[0]];
  const split = (i: number, j: number): void => {
    if (j - i < 2) return;
    const k = best[i][j];
    faces.push([...along(i, k), ...along(k, j), ...along(j, i)]);
    split(i, k);
    split(k, j);
  };
  split(0, M - 1);
  return faces;
}

interface Sphere {
  centre: Vec3;
  radius: number;
}

/** The sphere all points lie on, or null. Linear least squares on |p|² = 2c·p + k. */
function fitSphere(points: Vec3[], size: number): Sphere | null {
  const o = points[0];
  const A = Array.from({ length: 4 }, () => new Array<number>(5).fill(0));
  for (const q of points) {
    const p = sub(q, o);
    const row = [2 * p[0], 2 * p[1], 2 * p[2], 1];
    const rhs = dot(p, p);
    for (let i = 0; i < 4; i++) {
      for (let j = 0; j < 4; j++) A[i][j] += row[i] * row[j];
      A[i][4] += row[i] * rhs;
    }
  }
  const x = solve(A);
  if (!x) return null;
  const centre = add(o, [x[0], x[1], x[2]]);
  const radius = length(sub(points[0], centre));
  if (!(radius < 1e3 * size)) return null;
  const off = Math.max(...points.map((p) => Math.abs(length(sub(p, centre)) - radius)));
  return off < 1e-9 * size ? { centre, radius } : null;
}

/** Gaussian elimination with pivoting on an n × (n+1) system; null when singular. */
function solve(A: number[][]): number[] | null {
  const n = A.length;
  const top = Math.max(...A.flat().map(Math.abs));
  for (let k = 0; k < n; k++) {
    let p = k;
    for (let i = k + 1; i < n; i++) if (Math.abs(A[i][k]) > Math.abs(A[p][k])) p = i;
    if (Math.abs(A[p][k]) < 1e-13 * top) return null;
    [A[k], A[p]] = [A[p], A[k]];
    for (let i = k + 1; i < n; i++) {
      const f = A[i][k] / A[k][k];
      for (let j = k; j <= n; j++) A[i][j] -= f * A[k][j];
    }
  }
  const x = new Array<number>(n).fill(0);
  for (let k = n - 1; k >= 0; k--) {
    x[k] = A[k][n];
    for (let j = k + 1; j < n; j++) x[k] -= A[k][j] * x[j];
    x[k] /= A[k][k];
  }
  return x;
}

function ontoSphere(p: Vec3, s: Sphere): Vec3 {
  const d = sub(p, s.centre);
  return addScaled(s.centre, d, s.radius / length(d));
}
