/**
 * The outlines of the region that crossing, overlapping or touching outlines fill. Clipper2 does the clipping (Vatti 1992,
 * "A generic solution to polygon clipping"). Original points keep their exact coordinates; crossings are recomputed from
 * the two sides in double precision.
 */
import type { Contour, CurvedContour } from './contours';

/** A point is filled when its winding number is odd, or when it is not zero. */
export type FillRule = 'evenodd' | 'nonzero';
/** Where outlines cross themselves as offset ones do, a point is filled when its winding number is above zero. */
type AnyRule = FillRule | 'positive';
type Clip = (contours: ReadonlyArray<Contour>, fill: AnyRule) => Contour[];
export type Pair = readonly [number, number];

let shipped: Clip | null = null;
/** Sets the clipper. A page that only shows builds never loads it. */
export const provideClipper = (clip: Clip): void => void (shipped = clip);

/** Whole numbers the clipper works with are up to this. */
const FINEST = 2 ** 36;
/** Places on a side and beside it are told apart by this many of the clipper's steps. */
const STEPS = 4;

interface Line {
  a: Pair;
  b: Pair;
}

interface Side extends Line {
  tangents: CurvedContour['tangents'][number];
}

/** @returns outer outlines counter-clockwise, holes clockwise; none where nothing is filled */
export function united(contours: ReadonlyArray<CurvedContour>, fill: FillRule): CurvedContour[] {
  const sides = contours.flatMap(({ points, tangents }) =>
    points.map((a, i): Side => ({ a, b: points[(i + 1) % points.length], tangents: tangents[i] })),
  );
  const { loops, reach } = clipped(
    contours.map((c) => c.points),
    sides,
    fill,
  );
  return loops.map((points) => ({
    points,
    tangents: points.map((p, i) => tangentsOf(p, points[(i + 1) % points.length], sides, reach)),
  }));
}

/** A corner of what outlines fill, and the side of theirs that the one from it lies on: of which outline, and from which point. */
export interface FilledCorner {
  at: Pair;
  side: readonly [outline: number, point: number];
}

/** As `united`, with the sides they come from. */
export function filledBy(outlines: ReadonlyArray<Contour>, fill: AnyRule): FilledCorner[][] {
  const sides = outlines.flatMap((points, outline) =>
    points.map((a, i) => ({ a, b: points[(i + 1) % points.length], side: [outline, i] as const })),
  );
  const { loops: raw, reach } = clipped(outlines, sides, fill);
  const loops = asOne(raw, reach);
  return loops.map((loop) =>
    loop.map((at, i) => {
      const to = loop[(i + 1) % loop.length];
      const ahead = ({ a, b }: (typeof sides)[number]): boolean => (b[0] - a[0]) * (to[0] - at[0]) + (b[1] - a[1]) * (to[1] - at[1]) > 0; // prettier-ignore
      const off = (s: (typeof sides)[number]): number => Math.max(offSide(at, s), offSide(to, s));
      const near = sides.filter((s) => off(s) <= reach);
      const found = near.find(ahead) ?? near[0] ?? sides.reduce((s, t) => (off(t) < off(s) ? t : s));
      return { at, side: found.side };
    }),
  );
}

/** Loops in which points nearer than some distance are one point; those that have no more than two left are dropped. */
function asOne(loops: ReadonlyArray<Pair[]>, reach: number): Pair[][] {
  const cells = new Map<string, Pair[]>();
  const oneAt = (p: Pair): Pair => {
    const [x, y] = p.map((c) => Math.floor(c / reach));
    for (let i = x - 1; i <= x + 1; i++)
      for (let j = y - 1; j <= y + 1; j++)
        for (const q of cells.get(`${i},${j}`) ?? [])
          if (Math.hypot(p[0] - q[0], p[1] - q[1]) <= reach) return q;
    const key = `${x},${y}`;
    cells.set(key, [...(cells.get(key) ?? []), p]);
    return p;
  };
  return loops
    .map((loop) => loop.map(oneAt).filter((p, i, all) => p !== all[(i + 1) % all.length]))
    .filter((loop) => loop.length > 2);
}

/** Clips outlines. @returns the loops around the filled area, and the tolerance for a point to lie on a side */
function clipped(
  outlines: ReadonlyArray<Contour>,
  sides: ReadonlyArray<Line>,
  fill: AnyRule,
): { loops: Pair[][]; reach: number } {
  if (!shipped) throw new Error('The clipper is missing: import planar/withClipper.');
  const most = outlines.reduce((m, c) => c.reduce((k, p) => Math.max(k, Math.abs(p[0]), Math.abs(p[1])), m), 0); // prettier-ignore
  if (!(most > 0)) return { loops: [], reach: 0 };
  const scale = FINEST / 2 ** Math.ceil(Math.log2(most));
  const key = (x: number, y: number): string => `${x},${y}`;
  const old = new Map<string, Pair>();
  const whole = outlines.map((points) =>
    points.map((p): Pair => {
      const [x, y] = [Math.round(p[0] * scale), Math.round(p[1] * scale)];
      if (!old.has(key(x, y))) old.set(key(x, y), p);
      return [x, y];
    }),
  );
  const reach = STEPS / scale;
  const loops = shipped(whole, fill).map((loop) =>
    loop.map(([x, y]) => old.get(key(x, y)) ?? crossing([x / scale, y / scale], sides, reach)),
  );
  return { loops: withTouches(loops, reach), reach };
}

/** The outlines with a point in each side that a corner of one of them touches. */
function withTouches(loops: ReadonlyArray<Pair[]>, reach: number): Pair[][] {
  const corners = loops.flat();
  const same = (p: Pair, q: Pair): boolean => p[0] === q[0] && p[1] === q[1];
  return loops.map((loop) =>
    loop.flatMap((a, i) => {
      const side = { a, b: loop[(i + 1) % loop.length] };
      const on = corners.filter((p) => !same(p, a) && !same(p, side.b) && offSide(p, side) <= reach);
      const once = on.filter((p, k) => on.findIndex((q) => same(p, q)) === k);
      return [a, ...once.sort((p, q) => shareOn(p, side) - shareOn(q, side))];
    }),
  );
}

/** The point where two of the sides near a place cross; the place itself when none do. */
function crossing(at: Pair, sides: ReadonlyArray<Line>, reach: number): Pair {
  const near = sides.filter((s) => offSide(at, s) <= reach);
  for (const [i, s] of near.entries())
    for (const t of near.slice(i + 1)) {
      const [ux, uy] = [s.b[0] - s.a[0], s.b[1] - s.a[1]];
      const [vx, vy] = [t.b[0] - t.a[0], t.b[1] - t.a[1]];
      const det = ux * vy - uy * vx;
      if (Math.abs(det) < 1e-6 * Math.hypot(ux, uy) * Math.hypot(vx, vy)) continue;
      const share = ((t.a[0] - s.a[0]) * vy - (t.a[1] - s.a[1]) * vx) / det;
      return [s.a[0] + share * ux, s.a[1] + share * uy];
    }
  return at;
}

/** The directions of the curve a side lies on, at its two ends; null where it lies on a straight one. */
function tangentsOf(
  from: Pair,
  to: Pair,
  sides: ReadonlyArray<Side>,
  reach: number,
): CurvedContour['tangents'][number] {
  for (const side of sides) {
    if (!side.tangents || offSide(from, side) > reach || offSide(to, side) > reach) continue;
    const [start, end] = side.tangents;
    const [s, t] = [shareOn(from, side), shareOn(to, side)];
    const way = s < t ? 1 : -1;
    const at = (x: number): Pair => [
      way * (start[0] + (end[0] - start[0]) * x),
      way * (start[1] + (end[1] - start[1]) * x),
    ];
    return [at(s), at(t)];
  }
  return null;
}

function shareOn([x, y]: Pair, { a, b }: Line): number {
  const [ux, uy] = [b[0] - a[0], b[1] - a[1]];
  const ll = ux * ux + uy * uy;
  return ll > 0 ? Math.min(1, Math.max(0, ((x - a[0]) * ux + (y - a[1]) * uy) / ll)) : 0;
}

function offSide(p: Pair, side: Line): number {
  const x = shareOn(p, side);
  const { a, b } = side;
  return Math.hypot(p[0] - a[0] - x * (b[0] - a[0]), p[1] - a[1] - x * (b[1] - a[1]));
}
