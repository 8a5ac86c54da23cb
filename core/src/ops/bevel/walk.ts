/**
 * Straightest lines on a sheet (Polthier & Schmies 1998, “Straightest geodesics on polyhedral surfaces”): straight in
 * every triangle, at the same angle on both sides of an edge, and through a point with half its angle on either side.
 */
import { add, addScaled, dot, scale, sub, type Vec3 } from '../../mesh/vec3';
import { nextSide, prevSide, type Surface } from './Surface';

/** A place on the sheet. */
export interface Spot {
  at: Vec3;
  triangle: number;
  /** The half-edge it lies on, or −1. */
  side: number;
  /** The vertex it lies on, or −1. */
  vertex: number;
}

export interface Walked {
  spot: Spot;
  /** Unit direction in the last triangle. */
  heading: Vec3;
  /** The way covered; less than was asked where the sheet ended. */
  length: number;
  /** The half-edge at the end of the sheet that was reached, or −1. */
  hit: number;
  /** The walk crossed an edge between faces that are not coplanar. */
  bent: boolean;
}

/** Places closer than this, as a share of the piece's size, are one. */
export const SNAP = 2e-9;
const STRAIGHT = 1e-10;
/** Normals with a greater cosine, less this, are the same. */
const LEVEL = 1e-12;

/** Walks from the vertex a half-edge starts at, leaving at an angle counter-clockwise from it, radians. */
export function walkFromVertex(s: Surface, h: number, angle: number, length: number): Walked {
  const start = leaving(s, h, angle);
  const at = s.point(s.from[h]);
  if (!start) return { spot: spotAtVertex(s, h), heading: [0, 0, 0], length: 0, hit: h, bent: false };
  if (length <= 0)
    return { spot: spotAtVertex(s, h), heading: start.heading, length: 0, hit: -1, bent: false };
  return walk(s, at, start.triangle, start.heading, length, -1, s.from[h]);
}

/** Walks on from a place. */
export function walkFrom(s: Surface, spot: Spot, heading: Vec3, length: number): Walked {
  if (length <= 0) return { spot, heading, length: 0, hit: -1, bent: false };
  if (spot.vertex >= 0) {
    const h = sideFrom(s, spot.triangle, spot.vertex);
    const a = angleTo(s, h, heading);
    if (a > s.angle(h) + STRAIGHT || a < -STRAIGHT)
      return walkFromVertex(s, h, a < 0 ? a + s.fanAngle(h) : a, length);
  } else if (spot.side >= 0 && dot(heading, s.inward(spot.side)) < -STRAIGHT)
    return cross_(s, spot.at, spot.side, heading, length);
  return walk(s, spot.at, spot.triangle, heading, length, spot.side, spot.vertex);
}

export const spotAtVertex = (s: Surface, h: number): Spot => ({
  at: s.point(s.from[h]),
  triangle: s.triangle(h),
  side: -1,
  vertex: s.from[h],
});

/** The half-edge of a triangle that starts from one of its vertices. */
export function sideFrom(s: Surface, triangle: number, vertex: number): number {
  for (let h = 3 * triangle; h < 3 * triangle + 3; h++) if (s.from[h] === vertex) return h;
  throw new Error('not a vertex of the triangle');
}

/** Signed angle from a half-edge to a direction in its triangle, counter-clockwise. */
function angleTo(s: Surface, h: number, d: Vec3): number {
  return Math.atan2(dot(d, s.inward(h)), dot(d, s.along(h)));
}

/** The triangle and direction at an angle from a half-edge about its vertex. */
function leaving(s: Surface, h: number, angle: number): { triangle: number; heading: Vec3 } | null {
  let left = angle;
  for (let k = h, last = h; ; last = k, k = s.turned(k)) {
    if (k < 0) {
      // Within rounding of the sheet's end it runs along that.
      return left < STRAIGHT
        ? { triangle: s.triangle(last), heading: scale(s.along(prevSide(last)), -1) }
        : null;
    }
    const a = s.angle(k);
    if (left <= a + STRAIGHT) {
      const x = left < STRAIGHT ? 0 : left > a - STRAIGHT ? a : left;
      const heading =
        x === a
          ? scale(s.along(prevSide(k)), -1)
          : add(scale(s.along(k), Math.cos(x)), scale(s.inward(k), Math.sin(x)));
      return { triangle: s.triangle(k), heading };
    }
    left -= a;
    if (s.turned(k) === h) return null;
  }
}

function walk(
  s: Surface,
  from: Vec3,
  triangle: number,
  heading: Vec3,
  length: number,
  entered: number,
  corner: number,
): Walked {
  let [at, t, d, left, came, tip] = [from, triangle, heading, length, entered, corner];
  let bent = false;
  const snap = SNAP * s.size;
  for (let steps = 0; steps < 20000; steps++) {
    let exit = -1;
    let way = Infinity;
    for (let h = 3 * t; h < 3 * t + 3; h++) {
      // The walk cannot leave by the side it came in by, nor, from a corner, by the sides next to that.
      if (h === came || s.from[h] === tip || s.to(h) === tip) continue;
      const q = s.inward(h);
      const rate = dot(d, q);
      if (rate > -STRAIGHT) continue;
      const x = Math.max(0, dot(sub(at, s.point(s.from[h])), q)) / -rate;
      if (x < way) [exit, way] = [h, x];
    }
    if (exit < 0 || way >= left - snap)
      return { spot: spotIn(s, t, addScaled(at, d, left)), heading: d, length, hit: -1, bent };
    at = addScaled(at, d, way);
    left -= way;
    const v = [s.from[exit], s.to(exit)].find((u) => near(at, s.point(u), snap));
    if (v !== undefined) {
      // Through a point: half its angle on either side.
      const h = sideFrom(s, t, v);
      at = s.point(v);
      const all = wholeFan(s, h);
      if (!all)
        return {
          spot: { at, triangle: t, side: -1, vertex: v },
          heading: d,
          length: length - left,
          hit: borderAt(s, h),
          bent,
        };
      const back = angleTo(s, h, scale(d, -1));
      const next = leaving(s, h, (Math.max(0, back) + all / 2) % all);
      if (!next) return { spot: spotAtVertex(s, h), heading: d, length: length - left, hit: h, bent };
      bent ||= !isLevel(s, t, next.triangle);
      [t, d, came, tip] = [next.triangle, next.heading, -1, v];
      continue;
    }
    const other = s.across[exit];
    if (other < 0)
      return {
        spot: { at, triangle: t, side: exit, vertex: -1 },
        heading: d,
        length: length - left,
        hit: exit,
        bent,
      };
    d = unfolded(s, exit, other, d);
    bent ||= !isLevel(s, t, s.triangle(other));
    [t, came, tip] = [s.triangle(other), other, -1];
  }
  return { spot: spotIn(s, t, at), heading: d, length: length - left, hit: 3 * t, bent };
}

/** Both triangles are at one angle: going from one to the other is no bend. */
const isLevel = (s: Surface, a: number, b: number): boolean => dot(s.normal(a), s.normal(b)) > 1 - LEVEL;

/** Walks on over the side a place lies on. */
function cross_(s: Surface, at: Vec3, side: number, heading: Vec3, length: number): Walked {
  const other = s.across[side];
  if (other < 0)
    return {
      spot: { at, triangle: s.triangle(side), side, vertex: -1 },
      heading,
      length: 0,
      hit: side,
      bent: false,
    };
  return walk(s, at, s.triangle(other), unfolded(s, side, other, heading), length, other, -1);
}

function unfolded(s: Surface, h: number, other: number, d: Vec3): Vec3 {
  const e = s.along(h);
  const x = dot(d, e);
  return add(scale(e, x), scale(s.inward(other), Math.max(0, -dot(d, s.inward(h)))));
}

/** Angle all round the vertex of a half-edge, or 0 where the sheet ends there. */
function wholeFan(s: Surface, h: number): number {
  let sum = 0;
  let k = h;
  do {
    sum += s.angle(k);
    k = s.turned(k);
  } while (k >= 0 && k !== h);
  return k < 0 ? 0 : sum;
}

/** A half-edge that ends the sheet at the vertex of another. */
function borderAt(s: Surface, h: number): number {
  let k = h;
  while (s.turned(k) >= 0) k = s.turned(k);
  return prevSide(k);
}

/** The place of a point in a triangle: on its vertex or side where it is that close. */
export function spotIn(s: Surface, t: number, at: Vec3): Spot {
  const snap = SNAP * s.size;
  for (let h = 3 * t; h < 3 * t + 3; h++)
    if (near(at, s.point(s.from[h]), snap))
      return { at: s.point(s.from[h]), triangle: t, side: -1, vertex: s.from[h] };
  for (let h = 3 * t; h < 3 * t + 3; h++) {
    const p = s.point(s.from[h]);
    if (Math.abs(dot(sub(at, p), s.inward(h))) < snap) {
      const e = s.along(h);
      return { at: addScaled(p, e, dot(sub(at, p), e)), triangle: t, side: h, vertex: -1 };
    }
  }
  return { at, triangle: t, side: -1, vertex: -1 };
}

const near = (a: Vec3, b: Vec3, reach: number): boolean => {
  const d = sub(a, b);
  return dot(d, d) < reach * reach;
};

/** All triangles a place lies in. */
export function trianglesAt(s: Surface, spot: Spot): number[] {
  if (spot.vertex >= 0) {
    const h = sideFrom(s, spot.triangle, spot.vertex);
    const out = [s.triangle(h)];
    for (let k = s.turned(h); k >= 0 && k !== h; k = s.turned(k)) out.push(s.triangle(k));
    if (s.turned(lastTurn(s, h)) < 0)
      for (let k = s.across[h]; k >= 0; k = s.across[nextSide(k)]) out.push(s.triangle(k));
    return [...new Set(out)];
  }
  if (spot.side >= 0 && s.across[spot.side] >= 0) return [spot.triangle, s.triangle(s.across[spot.side])];
  return [spot.triangle];
}

function lastTurn(s: Surface, h: number): number {
  let k = h;
  while (s.turned(k) >= 0 && s.turned(k) !== h) k = s.turned(k);
  return k;
}
