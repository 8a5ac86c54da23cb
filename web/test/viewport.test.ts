import { describe, expect, it } from 'vitest';
import fc from 'fast-check';
import { Box3, Color, Vector2, Vector3 } from 'three';
import { worldMatrix } from '@urnsmith/core/document/placement';
import type { Piece } from '@urnsmith/core/document/schema';
import { boundsOf } from '@urnsmith/core/mesh/measure';
import { applyMatrix, transformMatrix, transformOf } from '@urnsmith/core/mesh/transform';
import {
  buildPrimitive,
  firstPrimitive,
  PRIMITIVE_KINDS,
  PRIMITIVES,
  type Primitive,
} from '@urnsmith/core/primitives/index';
import { CameraRig, type View } from '../src/viewport/CameraRig';
import { describeDrag, dragPieces, topOnly } from '../src/hands/drag';
import { nearestOnAxis, type DragValue } from '../src/hands/dragValue';
import { driftColor, DRIFT_STOPS } from '../src/viewport/looks/drift';

const AXES = [new Vector3(1, 0, 0), new Vector3(0, 1, 0), new Vector3(0, 0, 1)];
const box: Piece['base'] = { primitive: 'box', width: 1, height: 1, depth: 1 };
const drag = (v: Partial<DragValue>): DragValue => ({
  tool: 'move',
  axes: [0, 1, 2],
  move: [0, 0, 0],
  degrees: 0,
  factors: [1, 1, 1],
  ...v,
});
const byId = (list: Piece[]): Map<string, Piece> => new Map(list.map((p) => [p.id, p]));

describe('the camera', () => {
  const rig = (): CameraRig => {
    const r = new CameraRig();
    r.resize(800, 600);
    return r;
  };
  const onScreen = (r: CameraRig, p: Vector3): Vector3 => p.clone().project(r.camera);

  it('frames a box so that all of it is in view and it fills most of it, in both projections', () => {
    for (const parallel of [false, true]) {
      const r = rig();
      r.parallel = parallel;
      const b = new Box3(new Vector3(-10, 0, 5), new Vector3(90, 40, 65));
      r.frame(b);
      let most = 0;
      for (let k = 0; k < 8; k++) {
        const p = onScreen(
          r,
          new Vector3(k & 1 ? b.max.x : b.min.x, k & 2 ? b.max.y : b.min.y, k & 4 ? b.max.z : b.min.z),
        );
        most = Math.max(most, Math.abs(p.x), Math.abs(p.y));
      }
      expect(most).toBeLessThan(1);
      expect(most).toBeGreaterThan(0.6);
    }
  });

  it('zooms to the pointer: what is under it stays', () => {
    const r = rig();
    r.frame(new Box3(new Vector3(-50, -50, -50), new Vector3(50, 50, 50)));
    const pointer = new Vector2(0.4, -0.3);
    const ray = r.ray(pointer);
    const onPlane = ray.origin
      .clone()
      .addScaledVector(
        ray.direction,
        r.target.clone().sub(ray.origin).dot(r.back) / ray.direction.dot(r.back),
      );
    r.zoom(0.5, pointer);
    const after = onScreen(r, onPlane);
    expect(after.x).toBeCloseTo(0.4, 6);
    expect(after.y).toBeCloseTo(-0.3, 6);
  });

  it('looks square-on along each axis', () => {
    const want: Record<View, [number, number, number]> = { front: [0, 0, 1], back: [0, 0, -1], right: [1, 0, 0], left: [-1, 0, 0], top: [0, 1, 0], bottom: [0, -1, 0] }; // prettier-ignore
    for (const [view, back] of Object.entries(want)) {
      const r = rig();
      r.look(view as View);
      r.back.toArray().forEach((x, k) => expect(x).toBeCloseTo(back[k], 12));
      expect(r.up.dot(r.back)).toBeCloseTo(0, 12);
    }
  });

  it('pans by what the pointer covers, and never tips over', () => {
    const r = rig();
    const before = onScreen(r, r.target.clone());
    const old = r.target.clone();
    r.pan(100, 0);
    expect(onScreen(r, old).x - before.x).toBeCloseTo((2 * 100) / 800, 2);
    for (let k = 0; k < 50; k++) r.orbit(13, 40);
    expect(r.pitch).toBe(90);
  });
});

describe('dragging pieces', () => {
  const list: Piece[] = [
    { id: 'g', base: { group: true }, transform: { move: [10, 0, 0], turn: [0, 90, 0] } },
    { id: 'a', base: box, parent: 'g', transform: { move: [0, 0, 5] } },
    { id: 'b', base: box, transform: { size: [1, 2, 3] } },
    { id: 'l', base: box, locked: true },
  ];
  it('moves in the world, whatever the parent does', () => {
    const hardly = dragPieces(byId(list), ['a'], drag({ move: [-1e-9, 0.1234567, 0] }), AXES, new Vector3());
    expect(hardly.a.transform!.move!.slice(0, 2)).toEqual([0, 0.123457]);
    const moved = dragPieces(byId(list), ['a'], drag({ move: [3, 4, 0] }), AXES, new Vector3());
    const before = applyMatrix(worldMatrix(byId(list), 'a'), [0, 0, 0]);
    const after = applyMatrix(worldMatrix(byId(list.map((p) => moved[p.id] ?? p)), 'a'), [0, 0, 0]);
    after.forEach((x, k) => expect(x - before[k]).toBeCloseTo([3, 4, 0][k], 9));
    expect(moved.a.transform!.turn).toBeUndefined();
  });
  it('turns about the pivot', () => {
    const turned = dragPieces(
      byId(list),
      ['b'],
      drag({ tool: 'turn', axes: [1], degrees: 90 }),
      AXES,
      new Vector3(10, 0, 0),
    );
    turned.b.transform!.move!.forEach((x, k) => expect(x).toBeCloseTo([10, 0, 10][k], 5));
    expect(turned.b.transform!.turn![1]).toBeCloseTo(90, 5);
    turned.b.transform!.size!.forEach((x, k) => expect(x).toBeCloseTo([1, 2, 3][k], 6));
  });
  it('resizes along the own axes', () => {
    const sized = dragPieces(
      byId(list),
      ['b'],
      drag({ tool: 'resize', factors: [2, 1, 0.5] }),
      AXES,
      new Vector3(),
    );
    expect(sized.b.transform!.size).toEqual([2, 2, 1.5]);
  });
  it('leaves locked pieces, and those nested in a selected one, alone', () => {
    expect(topOnly(byId(list), ['g', 'a', 'b', 'l', 'gone'])).toEqual(['g', 'b']);
  });
  it('says how far it went', () => {
    expect(describeDrag(drag({ axes: [0, 2], move: [1.5, 0, -2] }))).toBe('X 1.5 mm  Z -2 mm');
    expect(describeDrag(drag({ tool: 'turn', axes: [1], degrees: 22.5 }))).toBe('Y 22.5°');
    expect(describeDrag(drag({ tool: 'resize', factors: [2, 2, 2] }))).toBe('× 2');
  });
  it('finds the point of an axis nearest to a ray', () => {
    const p = nearestOnAxis(new Vector3(7, 5, 5), new Vector3(0, 0, -1), new Vector3(), AXES[0]);
    expect(p.toArray()).toEqual([7, 0, 0]);
  });
});

describe('typed and measured transforms', () => {
  it('come back from their matrix', () => {
    const angle = fc.double({ min: -89, max: 89, noNaN: true });
    const length = fc.double({ min: -500, max: 500, noNaN: true });
    const size = fc.double({ min: 0.1, max: 10, noNaN: true });
    fc.assert(
      fc.property(
        fc.tuple(length, length, length),
        fc.tuple(angle, angle, angle),
        fc.tuple(size, size, size),
        (move, turn, s) => {
          const m = transformMatrix({ move, turn, size: s });
          const again = transformMatrix(transformOf(m));
          again.forEach((x, k) => expect(Math.abs(x - m[k])).toBeLessThan(1e-5));
        },
      ),
      { numRuns: 100, seed: 5 },
    );
  });
});

describe('dimension handles', () => {
  for (const kind of PRIMITIVE_KINDS)
    it(`of a ${kind} sit where a pull changes the number by what was pulled`, () => {
      const p = firstPrimitive(kind);
      for (const d of PRIMITIVES[kind].handles(p)) {
        const value = (p as unknown as Record<string, number>)[d.key];
        const grown = { ...p, [d.key]: value + d.rate } as Primitive;
        // One millimetre pulled: the handle moves by one millimetre along its direction.
        const next = PRIMITIVES[kind].handles(grown).find((x) => x.key === d.key)!;
        next.at.forEach((x, k) => expect(x - d.at[k]).toBeCloseTo(d.along[k], 9));
        // The point lies within the shape's bounds.
        const b = boundsOf(buildPrimitive(p));
        d.at.forEach((x, k) => {
          expect(x).toBeLessThanOrEqual(b.max[k] + 1e-9);
          expect(x).toBeGreaterThanOrEqual(b.min[k] - 1e-9);
        });
      }
    });
});

describe('the drift map', () => {
  it('gives the legend’s colours at its stops and stays in between elsewhere', () => {
    for (const [deg, color] of DRIFT_STOPS)
      expect(driftColor(deg, new Color()).getHexString()).toBe(color.slice(1));
    expect(driftColor(50, new Color()).getHexString()).toBe(DRIFT_STOPS.at(-1)![1].slice(1));
    const a = driftColor(1.5, new Color());
    expect(a.getHexString()).not.toBe(driftColor(1, new Color()).getHexString());
  });
});
