/** Finds the place where an outline can be shown largest with nothing over it. */

export interface Rect {
  left: number;
  top: number;
  right: number;
  bottom: number;
}

export interface Place {
  /** Middle of the outline, pixels from the top left. */
  x: number;
  y: number;
  /** How many times as large it is drawn there, at most 1. */
  scale: number;
}

type P = readonly [number, number];

/** Pixels between places that are tried. */
const STEP = 12;
/** Pixels kept free round the outline. */
const GAP = 10;
/** Share of the best scale at which it stays in the middle: a model that does not wander is easier to work on. */
const CONTENT = 0.8;

/**
 * The place for an outline, given by points in pixels from its middle, in a view of a size with bars over it. Two convex
 * shapes are apart where an axis of one of them parts them (Gottschalk, Lin and Manocha 1996, section 4), and along one
 * axis the largest scale that still does is a quotient; so each place is judged exactly, and the places lie on a grid.
 */
export function freePlace(
  points: readonly P[],
  size: { width: number; height: number },
  bars: readonly Rect[],
): Place {
  const axes = axesOf(convexHull(points));
  const middle = { x: size.width / 2, y: size.height / 2 };
  const at = (x: number, y: number): Place => ({ x, y, scale: largestAt(x, y, axes, size, bars) });
  let best = at(middle.x, middle.y);
  const inTheMiddle = best;
  for (let dx = 0; dx < middle.x; dx += STEP)
    for (let dy = 0; dy < middle.y; dy += STEP)
      for (const [sx, sy] of SIDES) {
        const place = at(middle.x + sx * dx, middle.y + sy * dy);
        if (better(place, best, middle)) best = place;
      }
  return inTheMiddle.scale >= CONTENT * best.scale ? inTheMiddle : best;
}

const SIDES = [
  [1, 1],
  [-1, 1],
  [1, -1],
  [-1, -1],
] as const;

function better(a: Place, b: Place, middle: { x: number; y: number }): boolean {
  if (a.scale !== b.scale) return a.scale > b.scale;
  const off = (p: Place): number => Math.hypot(p.x - middle.x, p.y - middle.y);
  return off(a) < off(b);
}

interface Axis {
  x: number;
  y: number;
  /** How far the outline reaches along it. */
  reach: number;
}

function largestAt(
  x: number,
  y: number,
  axes: readonly Axis[],
  size: { width: number; height: number },
  bars: readonly Rect[],
): number {
  let scale = 1;
  for (const a of axes) {
    const edge = a.x === 1 ? size.width - x : a.x === -1 ? x : a.y === 1 ? size.height - y : y;
    if (Math.abs(a.x) === 1 || Math.abs(a.y) === 1) scale = Math.min(scale, (edge - GAP) / a.reach);
  }
  for (const bar of bars) {
    let beside = 0;
    for (const a of axes) {
      const nearest = Math.min(a.x * bar.left, a.x * bar.right) + Math.min(a.y * bar.top, a.y * bar.bottom);
      beside = Math.max(beside, (nearest - a.x * x - a.y * y - GAP) / a.reach);
    }
    scale = Math.min(scale, beside);
  }
  return Math.max(0, scale);
}

function axesOf(hull: readonly P[]): Axis[] {
  const directions: P[] = [
    [1, 0],
    [-1, 0],
    [0, 1],
    [0, -1],
  ];
  hull.forEach((p, i) => {
    const q = hull[(i + 1) % hull.length];
    const long = Math.hypot(q[0] - p[0], q[1] - p[1]);
    // The hull goes anticlockwise with y up, so outward is to the right of each side.
    if (long > 0) directions.push([(q[1] - p[1]) / long, (p[0] - q[0]) / long]);
  });
  return directions.map(([x, y]) => ({
    x,
    y,
    // A flat outline still has a pixel of width.
    reach: Math.max(1, ...hull.map((p) => p[0] * x + p[1] * y)),
  }));
}

/** Andrew's monotone chain (1979): the corners of the smallest convex outline round points. */
function convexHull(points: readonly P[]): P[] {
  const sorted = [...points].sort((a, b) => a[0] - b[0] || a[1] - b[1]);
  const half = (list: readonly P[]): P[] => {
    const chain: P[] = [];
    for (const p of list) {
      while (chain.length > 1 && turn(chain[chain.length - 2], chain[chain.length - 1], p) <= 0) chain.pop();
      chain.push(p);
    }
    return chain.slice(0, -1);
  };
  return [...half(sorted), ...half(sorted.reverse())];
}

const turn = (a: P, b: P, c: P): number => (b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0]);
