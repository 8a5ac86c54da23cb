/** Gestures on elements: drags as actions in the piece's frame, levels and selection in the store. */
import fc from 'fast-check';
import { Vector3 } from 'three';
import { beforeEach, describe, expect, it } from 'vitest';
import type { Fault } from '@urnsmith/core/mesh/errors';
import { applyAction } from '@urnsmith/core/actions/actions';
import { actionFaults } from '@urnsmith/core/document/validate';
import {
  applyMatrix,
  invert,
  transformMatrix,
  type Matrix,
  type Transform,
} from '@urnsmith/core/mesh/transform';
import { buildPrimitive } from '@urnsmith/core/primitives/index';
import { pointsOf, selectionOf } from '@urnsmith/core/select/selection';
import { middleOfPoints } from '@urnsmith/core/ops/transformElements';
import { handActions, handReducer, type HandState } from '../src/state/handSlice';
import type { ElementSettings } from '../src/state/elementSettings';
import { inHand } from '../src/state/inHand';
import { inTurn } from '../src/state/underWay';
import { act, pick, retune, takeLevel } from '../src/state/elements';
import type { Reply } from '../src/workers/questions';
import { acted } from '../src/state/documentSlice';
import { elementDrag, type Surroundings } from '../src/hands/elementDrag';
import type { DragValue } from '../src/hands/dragValue';
import { openScene } from './openScene';

let scene = openScene();

const settings: ElementSettings = scene.store.getState().settings.elements;
const box = buildPrimitive({ primitive: 'box', width: 10, height: 8, depth: 6 });
const drag = (v: Partial<DragValue>): DragValue => ({
  tool: 'move',
  axes: [0],
  move: [0, 0, 0],
  degrees: 0,
  factors: [1, 1, 1],
  ...v,
});
const world = (m: Matrix, p: ArrayLike<number>, v: number): number[] =>
  applyMatrix(m, Array.from(p).slice(3 * v, 3 * v + 3));
const still = transformMatrix({ move: [0, 0, 0], turn: [0, 0, 0], size: [1, 1, 1] });
const around = (toPiece: Matrix, more: Partial<Surroundings> = {}): Surroundings => ({
  toPiece,
  at: new Vector3(),
  back: new Vector3(0, 0, 1),
  surface: null,
  ...more,
});
const AXES = [new Vector3(1, 0, 0), new Vector3(0, 1, 0), new Vector3(0, 0, 1)];

const number = (min: number, max: number) => fc.double({ min, max, noNaN: true });
const triple = (min: number, max: number) => fc.tuple(number(min, max), number(min, max), number(min, max));

describe('a drag of elements', () => {
  it('moves them by what the hand moved in the world, wherever the piece stands', () => {
    fc.assert(
      fc.property(
        triple(-50, 50),
        triple(-180, 180),
        triple(0.3, 3),
        triple(-9, 9),
        (move, turn, size, by) => {
          const m = transformMatrix({ move, turn, size } as Transform);
          const action = elementDrag(
            selectionOf('face', [2]),
            drag({ axes: [0, 1, 2], move: by }),
            AXES,
            settings,
            around(invert(m)),
          );
          const after = applyAction(box, action).mesh;
          for (const v of pointsOf(box, selectionOf('face', [2]))) {
            const [a, b] = [world(m, box.positions, v), world(m, after.positions, v)];
            for (let k = 0; k < 3; k++) expect(b[k] - a[k]).toBeCloseTo(by[k], 3);
          }
        },
      ),
    );
  });

  it('turns them about the handle’s axis through their middle', () => {
    fc.assert(
      fc.property(
        triple(-50, 50),
        triple(-180, 180),
        fc.constantFrom(0, 1, 2),
        number(-170, 170),
        (move, turn, axis, degrees) => {
          const m = transformMatrix({ move, turn, size: [1, 1, 1] });
          const s = selectionOf('face', [1]);
          const action = elementDrag(
            s,
            drag({ tool: 'turn', axes: [axis], degrees }),
            AXES,
            settings,
            around(invert(m)),
          );
          const after = applyAction(box, action).mesh;
          const points = pointsOf(box, s);
          const about = new Vector3(...applyMatrix(m, middleOfPoints(box, points)));
          for (const v of points) {
            const expected = new Vector3(...(world(m, box.positions, v) as [number, number, number]))
              .sub(about)
              .applyAxisAngle(AXES[axis], (degrees * Math.PI) / 180)
              .add(about);
            world(m, after.positions, v).forEach((x, k) =>
              expect(x).toBeCloseTo(expected.getComponent(k), 3),
            );
          }
        },
      ),
    );
  });

  it('sizes along its own axes, and takes softness and islands along', () => {
    const s = selectionOf('face', [0]);
    const soft = { ...settings, soft: true, reach: 12, falloff: 'dome' as const, about: 'each' as const };
    const action = elementDrag(
      s,
      drag({ tool: 'resize', axes: [0], factors: [2, 1, 1] }),
      AXES,
      soft,
      around(still),
    );
    expect(action).toEqual({
      op: 'transform',
      select: { faces: [0] },
      size: [2, 1, 1],
      about: 'each',
      reach: 12,
      falloff: 'dome',
      along: 'straight',
    });
    const tilted = [new Vector3(0, 1, 0), new Vector3(-1, 0, 0), new Vector3(0, 0, 1)];
    const framed = elementDrag(
      s,
      drag({ tool: 'resize', axes: [0], factors: [2, 1, 1] }),
      tilted,
      settings,
      around(still),
    );
    expect(framed.frame).toEqual([0, 1, 0, -1, 0, 0, 0, 0, 1]);
  });

  it('turn about the peg or the pivot, and move from where they are', () => {
    const s = selectionOf('face', [2]);
    const m = transformMatrix({ move: [10, 0, 0], turn: [0, 90, 0], size: [1, 1, 1] });
    const peg = around(invert(m), { at: new Vector3(10, 5, -3) });
    const about = { ...settings, about: 'peg' as const };
    const turned = elementDrag(s, drag({ tool: 'turn', axes: [1], degrees: 30 }), AXES, about, peg);
    expect([turned.about, turned.point]).toEqual(['point', [3, 5, 0]]);
    expect(elementDrag(s, drag({ move: [1, 0, 0] }), AXES, about, peg).about).toBeUndefined();
  });

  it('weld where they are dropped, and lie on what attracts them along the view', () => {
    const s = selectionOf('vertex', [0]);
    const surface = { base: { primitive: 'sphere' as const, radius: 5 } };
    const set = { ...settings, weld: true, lay: 'along' as const };
    const turned = transformMatrix({ move: [0, 0, 0], turn: [0, 90, 0], size: [2, 2, 2] });
    const moved = elementDrag(s, drag({ move: [1, 0, 0] }), AXES, set, around(invert(turned), { surface }));
    expect([moved.weld, moved.lay, moved.surface]).toEqual([0.01, 'along', surface]);
    const direction = moved.direction as number[];
    [-1, 0, 0].forEach((x, k) => expect(direction[k]).toBeCloseTo(x, 9));
    expect(actionFaults(moved, 'a')).toEqual([]);
    const sized = elementDrag(s, drag({ tool: 'resize', factors: [2, 2, 2] }), AXES, set, around(still));
    expect([sized.weld, sized.surface]).toEqual([undefined, undefined]);
  });
});

describe('levels and selection', () => {
  beforeEach(() => {
    scene = openScene();
  });
  const run = (...actions: Parameters<typeof handReducer>[1][]): HandState =>
    actions.reduce<HandState>(handReducer, scene.store.getState().hand);

  it('choosing another piece empties the selection, none goes back to pieces', () => {
    const at = run(
      handActions.selected({ ids: ['b'] }),
      handActions.levelTaken('face'),
      handActions.elementsPicked([3, 5]),
    );
    expect([at.level, at.selected, at.picked]).toEqual(['face', ['b'], [3, 5]]);
    const other = handReducer(at, handActions.selected({ ids: ['c'] }));
    expect([other.level, other.picked]).toEqual(['face', []]);
    expect(handReducer(at, handActions.selected({ ids: [] })).level).toBe('piece');
  });

  it('several pieces have picks at once; the one picked last leads, and one without picks gives the lead away', () => {
    const both = run(
      handActions.selected({ ids: ['a', 'b'] }),
      handActions.levelTaken('edge'),
      handActions.piecesPicked({ picks: { a: [1, 2], b: [4] }, lead: 'a' }),
    );
    expect(both).toMatchObject({ active: 'a', selected: ['b', 'a'], picked: [1, 2], beside: { b: [4] } });
    const other = handReducer(both, handActions.piecesPicked({ picks: { a: [], b: [4] } }));
    expect(other).toMatchObject({ active: 'b', selected: ['a', 'b'], picked: [4], beside: {} });
    // Another one comes along with its picks still to be made, and one that goes takes its own with it.
    const more = handReducer(both, handActions.selected({ ids: ['c'], mode: 'add' }));
    expect(more).toMatchObject({ active: 'c', picked: [], beside: { a: [1, 2], b: [4] } });
    const less = handReducer(more, handActions.selected({ ids: ['c', 'b'], mode: 'toggle' }));
    expect(less).toMatchObject({ active: 'a', selected: ['a'], picked: [1, 2], beside: {} });
    expect(handReducer(both, handActions.elementsPicked([7]))).toMatchObject({ picked: [7], beside: {} });
    expect(handReducer(both, handActions.levelTaken('face'))).toMatchObject({ picked: [], beside: {} });
  });

  it('follows what an action left until something else is picked', () => {
    const following = run(
      handActions.selected({ ids: ['a'] }),
      handActions.levelTaken('edge'),
      handActions.following(),
    );
    const followed = handReducer(
      following,
      handActions.selectionFollowed({ level: 'face', picks: { a: [7] } }),
    );
    expect([followed.level, followed.picked, followed.following]).toEqual(['face', [7], true]);
    expect(handReducer(followed, handActions.elementsPicked([1])).following).toBe(false);
    // Nor does it lead back from a level that was taken since.
    expect(handReducer(followed, handActions.levelTaken('edge'))).toMatchObject({
      level: 'edge',
      following: false,
    });
  });

  it('a tool drawn with is put away with its level', () => {
    const drawing = run(
      handActions.selected({ ids: ['a'] }),
      handActions.levelTaken('face'),
      handActions.modeTaken({ is: 'draw', tool: 'knife', lines: [[[0, 0, 0]]] }),
    );
    expect(handReducer(drawing, handActions.levelTaken('edge')).mode).toBeNull();
  });

  it('elements are in hand only of a piece with faces', async () => {
    expect(inHand(scene)).toBeNull();
    scene.store.dispatch(
      acted({
        label: 'Add',
        action: 'a1',
        forward: [
          { op: 'add', path: ['pieces', 'g'], value: { id: 'g', base: { group: true } } },
          {
            op: 'add',
            path: ['pieces', 'b'],
            value: { id: 'b', base: { primitive: 'box', width: 1, height: 1, depth: 1 } },
          },
        ],
        inverse: [],
      }),
    );
    scene.store.dispatch(handActions.selected({ ids: ['g'] }));
    await takeLevel(scene, 'face');
    expect([scene.store.getState().hand.level, scene.store.getState().panels.notice?.tone]).toEqual([
      'piece',
      'problem',
    ]);
    scene.store.dispatch(handActions.selected({ ids: ['b'] }));
    scene.store.dispatch(handActions.levelTaken('point'));
    expect(inHand(scene)).toMatchObject({ piece: { id: 'b' }, selection: { kind: 'vertex', indices: [] } });
  });
});

describe('an action on several pieces', () => {
  const answers = new Map<string, Reply>();
  const left = (...indices: number[]): Reply =>
    ({ selection: selectionOf('face', indices), counts: { faces: indices.length } }) as Reply;
  const fault: Fault = { code: 'too-deep', message: 'It is too deep.' };
  const stored = () => scene.store.getState().document.pieces.map((p) => [p.id, p.actions?.length ?? 0]);

  beforeEach(() => {
    const asked = (_: unknown, id: string): Promise<Reply | null> => Promise.resolve(answers.get(id) ?? null);
    scene = openScene('s', undefined, asked);
    const piece = (id: string) => ({
      id,
      name: id,
      base: { primitive: 'box', width: 1, height: 1, depth: 1 },
    });
    scene.store.dispatch(
      acted({
        label: 'Add',
        action: 'a1',
        forward: ['a', 'b'].map((id) => ({ op: 'add', path: ['pieces', id], value: piece(id) })),
        inverse: [],
      }),
    );
    scene.builds.show(scene.store.getState().document.pieces);
    scene.store.dispatch(handActions.selected({ ids: ['a', 'b'] }));
    scene.store.dispatch(handActions.levelTaken('face'));
    scene.store.dispatch(handActions.piecesPicked({ picks: { a: [1], b: [2, 3] } }));
  });

  it('is one step, says all that was done, and picks what it left on each', async () => {
    answers.set('a', left(6));
    answers.set('b', left(7, 8));
    expect(await act(scene, 'extrude', { distance: 2 })).toBe(true);
    expect(stored()).toEqual([
      ['a', 1],
      ['b', 1],
    ]);
    const { document, hand: b, panels } = scene.store.getState();
    expect(document.undo.map((u) => u.label)).toEqual(['Add', 'Extrude: 2 pieces']);
    expect([b.active, b.picked, b.beside]).toEqual(['b', [7, 8], { a: [6] }]);
    expect(panels.notice?.text).toContain('3 faces');
    // Its number stays one number, and one step.
    retune(scene, { distance: 5 });
    const now = scene.store.getState().document;
    expect(now.undo.length).toBe(2);
    expect(now.pieces.map((p) => p.actions?.[0].distance)).toEqual([5, 5]);
  });

  it('is refused for all where one refuses, by its name', async () => {
    answers.set('a', { fault } as Reply);
    answers.set('b', left(7));
    expect(await act(scene, 'extrude', { distance: 2 })).toBe(false);
    expect(stored()).toEqual([
      ['a', 0],
      ['b', 0],
    ]);
    const { notice } = scene.store.getState().panels;
    const { picked, beside } = scene.store.getState().hand;
    expect(notice).toMatchObject({ text: 'a: It is too deep.', tone: 'problem' });
    expect([picked, beside]).toEqual([[2, 3], { a: [1] }]);
  });
});

it('keys that come faster than answers wait their turn, in order', async () => {
  const order: string[] = [];
  inTurn(scene, () => order.push('at once'));
  expect(order).toEqual(['at once']);
  const first = pick(scene, 'all').then(() => order.push('answered'));
  inTurn(scene, () => order.push('second'));
  inTurn(scene, () => order.push('third'));
  expect(order).toEqual(['at once']);
  await first;
  await new Promise((r) => setTimeout(r, 20));
  expect(order).toEqual(['at once', 'answered', 'second', 'third']);
  inTurn(scene, () => order.push('at once again'));
  expect(order.at(-1)).toBe('at once again');
});
