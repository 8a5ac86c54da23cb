/** Pointing on the stage: elements under the pointer, snap targets, and where drawn points land. */
import { Vector3 } from 'three';
import { beforeEach, describe, expect, it } from 'vitest';
import { faceNormal } from '@urnsmith/core/mesh/measure';
import { transformMatrix } from '@urnsmith/core/mesh/transform';
import { buildPrimitive } from '@urnsmith/core/primitives/index';
import { insideOutline } from '@urnsmith/core/select/inside';
import type { SnapKind } from '../src/state/elementSettings';
import { isNear, pointInSpace, pointOnPiece, shareAlong } from '../src/hands/drawPoint';
import { allHits, asLook, elementAt, type PointedAt } from '../src/hands/pointing';
import { onSegment, snapAt, type Snap } from '../src/hands/snapping';
import { CanvasStage } from './canvasStage';

const box = buildPrimitive({ primitive: 'box', width: 20, height: 20, depth: 20, segments: [2, 2, 2] });
let on: CanvasStage;

beforeEach(() => {
  on = new CanvasStage();
  // From the front: x to the right, y up.
  on.rig.look('front');
  on.hold(box);
});

const placeOf = (v: number): number[] => Array.from(box.positions.subarray(3 * v, 3 * v + 3));
const pointAt = (level: 'face' | 'edge' | 'point', x: number, y: number): PointedAt | null =>
  elementAt(on.asStage, on.cage, level, ...on.at(x, y, 10), 12);

describe('the element under the pointer', () => {
  it('is the face that is hit, the nearest edge or point of it, or nothing', () => {
    const face = pointAt('face', 5, 5)!;
    expect(faceNormal(box, face.element)).toEqual([0, 0, 1]);
    expect(face.at[2]).toBeCloseTo(10, 6);
    expect(placeOf(pointAt('point', 0.5, 0.4)!.element)).toEqual([0, 0, 10]);
    expect(pointAt('point', 5, 5)).toBeNull();
    expect(pointAt('edge', 5, 5)).toBeNull();
    const edge = pointAt('edge', 5, 0.5)!;
    const { edges } = on.cage.cage!.shape;
    expect([0, 1].map((k) => placeOf(edges[2 * edge.element + k])[1])).toEqual([0, 0]);
  });

  it('just beside the piece is what is nearer to the eye, not what lies behind it', () => {
    // The upper right corner at the front and the one behind it are drawn in one place.
    const corner = pointAt('point', 10.4, 10.4)!;
    expect(placeOf(corner.element)).toEqual([10, 10, 10]);
    expect(pointAt('point', 40, 40)).toBeNull();
  });

  it('is found through a turned and moved frame, in perspective', () => {
    on.rig.parallel = false;
    on.hold(box, transformMatrix({ move: [30, 0, -20], turn: [0, 90, 0], size: [1, 1, 1] }));
    on.rig.apply();
    const [x, y] = on.at(30, 0, -10);
    const hit = elementAt(on.asStage, on.cage, 'point', x, y, 12)!;
    // The middle of the side that faces the front after the turn.
    expect(placeOf(hit.element).map((q) => Math.abs(q))).toEqual([10, 0, 0]);
  });

  it('lies on a line of sight that goes on through the piece', () => {
    const hits = allHits(on.asStage, on.cage, ...on.at(5, 5, 10));
    expect(hits.map((h) => Math.round(h.point.z))).toEqual([10, -10]);
  });
});

describe('a box on the screen, as the core is asked', () => {
  it('takes in what is drawn inside it, whatever the projection', () => {
    for (const parallel of [true, false]) {
      on.rig.parallel = parallel;
      on.rig.apply();
      const [l, t] = on.at(-11, 11, 10);
      const [r, b] = on.at(0.5, -11, 10);
      const drawn = [{ x: l, y: t }, { x: r, y: t }, { x: r, y: b }, { x: l, y: b }]; // prettier-ignore
      const { outline, look } = asLook(on.asStage, on.cage, drawn);
      // Left half and middle: two columns of three points, of the front only.
      const seen = insideOutline(box, 'vertex', outline, look, false).indices.map(placeOf);
      expect(seen).toHaveLength(6);
      expect(seen.every((p) => p[2] === 10 && p[0] <= 0)).toBe(true);
    }
  });
});

describe('snapping', () => {
  const snap = (kinds: SnapKind[], x: number, y: number, z: number, more = {}): Snap | null =>
    snapAt(on.asStage, ...on.at(x, y, z), {
      kinds,
      radius: 12,
      without: new Set(['held']),
      moving: null,
      peg: null,
      ...more,
    });
  const at = (s: Snap | null): number[] | null => s && s.at.toArray().map((q) => Number(q.toFixed(4)) + 0);
  const all: SnapKind[] = ['point', 'middle', 'edge', 'face', 'peg'];

  beforeEach(() => {
    const block = buildPrimitive({ primitive: 'box', width: 12, height: 8, depth: 4 });
    on.add('other', block, transformMatrix({ move: [30, 0, 0], turn: [0, 0, 0], size: [1, 1, 1] }));
  });

  it('prefers a point to a middle, a middle to an edge, an edge to the face', () => {
    expect(at(snap(all, 35.7, 3.7, 2))).toEqual([36, 4, 2]);
    expect(at(snap(all, 35.7, 0.3, 2))).toEqual([36, 0, 2]);
    expect([snap(all, 35.7, 0.3, 2)!.kind, snap(all, 35.7, 2.2, 2)!.kind]).toEqual(['middle', 'edge']);
    expect(at(snap(all, 35.7, 2.2, 2))![0]).toBe(36);
    expect(snap(all, 31, 1, 2)!.kind).toBe('face');
    expect(at(snap(all, 31, 1, 2))).toEqual([31, 1, 2]);
  });

  it('looks only for what is asked for, and not at pieces that move along', () => {
    expect(snap(['middle'], 35.7, 3.7, 2)).toBeNull();
    expect(snap(['grid'], 31, 1, 2)).toBeNull();
    expect(snap(all, 31, 1, 2, { without: new Set(['other']) })).toBeNull();
  });

  it('reaches a rim from just beside the piece, and the peg before anything', () => {
    expect(at(snap(['point'], 36.5, 4.6, 2))).toEqual([36, 4, 2]);
    const peg = new Vector3(35.8, 3.9, 0);
    expect(snap(all, 35.7, 3.7, 2, { peg })).toEqual({ kind: 'peg', at: peg });
    expect(snap(all, -40, 30, 0, { peg })).toBeNull();
  });

  it('meets nothing of the piece in hand further off than the radius', () => {
    const mm = on.rig.pixelSize(new Vector3(5, 5, 10));
    for (const [pixels, met] of [[11, true], [13, false]] as const) {
      expect(snap(['point'], pixels * mm, 0, 10, { moving: new Set() }) !== null).toBe(met);
    }
  }); // prettier-ignore

  it('takes what stays of the piece in hand, and not what moves or lies behind', () => {
    const moving = new Set([...Array(box.positions.length / 3).keys()].filter((v) => placeOf(v)[0] < 0));
    expect(at(snap(['point'], 0.3, 0.4, 10, { moving }))).toEqual([0, 0, 10]);
    // This point moves, and so do the faces around it: behind them nothing of the front is left to meet.
    expect(at(snap(['point'], -10, 0, 10, { moving }))).toBeNull();
    expect(at(snap(['edge'], 10, 5.3, 10, { moving }))).toEqual([10, 5.3, 10]);
    expect(at(snap(['face'], 4, 5, 10, { moving }))).toEqual([4, 5, 10]);
  });

  it('measures along an edge where the line of sight passes it', () => {
    const [x, y] = on.at(4, 7, 10);
    const p = onSegment(on.asStage, [new Vector3(0, 0, 10), new Vector3(0, 20, 10)], x, y);
    expect(p.toArray().map((q) => Math.round(q * 100) / 100)).toEqual([0, 7, 10]);
  });
});

describe('a point drawn on the piece', () => {
  const drawn = (
    x: number,
    y: number,
    line: Array<[number, number, number]> = [],
    angle = 0,
  ): number[] | null => {
    const p = pointOnPiece(on.asStage, ...on.at(x, y, 10), { radius: 12, angle, line });
    return p && p.map((q) => Number(q.toFixed(3)) + 0);
  };

  it('is a point, the middle of an edge, a place on an edge or on a face, or beside the piece', () => {
    expect(drawn(0.4, -0.3)).toEqual([0, 0, 10]);
    expect(drawn(5.2, 0.3)).toEqual([5, 0, 10]);
    expect(drawn(7.5, 0.3)).toEqual([7.5, 0, 10]);
    expect(drawn(5, 5)).toEqual([5, 5, 10]);
    // Beside it on the plane through what is looked at.
    expect(drawn(25, 5)).toEqual([25, 5, 0]);
  });

  it('runs at steps of the angle, counted from the side of the face, then from the stretch before', () => {
    const from: [number, number, number] = [2, 2, 10];
    expect(drawn(6, 2.5, [from], 45)).toEqual([6, 2, 10]);
    const slanted = drawn(6, 5.5, [from], 45)!;
    expect(slanted[0] - 2).toBeCloseTo(slanted[1] - 2, 3);
    const turned = drawn(3, 7, [from, [4, 4, 10]], 90)!;
    // Square to the stretch before, which ran up to the right.
    expect(turned[0] - 4).toBeCloseTo(-(turned[1] - 4), 3);
  });

  it('ends on a side of the face when it ends near one', () => {
    expect(drawn(9.5, 2.2, [[2, 2, 10]], 90)).toEqual([10, 2, 10]);
    expect(drawn(8, 2.2, [[2, 2, 10]], 90)![0]).toBeCloseTo(8, 2);
  });

  it('is near another where both are drawn close together', () => {
    const [x, y] = on.at(5, 5, 10);
    expect(isNear(on.asStage, [5.2, 5.2, 10], x, y, 12)).toBe(true);
    expect(isNear(on.asStage, [8, 8, 10], x, y, 12)).toBe(false);
    expect(shareAlong([0, 0, 0], [10, 0, 0], [12, 5, 0])).toBe(1);
    expect(shareAlong([0, 0, 0], [10, 0, 0], [2.5, 5, 0])).toBe(0.25);
  });
});

describe('a point drawn freely', () => {
  const scene = { kinds: [], radius: 12, without: new Set<string>(), moving: null, peg: null };

  it('lies on the grid, level or seated, at its step when that is asked for', () => {
    on.rig.look('top');
    on.rig.apply();
    const [x, y] = on.at(31.3, 0, 7.8);
    const free = pointInSpace(on.asStage, x, y, scene, null, 0)!;
    expect(free.toArray().map((q) => Number(q.toFixed(2)) + 0)).toEqual([31.3, 0, 7.8]);
    const stepped = pointInSpace(on.asStage, x, y, scene, null, 5)!;
    expect(stepped.toArray().map((q) => q + 0)).toEqual([30, 0, 10]);
    const seat = transformMatrix({ move: [0, 12, 0], turn: [0, 0, 0], size: [1, 1, 1] });
    expect(pointInSpace(on.asStage, x, y, scene, seat, 5)!.toArray()).toEqual([30, 12, 10]);
  });

  it('lies on what is there before it lies on the grid', () => {
    on.rig.look('top');
    on.rig.apply();
    on.add('block', buildPrimitive({ primitive: 'box', width: 10, height: 6, depth: 10 }), transformMatrix({ move: [30, 0, 0], turn: [0, 0, 0], size: [1, 1, 1] })); // prettier-ignore
    const [x, y] = on.at(34.8, 3, 4.9);
    expect(pointInSpace(on.asStage, x, y, scene, null, 5)!.toArray()).toEqual([35, 3, 5]);
  });

  it('is nowhere when the grid is seen edge-on', () => {
    const [x, y] = on.at(31, 20, 0);
    expect(pointInSpace(on.asStage, x, y, scene, null, 5)).toBeNull();
  });
});
