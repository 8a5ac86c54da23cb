/** Outlines of what is picked: a body made of one covers just those faces. */
import fc from 'fast-check';
import { beforeAll, describe, expect, it } from 'vitest';
import { faceArea, faceNormal, volume } from '../src/mesh/measure';
import { faceCount, type PolyMesh } from '../src/mesh/PolyMesh';
import { applyMatrix, transformMatrix, transformMesh } from '../src/mesh/transform';
import { buildPrimitive, primitiveFault, type Primitive } from '../src/primitives';
import { borderEdges } from '../src/select/walks';
import { outlineOf } from '../src/select/outline';
import { selectionOf } from '../src/select/selection';
import { cut } from '../src/solid/boolean';
import { loadKernel } from '../src/solid/kernel';
import { boundsOf } from '../src/mesh/measure';
import { number } from './anySolid';
import { refusal } from './refusal';
import './seed';

beforeAll(() => loadKernel());

/** A plate with a hole and a pocket, turned in space. */
const plate = (turn: [number, number, number], radius: number): PolyMesh => {
  const at = (p: Primitive, move: [number, number, number]): PolyMesh =>
    transformMesh(buildPrimitive(p), transformMatrix({ move, turn: [0, 0, 0], size: [1, 1, 1] }));
  const whole = cut(
    { mesh: at({ primitive: 'box', width: 60, height: 10, depth: 40 }, [0, 0, 0]), name: 'plate' },
    [
      { id: 'a', name: 'a', mesh: at({ primitive: 'cylinder', radius, height: 30, sides: 16 }, [-15, 0, 0]) },
      { id: 'b', name: 'b', mesh: at({ primitive: 'box', width: 12, height: 10, depth: 12 }, [15, 6, 0]) },
    ],
    'subtract',
  ).mesh;
  return transformMesh(whole, transformMatrix({ move: [3, -8, 20], turn, size: [1, 1, 1] }));
};

const turn = fc.tuple(number(-180, 180), number(-90, 90), number(-180, 180));
const body = (contours: Array<Array<[number, number]>>, height: number): Primitive => ({
  primitive: 'outline',
  contours,
  height,
});

describe('the outline of picks', () => {
  it('of faces gives a body over just them, holes too, standing where they lie', () => {
    fc.assert(
      fc.property(turn, number(3, 8), (t, radius) => {
        const mesh = plate(t, radius);
        const up = applyMatrix(transformMatrix({ move: [0, 0, 0], turn: t, size: [1, 1, 1] }), [0, 1, 0]);
        const top = Array.from({ length: faceCount(mesh) }, (_, f) => f).filter((f) => {
          const n = faceNormal(mesh, f);
          return n[0] * up[0] + n[1] * up[1] + n[2] * up[2] > 0.999 && faceArea(mesh, f) > 145;
        });
        const found = outlineOf(mesh, selectionOf('face', top));
        expect(found.off).toBeLessThan(1e-9);
        expect(found.contours).toHaveLength(3);
        const made = body(found.contours, 2);
        expect(primitiveFault(made)).toBeNull();
        const area = top.reduce((sum, f) => sum + faceArea(mesh, f), 0);
        expect(Math.abs(volume(buildPrimitive(made)) / (2 * area) - 1)).toBeLessThan(1e-6);
        const placed = transformMesh(buildPrimitive(body(found.contours, 1e-3)), found.frame);
        const [a, b] = [boundsOf(placed), boundsOf(mesh)];
        for (const k of [0, 1, 2]) {
          expect(a.min[k]).toBeGreaterThan(b.min[k] - 1e-2);
          expect(a.max[k]).toBeLessThan(b.max[k] + 1e-2);
        }
      }),
      { numRuns: 20 },
    );
  });

  it('of edges is the same as of the faces they run round', () => {
    const mesh = plate([20, 30, 40], 6);
    const some = [0];
    const ofFaces = outlineOf(mesh, selectionOf('face', some));
    const ofEdges = outlineOf(mesh, selectionOf('edge', borderEdges(mesh, some)));
    const area = (o: { contours: Array<Array<[number, number]>> }): number =>
      volume(buildPrimitive(body(o.contours, 1)));
    expect(area(ofEdges)).toBeCloseTo(area(ofFaces), 5);
  });

  it('is refused where nothing is run round', () => {
    const mesh = plate([0, 0, 0], 6);
    expect(refusal(() => outlineOf(mesh, selectionOf('edge', [0, 1])))).toBe('no-outline');
    const all = selectionOf(
      'face',
      Array.from({ length: faceCount(mesh) }, (_, f) => f),
    );
    expect(refusal(() => outlineOf(mesh, all))).toBe('no-outline');
  });
});
