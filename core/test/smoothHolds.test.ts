/** Smoothing that holds what is hard: cut plates and cylinders keep their flat faces and their volume. */
import fc from 'fast-check';
import { beforeAll, describe, expect, it } from 'vitest';
import type { Piece } from '../src/document/schema';
import { selfCrossings } from '../src/inspect/selfCross';
import { checkMesh } from '../src/mesh/checkMesh';
import { boundsOf, faceArea, faceNormal, volume } from '../src/mesh/measure';
import { faceCount, type PolyMesh } from '../src/mesh/PolyMesh';
import type { Primitive } from '../src/primitives';
import { loadKernel } from '../src/solid/kernel';
import { smoothedBuilds } from './roundedBuilds';
import { Evaluator } from '../src/build/evaluate';
import { runs } from './effort';

beforeAll(async () => {
  await loadKernel();
});

interface Shape {
  host: Primitive;
  cutter: Primitive;
  turn?: [number, number, number];
  move?: [number, number, number];
}

const shapes: Array<[string, Shape]> = [
  ['a plate with a hole', { host: { primitive: 'box', width: 100, height: 20, depth: 80 }, cutter: { primitive: 'cylinder', radius: 10, height: 60, sides: 32 } }],
  ['a plate with a hole aside', { host: { primitive: 'box', width: 70, height: 12, depth: 90 }, cutter: { primitive: 'cylinder', radius: 13, height: 60, sides: 20 }, move: [11, 0, -17] }],
  ['a plate with a pocket', { host: { primitive: 'box', width: 90, height: 25, depth: 70 }, cutter: { primitive: 'box', width: 30, height: 20, depth: 24 }, move: [5, 12, 0] }],
  ['a cylinder bored along', { host: { primitive: 'cylinder', radius: 30, height: 40, sides: 48 }, cutter: { primitive: 'cylinder', radius: 12, height: 60, sides: 32 } }],
]; // prettier-ignore

function smoothed({ host, cutter, turn, move }: Shape, smooth: object | null): PolyMesh {
  const pieces = [
    {
      id: 'h',
      base: host,
      steps: [
        { kind: 'cut', mode: 'subtract', cutters: ['c'] },
        ...(smooth ? [{ kind: 'smooth', levels: 2, ...smooth }] : []),
      ],
    },
    { id: 'c', base: cutter, transform: { move: move ?? [0, 0, 0], turn: turn ?? [0, 0, 0] } },
  ] as Piece[];
  const e = new Evaluator({ blob: fail, file: fail });
  e.setPieces(pieces);
  const r = e.build('h');
  expect(r.steps.map((s) => s.fault)).toEqual(r.steps.map(() => undefined));
  return r.mesh;
}
function fail(): never {
  throw new Error();
}

/** Area of the faces that lie in the top plane and look up. */
function flatTop(m: PolyMesh, height: number): number {
  let area = 0;
  for (let f = 0; f < faceCount(m); f++) {
    const heights = Array.from(m.corners.subarray(m.faceStart[f], m.faceStart[f + 1]), (v) => m.positions[3 * v + 1]);
    if (faceNormal(m, f)[1] > 0.999 && heights.every((y) => Math.abs(y - height) < 0.01)) area += faceArea(m, f);
  }
  return area;
} // prettier-ignore

describe('a smooth step that holds sharp edges', () => {
  it.each(shapes)('keeps %s: flat within 0.01 mm, 99 % of its volume, nothing crossed', (_, shape) => {
    const before = smoothed(shape, null);
    const plain = smoothed(shape, {});
    const held = smoothed(shape, { crease: { rule: 'sharp', angle: 30 } });
    const top = boundsOf(before).max[1];
    expect(volume(held) / volume(before)).toBeGreaterThan(0.99);
    expect(volume(held) / volume(before)).toBeLessThan(1.01);
    expect(flatTop(held, top) / flatTop(before, top)).toBeGreaterThan(0.985);
    expect(volume(plain)).toBeLessThan(volume(held));
    expect(checkMesh(held).findings).toEqual([]);
    expect(selfCrossings(held).edges).toEqual([]);
  });

  it('holds rims alone, and for as many levels as it is told', () => {
    const [, shape] = shapes[0];
    const of = (smooth: object): number => volume(smoothed(shape, smooth));
    const rims = of({ crease: { rule: 'rims' } });
    const all = of({ crease: { rule: 'sharp', angle: 30 } });
    const one = of({ crease: { rule: 'sharp', angle: 30 }, strength: 1 });
    const none = of({ crease: { rule: 'sharp', angle: 30 }, strength: 0 });
    expect(none).toBeLessThan(one);
    expect(one).toBeLessThan(all);
    expect(none).toBeLessThan(rims);
    expect(rims).toBeLessThan(all);
  });

  it('holds back where the limit surface would go through itself', () => {
    for (const [radius, off] of [
      [8.781, -0.25],
      [9.5, 0],
    ]) {
      const host: Primitive = { primitive: 'cylinder', radius: 27.908, height: 88.703, sides: 48 };
      const cutter: Primitive = { primitive: 'cylinder', radius, height: 114, sides: 24 };
      const m = smoothed(
        { host, cutter, turn: [94.4, -4.3, -3.6], move: [off, 1.27, -0.46] },
        { limit: true },
      );
      expect(checkMesh(m).findings).toEqual([]);
      expect(selfCrossings(m).edges).toEqual([]);
    }
  });

  it('never takes a surface through itself, cut or rounded', () => {
    fc.assert(smoothedBuilds(1500), { numRuns: runs(5, 24) });
  });
});
