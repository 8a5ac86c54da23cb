/** Places counted in the frame of a seated grid. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { placeIn, putIn } from '../src/document/placeIn';
import { worldMatrix } from '../src/document/placement';
import type { Piece } from '../src/document/schema';
import { applyMatrix, transformMatrix, type Matrix } from '../src/mesh/transform';
import type { Vec3 } from '../src/mesh/vec3';
import './seed';

const triple = (most: number) =>
  fc
    .tuple(...[0, 1, 2].map(() => fc.integer({ min: -most, max: most })))
    .map((v) => v.map((x) => x / 4) as Vec3);
const base = { primitive: 'box', width: 10, height: 10, depth: 10 } as const;
const frameOf = (move: Vec3, turn: Vec3): Matrix => transformMatrix({ move, turn, size: [1, 1, 1] });
const scene = (at: Vec3, turn: Vec3, inGroup: Vec3): Map<string, Piece> =>
  new Map(
    [
      { id: 'g', base: { group: true as const }, transform: { move: at, turn, size: [1, 1, 1] as Vec3 } },
      { id: 'a', parent: 'g', base, transform: { move: inGroup, turn: [10, 20, 30] as Vec3, size: [2, 1, 0.5] as Vec3 } }, // prettier-ignore
    ].map((p) => [p.id, p as Piece]),
  );

describe('a place in a frame', () => {
  it('is where the numbers say, whatever the piece is nested in, and keeps its size', () => {
    fc.assert(
      fc.property(
        triple(400),
        triple(300),
        triple(400),
        triple(400),
        triple(300),
        (at, turn, own, to, lean) => {
          const byId = scene(at, turn, own);
          const frame = frameOf(own, lean);
          const put = putIn(frame, byId, byId.get('a')!, 'move', to);
          const after = new Map(byId).set('a', put);
          const there = applyMatrix(worldMatrix(after, 'a'), [0, 0, 0]);
          const meant = applyMatrix(frame, to);
          for (let k = 0; k < 3; k++) expect(there[k]).toBeCloseTo(meant[k], 5);
          expect(put.transform!.turn).toEqual([10, 20, 30]);
          expect(put.transform!.size).toEqual([2, 1, 0.5]);
          const { move } = placeIn(frame, after, put);
          for (let k = 0; k < 3; k++) expect(move[k]).toBeCloseTo(to[k], 5);
        },
      ),
    );
  });

  it('turned there has the axes of the frame turned by the numbers, and stays where it is', () => {
    fc.assert(
      fc.property(triple(300), triple(300), triple(400), triple(300), (turn, lean, own, to) => {
        const byId = scene([5, 6, 7], turn, own);
        const frame = frameOf([1, 2, 3], lean);
        const put = putIn(frame, byId, byId.get('a')!, 'turn', to);
        const after = new Map(byId).set('a', put);
        expect(put.transform!.move).toEqual(own);
        const meant = frameOf([0, 0, 0], to);
        const world = worldMatrix(after, 'a');
        const size = [2, 1, 0.5];
        for (let k = 0; k < 3; k++) {
          const axis = [0, 1, 2].map((r) => world[4 * k + r] / size[k]);
          const along = applyMatrix(frame, [meant[4 * k], meant[4 * k + 1], meant[4 * k + 2]]);
          const origin = applyMatrix(frame, [0, 0, 0]);
          for (let r = 0; r < 3; r++) expect(axis[r]).toBeCloseTo(along[r] - origin[r], 5);
        }
      }),
    );
  });
});
