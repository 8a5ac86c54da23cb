/** Whole pieces put in order: settled, aligned, spaced, scattered; and matrices taken apart again. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  isUneven,
  offsetBetween,
  pivotMoved,
  placedAt,
  settlePlacement,
} from '../src/document/arrangePieces';
import { aligned, scattered, spaced } from '../src/document/lineUp';
import { worldMatrix } from '../src/document/placement';
import type { Piece } from '../src/document/schema';
import { checkMesh } from '../src/mesh/checkMesh';
import { volume } from '../src/mesh/measure';
import {
  applyMatrix,
  multiply,
  transformMatrix,
  transformMesh,
  transformOf,
  type Transform,
} from '../src/mesh/transform';
import { Evaluator } from '../src/build/evaluate';

const box = (id: string, transform: Piece['transform'], extra: Partial<Piece> = {}): Piece => ({
  id,
  base: { primitive: 'box', width: 10, height: 10, depth: 10 },
  transform,
  ...extra,
});
const at = (pieces: Iterable<Piece>, id: string): number[] => {
  const byId = new Map([...pieces].map((p) => [p.id, p]));
  return applyMatrix(worldMatrix(byId, id), [0, 0, 0]).map((x) => Number(x.toFixed(6)));
};
const none = {
  blob: (): never => {
    throw new Error('none');
  },
  file: (): never => {
    throw new Error('none');
  },
};
/** The piece as built, in the world. */
function inWorld(pieces: Piece[], id: string): Float64Array {
  const e = new Evaluator(none);
  e.setPieces(pieces);
  return transformMesh(e.build(id).mesh, worldMatrix(new Map(pieces.map((p) => [p.id, p])), id)).positions;
}

it('a matrix without shear comes apart into the move, turn and size that make it', () => {
  const number = (min: number, max: number) => fc.double({ min, max, noNaN: true });
  fc.assert(
    fc.property(
      fc.tuple(number(-99, 99), number(-99, 99), number(-99, 99)),
      fc.tuple(number(-180, 180), number(-180, 180), number(-180, 180)),
      fc.tuple(number(0.1, 9), number(0.1, 9), number(0.1, 9)),
      fc.boolean(),
      (move, turn, size, mirrored) => {
        const t: Transform = { move, turn, size: mirrored ? [-size[0], size[1], size[2]] : size };
        const m = transformMatrix(t);
        transformMatrix(transformOf(m)).forEach((x, i) => expect(x).toBeCloseTo(m[i], 5));
      },
    ),
  );
  expect(
    transformOf(transformMatrix({ move: [0, 0, 0], turn: [30, 90, 0], size: [1, 1, 1] })).turn[1],
  ).toBeCloseTo(90, 6);
});

describe('settling', () => {
  const placed = {
    move: [3, -2, 7] as [number, number, number],
    turn: [10, 20, 30] as [number, number, number],
    size: [2, 1, 0.5] as [number, number, number],
  };
  const pieces = [box('a', placed), box('child', { move: [0, 8, 0] }, { parent: 'a' })];

  it('puts size, turn and move into the mesh and moves nothing in the world', () => {
    for (const parts of [['size'], ['turn', 'size'], ['move', 'turn', 'size']] as const) {
      const after = settlePlacement(pieces, 'a', [...parts]);
      const [before, now] = [inWorld(pieces, 'a'), inWorld(after, 'a')];
      now.forEach((x, i) => expect(x).toBeCloseTo(before[i], 6));
      expect(at(after, 'child')).toEqual(at(pieces, 'child'));
      expect(isUneven(after[0])).toBe(false);
    }
    expect(isUneven(pieces[0])).toBe(true);
    expect(settlePlacement(pieces, 'a', ['move', 'turn', 'size'])[0].transform).toEqual({
      move: [0, 0, 0],
      turn: [0, 0, 0],
      size: [1, 1, 1],
    });
  });

  it('puts a pivot elsewhere and moves nothing in the world', () => {
    const after = pivotMoved(pieces, 'a', [7, -3, 11]);
    expect(at(after, 'a')).toEqual([7, -3, 11]);
    const [before, now] = [inWorld(pieces, 'a'), inWorld(after, 'a')];
    now.forEach((x, i) => expect(x).toBeCloseTo(before[i], 6));
    expect(at(after, 'child')).toEqual(at(pieces, 'child'));
    const [child, same] = [inWorld(pieces, 'child'), inWorld(after, 'child')];
    same.forEach((x, i) => expect(x).toBeCloseTo(child[i], 6));
    // A group has nothing but its place.
    const group: Piece[] = [{ id: 'g', base: { group: true } }, box('in', undefined, { parent: 'g' })];
    const moved = pivotMoved(group, 'g', [1, 2, 3]);
    expect([at(moved, 'g'), at(moved, 'in'), moved[0].actions]).toEqual([[1, 2, 3], [0, 0, 0], undefined]);
  });

  it('keeps faces outward when the size mirrors', () => {
    const after = settlePlacement([box('a', { size: [-2, 1, 1] })], 'a', ['move', 'turn', 'size']);
    const e = new Evaluator(none);
    e.setPieces(after);
    const { mesh } = e.build('a');
    expect([checkMesh(mesh).closed, volume(mesh)]).toEqual([true, 2000]);
  });
});

describe('several pieces', () => {
  const row = [box('a', { move: [0, 1, 0] }), box('b', { move: [3, 5, 0] }), box('c', { move: [20, -2, 4] })];
  const after = (changed: Map<string, Piece>): Piece[] => row.map((p) => changed.get(p.id) ?? p);

  it('align with the last, and space evenly between the outermost', () => {
    const lined = after(aligned(row, ['a', 'b', 'c'], 1));
    expect(['a', 'b', 'c'].map((id) => at(lined, id)[1])).toEqual([-2, -2, -2]);
    const even = after(spaced(row, ['c', 'a', 'b'], 0));
    expect(['a', 'b', 'c'].map((id) => at(even, id)[0])).toEqual([0, 10, 20]);
    expect(['a', 'b', 'c'].map((id) => at(even, id)[1])).toEqual([1, 5, -2]);
  });

  it('align by sides and middles, and space by gaps, of what is seen of them', () => {
    const sides: Record<string, readonly [number, number]> = { a: [-5, 5], b: [2, 4], c: [15, 35] };
    const extent = (id: string): readonly [number, number] => sides[id];
    const x = (changed: Map<string, Piece>): number[] =>
      ['a', 'b', 'c'].map((id) => at(after(changed), id)[0]);
    expect(x(aligned(row, ['a', 'b', 'c'], 0, 'low', extent))).toEqual([20, 16, 20]);
    expect(x(aligned(row, ['a', 'b', 'c'], 0, 'high', extent))).toEqual([30, 34, 20]);
    expect(x(aligned(row, ['a', 'b', 'c'], 0, 'middle', extent))).toEqual([25, 25, 20]);
    // From −5 to 35 they take 10, 2 and 20: two gaps of 4.
    expect(x(spaced(row, ['c', 'b', 'a'], 0, 'gap', extent))).toEqual([0, 10, 20]);
    // A piece without faces is aligned by its pivot.
    expect(x(aligned(row, ['a', 'b', 'c'], 0, 'low', (id) => (id === 'a' ? null : sides[id])))).toEqual([
      15, 16, 20,
    ]);
  });

  it('keep their place inside a turned parent', () => {
    const nested = [
      box('p', { turn: [0, 90, 0], move: [5, 0, 0] }),
      box('x', { move: [1, 2, 3] }, { parent: 'p' }),
      box('y', { move: [9, 9, 9] }),
    ];
    const done = aligned(nested, ['x', 'y'], 2);
    const all = nested.map((q) => done.get(q.id) ?? q);
    expect(at(all, 'x')[2]).toBe(9);
    expect(at(all, 'x')[1]).toBe(2);
  });

  it('scatter within limits, the same for the same seed', () => {
    const limits = { move: 2, turn: 10, size: 0.2, seed: 7 };
    const once = scattered(row, ['a', 'b', 'c'], limits);
    expect(scattered(row, ['a', 'b', 'c'], limits)).toEqual(once);
    expect(scattered(row, ['a', 'b', 'c'], { ...limits, seed: 8 })).not.toEqual(once);
    for (const p of row) {
      const t = once.get(p.id)!.transform!;
      t.move!.forEach((x, k) => expect(Math.abs(x - p.transform!.move![k])).toBeLessThanOrEqual(2));
      t.turn!.forEach((x) => expect(Math.abs(x)).toBeLessThanOrEqual(10));
      t.size!.forEach((x) => expect(Math.abs(x - 1)).toBeLessThanOrEqual(0.2 + 1e-12));
      expect(new Set(t.size)).toHaveProperty('size', 1);
    }
  });

  it('repeat the offset between two', () => {
    const byId = new Map(row.map((p) => [p.id, p]));
    const next = placedAt(byId, row[1], multiply(offsetBetween(byId, 'a', 'b'), worldMatrix(byId, 'b')));
    expect(next.transform!.move).toEqual([6, 9, 0]);
  });
});
