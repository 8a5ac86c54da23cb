/** The bodies a mesh falls into: hollows stay with what is around them, whatever lies in what. */
import { describe, expect, it } from 'vitest';
import { bodiesOf } from '../src/cutting/bodies';
import { faceCount, type PolyMesh } from '../src/mesh/PolyMesh';
import { shellCount, volume } from '../src/mesh/measure';
import { transformMatrix, transformMesh } from '../src/mesh/transform';
import { joinMeshes } from '../src/ops/join';
import { buildPrimitive } from '../src/primitives';

const cube = (size: number, x = 0): PolyMesh =>
  transformMesh(
    buildPrimitive({ primitive: 'box', width: size, height: size, depth: size }),
    transformMatrix({ move: [x, 0, 0], turn: [0, 0, 0], size: [1, 1, 1] }),
  );
/** Faces of a hollow look into it. */
const hollow = (size: number, x = 0): PolyMesh => {
  const m = cube(size, x);
  const corners = m.corners.slice();
  for (let f = 0; f < faceCount(m); f++) corners.subarray(m.faceStart[f], m.faceStart[f + 1]).reverse();
  return { ...m, corners };
};
const found = (...parts: PolyMesh[]): Array<[number, number]> =>
  bodiesOf(joinMeshes(parts)).map((m) => [shellCount(m), Math.round(volume(m))]);

describe('bodies', () => {
  it('are the shells that look outward, each with its own hollows', () => {
    expect(found(cube(10))).toEqual([[1, 1000]]);
    expect(found(cube(10), cube(4, 30))).toEqual([
      [1, 1000],
      [1, 64],
    ]);
    expect(found(cube(10), hollow(6))).toEqual([[2, 784]]);
    // A body in a hollow of another, with a hollow of its own; and a second one beside it.
    expect(found(hollow(2), cube(20), hollow(10), cube(4), cube(10, 50), hollow(4, 50))).toEqual([
      [2, 64 - 8],
      [2, 8000 - 1000],
      [2, 1000 - 64],
    ]);
  });

  it('are open sheets too, and a hollow in nothing is a body of its own', () => {
    const sheet = buildPrimitive({ primitive: 'plane', width: 5, depth: 5 });
    expect(bodiesOf(joinMeshes([sheet, cube(3, 20)])).map(faceCount)).toEqual([1, 6]);
    expect(found(hollow(4), cube(10, 40)).map(([n]) => n)).toEqual([1, 1]);
  });
});
