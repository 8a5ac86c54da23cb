/** Points brought onto a grid far finer than anything drawn, so that the last digits decide nothing. */
import type { HalfEdges } from './HalfEdges';

/** Steps of the grid over the extent of the region. */
const STEPS = 2 ** 32;

/** The points brought onto a grid that has their first point among its own. */
export function onGrid(xy: ArrayLike<number>, h: HalfEdges): Float64Array {
  const out = new Float64Array(xy.length);
  const o = 2 * h.from.reduce((a, b) => Math.min(a, b));
  let extent = 0;
  for (const p of h.from)
    extent = Math.max(extent, Math.abs(xy[2 * p] - xy[o]), Math.abs(xy[2 * p + 1] - xy[o + 1]));
  const step = 2 ** Math.ceil(Math.log2(extent || 1)) / STEPS;
  for (const p of h.from)
    for (const k of [0, 1]) out[2 * p + k] = Math.round((xy[2 * p + k] - xy[o + k]) / step);
  return out;
}
