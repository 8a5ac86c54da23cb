/** Going from one pick to the next in a direction of the picture. */
import { describe, expect, it } from 'vitest';
import { topologyOf } from '../src/mesh/Topology';
import { meshFromLoops, type PolyMesh } from '../src/mesh/PolyMesh';
import { neighbourToward, turn, type Drawn } from '../src/select/neighbour';
import type { Outlines } from '../src/select/pickedSize';

/** A block of 4 by 4 by 4 seen from the front: x to the right, y up, 10 pixels a millimetre. */
const mesh = block();
const t = topologyOf(mesh);
const outlines: Outlines = {
  positions: mesh.positions,
  faceStart: mesh.faceStart,
  corners: mesh.corners,
  edges: t.edges,
  edgeOfCorner: t.edgeOfCorner,
};
const front: Drawn = (v) => {
  const scale = 10 / (1 - mesh.positions[3 * v + 2] / 400);
  return [scale * mesh.positions[3 * v], -scale * mesh.positions[3 * v + 1]];
};
const RIGHT = [1, 0] as const;
const UP = [0, -1] as const;

const middle = (f: number): number[] =>
  [0, 1, 2].map((k) => {
    let sum = 0;
    for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++)
      sum += mesh.positions[3 * mesh.corners[c] + k];
    return Math.round((1000 * sum) / (mesh.faceStart[f + 1] - mesh.faceStart[f])) / 1000;
  });
const faceAt = (x: number, y: number, z: number): number => {
  const n = mesh.faceStart.length - 1;
  for (let f = 0; f < n; f++) if (middle(f).every((q, k) => Math.abs(q - [x, y, z][k]) < 1e-6)) return f;
  throw new Error(`no face at ${x}, ${y}, ${z}`);
};

describe('the neighbour in a direction', () => {
  it('goes along a row of faces one by one, and back', () => {
    let f = faceAt(-15, 5, 20);
    const row = [f];
    for (let k = 0; k < 3; k++) row.push((f = neighbourToward(outlines, 'face', f, front, RIGHT)!));
    expect(row.map(middle).map(([x, y]) => [x, y])).toEqual([[-15, 5], [-5, 5], [5, 5], [15, 5]]); // prettier-ignore
    expect(neighbourToward(outlines, 'face', f, front, [-1, 0])).toBe(row[2]);
    expect(middle(neighbourToward(outlines, 'face', f, front, UP)!)).toEqual([15, 15, 20]);
  });

  it('takes faces that are seen before those that face away', () => {
    const f = faceAt(5, 5, 20);
    expect(turn(outlines, f, front)).toBeGreaterThan(0);
    expect(turn(outlines, faceAt(5, 5, -20), front)).toBeLessThan(0);
  });

  it('crosses to the next edge over a face, and goes on along a row', () => {
    const edge = (a: number[], b: number[]): number => {
      for (let e = 0; e < t.edgeCount; e++) {
        const ends = [0, 1].map((k) => [
          ...mesh.positions.subarray(3 * t.edges[2 * e + k], 3 * t.edges[2 * e + k] + 3),
        ]);
        if (ends.some((p) => p.join() === a.join()) && ends.some((p) => p.join() === b.join())) return e;
      }
      throw new Error('no such edge');
    };
    const upright = edge([0, 0, 20], [0, 10, 20]);
    expect(neighbourToward(outlines, 'edge', upright, front, RIGHT)).toBe(edge([10, 0, 20], [10, 10, 20]));
    expect(neighbourToward(outlines, 'edge', upright, front, UP)).toBe(edge([0, 10, 20], [0, 20, 20]));
  });

  it('goes from point to point over edges, and nowhere where there is none that way', () => {
    const at = (v: number): number[] => [...mesh.positions.subarray(3 * v, 3 * v + 3)];
    const corner = [...Array(mesh.positions.length / 3).keys()].find((v) => at(v).join() === '20,20,20')!;
    expect(at(neighbourToward(outlines, 'vertex', corner, front, [-1, 0])!)).toEqual([10, 20, 20]);
    expect(neighbourToward(outlines, 'vertex', corner, front, RIGHT)).toBeNull();
  });
});

function block(): PolyMesh {
  const steps = [-20, -10, 0, 10, 20];
  const points: Array<[number, number, number]> = [];
  const index = new Map<string, number>();
  const at = (p: [number, number, number]): number => {
    const key = p.join();
    if (!index.has(key)) index.set(key, points.push(p) - 1);
    return index.get(key)!;
  };
  const loops: number[][] = [];
  for (const axis of [0, 1, 2])
    for (const side of [-20, 20])
      for (let i = 0; i < 4; i++)
        for (let j = 0; j < 4; j++) {
          const corner = (a: number, b: number): number => {
            const p: [number, number, number] = [0, 0, 0];
            [p[axis], p[(axis + 1) % 3], p[(axis + 2) % 3]] = [side, steps[i + a], steps[j + b]];
            return at(p);
          };
          const loop = [corner(0, 0), corner(1, 0), corner(1, 1), corner(0, 1)];
          loops.push(side > 0 ? loop : loop.reverse());
        }
  return meshFromLoops(points, loops);
}
