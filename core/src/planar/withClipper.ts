/** Brings the clipper for outlines that cross, for all that builds. */
import { FillRule, union, type Path64 } from 'clipper2-ts';
import { provideClipper } from './united';

const RULES = {
  evenodd: FillRule.EvenOdd,
  nonzero: FillRule.NonZero,
  positive: FillRule.Positive,
} as const;

provideClipper((contours, fill) =>
  union(
    contours.map((c): Path64 => c.map(([x, y]) => ({ x, y }))),
    RULES[fill],
  ).map((path) => path.map(({ x, y }) => [x, y] as const)),
);
