/**
 * Numbers about selections: middles, soft weights, and picks that go on from what is picked, checked by hand.
 *
 * @covers core/src/select
 */
import { describe, expect, it } from 'vitest';
import { topologyOf } from '../src/mesh/Topology';
import { makeMesh } from '../src/mesh/PolyMesh';
import { buildPrimitive } from '../src/primitives';
import { middleOf } from '../src/select/measure';
import { pickMore } from '../src/select/picks';
import { selectionOf } from '../src/select/selection';
import { softWeights, type Soft } from '../src/select/soft';
import { edgeLoop, edgeRing } from '../src/select/walks';

const grid = buildPrimitive({ primitive: 'plane', width: 40, depth: 40, segments: [4, 4] });
/** The element of the grid with its middle at a place of the plane, mm. */
function at(kind: 'vertex' | 'edge' | 'face', x: number, z: number): number {
  const count = kind === 'vertex' ? grid.positions.length / 3 : kind === 'edge' ? topologyOf(grid).edgeCount : grid.faceStart.length - 1; // prettier-ignore
  const found = Array.from({ length: count }, (_, i) => i).find((i) => {
    const [mx, , mz] = middleOf(grid, kind, i);
    return Math.hypot(mx - x, mz - z) < 1e-9;
  });
  if (found === undefined) throw new Error(`no ${kind} at ${x}, ${z}`);
  return found;
}

describe('the middle', () => {
  it('of an element is the mean of its points', () => {
    const [a, b] = [0, 1].map((k) => topologyOf(grid).edges[2 * at('edge', 5, 0) + k]);
    expect([a, b].sort((x, y) => x - y)).toEqual([at('vertex', 0, 0), at('vertex', 10, 0)].sort((x, y) => x - y)); // prettier-ignore
    expect(middleOf(grid, 'face', at('face', -15, 5))).toEqual([-15, 0, 5]);
    const bent = makeMesh(Float64Array.of(0, 0, 0, 6, 0, 0, 0, 3, 9), Uint32Array.of(0, 3), Uint32Array.of(0, 1, 2)); // prettier-ignore
    expect(middleOf(bent, 'face', 0)).toEqual([2, 1, 3]);
    expect(middleOf(bent, 'vertex', 2)).toEqual([0, 3, 9]);
  });
});

describe('a soft selection', () => {
  const soft = (more: Partial<Soft> = {}): Soft => ({ reach: 25, falloff: 'linear', along: 'straight', ...more }) as Soft; // prettier-ignore
  const weight = (w: Float64Array, x: number, z: number): number => w[at('vertex', x, z)];

  it('falls with the distance to the nearest picked point, and ends at its reach', () => {
    const w = softWeights(grid, [at('vertex', 0, 0), at('vertex', 20, 0)], soft());
    for (let i = 0; i < w.length; i++) {
      const [x, , z] = middleOf(grid, 'vertex', i);
      const far = Math.min(Math.hypot(x, z), Math.hypot(x - 20, z));
      expect(w[i]).toBeCloseTo(far < 25 ? 1 - far / 25 : 0, 12);
    }
    expect([weight(w, 10, 0), weight(w, -20, 20)]).toEqual([expect.closeTo(0.6, 12), 0]);
    expect([...softWeights(grid, [3], soft({ reach: 0 }))].filter((x) => x)).toEqual([1]);
  });

  it('along a flat surface is as straight, but does not leap to another shell', () => {
    const straight = softWeights(grid, [at('vertex', 0, 0)], soft());
    const along = softWeights(grid, [at('vertex', 0, 0)], soft({ along: 'surface' }));
    for (const [x, z] of [
      [10, 0],
      [0, 10],
      [10, 10],
      [-10, 20],
    ])
      // prettier-ignore
      expect(weight(along, x, z)).toBeCloseTo(weight(straight, x, z), 6);
    const two = makeMesh(
      Float64Array.of(0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 1, 0, 1, 1, 0, 0, 1, 1),
      Uint32Array.of(0, 3, 6),
      Uint32Array.of(0, 1, 2, 3, 4, 5),
    );
    expect([...softWeights(two, [0], soft({ reach: 3 })).subarray(3)].every((x) => x > 0)).toBe(true);
    expect([...softWeights(two, [0], soft({ reach: 3, along: 'surface' })).subarray(3)]).toEqual([0, 0, 0]);
  });
});

describe('picks that go on', () => {
  it('a row of faces goes on across the edges that picked faces share', () => {
    const two = selectionOf('face', [at('face', -5, 5), at('face', 5, 5)]);
    const row = [-15, -5, 5, 15].map((x) => at('face', x, 5)).sort((a, b) => a - b);
    expect(pickMore(grid, 'ring', two).indices).toEqual(row);
    // One alone goes on across all of its edges.
    const one = pickMore(grid, 'ring', selectionOf('face', [at('face', 5, 5)])).indices;
    const column = [-15, -5, 5, 15].map((z) => at('face', 5, z));
    expect(one).toEqual([...new Set([...row, ...column])].sort((a, b) => a - b));
  });

  it('a loop on the border follows it round, and a ring ends at both sides of a sheet', () => {
    const border = edgeLoop(grid, at('edge', 5, 20));
    expect([border.edges.length, border.closed]).toEqual([16, true]);
    const ring = edgeRing(grid, at('edge', 5, 0));
    expect([ring.closed, [...ring.edges].sort((a, b) => a - b)]).toEqual([false, [-20, -10, 0, 10, 20].map((z) => at('edge', 5, z)).sort((a, b) => a - b)]); // prettier-ignore
    const inside = edgeLoop(grid, at('edge', 5, 0));
    expect([...inside.edges].sort((a, b) => a - b)).toEqual([-15, -5, 5, 15].map((x) => at('edge', x, 0)).sort((a, b) => a - b)); // prettier-ignore
  });
});
