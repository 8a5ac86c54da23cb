/** Brings the clipper for outlines that cross, for all that builds. */
import { FillRule, union, type Path64 } from 'clipper2-ts';
import { provideClipper } from './united';

provideClipper((contours, fill) =>
  union(
    contours.map((c): Path64 => c.map(([x, y]) => ({ x, y }))),
    fill === 'evenodd' ? FillRule.EvenOdd : FillRule.NonZero,
  ).map((path) => path.map(({ x, y }) => [x, y] as const)),
);
