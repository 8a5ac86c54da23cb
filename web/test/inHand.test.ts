/** State around the selection, without builds: the trail of picks, edits by hand, handles, pivots, grid and peg. */
import { beforeEach, describe, expect, it, vi } from 'vitest';
import { Vector3 } from 'three';
import type { Piece } from '@urnsmith/core/document/schema';
import { buildPrimitive, type Primitive } from '@urnsmith/core/primitives/index';
import type { Scene } from '../src/app/Scene';
import { WAYS, walkPicks } from '../src/hands/walkPicks';
import { beadOf, stepTitle } from '../src/state/beads';
import { acted } from '../src/state/documentSlice';
import { editsIn, revisedEdits, withEdits, withOne } from '../src/state/edits';
import { handActions } from '../src/state/handSlice';
import { endPickingAnew, pickAnew } from '../src/state/pickAnew';
import { canStepPicks, picksOfMesh, stepPicks } from '../src/state/pickTrail';
import { handlePlace } from '../src/state/pieceHandle';
import { levelGrid, lookSquareOn, pivotsTo, seatGrid, seatPeg, takePegAway } from '../src/state/placing';
import type { RootState } from '../src/state/store';
import { viewActions } from '../src/state/viewSlice';
import { CanvasStage } from './canvasStage';
import { openScene } from './openScene';

const BLOCK: Primitive = { primitive: 'box', width: 20, height: 20, depth: 20 };
const MATRIX = (x: number, y: number, z: number) => [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, x, y, z, 1] as const;
const block = (id: string, more: Partial<Piece> = {}): Piece => ({ id, name: id, base: BLOCK, ...more });
let scene: Scene;
const s = (): RootState => scene.store.getState();

function hold(...pieces: Piece[]): void {
  scene = openScene();
  const forward = pieces.map((p) => ({ op: 'add' as const, path: ['pieces', p.id], value: p }));
  scene.store.dispatch(acted({ label: 'Add', action: 'a1', forward, inverse: [] }));
}
const select = (...ids: string[]): void => void scene.store.dispatch(handActions.selected({ ids }));

describe('the trail of picks', () => {
  const pick = (...picked: number[]): void => void scene.store.dispatch(handActions.elementsPicked(picked));
  beforeEach(() => {
    hold(block('a'));
    select('a');
    scene.store.dispatch(handActions.levelTaken('face'));
  });

  it('leads back pick by pick, over levels, and on again', () => {
    pick(1);
    pick(1, 2);
    scene.store.dispatch(handActions.levelTaken('edge'));
    pick(7);
    expect([canStepPicks(scene, -1), canStepPicks(scene, 1)]).toEqual([true, false]);
    // A level without picks is no step of its own.
    stepPicks(scene, -1);
    expect([s().hand.level, s().hand.picked]).toEqual(['face', [1, 2]]);
    stepPicks(scene, -1);
    expect(s().hand.picked).toEqual([1]);
    stepPicks(scene, -1);
    expect(s().panels.notice?.text).toBe('There is no earlier pick on this mesh.');
    stepPicks(scene, 1);
    expect(s().hand.picked).toEqual([1, 2]);
    stepPicks(scene, 1);
    expect([s().hand.level, s().hand.picked]).toEqual(['edge', [7]]);
    stepPicks(scene, -1);
    // A new pick ends what came after.
    pick(4);
    stepPicks(scene, 1);
    expect([s().hand.picked, s().panels.notice?.text]).toEqual([[4], 'There is no later pick on this mesh.']);
    expect(picksOfMesh(scene)).toMatchObject({ level: 'face', picks: { a: [4] } });
  });

  it('is of one mesh: at another site nothing comes back', () => {
    pick(1);
    scene.store.dispatch(handActions.siteTaken({ onResult: true }));
    expect(canStepPicks(scene, -1)).toBe(false);
    scene.store.dispatch(handActions.levelTaken('piece'));
    expect([canStepPicks(scene, -1), picksOfMesh(scene)]).toEqual([false, null]);
  });
});

describe('edits by hand', () => {
  const inset = { op: 'inset', select: { faces: [0] }, thickness: 2 };
  const extrude = { op: 'extrude', select: { rule: 'last' }, distance: 3 };
  const piece = {
    ...block('a', { actions: [inset, extrude] as never }),
    steps: [
      { kind: 'mirror', axes: ['x'] },
      { id: 'h', kind: 'hand', actions: [inset] },
    ],
  } as unknown as Piece;

  it('are those of the base or of one step of them, and are put back there', async () => {
    expect([editsIn({ piece, step: null }).length, editsIn({ piece, step: 1 }).length]).toEqual([2, 1]);
    expect([editsIn({ piece, step: 0 }), editsIn({ piece: block('b'), step: null })]).toEqual([[], []]);
    expect(withEdits({ piece, step: null }, { actions: [] }).actions).toEqual([]);
    const changed = withEdits({ piece, step: 1 }, { actions: [extrude] as never });
    expect(changed.steps![1]).toEqual({ id: 'h', kind: 'hand', actions: [extrude] });
    expect(changed.steps![0]).toBe(piece.steps![0]);
    expect(withOne(editsIn({ piece, step: null }), 1, { distance: 9 })).toEqual([{ of: 0 }, { of: 1, change: { distance: 9 } }]); // prettier-ignore
    hold(piece);
    const done = await revisedEdits(scene, { piece, step: 1 }, [{ of: 0, change: { thickness: 5 } }]);
    expect(done!.actions).toMatchObject([{ op: 'inset', thickness: 5 }]);
    // Of the base the worker is asked; without one it is said that there is none.
    expect(await revisedEdits(scene, { piece, step: null }, [{ of: 0 }])).toBeNull();
    expect(s().panels.notice?.text).toContain('still being built');
  });

  it('have picks made anew on the piece as it was before them', async () => {
    hold(piece);
    select('a');
    await pickAnew(scene, { piece, step: null }, 1);
    expect([s().hand.level, s().hand.anew]).toEqual(['face', { step: null, action: 1 }]);
    expect(s().document.preview!.a!.actions).toEqual([inset]);
    endPickingAnew(scene);
    expect([s().document.preview, s().hand.anew]).toEqual([null, null]);
  });
});

describe('beads', () => {
  it('are named by the step’s name or its place, and titled by what it does', () => {
    expect([beadOf('a', { id: 'x' }, 3), beadOf('a', {}, 3)]).toEqual(['a/x', 'a/3']);
    const cut = { kind: 'cut', mode: 'subtract', cutters: ['c'] } as const;
    expect(stepTitle({ ...cut, name: 'Vents' } as never, [])).toBe('Vents');
    expect(stepTitle(cut as never, [block('c')])).toBe('c');
    expect(stepTitle({ ...cut, cutters: ['c', 'd'] } as never, [])).toBe('2 cutters');
    expect(stepTitle({ kind: 'mirror', axes: ['x'] } as never, [])).toMatch(/^Mirror/);
  });
});

describe('handles of pieces', () => {
  it('stand in the middle of what can be moved, along the grid, or along the piece when it is resized', () => {
    hold(block('a', { transform: { move: [10, 0, 0] } }), block('b', { transform: { move: [20, 6, 0], turn: [0, 90, 0] } }), block('c', { transform: { move: [90, 0, 0] }, locked: true })); // prettier-ignore
    expect(handlePlace(s())).toBeNull();
    select('a', 'b', 'c');
    expect(handlePlace(s())).toMatchObject({ at: [15, 3, 0], matrix: MATRIX(0, 0, 0) });
    scene.store.dispatch(viewActions.gridSeated([...MATRIX(1, 2, 3)]));
    expect(handlePlace(s())!.matrix).toEqual(MATRIX(1, 2, 3));
    scene.store.dispatch(handActions.toolTaken('resize'));
    expect(handlePlace(s())!.matrix![8]).toBeCloseTo(1, 12);
    select('c');
    expect(handlePlace(s())).toBeNull();
  });
});

describe('pivots, grid and peg', () => {
  const stage = new CanvasStage();
  beforeEach(() => {
    hold(block('a'), block('b', { locked: true }));
    stage.rig.look('top');
    stage.rig.apply();
    stage.add('a', buildPrimitive(BLOCK));
    Object.assign(stage, { redraw: () => {}, pointerAt: { x: 0, y: 0 } });
  });
  const pointAt = (x: number, z: number): void => {
    const [px, py] = stage.at(x, 10, z);
    Object.assign(stage, { pointerAt: { x: px, y: py } });
  };

  it('the grid and the peg are seated on the face under the pointer, or it is said that there is none', () => {
    seatGrid(scene, stage.asStage);
    expect([s().view.gridFrame, s().panels.notice?.tone]).toEqual([null, 'problem']);
    pointAt(4, -3);
    seatGrid(scene, stage.asStage);
    const [x, y, at] = [0, 4, 12].map((k) => s().view.gridFrame!.slice(k, k + 3).map((v) => Number(v.toFixed(6)) + 0)); // prettier-ignore
    expect([x, y, at]).toEqual([[1, 0, 0], [0, 1, 0], [4, 10, -3]]); // prettier-ignore
    levelGrid(scene);
    seatPeg(scene, stage.asStage);
    expect([s().view.gridFrame, s().view.peg!.slice(12, 15).map(Math.round)]).toEqual([null, [4, 10, -3]]);
    takePegAway(scene);
    expect(s().view.peg).toBeNull();
  });

  it('the view looks square-on at the face under the pointer', () => {
    const looked = vi.spyOn(stage.rig, 'lookAlong');
    pointAt(2, 2);
    lookSquareOn(scene, stage.asStage);
    const [up, at] = looked.mock.calls[0] as [Vector3, Vector3];
    expect([up.toArray().map(Math.round), at.toArray().map(Math.round)]).toEqual([[0, 1, 0], [2, 10, 2]]); // prettier-ignore
  });

  it('pivots go to the peg, of pieces that are not locked, as one step of the history', () => {
    select('a', 'b');
    scene.store.dispatch(viewActions.pegSet([...MATRIX(5, 6, 7)]));
    pivotsTo(scene, 'peg');
    expect(s().document.undo.at(-1)!.label).toBe('Pivot of a');
    expect(s().document.pieces.map((p) => p.transform?.move)).toEqual([[5, 6, 7], undefined]);
    // Without a build there are no bounds to go by.
    const steps = s().document.undo.length;
    pivotsTo(scene, 'foot');
    expect(s().document.undo).toHaveLength(steps);
  });
});

describe('picks by keys', () => {
  it('go from a face to the neighbour in a direction of the picture, and add to what is picked', async () => {
    const sheet: Primitive = { primitive: 'plane', width: 30, depth: 30, segments: [3, 3] };
    hold({ id: 'a', name: 'a', base: sheet });
    const stage = new CanvasStage();
    stage.rig.look('top');
    stage.rig.apply();
    const mesh = buildPrimitive(sheet);
    stage.hold(mesh);
    scene.showOn(stage.asStage);
    select('a');
    scene.store.dispatch(handActions.levelTaken('face'));
    const middle = (f: number): [number, number] => {
      const c = Array.from(mesh.corners.subarray(mesh.faceStart[f], mesh.faceStart[f + 1]));
      return [0, 2].map((k) => Math.round(c.reduce((sum, v) => sum + mesh.positions[3 * v + k], 0) / c.length)) as [number, number]; // prettier-ignore
    };
    const centre = Array.from({ length: 9 }, (_, f) => f).find((f) => middle(f).join() === '0,0')!;
    const went = async (way: keyof typeof WAYS, add = false) => {
      await walkPicks(scene, way, add);
      return s().hand.picked.map((f) => middle(f).join(' '));
    };
    scene.store.dispatch(handActions.elementsPicked([centre]));
    expect(await went('right')).toEqual(['10 0']);
    expect(await went('up')).toEqual(['10 -10']);
    expect(await went('left')).toEqual(['0 -10']);
    expect((await went('down', true)).sort()).toEqual(['0 -10', '0 0']);
    await walkPicks(scene, 'left', false);
    await walkPicks(scene, 'left', false);
    expect(s().panels.notice?.text).toBe('There is nothing further to the left.');
  });
});
