/** Where handles of picked elements stand, along what, and what is kept of it between two looks. */
import { Makers } from '@urnsmith/core/births/Makers';
import fc from 'fast-check';
import { beforeEach, describe, expect, it } from 'vitest';
import type { Piece } from '@urnsmith/core/document/schema';
import { boundsOf, faceNormal } from '@urnsmith/core/mesh/measure';
import { applyMatrix, transformMatrix, transformMesh, type Transform } from '@urnsmith/core/mesh/transform';
import { distance, dot, pointOf, sub, unit, type Vec3 } from '@urnsmith/core/mesh/vec3';
import { buildPrimitive, type Primitive } from '@urnsmith/core/primitives/index';
import { pointsOf, selectionOf } from '@urnsmith/core/select/selection';
import { cageOf } from '@urnsmith/core/build/cage';
import { displayOf } from '@urnsmith/core/build/display';
import { handActions } from '../src/state/handSlice';
import { viewActions } from '../src/state/viewSlice';
import { settingActions } from '../src/state/settingSlice';
import { acted } from '../src/state/documentSlice';
import { elementHandle, ownFrame, pointsOfPicked } from '../src/state/elementHandle';
import type { Built, WholeCage } from '../src/workers/builds';
import { LastSent, putBack } from '../src/workers/sameTriangles';
import { openScene } from './openScene';

let scene = openScene();

const primitive: Primitive = { primitive: 'cylinder', radius: 8, height: 12, sides: 9, rings: 2 };
const mesh = buildPrimitive(primitive);
const whole = (m: typeof mesh): WholeCage => {
  const { positions, ranks, shape } = cageOf(m, null);
  return { positions, ranks, shape: shape! };
};
const cage = whole(mesh);
const built = (c: WholeCage): Built => ({
  number: 1,
  display: null,
  fault: null,
  actions: [],
  picked: null,
  cage: c,
  draft: false,
});

const number = (min: number, max: number) => fc.double({ min, max, noNaN: true });
const triple = (min: number, max: number) => fc.tuple(number(min, max), number(min, max), number(min, max));
const pose: fc.Arbitrary<Transform> = fc.record({
  move: triple(-40, 40),
  turn: triple(-180, 180),
  size: triple(-2, 2).map((s) => s.map((x) => (Math.abs(x) < 0.3 ? 1 : x)) as Vec3),
});

function hold(transform: Transform | undefined, level: 'face' | 'edge' | 'point', picked: number[]): void {
  const piece: Piece = { id: 'a', name: 'Can', base: primitive, ...(transform && { transform }) };
  scene.store.dispatch(
    acted({
      action: 'a1',
      label: 'Can',
      forward: [
        {
          op: scene.store.getState().document.doc.pieces.a ? 'replace' : 'add',
          path: ['pieces', 'a'],
          value: piece,
        },
      ],
      inverse: [],
    }),
  );
  scene.store.dispatch(handActions.selected({ ids: ['a'] }));
  scene.store.dispatch(handActions.levelTaken(level));
  scene.store.dispatch(handActions.elementsPicked(picked));
}

beforeEach(() => {
  scene = openScene();
});

describe('points of picked elements', () => {
  it('are those the core names, at every level', () => {
    const levels = { face: 'face', edge: 'edge', point: 'vertex' } as const;
    fc.assert(
      fc.property(fc.constantFrom('face', 'edge', 'point'), fc.uniqueArray(fc.nat(19)), (level, picked) => {
        const found = [...pointsOfPicked(cage.shape, level, picked)];
        const expected = pointsOf(mesh, selectionOf(levels[level], picked));
        expect(found).toEqual([...new Set(expected)].sort((a, b) => a - b));
      }),
    );
  });

  it('leave out what is no more, and are the same list while nothing changed', () => {
    const picked = [0, 5, 99999];
    for (const level of ['face', 'edge', 'point'] as const) {
      const found = pointsOfPicked(cage.shape, level, picked);
      expect(found.every((v) => v < cage.shape.counts.points)).toBe(true);
      expect(pointsOfPicked(cage.shape, level, picked)).toBe(found);
      expect(pointsOfPicked(cage.shape, level, [...picked])).not.toBe(found);
    }
  });
});

describe('the handle', () => {
  it('stands at the middle of what is picked, wherever the piece stands', () => {
    fc.assert(
      fc.property(pose, fc.uniqueArray(fc.nat(17), { minLength: 1 }), (t, picked) => {
        hold(t, 'point', picked);
        const { at } = elementHandle(scene.store.getState(), { get: () => built(cage) })!;
        const m = transformMatrix(t);
        const middle = [0, 1, 2].map(
          (k) => picked.reduce((s, v) => s + mesh.positions[3 * v + k], 0) / picked.length,
        );
        expect(distance(at, applyMatrix(m, middle))).toBeLessThan(1e-4);
      }),
    );
  });

  it('goes where the points went, though the selection is the same', () => {
    hold(undefined, 'face', [0, 1]);
    const before = elementHandle(scene.store.getState(), { get: () => built(cage) })!.at;
    const moved = { ...cage, positions: cage.positions.map((x, i) => (i % 3 === 1 ? x + 5 : x)) };
    const after = elementHandle(scene.store.getState(), { get: () => built(moved) })!.at;
    expect(sub(after, before)).toEqual([0, 5, 0].map((x) => expect.closeTo(x, 4) as number));
  });

  it('is none at Piece level, with nothing picked, or when what was picked is gone', () => {
    hold(undefined, 'face', []);
    expect(elementHandle(scene.store.getState(), { get: () => built(cage) })).toBeNull();
    scene.store.dispatch(handActions.elementsPicked([12345]));
    expect(elementHandle(scene.store.getState(), { get: () => built(cage) })).toBeNull();
    scene.store.dispatch(handActions.levelTaken('piece'));
    expect(elementHandle(scene.store.getState(), { get: () => built(cage) })).toBeNull();
  });

  it('stands along the world, the piece, the seated grid, or as the view is', () => {
    const t: Transform = { move: [1, 2, 3], turn: [0, 90, 0], size: [1, 1, 1] };
    hold(t, 'face', [0]);
    const along = (frame: 'world' | 'piece' | 'grid' | 'view'): number[] | null => {
      scene.store.dispatch(settingActions.elementSettings({ frame }));
      return elementHandle(scene.store.getState(), { get: () => built(cage) })!.matrix;
    };
    const grid = transformMatrix({ move: [0, 0, 0], turn: [0, 0, 45], size: [1, 1, 1] });
    scene.store.dispatch(viewActions.gridSeated(grid));
    expect(along('world')!.slice(0, 3)).toEqual([1, 0, 0]);
    expect(along('piece')).toEqual(transformMatrix(t));
    expect(along('grid')).toEqual(grid);
    expect(along('view')).toBeNull();
  });

  it('turns about the pivot or the peg when that is chosen, and moves from the middle all the same', () => {
    hold({ move: [7, 0, 0], turn: [0, 0, 0], size: [1, 1, 1] }, 'face', [0]);
    scene.store.dispatch(handActions.toolTaken('turn'));
    scene.store.dispatch(settingActions.elementSettings({ about: 'pivot' }));
    const at = (): Vec3 => elementHandle(scene.store.getState(), { get: () => built(cage) })!.at;
    expect(at()).toEqual([7, 0, 0]);
    scene.store.dispatch(settingActions.elementSettings({ about: 'peg' }));
    scene.store.dispatch(
      viewActions.pegSet(transformMatrix({ move: [1, 2, 3], turn: [0, 0, 0], size: [1, 1, 1] })),
    );
    expect(at()).toEqual([1, 2, 3]);
    scene.store.dispatch(handActions.toolTaken('move'));
    expect(at()).not.toEqual([1, 2, 3]);
  });
});

describe('the frame of what is picked', () => {
  it('has the normal of a face as it comes out in the world, stretched and mirrored too', () => {
    fc.assert(
      fc.property(pose, fc.nat(19), (t, f) => {
        const m = transformMatrix(t);
        const frame = ownFrame(cage, 'face', [f], m);
        const [x, y, z] = [0, 4, 8].map((k): Vec3 => [frame[k], frame[k + 1], frame[k + 2]]);
        // A mirrored piece is built with its faces outward, so the frame looks outward too.
        expect(dot(y, faceNormal(transformMesh(mesh, m), f))).toBeCloseTo(1, 4);
        for (const a of [x, y, z]) expect(Math.hypot(...a)).toBeCloseTo(1, 6);
        expect([dot(x, y), dot(y, z), dot(z, x)]).toEqual(
          [0, 0, 0].map(() => expect.closeTo(0, 6) as number),
        );
      }),
    );
  });

  it('runs along a picked edge', () => {
    const { edges } = cage.shape;
    const frame = ownFrame(
      cage,
      'edge',
      [3],
      transformMatrix({ move: [0, 0, 0], turn: [0, 0, 0], size: [1, 1, 1] }),
    );
    const [a, b] = [0, 1].map((k) => pointOf(cage.positions, edges[6 + k]));
    const run = unit(sub(b, a));
    expect(Math.abs(dot([frame[0], frame[1], frame[2]], run))).toBeCloseTo(1, 5);
  });
});

describe('triangles between threads', () => {
  const display = () => displayOf({ mesh, steps: [], makers: new Makers(), draft: false }, 1);
  const moved = () => {
    const up = transformMesh(mesh, transformMatrix({ move: [0, 9, 0], turn: [0, 0, 0], size: [1, 1, 1] }));
    return displayOf({ mesh: up, steps: [], makers: new Makers(), draft: false }, 1);
  };

  it('stay behind while only points move, and are put back on arrival', () => {
    const last = new LastSent();
    const first = putBack(last.toSend('a', display(), 1, null), null)!;
    expect(first.indices.length).toBeGreaterThan(0);
    const sent = last.toSend('a', moved(), 2, 1);
    expect([sent.indices.length, sent.faceOfTriangle.length]).toEqual([0, 0]);
    const second = putBack(sent, first)!;
    expect(second.indices).toBe(first.indices);
    expect(second.faceOfTriangle).toBe(first.faceOfTriangle);
    expect(second.bounds.max[1]).toBeCloseTo(boundsOf(mesh).max[1] + 9, 9);
  });

  it('go along to a page that does not have them, and of a shape that is another', () => {
    const last = new LastSent();
    last.toSend('a', display(), 1, null);
    expect(last.toSend('a', moved(), 2, null).indices.length).toBeGreaterThan(0);
    expect(last.toSend('a', moved(), 3, 1).indices.length).toBeGreaterThan(0);
    expect(last.toSend('b', moved(), 1, 3).indices.length).toBeGreaterThan(0);
    const other = buildPrimitive({ primitive: 'box', width: 1, height: 1, depth: 1 });
    const box = displayOf({ mesh: other, steps: [], makers: new Makers(), draft: false }, 1);
    expect(last.toSend('a', box, 4, 3).indices.length).toBe(36);
    expect(last.toSend('a', display(), 5, 4).indices.length).toBeGreaterThan(36);
  });

  it('are not made up where what they were is gone', () => {
    const last = new LastSent();
    last.toSend('a', display(), 1, null);
    expect(putBack(last.toSend('a', moved(), 2, 1), null)).toBeNull();
  });
});
