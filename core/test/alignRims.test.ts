/** Rims are matched as trying every start would match them, in much less time. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { distance, type Vec3 } from '../src/mesh/vec3';
import { bestStart } from '../src/ops/alignRims';

const sumAt = (a: Vec3[], b: Vec3[], s: number): number =>
  a.reduce((sum, p, k) => sum + distance(p, b[(Math.floor((k * b.length) / a.length) + s) % b.length]) ** 2, 0); // prettier-ignore

function circle(n: number, turn: number, wobble: number, at: Vec3): Vec3[] {
  return Array.from({ length: n }, (_, k) => {
    const angle = (2 * Math.PI * k) / n + turn;
    const r = 10 + wobble * Math.sin(3 * angle) + wobble * Math.cos(k * k);
    return [at[0] + r * Math.cos(angle), at[1], at[2] + r * Math.sin(angle)];
  });
}

describe('the best start', () => {
  it('is the one with the least sum of squared distances, whatever the numbers of points', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 3, max: 300 }),
        fc.integer({ min: 3, max: 300 }),
        fc.double({ min: 0, max: 6, noNaN: true }),
        fc.double({ min: 0, max: 2, noNaN: true }),
        fc.integer({ min: -10_000, max: 10_000 }),
        (n, m, turn, wobble, far) => {
          const a = circle(n, 0, wobble, [far, 0, -far]);
          const b = circle(m, turn, wobble, [far, 20, -far]);
          const least = Math.min(...b.map((_, s) => sumAt(a, b, s)));
          expect(sumAt(a, b, bestStart(a, b)) - least).toBeLessThanOrEqual(1e-6 * (1 + least));
        },
      ),
      { numRuns: 150 },
    );
  });

  it('is the first of equals', () => {
    const one: Vec3[] = Array.from({ length: 200 }, () => [1, 2, 3]);
    expect(bestStart(circle(100, 0, 0, [0, 0, 0]), one)).toBe(0);
  });
});
