/** Closed outlines in the plane: corners rounded, turned as they lie in one another, and checked for crossings. */
import { turn } from './turn';

export type Contour = ReadonlyArray<readonly [number, number]>;

/** Points nearer than this share of an outline's size are one. */
const SAME = 1e-9;

/**
 * The outline with an arc at every corner, tangent to both sides; narrower where the sides are too short for it.
 * @param radius mm @param sides of each arc
 */
export function roundedContour(c: Contour, radius: number, sides: number): Contour {
  if (!(radius > 0)) return c;
  const out: Array<readonly [number, number]> = [];
  const n = c.length;
  for (let i = 0; i < n; i++) {
    const [p, q, r] = [c[(i + n - 1) % n], c[i], c[(i + 1) % n]];
    const [a, b] = [direction(q, p), direction(q, r)];
    const cosine = Math.min(1, Math.max(-1, a.x * b.x + a.y * b.y));
    // Half of the angle the outline turns by.
    const half = (Math.PI - Math.acos(cosine)) / 2;
    if (half < 1e-6 || half > Math.PI / 2 - 1e-6) {
      out.push(q);
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
    for (let k = 0; k <= sides; k++) {
      const angle = (way * 2 * half * k) / sides;
      const [cos, sin] = [Math.cos(angle), Math.sin(angle)];
      out.push([centre[0] + cos * start[0] - sin * start[1], centre[1] + sin * start[0] + cos * start[1]]);
    }
  }
  return apart(out);
}

function direction(
  [ax, ay]: readonly [number, number],
  [bx, by]: readonly [number, number],
): { x: number; y: number; length: number } {
  const length = Math.hypot(bx - ax, by - ay);
  return { x: (bx - ax) / (length || 1), y: (by - ay) / (length || 1), length };
}

/** Without points that fall on the one before. */
function apart(c: Contour): Contour {
  const reach = SAME * sizeOf(c);
  return c.filter((p, i) => {
    const q = c[(i + c.length - 1) % c.length];
    return Math.hypot(p[0] - q[0], p[1] - q[1]) > reach;
  });
}

function sizeOf(c: Contour): number {
  const span = (a: 0 | 1): number => {
    let [low, high] = [Infinity, -Infinity];
    for (const p of c) [low, high] = [Math.min(low, p[a]), Math.max(high, p[a])];
    return high - low;
  };
  return Math.hypot(span(0), span(1));
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
export function turnedByNesting(contours: ReadonlyArray<Contour>): Contour[] {
  return contours.map((c, i) => {
    const around = contours.filter((other, k) => k !== i && isInside(other, c[0])).length;
    const hole = around % 2 === 1;
    return signedArea(c) > 0 === hole ? [...c].reverse() : c;
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
