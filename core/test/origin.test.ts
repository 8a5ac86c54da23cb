/** Primitives that stand on their origin: nothing is sunk, and the handles follow the hand as they did. */
import { describe, expect, it } from 'vitest';
import { boundsOf } from '../src/mesh/measure';
import { dot, sub } from '../src/mesh/vec3';
import {
  buildPrimitive,
  firstPrimitive,
  PRIMITIVE_KINDS,
  PRIMITIVES,
  reachBelow,
  type Primitive,
} from '../src/primitives';

const first = (kind: (typeof PRIMITIVE_KINDS)[number], origin: 'middle' | 'foot'): Primitive => ({
  ...firstPrimitive(kind),
  origin,
});

describe('the origin of a primitive', () => {
  it.each(PRIMITIVE_KINDS)('%s: at its foot the same shape stands on it', (kind) => {
    const [middle, foot] = (['middle', 'foot'] as const).map((o) => buildPrimitive(first(kind, o)));
    const lift = foot.positions[1] - middle.positions[1];
    middle.positions.forEach((x, i) => expect(foot.positions[i] - x).toBeCloseTo(i % 3 === 1 ? lift : 0, 9));
    for (const origin of ['middle', 'foot'] as const) {
      const p = first(kind, origin);
      expect(reachBelow(p)).toBeCloseTo(-boundsOf(buildPrimitive(p)).min[1], 9);
    }
    const low = boundsOf(foot).min[1];
    // A ball of facets may not reach its radius.
    expect(low).toBeGreaterThanOrEqual(-1e-9);
    expect(low).toBeLessThan(0.5);
  });

  it.each(PRIMITIVE_KINDS)('%s: pulled by a millimetre, a handle goes a millimetre', (kind) => {
    for (const origin of ['middle', 'foot'] as const) {
      const p = first(kind, origin);
      for (const h of PRIMITIVES[kind].handles(p)) {
        const after = { ...p, [h.key]: (p as Record<string, unknown>)[h.key] as number };
        (after as Record<string, unknown>)[h.key] =
          (after[h.key as keyof Primitive] as never as number) + h.rate;
        const now = PRIMITIVES[kind].handles(after).find((x) => x.key === h.key)!;
        expect([origin, h.key, dot(sub(now.at, h.at), h.along)]).toEqual([
          origin,
          h.key,
          expect.closeTo(1, 6),
        ]);
      }
    }
  });

  it('lengths are as many times as long, counts are not', () => {
    expect(firstPrimitive('cylinder', 0.2)).toMatchObject({ radius: 10, height: 20, sides: 32 });
    expect(firstPrimitive('box', 5)).toMatchObject({ width: 500, segments: [1, 1, 1] });
  });
});
