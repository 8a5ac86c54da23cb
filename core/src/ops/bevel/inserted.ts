/** Points put into the sides of a rounding's faces, with what their corners take their layers from. */
import { distance } from '../../mesh/vec3';
import type { Grown } from './grown';
import type { Points } from './Points';
import type { RowNormals } from './rowNormals';
import type { OutFace, Source } from './shape';

type Outline = Pick<OutFace, 'loop' | 'sources'>;

/** A new face with the points at which the ends of strips pass from plate to plate. */
export function withPassed(outline: Outline, g: Grown, normals: RowNormals): Outline {
  if (!g.strips.endOnPlates) return outline;
  const { loop, sources } = outline;
  const between = loop.map((p, k) => g.strips.between(p, loop[(k + 1) % loop.length]));
  return {
    loop: loop.flatMap((p, k) => [p, ...between[k]]),
    sources: sources.flatMap((s, k) => [s, ...sourcesBetween(outline, k, between[k], g.points, normals)]),
  };
}

/** Sources of points that are put into a side of a face. */
export function sourcesBetween(
  { loop, sources }: Outline,
  side: number,
  inserted: ReadonlyArray<number>,
  points: Points,
  normals: RowNormals,
): Source[] {
  const next = (side + 1) % loop.length;
  const [s, last] = [sources[side], sources[next]];
  const normalOf = (x: Source): number =>
    typeof x === 'object' && x.kind !== 'place' ? (x.normal ?? -1) : -1;
  const of = [normalOf(s), normalOf(last)];
  if (of.some((n) => n < 0)) return inserted.map(() => s);
  return inserted.map((p) => {
    const [a, b] = [loop[side], loop[next]].map((q) => distance(points.at(p), points.at(q)));
    return { ...(s as object), normal: normals.mean(of, [b, a]) } as Source;
  });
}
