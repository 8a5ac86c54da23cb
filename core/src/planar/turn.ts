/** The turn of three points in the plane, exact in sign (Shewchuk 1997). */
import { orient2d } from 'robust-predicates';

/** Left turns positive, whatever the library's axis convention. */
export const turn = (ax: number, ay: number, bx: number, by: number, cx: number, cy: number): number =>
  -orient2d(ax, ay, bx, by, cx, cy);
