/** Closed outlines in the plane: corners rounded, turned as they lie in one another, and checked for crossings. */
import { turn } from './turn';

export type Contour = ReadonlyArray<readonly [number, number]>;
type Direction = readonly [number, number];

/** An outline in which it is known which sides follow a curve. */
export interface CurvedContour {
  readonly points: Contour;
  /** Per side, the one that begins at a point: the curve's directions at its two ends, of any length; null where it is straight. */
  readonly tangents: ReadonlyArray<readonly [Direction, Direction] | null>;
}

export const straightSided = (points: Contour): CurvedContour => ({
  points,
  tangents: points.map(() => null),
});

/** The same outline run through the other way. */
function reversed({ points, tangents }: CurvedContour): CurvedContour {
  const n = points.length;
  const back = ([x, y]: Direction): Direction => [-x, -y];
  return {
    points: [...points].reverse(),
    // Point i of the result is n − 1 − i, and its side is the one that ends there.
    tangents: points.map((_, i) => {
      const side = tangents[(2 * n - 2 - i) % n];
      return side && [back(side[1]), back(side[0])];
    }),
  };
}

/** Points nearer than this share of an outline's size are one. */
const SAME = 1e-9;

/**
 * The outline with an arc at every corner, tangent to both sides; narrower where the sides are too short for it.
 * @param radius mm @param sides of each arc
 */
export function roundedContour(c: Contour, radius: number, sides: number): CurvedContour {
  if (!(radius > 0)) return straightSided(c);
  const out: Array<readonly [number, number]> = [];
  const tangents: Array<readonly [Direction, Direction] | null> = [];
  const n = c.length;
  for (let i = 0; i < n; i++) {
    const [p, q, r] = [c[(i + n - 1) % n], c[i], c[(i + 1) % n]];
    const [a, b] = [direction(q, p), direction(q, r)];
    const cosine = Math.min(1, Math.max(-1, a.x * b.x + a.y * b.y));
    // Half of the angle the outline turns by.
    const half = (Math.PI - Math.acos(cosine)) / 2;
    if (half < 1e-6 || half > Math.PI / 2 - 1e-6) {
      out.push(q);
      tangents.push(null);
      continue;
    }
    const back = Math.min(radius * Math.tan(half), a.length / 2, b.length / 2);
    const fits = back / Math.tan(half);
    const middle = { x: a.x + b.x, y: a.y + b.y };
    const m = Math.hypot(middle.x, middle.y);
    const far = fits / Math.cos(half);
    const centre = [q[0] + (middle.x / m) * far, q[1] + (middle.y / m) * far] as const;
    const start = [q[0] + a.x * back - centre[0], q[1] + a.y * back - centre[1]] as const;
    const way = turn(p[0], p[1], q[0], q[1], r[0], r[1]) > 0 ? 1 : -1;
    const spoke = (k: number): Direction => {
      const angle = (way * 2 * half * k) / sides;
      const [cos, sin] = [Math.cos(angle), Math.sin(angle)];
      return [cos * start[0] - sin * start[1], sin * start[0] + cos * start[1]];
    };
    const onward = ([x, y]: Direction): Direction => [-way * y, way * x];
    for (let k = 0; k <= sides; k++) {
      const [x, y] = spoke(k);
      out.push([centre[0] + x, centre[1] + y]);
      tangents.push(k < sides ? [onward([x, y]), onward(spoke(k + 1))] : null);
    }
  }
  return apart({ points: out, tangents });
}

function direction(
  [ax, ay]: readonly [number, number],
  [bx, by]: readonly [number, number],
): { x: number; y: number; length: number } {
  const length = Math.hypot(bx - ax, by - ay);
  return { x: (bx - ax) / (length || 1), y: (by - ay) / (length || 1), length };
}

/** Without points that fall on the one before, and the sides between them. */
function apart({ points, tangents }: CurvedContour): CurvedContour {
  const reach = SAME * sizeOf(points);
  const n = points.length;
  const kept = points.map((p, i) => {
    const q = points[(i + n - 1) % n];
    return Math.hypot(p[0] - q[0], p[1] - q[1]) > reach;
  });
  const sideFrom = (i: number): number => {
    let k = i;
    while (!kept[(k + 1) % n] && (k + 1) % n !== i) k = (k + 1) % n;
    return k;
  };
  return {
    points: points.filter((_, i) => kept[i]),
    tangents: tangents.map((_, i) => tangents[sideFrom(i)]).filter((_, i) => kept[i]),
  };
}

function sizeOf(c: Contour): number {
  const span = (a: 0 | 1): number => {
    let [low, high] = [Infinity, -Infinity];
    for (const p of c) [low, high] = [Math.min(low, p[a]), Math.max(high, p[a])];
    return high - low;
  };
  return Math.hypot(span(0), span(1));
}

/** All its points lie on one line. */
export function isLine(c: Contour): boolean {
  const reach = SAME * sizeOf(c);
  const far = c.reduce((p, q) => (Math.hypot(q[0] - c[0][0], q[1] - c[0][1]) > Math.hypot(p[0] - c[0][0], p[1] - c[0][1]) ? q : p)); // prettier-ignore
  const [ux, uy] = [far[0] - c[0][0], far[1] - c[0][1]];
  const l = Math.hypot(ux, uy);
  return !(l > 0) || c.every(([x, y]) => Math.abs((x - c[0][0]) * uy - (y - c[0][1]) * ux) <= reach * l);
}

/** Twice the area, above 0 when it runs counter-clockwise. */
export function signedArea(c: Contour): number {
  let sum = 0;
  for (let i = 0; i < c.length; i++) {
    const [p, q] = [c[i], c[(i + 1) % c.length]];
    sum += p[0] * q[1] - q[0] * p[1];
  }
  return sum;
}

/** Outlines that do not cross, those inside an odd number of others clockwise as holes, the rest counter-clockwise. */
export function turnedByNesting(contours: ReadonlyArray<CurvedContour>): CurvedContour[] {
  return contours.map((c, i) => {
    const around = contours.filter((other, k) => k !== i && isInside(other.points, c.points[0])).length;
    const hole = around % 2 === 1;
    return signedArea(c.points) > 0 === hole ? reversed(c) : c;
  });
}

/** Counts the sides that a ray from the point crosses. */
export function isInside(c: Contour, [x, y]: readonly [number, number]): boolean {
  let inside = false;
  for (let i = 0, j = c.length - 1; i < c.length; j = i++) {
    const [a, b] = [c[i], c[j]];
    if (a[1] > y !== b[1] > y && turn(a[0], a[1], b[0], b[1], x, y) > 0 === b[1] > a[1]) inside = !inside;
  }
  return inside;
}

/** Why outlines bound no region, in a sentence; null when they do. Sides are compared by sweeping along X. */
export function withoutCrossings(contours: ReadonlyArray<Contour>): string | null {
  const name = (k: number): string => (contours.length > 1 ? `Outline ${k + 1}` : 'The outline');
  interface Side {
    of: number;
    at: number;
    a: readonly [number, number];
    b: readonly [number, number];
    low: number;
    high: number;
  }
  const sides: Side[] = [];
  for (const [of, c] of contours.entries()) {
    const reach = SAME * sizeOf(c);
    for (let at = 0; at < c.length; at++) {
      const [a, b] = [c[at], c[(at + 1) % c.length]];
      if (Math.hypot(a[0] - b[0], a[1] - b[1]) <= reach)
        return `${name(of)} has two corners in one place, ${at + 1} and ${((at + 1) % c.length) + 1}.`;
      sides.push({ of, at, a, b, low: Math.min(a[0], b[0]), high: Math.max(a[0], b[0]) });
    }
  }
  sides.sort((s, t) => s.low - t.low);
  let open: Side[] = [];
  for (const s of sides) {
    open = open.filter((o) => o.high >= s.low);
    for (const o of open) {
      const n = contours[s.of].length;
      const beside = o.of === s.of && ((o.at + 1) % n === s.at || (s.at + 1) % n === o.at);
      if (beside ? foldsBack(o, s, n) : meet(o.a, o.b, s.a, s.b))
        return o.of === s.of
          ? `${name(s.of)} crosses or touches itself near ${place(s.a)}.`
          : `Outlines ${Math.min(o.of, s.of) + 1} and ${Math.max(o.of, s.of) + 1} cross or touch near ${place(s.a)}.`;
    }
    open.push(s);
  }
  const flat = contours.findIndex((c) => !(Math.abs(signedArea(c)) > SAME * sizeOf(c) ** 2));
  return flat < 0 ? null : `${name(flat)} encloses no area.`;
}

const place = ([x, y]: readonly [number, number]): string =>
  `${Number(x.toFixed(2))}, ${Number(y.toFixed(2))}`;

/** Two sides that follow each other run back over one another. */
function foldsBack(
  o: { at: number; a: readonly [number, number]; b: readonly [number, number] },
  s: { at: number; a: readonly [number, number]; b: readonly [number, number] },
  n: number,
): boolean {
  const [p, q] = (o.at + 1) % n === s.at ? [o, s] : [s, o];
  const straight = turn(p.a[0], p.a[1], p.b[0], p.b[1], q.b[0], q.b[1]) === 0;
  return straight && (p.b[0] - p.a[0]) * (q.b[0] - q.a[0]) + (p.b[1] - p.a[1]) * (q.b[1] - q.a[1]) < 0;
}

/** Two sides have a point in common. */
function meet(
  a: readonly [number, number],
  b: readonly [number, number],
  c: readonly [number, number],
  d: readonly [number, number],
): boolean {
  if (Math.max(a[1], b[1]) < Math.min(c[1], d[1]) || Math.max(c[1], d[1]) < Math.min(a[1], b[1]))
    return false;
  if (Math.max(a[0], b[0]) < Math.min(c[0], d[0]) || Math.max(c[0], d[0]) < Math.min(a[0], b[0]))
    return false;
  const side = (
    p: readonly [number, number],
    q: readonly [number, number],
    r: readonly [number, number],
  ): number => Math.sign(turn(p[0], p[1], q[0], q[1], r[0], r[1]));
  return side(a, b, c) * side(a, b, d) <= 0 && side(c, d, a) * side(c, d, b) <= 0;
}
