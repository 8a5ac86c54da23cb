/**
 * The shortest way through a strip of triangles, unfolded into a plane: where a section does not stay on the sheet, a
 * rail goes this way. The strip is found by Dijkstra over triangles, the way in it by the funnel (Lee & Preparata 1984).
 */
import { distance, dot, lerp, sub, type Vec3 } from '../../mesh/vec3';
import { Heap } from '../../spatial/Heap';
import type { Crossing, RailPath } from './railPath';
import { nextSide, prevSide, type Surface } from './Surface';
import { trianglesAt, type Spot } from './walk';

type Point = [number, number];

export function shortestBetween(s: Surface, a: Spot, b: Spot): RailPath | null {
  const sides = stripBetween(s, a, b);
  if (!sides) return null;
  const first = sides.length ? s.triangle(sides[0]) : a.triangle;
  const { from, to, portals } = unfolded(s, first, sides, a.at, b.at);
  const corners = funnel(from, to, portals);
  const crossings: Crossing[] = [];
  const plates = [s.plateOf[first]];
  // Portal by portal: where the way between its corners passes.
  let k = 0;
  sides.forEach((h, i) => {
    while (k + 2 < corners.length && corners[k + 1].portal < i) k++;
    const [p, q] = [corners[k], corners[k + 1]];
    const [u, v] = portals[i];
    const corner = [p, q].find((c) => c.portal >= 0 && (same(c.at, u) || same(c.at, v)));
    const share = corner ? (same(corner.at, u) ? 0 : 1) : crossingShare(p.at, q.at, u, v);
    const plate = s.plateOf[s.triangle(s.across[h])];
    if (plate === plates[plates.length - 1]) return;
    plates.push(plate);
    const vertex = share <= 1e-9 ? s.from[h] : share >= 1 - 1e-9 ? s.to(h) : -1;
    crossings.push({
      at: vertex >= 0 ? s.point(vertex) : lerp(s.point(s.from[h]), s.point(s.to(h)), share),
      side: vertex >= 0 ? -1 : h,
      vertex,
    });
  });
  return { crossings, plates };
}

/** Half-edges to cross from a triangle at one place to one at the other, or null where the sheet does not lead there. */
function stripBetween(s: Surface, a: Spot, b: Spot): number[] | null {
  const targets = new Set(trianglesAt(s, b));
  const way = new Map<number, { cost: number; by: number; at: Vec3 }>();
  const queue = new Heap<{ t: number; cost: number; rank: number }>((x) => x.rank);
  for (const t of trianglesAt(s, a)) {
    way.set(t, { cost: 0, by: -1, at: a.at });
    queue.push({ t, cost: 0, rank: distance(a.at, b.at) });
  }
  for (let item = queue.pop(); item; item = queue.pop()) {
    const { t, cost } = item;
    const here = way.get(t)!;
    if (cost > here.cost) continue;
    if (targets.has(t)) {
      const sides: number[] = [];
      for (let at = t; way.get(at)!.by >= 0; at = s.triangle(way.get(at)!.by)) sides.push(way.get(at)!.by);
      return sides.reverse();
    }
    for (let h = 3 * t; h < 3 * t + 3; h++) {
      const other = s.across[h];
      if (other < 0) continue;
      const middle = lerp(s.point(s.from[h]), s.point(s.to(h)), 0.5);
      const next = cost + distance(here.at, middle);
      const t2 = s.triangle(other);
      const known = way.get(t2);
      if (known && !(next < known.cost)) continue;
      way.set(t2, { cost: next, by: h, at: middle });
      queue.push({ t: t2, cost: next, rank: next + distance(middle, b.at) });
    }
  }
  return null;
}

/** The strip laid flat: both ends, and the two points of every side that is crossed, its left one first. */
function unfolded(
  s: Surface,
  first: number,
  sides: number[],
  a: Vec3,
  b: Vec3,
): { from: Point; to: Point; portals: Array<[Point, Point]> } {
  // The first triangle, its first side along x.
  let h = 3 * first;
  let [p, q]: [Point, Point] = [
    [0, 0],
    [distance(s.point(s.from[h]), s.point(s.to(h))), 0],
  ];
  const from = placed(s, h, p, q, a);
  const portals: Array<[Point, Point]> = [];
  for (const side of sides) {
    const corners = new Map<number, Point>([
      [h, p],
      [nextSide(h), q],
      [prevSide(h), placed(s, h, p, q, s.point(s.from[prevSide(h)]))],
    ]);
    const [u, v] = [corners.get(side)!, corners.get(nextSide(side))!];
    portals.push([u, v]);
    h = s.across[side];
    [p, q] = [v, u];
  }
  return { from, to: placed(s, h, p, q, b), portals };
}

/** A point of a triangle, laid flat by two of its corners. */
function placed(s: Surface, h: number, p: Point, q: Point, at: Vec3): Point {
  const d = sub(at, s.point(s.from[h]));
  const [x, y] = [dot(d, s.along(h)), dot(d, s.inward(h))];
  const l = Math.hypot(q[0] - p[0], q[1] - p[1]) || 1;
  const [ex, ey] = [(q[0] - p[0]) / l, (q[1] - p[1]) / l];
  return [p[0] + x * ex - y * ey, p[1] + x * ey + y * ex];
}

interface Corner {
  at: Point;
  /** The last portal it is a corner of; −1 at the start. */
  portal: number;
}

/** Corners of the shortest way from one point to another through all portals. */
function funnel(from: Point, to: Point, portals: Array<[Point, Point]>): Corner[] {
  const out: Corner[] = [{ at: from, portal: -1 }];
  const gates: Array<[Point, Point]> = [...portals, [to, to]];
  let apex = from;
  let [left, right] = [from, from];
  let [iLeft, iRight] = [0, 0];
  // Without an end only where places have no numbers.
  for (let i = 0, turns = 0; i < gates.length && turns < gates.length ** 2 + 16; i++, turns++) {
    // Leaving over a side, its start is on the right hand and its end on the left.
    const [r, l] = gates[i];
    if (turn(apex, right, r) >= 0) {
      if (same(apex, right) || turn(apex, left, r) < 0) [right, iRight] = [r, i];
      else {
        out.push({ at: left, portal: iLeft });
        apex = left;
        i = iLeft;
        [left, right, iRight] = [apex, apex, i];
        continue;
      }
    }
    if (turn(apex, left, l) <= 0) {
      if (same(apex, left) || turn(apex, right, l) > 0) [left, iLeft] = [l, i];
      else {
        out.push({ at: right, portal: iRight });
        apex = right;
        i = iRight;
        [left, right, iLeft] = [apex, apex, i];
      }
    }
  }
  out.push({ at: to, portal: gates.length - 1 });
  return out;
}

const turn = (a: Point, b: Point, c: Point): number =>
  (b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0]);
const same = (a: Point, b: Point): boolean => a[0] === b[0] && a[1] === b[1];

/** The crossing of line p–q with line u–v, as a share of the latter. */
function crossingShare(p: Point, q: Point, u: Point, v: Point): number {
  const [a, b] = [turn(p, q, u), turn(p, q, v)];
  return a === b ? 0.5 : Math.min(1, Math.max(0, a / (a - b)));
}
