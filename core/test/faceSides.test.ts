/** Distances on a face: measured to what runs around it, whatever lies in it and however it is divided. */
import fc from 'fast-check';
import { beforeAll, describe, expect, it } from 'vitest';
import { faceNormal } from '../src/mesh/measure';
import { faceCount, type PolyMesh } from '../src/mesh/PolyMesh';
import { transformMatrix, transformMesh } from '../src/mesh/transform';
import { dot, type Vec3 } from '../src/mesh/vec3';
import { buildPrimitive } from '../src/primitives';
import { clearanceAt, liesWithin, middleOfLoops, sidesOfFace, type FlatLoops } from '../src/select/faceSides';
import { cut } from '../src/solid/boolean';
import { loadKernel } from '../src/solid/kernel';
import './seed';
import { runs } from './effort';

beforeAll(() => loadKernel());

const top = (mesh: PolyMesh): number =>
  Array.from({ length: faceCount(mesh) }, (_, f) => f).find(
    (f) => dot(faceNormal(mesh, f), [0, 1, 0]) > 0.999,
  )!;
/** In X and −Z. */
const flat = (loops: Vec3[][]): FlatLoops => loops.map((l) => l.map(([x, , z]) => [x, -z] as const));

describe('the sides of a face', () => {
  it('run around all of its plane: holes and divisions are none', () => {
    const host = buildPrimitive({ primitive: 'box', width: 80, height: 10, depth: 50, segments: [3, 1, 2] });
    const hole = transformMesh(
      buildPrimitive({ primitive: 'cylinder', radius: 4, height: 30, sides: 12 }),
      transformMatrix({ move: [10, 0, 5], turn: [0, 0, 0], size: [1, 1, 1] }),
    );
    for (const mesh of [host, cut({ mesh: host, name: 'host' }, [{ mesh: hole, name: 'hole', id: 'h' }], 'subtract').mesh]) {
      const { loops, facing } = sidesOfFace(mesh, top(mesh));
      expect(facing).toEqual([0, 1, 0]);
      expect(loops).toHaveLength(1);
      const sides = flat(loops);
      expect(middleOfLoops(sides)).toEqual([0, 0]);
      // Beyond the hole, not to its rim.
      expect(clearanceAt(sides, [-15, -5])).toEqual({ low: [25, 20], high: [55, 30] });
    }
  }); // prettier-ignore

  it('are those of the nearer arm of a face with a notch', () => {
    const host = buildPrimitive({ primitive: 'box', width: 80, height: 10, depth: 50 });
    const notch = transformMesh(
      buildPrimitive({ primitive: 'box', width: 20, height: 30, depth: 60 }),
      transformMatrix({ move: [0, 0, 20], turn: [0, 0, 0], size: [1, 1, 1] }),
    );
    const { mesh } = cut({ mesh: host, name: 'host' }, [{ mesh: notch, name: 'notch', id: 'n' }], 'subtract');
    const sides = flat(sidesOfFace(mesh, top(mesh)).loops);
    expect(clearanceAt(sides, [-25, 0])).toEqual({ low: [15, 25], high: [15, 25] });
    expect(clearanceAt(sides, [-25, 17])).toEqual({ low: [15, 42], high: [65, 8] });
    const square = (x: number, y: number): Array<[number, number]> => [[x, y], [x + 10, y], [x + 10, y + 10], [x, y + 10]];
    expect(liesWithin(square(-35, -20), sides)).toBe(true);
    // On two of its sides from inside, and over the notch with all corners beside it.
    expect(liesWithin(square(-40, -25), sides)).toBe(true);
    expect(liesWithin([[-20, -20], [20, -20], [20, -15], [-20, -15]], sides)).toBe(false);
    expect(liesWithin(square(-45, 0), sides)).toBe(false);
    expect(liesWithin(square(-5, 0), sides)).toBe(false);
  }); // prettier-ignore

  it('are as far as the polygon says, from anywhere in a random prism, turned anyhow', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 3, max: 12 }),
        fc.tuple(...[0, 1, 2].map(() => fc.integer({ min: -180, max: 180 }))),
        fc.integer({ min: -40, max: 40 }),
        fc.integer({ min: -40, max: 40 }),
        (sides, turn, x, y) => {
          const plain = buildPrimitive({ primitive: 'prism', across: 60, height: 8, sides });
          const face = top(plain);
          const here = flat(sidesOfFace(plain, face).loops);
          const m = transformMatrix({ move: [3, -7, 11], turn: turn as Vec3, size: [1, 1, 1] });
          const there = sidesOfFace(transformMesh(plain, m), face);
          // Seen along its own axes, turned with it, it is the same polygon.
          const [ux, uz] = [0, 2].map((k): Vec3 => [m[4 * k], m[4 * k + 1], m[4 * k + 2]]);
          const seen = there.loops.map((l) =>
            l.map((p): [number, number] => {
              const q: Vec3 = [p[0] - m[12], p[1] - m[13], p[2] - m[14]];
              return [dot(q, ux), -dot(q, uz)];
            }),
          );
          const place = [(x / 100) * 20, (y / 100) * 20] as const;
          const [a, b] = [here, seen].map((l) => clearanceAt(l, place));
          for (const k of [0, 1]) {
            expect(b.low[k]).toBeCloseTo(a.low[k], 8);
            expect(b.high[k]).toBeCloseTo(a.high[k], 8);
          }
          // The far point of a prism is on X: so much lies to the right on the axis.
          expect(clearanceAt(here, [0, 1e-7]).high[0]).toBeCloseTo(30, 4);
        },
      ),
      { numRuns: runs(50, 500) },
    );
  });
});
