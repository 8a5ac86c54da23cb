/** How far drags have gone: places taken hold of along lines of sight, and what is made of them with and without steps. */
import fc from 'fast-check';
import { Ray, Vector3 } from 'three';
import { describe, expect, it } from 'vitest';
import { dragValue, grabbedAt, type Course, type DragStart, type Steps } from '../src/hands/dragValue';
import type { Grip } from '../src/viewport/Gizmo';

const AXES = [new Vector3(1, 0, 0), new Vector3(0, 1, 0), new Vector3(0, 0, 1)];
const start = (tool: Grip['tool'], axes: number[], more: Partial<DragStart> = {}): DragStart => ({
  grip: { tool, axes },
  axes: AXES,
  pivot: new Vector3(),
  held: new Vector3(),
  ...more,
});
const course = (grabbed: number[], now: number[], pixels = [0, 0]): Course => ({
  grabbed: new Vector3(...grabbed),
  now: new Vector3(...now),
  from: { x: 0, y: 0 },
  at: { x: pixels[0], y: pixels[1] },
});
const free: Steps = { on: false, met: null, grid: 5, angle: 15, pixel: 0.05 };
const stepped: Steps = { ...free, on: true };

const number = (min: number, max: number) => fc.double({ min, max, noNaN: true });
const triple = (limit: number) =>
  fc.tuple(number(-limit, limit), number(-limit, limit), number(-limit, limit));
const direction = triple(1).filter((d) => Math.hypot(...d) > 0.1);

describe('the place a drag has hold of', () => {
  const sight = (from: number[], to: number[]): Ray =>
    new Ray(new Vector3(...from), new Vector3(...to).sub(new Vector3(...from)).normalize());
  const back = new Vector3(0, 0, 1);

  it('lies on the axis, nearest to the line of sight', () => {
    fc.assert(
      fc.property(triple(50), triple(50), fc.constantFrom(0, 1, 2), triple(20), (eye, to, axis, at) => {
        const line = sight(eye, to);
        if (Math.abs(line.direction.dot(AXES[axis])) > 0.99 || !(line.direction.length() > 0.5)) return;
        const pivot = new Vector3(...at);
        const p = grabbedAt(line, back, start('move', [axis], { pivot }), [axis]);
        expect(p.clone().sub(pivot).cross(AXES[axis]).length()).toBeLessThan(1e-6);
        // Along the axis nothing is nearer.
        const far = (q: Vector3): number => {
          const w = q.clone().sub(line.origin);
          return w.sub(line.direction.clone().multiplyScalar(w.dot(line.direction))).length();
        };
        for (const by of [-0.1, 0.1])
          expect(far(p)).toBeLessThanOrEqual(far(p.clone().addScaledVector(AXES[axis], by)) + 1e-9);
      }),
    );
  });

  it('lies in the plane of two axes, across the axis of a turn, or facing the viewer', () => {
    const eye = [3, 40, 60];
    const line = sight(eye, [5, 0, 7]);
    const held = (tool: Grip['tool'], axes: number[]): number[] =>
      grabbedAt(line, back, start(tool, axes), axes).toArray();
    expect(held('move', [0, 2])).toEqual([5, 0, 7].map((x) => expect.closeTo(x, 9) as number));
    expect(held('turn', [1])).toEqual(held('move', [0, 2]));
    expect(held('turn', [0])[0]).toBeCloseTo(0, 9);
    expect(held('move', [0, 1, 2])[2]).toBeCloseTo(0, 9);
  });

  it('is the pivot where the line of sight meets nothing', () => {
    const along = new Ray(new Vector3(0, 5, 0), new Vector3(1, 0, 0));
    const pivot = new Vector3(2, 1, 3);
    const held = (axes: number[]): number[] =>
      grabbedAt(along, back, start('move', axes, { pivot }), axes).toArray();
    expect(held([0])).toEqual([2, 1, 3]);
    expect(held([0, 2])).toEqual([2, 1, 3]);
  });
});

describe('a move', () => {
  it('goes along the axes it is held to, and along no other', () => {
    fc.assert(
      fc.property(triple(90), triple(90), fc.subarray([0, 1, 2], { minLength: 1 }), (from, to, axes) => {
        const { move } = dragValue(start('move', axes), axes, course(from, to), free);
        move.forEach((x, k) => {
          if (!axes.includes(k)) expect(x).toBe(0);
          else expect(Math.abs(x - (to[k] - from[k]))).toBeLessThanOrEqual(0.005 + 1e-9);
        });
      }),
    );
  });

  it('stays in a plane of turned axes, whatever it meets', () => {
    const tilted = AXES.map((a) => a.clone().applyAxisAngle(new Vector3(1, 1, 0).normalize(), 0.7));
    const s = start('move', [0, 2], { axes: tilted });
    const met = { kind: 'point' as const, at: new Vector3(8, 5, -3) };
    for (const steps of [free, stepped, { ...stepped, met }]) {
      const { move } = dragValue(s, [0, 2], course([1, 0, 2], [9, 30, -14]), steps);
      expect(move[1]).toBe(0);
      expect([move[0] !== 0, move[2] !== 0]).toEqual([true, true]);
    }
    // In the plane it meets what is nearest to it there.
    const { move } = dragValue(s, [0, 2], course([1, 0, 2], [9, 30, -14]), { ...stepped, met });
    expect(move[0]).toBeCloseTo(met.at.dot(tilted[0]), 12);
    expect(move[2]).toBeCloseTo(met.at.dot(tilted[2]), 12);
  });

  it('goes by whole steps of the grid, unless it meets something: then exactly there', () => {
    const s = start('move', [0, 1, 2], { held: new Vector3(1, 1, 1) });
    const way = course([0, 0, 0], [7.6, -12.4, 2.4]);
    expect(dragValue(s, [0, 1, 2], way, stepped).move).toEqual([10, -10, 0]);
    expect(dragValue(s, [0, 1, 2], way, { ...stepped, grid: 0 }).move).toEqual([7.6, -12.4, 2.4]);
    const met = { kind: 'point' as const, at: new Vector3(8.123456, 0, 1) };
    const value = dragValue(s, [0, 1, 2], way, { ...stepped, met });
    expect(value.move).toEqual([expect.closeTo(7.123456, 12), -1, 0]);
    expect(value.met).toBe('point');
    expect(dragValue(s, [1], way, { ...stepped, met }).move).toEqual([0, -1, 0]);
  });

  it('ends on numbers a pixel can tell', () => {
    const { move } = dragValue(start('move', [0]), [0], course([0, 0, 0], [12.000381, 0, 0]), free);
    expect(move[0]).toBe(12);
    const near = { ...free, pixel: 0.0004 };
    expect(dragValue(start('move', [0]), [0], course([0, 0, 0], [12.000381, 0, 0]), near).move[0]).toBe(
      12.0004,
    );
  });
});

describe('a turn', () => {
  it('is the angle about its axis, to the tenth or to the step', () => {
    fc.assert(
      fc.property(fc.constantFrom(0, 1, 2), number(-179, 179), number(1, 40), (axis, degrees, radius) => {
        const from = new Vector3(radius, 0, 0).applyAxisAngle(new Vector3(0, 0, 1), 0.3);
        if (axis === 0) from.set(0, radius, 1);
        if (axis === 1) from.set(radius, 0, 1);
        const to = from.clone().applyAxisAngle(AXES[axis], (degrees * Math.PI) / 180);
        const way = course(from.toArray(), to.toArray());
        const s = start('turn', [axis]);
        expect(Math.abs(dragValue(s, [axis], way, free).degrees - degrees)).toBeLessThanOrEqual(0.05 + 1e-9);
        const step = dragValue(s, [axis], way, stepped).degrees;
        expect(Math.abs(step % 15)).toBe(0);
        expect(Math.abs(step - degrees)).toBeLessThanOrEqual(7.5 + 1e-9);
      }),
    );
  });
});

describe('a resize', () => {
  it('goes by how far the hold went from the pivot, and never to nought or through it', () => {
    const s = start('resize', [0], { pivot: new Vector3(10, 0, 0) });
    const by = (to: number): number[] => dragValue(s, [0], course([20, 3, 0], [to, 9, 0]), free).factors;
    expect(by(30)).toEqual([2, 1, 1]);
    expect(by(15)).toEqual([0.5, 1, 1]);
    expect(by(-50)).toEqual([0.01, 1, 1]);
    expect(dragValue(s, [0], course([20, 0, 0], [27.4, 0, 0]), stepped).factors[0]).toBeCloseTo(1.7, 12);
    // Taken hold of at the pivot itself there is nothing to go by.
    expect(dragValue(s, [0], course([10, 3, 0], [30, 0, 0]), free).factors).toEqual([1, 1, 1]);
  });

  it('along all axes alike goes by the pixels to the right and up', () => {
    fc.assert(
      fc.property(number(-300, 300), number(-300, 300), direction, (x, y, d) => {
        const { factors } = dragValue(start('resize', [0, 1, 2]), [0, 1, 2], course(d, d, [x, y]), free);
        expect(new Set(factors).size).toBe(1);
        expect(Math.abs(factors[0] - Math.exp((x - y) / 160))).toBeLessThanOrEqual(0.0101);
      }),
    );
  });
});
