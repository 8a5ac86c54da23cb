/** Cutters that are united once cut whatever they are taken from as they would anew. @covers core/src/solid */
import fc from 'fast-check';
import { beforeAll, describe, expect, it } from 'vitest';
import type { PolyMesh } from '../src/mesh/PolyMesh';
import { transformMatrix, transformMesh } from '../src/mesh/transform';
import { buildPrimitive } from '../src/primitives';
import { kernel, loadKernel } from '../src/solid/kernel';
import { markSound, solidOf } from '../src/solid/Solid';
import { without } from '../src/solid/united';

beforeAll(() => loadKernel());

const box = (width: number): PolyMesh => buildPrimitive({ primitive: 'box', width, height: 20, depth: 60 });
const bodyOf = (m: PolyMesh) => solidOf(markSound(m), 'x').body;

const mm = fc.integer({ min: -25_000, max: 25_000 }).map((x) => x / 1000);
const degrees = fc.integer({ min: -90, max: 90 });
const cutter = fc
  .record({
    sides: fc.constantFrom(6, 9, 16),
    move: fc.tuple(mm, mm, mm),
    turn: fc.tuple(degrees, degrees, degrees),
  })
  .map(({ sides, move, turn }) =>
    transformMesh(
      buildPrimitive({ primitive: 'cylinder', radius: 7, height: 45, sides }),
      transformMatrix({ move, turn, size: [1, 1, 1] }),
    ),
  );

describe('a body without several others', () => {
  it('is the same to the bit whether these were united for it or before', () => {
    fc.assert(
      fc.property(fc.array(cutter, { minLength: 0, maxLength: 5 }), (meshes) => {
        const others = meshes.map(bodyOf);
        for (const width of [50, 53, 56.5, 50]) {
          const body = bodyOf(box(width));
          const [one, other] = [without(body, others), kernel().Manifold.difference([body, ...others])];
          const [a, b] = [one.getMesh(), other.getMesh()];
          for (const key of ['vertProperties', 'triVerts', 'runIndex', 'runOriginalID', 'faceID'] as const)
            expect(a[key]).toEqual(b[key]);
          one.delete();
          other.delete();
        }
      }),
      { numRuns: 40 },
    );
  });

  it('gives back the unions that were not used lately, and makes them again', () => {
    const body = bodyOf(box(50));
    const pairs = Array.from(
      { length: 30 },
      (_, i) =>
      [0, 1].map((k) => bodyOf(transformMesh(box(3), transformMatrix({ move: [2 * i - 30, 12 * k, k], turn: [0, 0, 0], size: [1, 1, 1] })))), // prettier-ignore
    );
    const volumes = (): number[] =>
      pairs.map((others) => {
        const left = without(body, others);
        const volume = left.volume();
        left.delete();
        return volume;
      });
    expect(volumes()).toEqual(volumes());
  });
});
