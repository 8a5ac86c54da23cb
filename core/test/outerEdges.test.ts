/** Sharp edges with and without those that cuts made, over builds; and boxes that are placed. */
import fc from 'fast-check';
import { beforeAll, describe, expect, it } from 'vitest';
import type { Piece } from '../src/document/schema';
import { boundsIn, boundsMeet, boundsOf } from '../src/mesh/measure';
import { transformMatrix, transformMesh } from '../src/mesh/transform';
import { buildPrimitive } from '../src/primitives/index';
import { outerEdges, rimEdges, sharpEdges } from '../src/select/edges';
import { loadKernel } from '../src/solid/kernel';
import { Evaluator } from '../src/build/evaluate';
import './seed';

beforeAll(() => loadKernel());

const none = (): never => {
  throw new Error('no file is used');
};

describe('outer edges', () => {
  it('are the sharp ones that are no rims, on a bored block turned anyhow', () => {
    const number = (min: number, max: number) => fc.double({ min, max, noNaN: true });
    fc.assert(
      fc.property(number(-15, 15), number(-10, 10), number(3, 8), number(0, 40), (x, z, radius, turn) => {
        const pieces: Piece[] = [
          {
            id: 'block',
            base: { primitive: 'box', width: 60, height: 20, depth: 40 },
            steps: [{ id: 's1', kind: 'cut', mode: 'subtract', cutters: ['rod'] }],
          },
          {
            id: 'rod',
            base: { primitive: 'cylinder', radius, height: 80, sides: 12 },
            transform: { move: [x, 0, z], turn: [turn, 0, 0] },
          },
        ];
        const e = new Evaluator({ blob: none, file: none });
        e.setPieces(pieces);
        const { mesh } = e.build('block');
        const rims = new Set(rimEdges(mesh));
        const outer = outerEdges(mesh, 30);
        expect(rims.size).toBeGreaterThanOrEqual(24);
        expect(outer).toEqual(sharpEdges(mesh, 30).filter((edge) => !rims.has(edge)));
        expect(outer.length).toBe(12);
      }),
      { numRuns: 20 },
    );
  });

  it('round as a step of their own, and leave the rims sharp', () => {
    const e = new Evaluator({ blob: none, file: none });
    e.setPieces([
      {
        id: 'block',
        base: { primitive: 'box', width: 60, height: 20, depth: 40 },
        steps: [
          { id: 's1', kind: 'cut', mode: 'subtract', cutters: ['rod'] },
          { id: 's2', kind: 'bevel', scope: { rule: 'sharp', angle: 30, rims: 'without' }, width: 2 },
        ],
      },
      { id: 'rod', base: { primitive: 'cylinder', radius: 8, height: 80, sides: 16 } },
    ]);
    const { mesh } = e.build('block');
    expect(rimEdges(mesh).length).toBe(32);
    // Only the rims are left at more than 45°; three segments turn 30° each.
    expect(sharpEdges(mesh, 45).length).toBe(32);
  });
});

type Three = [number, number, number];
const placed = (move: Three, turn: Three = [0, 0, 0]) => transformMatrix({ move, turn, size: [1, 1, 1] });

describe('the bounds of a placed box', () => {
  it('are those of the placed mesh where that is a box, and meet where they touch', () => {
    const number = fc.integer({ min: -40, max: 40 });
    fc.assert(
      fc.property(fc.tuple(number, number, number), fc.tuple(number, number, number), (move, turn) => {
        const mesh = buildPrimitive({ primitive: 'box', width: 10, height: 6, depth: 8 });
        const m = placed(move, turn);
        const [a, b] = [boundsIn(boundsOf(mesh), m), boundsOf(transformMesh(mesh, m))];
        for (const k of [0, 1, 2]) {
          expect(a.min[k]).toBeCloseTo(b.min[k], 9);
          expect(a.max[k]).toBeCloseTo(b.max[k], 9);
        }
        const apart = boundsIn(a, placed([a.max[0] - a.min[0] + 1, 0, 0]));
        expect(boundsMeet(a, apart)).toBe(false);
        expect(boundsMeet(a, boundsIn(a, placed([(a.max[0] - a.min[0]) / 2, 0, 0])))).toBe(true); // prettier-ignore
      }),
    );
  });
});
