/**
 * The moved sides: from node to node over the sheet, along the section by the plane through both and the mean normal;
 * where that leaves the sheet, the shortest way.
 */
import { cross, dot, lerp, add, sub, unit, type Vec3 } from '../../mesh/vec3';
import type { Surface } from './Surface';
import type { Crossing, RailPath } from './railPath';
import { shortestBetween } from './unfold';
import { SNAP, trianglesAt, type Spot } from './walk';

/**
 * @param across a line in the plane of the section; the mean normal when left out
 * @returns null where nothing leads there within the sheet
 */
export const railBetween = (s: Surface, a: Spot, b: Spot, across?: Vec3): RailPath | null =>
  sectionBetween(s, a, b, across) ?? shortestBetween(s, a, b);

/** @returns null where the section does not get there within the sheet */
function sectionBetween(s: Surface, a: Spot, b: Spot, across?: Vec3): RailPath | null {
  const targets = new Set(trianglesAt(s, b));
  const starts = trianglesAt(s, a);
  const shared = starts.filter((t) => targets.has(t));
  if (shared.length) return { crossings: [], plates: [s.plateOf[innermost(s, shared, a.at, b.at)]] };
  const ab = sub(b.at, a.at);
  const m = unit(cross(ab, across ?? unit(add(s.normal(a.triangle), s.normal(b.triangle)))));
  if (m.every((x) => x === 0)) return null;
  const snap = SNAP * s.size;
  const height = (v: number): number => {
    const x = dot(sub(s.point(v), a.at), m);
    return Math.abs(x) < snap ? 0 : x;
  };
  let best: Passed | null = null;
  // From a place on an edge or point the section can start in several triangles: the one it gets furthest in.
  for (const t of starts) {
    const out = exitOf(s, t, a, height, ab, a.at);
    if (out && (!best || out.gain > best.gain)) best = out;
  }
  const crossings: Crossing[] = [];
  const plates: number[] = [];
  for (let steps = 0; best && steps < 20000; steps++) {
    const { triangle, crossing } = best;
    if (plates.at(-1) !== s.plateOf[triangle]) plates.push(s.plateOf[triangle]);
    const spot: Spot = { at: crossing.at, triangle, side: crossing.side, vertex: crossing.vertex };
    const onward = trianglesAt(s, spot).filter((t) => t !== triangle);
    const arrived = onward.filter((t) => targets.has(t));
    const pass = (next: number): void => {
      if (s.plateOf[next] !== s.plateOf[triangle]) crossings.push(crossing);
    };
    if (arrived.length) {
      const last =
        arrived.find((t) => s.plateOf[t] === s.plateOf[triangle]) ?? innermost(s, arrived, spot.at, b.at);
      pass(last);
      if (plates.at(-1) !== s.plateOf[last]) plates.push(s.plateOf[last]);
      return { crossings, plates };
    }
    let next: Passed | null = null;
    for (const t of onward) {
      const out = exitOf(s, t, spot, height, ab, a.at);
      if (out && (!next || out.gain > next.gain)) next = out;
    }
    if (!next) return null;
    pass(next.triangle);
    best = next;
  }
  return null;
}

interface Passed {
  triangle: number;
  crossing: Crossing;
  /** How far along the chord it has got. */
  gain: number;
}

/** The place where a section leaves a triangle it entered. */
function exitOf(
  s: Surface,
  t: number,
  from: Spot,
  height: (v: number) => number,
  ab: Vec3,
  a: Vec3,
): Passed | null {
  let best: Passed | null = null;
  const now = dot(sub(from.at, a), ab);
  const offer = (crossing: Crossing): void => {
    const gain = dot(sub(crossing.at, a), ab);
    if (gain > now && (!best || gain > best.gain)) best = { triangle: t, crossing, gain };
  };
  for (let h = 3 * t; h < 3 * t + 3; h++) {
    const [u, v] = [s.from[h], s.to(h)];
    const [x, y] = [height(u), height(v)];
    if (x === 0 && u !== from.vertex) offer({ at: s.point(u), side: -1, vertex: u });
    if (x * y >= 0 || h === from.side || (from.side >= 0 && s.across[from.side] === h)) continue;
    if (u === from.vertex || v === from.vertex) continue;
    offer({ at: lerp(s.point(u), s.point(v), x / (x - y)), side: h, vertex: -1 });
  }
  return best;
}

/** Among triangles that hold both ends, the one whose plane fits the line between them best. */
function innermost(s: Surface, triangles: number[], a: Vec3, b: Vec3): number {
  const off = (t: number): number => {
    const middle = lerp(a, b, 0.5);
    let worst = Math.abs(dot(sub(b, a), s.normal(t)));
    for (let h = 3 * t; h < 3 * t + 3; h++)
      worst = Math.max(worst, -dot(sub(middle, s.point(s.from[h])), s.inward(h)));
    return worst;
  };
  return triangles.reduce((x, y) => (off(y) < off(x) ? y : x));
}
