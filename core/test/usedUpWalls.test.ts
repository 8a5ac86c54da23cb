/** Walls that roundings use up from both sides, or up to an edge that stays: the rails meet in one ridge of points. */
import fc from 'fast-check';
import { beforeAll, describe, expect, it } from 'vitest';
import { Evaluator } from '../src/build/evaluate';
import type { BuildResult } from '../src/build/report';
import type { Piece } from '../src/document/schema';
import { selfCrossings } from '../src/inspect/selfCross';
import { isClosed } from '../src/mesh/Topology';
import type { PolyMesh } from '../src/mesh/PolyMesh';
import { distance, pointOf } from '../src/mesh/vec3';
import type { Primitive } from '../src/primitives';
import { loadKernel } from '../src/solid/kernel';
import type { Step } from '../src/steps';
import { thinner } from './thinner';

beforeAll(() => loadKernel());

function hollowed(base: Primitive, by: Primitive, up: number, rounding: Step): BuildResult {
  const none = (): never => {
    throw new Error('no file is used');
  };
  const e = new Evaluator({ blob: none, file: none });
  const cutter: Piece = { id: 'c', role: 'cutter', base: by, transform: { move: [0, up, 0] } };
  e.setPieces([
    { id: 'h', base, steps: [{ kind: 'cut', mode: 'subtract', cutters: ['c'] }, rounding] },
    cutter,
  ]);
  return e.build('h');
}

/** The least distance between two points. */
function nearest(m: PolyMesh): number {
  const points = Array.from({ length: m.positions.length / 3 }, (_, v) => pointOf(m.positions, v));
  points.sort((a, b) => a[0] - b[0]);
  let least = Infinity;
  points.forEach((p, i) => {
    for (let k = i + 1; k < points.length && points[k][0] - p[0] < least; k++)
      least = Math.min(least, distance(p, points[k]));
  });
  return least;
}

function expectSound({ mesh, steps }: BuildResult, apart = 1e-3): void {
  expect(steps.map((s) => s.fault)).toEqual([undefined, undefined]);
  expect(isClosed(mesh)).toBe(true);
  expect(selfCrossings(mesh).edges).toEqual([]);
  expect(thinner(mesh, apart)).toBe(0);
  expect(nearest(mesh)).toBeGreaterThan(apart);
}

const tenths = (min: number, max: number) => fc.integer({ min: 10 * min, max: 10 * max }).map((x) => x / 10);

describe('a wall used up by a rounding', () => {
  it('is one ridge where the rims of a cup are rounded on both sides by half of it or more', () => {
    fc.assert(
      fc.property(
        fc.constantFrom(12, 16, 24, 32, 48),
        tenths(1, 4),
        tenths(0, 2),
        fc.integer({ min: 1, max: 4 }),
        (sides, wall, more, segments) => {
          const r = hollowed(
            { primitive: 'cylinder', radius: 25, height: 30, sides },
            { primitive: 'cylinder', radius: 25 - wall, height: 30, sides },
            6,
            { kind: 'bevel', scope: { rule: 'sharp', angle: 60, side: 'outside' }, width: wall / 2 + more, segments }, // prettier-ignore
          );
          expectSound(r);
          // All of the room: half of the wall, which is thinner along its sides than at its corners.
          const room = (wall / 2) * Math.cos(Math.PI / sides);
          const [least] = r.steps[1].groups!.map((g) => g.least).sort((a, b) => a - b);
          expect(least).toBeCloseTo(room, 4);
        },
      ),
      { numRuns: 12 },
    );
  });

  it('meets itself in single points where the sides of a wall do not match', () => {
    fc.assert(
      fc.property(
        fc.constantFrom([48, 32], [32, 24], [24, 16], [48, 24], [20, 50]),
        tenths(1, 4),
        fc.integer({ min: 1, max: 3 }),
        ([outer, inner], wall, segments) => {
          const r = hollowed(
            { primitive: 'cylinder', radius: 25, height: 30, sides: outer },
            { primitive: 'cylinder', radius: 25 - wall, height: 30, sides: inner },
            6,
            { kind: 'bevel', scope: { rule: 'sharp', angle: 60, side: 'outside' }, width: wall, segments },
          );
          expectSound(r, 1e-5);
        },
      ),
      { numRuns: 10 },
    );
  });

  it('ends at the edges of the body where the rims of a pocket reach them', () => {
    fc.assert(
      fc.property(tenths(0.3, 3), tenths(0, 2), fc.integer({ min: 1, max: 4 }), (wall, more, segments) => {
        const size = 60 - 2 * wall;
        const r = hollowed(
          { primitive: 'box', width: 60, height: 40, depth: 60 },
          { primitive: 'box', width: size, height: 40, depth: size },
          15,
          { kind: 'bevel', scope: { rule: 'rims' }, width: wall + more, segments },
        );
        expectSound(r);
        expect(r.steps[1].groups!.map((g) => g.least)[0]).toBeCloseTo(wall, 4);
      }),
      { numRuns: 12 },
    );
  });
});
