/** Rims are loops: of caps, bored holes, slots and drawn pockets, from each of their edges. */
import { beforeAll, describe, expect, it } from 'vitest';
import type { PolyMesh } from '../src/mesh/PolyMesh';
import { topologyOf } from '../src/mesh/Topology';
import { transformMatrix, transformMesh } from '../src/mesh/transform';
import { pointOf } from '../src/mesh/vec3';
import { buildPrimitive, type Primitive } from '../src/primitives';
import { rimEdges } from '../src/select/edges';
import { edgeLoop } from '../src/select/walks';
import { cut } from '../src/solid/boolean';
import { loadKernel } from '../src/solid/kernel';

beforeAll(() => loadKernel());

const plate = buildPrimitive({ primitive: 'box', width: 60, height: 10, depth: 40 });

function without(host: PolyMesh, cutter: Primitive, turn: [number, number, number] = [0, 0, 0]): PolyMesh {
  const mesh = transformMesh(buildPrimitive(cutter), transformMatrix({ move: [0, 0, 0], turn, size: [1, 1, 1] })); // prettier-ignore
  return cut({ mesh: host, name: 'host' }, [{ mesh, name: 'c', id: 'c' }], 'subtract').mesh;
}

/** Number and closure of the loop from every one of these edges. */
function loopsFrom(m: PolyMesh, edges: number[]): Array<[number, boolean]> {
  expect(edges.length).toBeGreaterThan(0);
  const found = edges.map((e): [number, boolean] => {
    const { edges: loop, closed } = edgeLoop(m, e);
    expect(loop).toContain(e);
    return [loop.length, closed];
  });
  return found.filter(([n, c], i) => found.findIndex(([m, d]) => m === n && d === c) === i);
}

const atHeight = (m: PolyMesh, y: number): number[] => {
  const t = topologyOf(m);
  const at = (e: number, k: number): number => pointOf(m.positions, t.edges[2 * e + k])[1];
  return Array.from({ length: t.edgeCount }, (_, e) => e).filter((e) =>
    [0, 1].every((k) => Math.abs(at(e, k) - y) < 1e-9),
  );
};

describe('the loop of a rim', () => {
  it.each([5, 6, 12, 48])('goes round a cap of %i sides', (sides) => {
    const m = buildPrimitive({ primitive: 'cylinder', radius: 10, height: 20, sides });
    expect(loopsFrom(m, atHeight(m, 10))).toEqual([[sides, true]]);
  });

  it.each([6, 24, 144])('goes round a bored hole of %i sides, on both faces', (sides) => {
    const m = without(plate, { primitive: 'cylinder', radius: 8, height: 30, sides });
    const rims = rimEdges(m);
    expect(rims).toHaveLength(2 * sides);
    expect(loopsFrom(m, rims)).toEqual([[sides, true]]);
  });

  it('goes round slots, and holes across the side of a cylinder', () => {
    const slot = without(plate, { primitive: 'slot', width: 10, length: 30, height: 30 });
    const rims = rimEdges(slot);
    expect(loopsFrom(slot, rims)).toEqual([[rims.length / 2, true]]);
    const rod = buildPrimitive({ primitive: 'cylinder', radius: 20, height: 60, sides: 48 });
    const bored = without(rod, { primitive: 'cylinder', radius: 6, height: 80, sides: 32 }, [90, 0, 0]);
    const [first, ...more] = loopsFrom(bored, rimEdges(bored));
    expect([first[1], more]).toEqual([true, []]);
  });

  it('goes round a pocket with corners where it lies in one face, and stops at the corners of a box', () => {
    const pocket = without(plate, { primitive: 'prism', across: 18, height: 30, sides: 5 });
    expect(loopsFrom(pocket, rimEdges(pocket))).toEqual([[5, true]]);
    expect(loopsFrom(plate, [0])).toEqual([[1, false]]);
    const can = buildPrimitive({ primitive: 'cylinder', radius: 10, height: 20, sides: 12, rings: 2 });
    const t = topologyOf(can);
    const upright = Array.from({ length: t.edgeCount }, (_, e) => e).filter((e) => {
      const [a, b] = [0, 1].map((k) => pointOf(can.positions, t.edges[2 * e + k]));
      return Math.abs(a[1] - b[1]) > 1;
    });
    // Up the wall from cap to cap, not round them.
    expect(loopsFrom(can, upright)).toEqual([[2, false]]);
  });
});
