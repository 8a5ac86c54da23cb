/** Modes of the stage: one at a time, each with its stages, its keys, and what it leaves in the document. */
import { beforeEach, describe, expect, it } from 'vitest';
import type { Piece } from '@urnsmith/core/document/schema';
import { buildPrimitive, type Primitive } from '@urnsmith/core/primitives/index';
import type { Scene } from '../src/app/Scene';
import { backFromCut, goOnWithCut, shiftCut, typeCut } from '../src/hands/cutDrawing';
import { distancesOnFace } from '../src/hands/cutState';
import { radiusOf } from '../src/hands/placeAgain';
import type { Pointing } from '../src/hands/pointing';
import { modeHelp, modeOn, modeTitle, MODE_COMMANDS, runModeKey, showsHandles } from '../src/modes';
import { undo } from '../src/state/actions';
import { hostOf, sideName, targetName } from '../src/state/anchors';
import { acted } from '../src/state/documentSlice';
import { handActions } from '../src/state/handSlice';
import { modeIn } from '../src/state/mode';
import { withRimsOf } from '../src/state/rims';
import { settingActions } from '../src/state/settingSlice';
import type { RootState } from '../src/state/store';
import { CanvasStage } from './canvasStage';
import { openScene } from './openScene';

const BLOCK: Primitive = { primitive: 'box', width: 40, height: 20, depth: 40 };
let scene: Scene;
let stage: CanvasStage;

const s = (): RootState => scene.store.getState();
const pieces = (): Piece[] => s().document.pieces;
const cutter = (): Piece => pieces().find((p) => p.role === 'cutter')!;
const take = (id: string): void => {
  MODE_COMMANDS.find((c) => c.id === id)!.run(scene);
};

/** The pointer over a place of the block's top, mm. */
function over(x: number, z: number, more: Partial<Pointing> = {}): Pointing {
  const [px, py] = stage.at(x, 10, z);
  const snaps = { kinds: [], radius: 8, without: new Set<string>(), moving: null, peg: null };
  return { stage: stage.asStage, snaps, x: px, y: py, free: false, shift: false, ...more } as Pointing;
}
const does = () => modeOn(s())!.does;
const hover = (x: number, z: number): boolean => does().hover!(scene, over(x, z));
const press = (x: number, z: number): 'click' | 'stroke' | null => does().press!(scene, over(x, z));
const pull = (x: number, z: number, done: boolean): void =>
  does().stroke!(scene, over(x, z), { x: 0, y: 0 }, done);

beforeEach(() => {
  scene = openScene();
  stage = new CanvasStage();
  stage.rig.look('top');
  stage.rig.apply();
  stage.add('a', buildPrimitive(BLOCK));
  scene.showOn(stage.asStage);
  const block = { id: 'a', name: 'Block', base: BLOCK };
  scene.store.dispatch(
    acted({
      label: 'Add',
      action: 'a1',
      forward: [{ op: 'add', path: ['pieces', 'a'], value: block }],
      inverse: [],
    }),
  );
  scene.store.dispatch(settingActions.gridStepSet(5));
  scene.store.dispatch(settingActions.snapSwitched());
});

/** A cut is made as soon as it is known what it holds to. */
const made = (): Promise<void> => new Promise((done) => setTimeout(done));

describe('a cut that is drawn', () => {
  it('aims, is pulled open on round numbers, gets its depth, and becomes a cutter with its step', async () => {
    take('draw-cut');
    expect(modeIn(s(), 'cut')?.stage).toBe('aim');
    expect([modeTitle(s()), modeHelp(s())![0], showsHandles(s())]).toEqual(['Draw a cut', ['drag', 'the outline on a face'], false]); // prettier-ignore
    expect(hover(-9, -9)).toBe(true);
    expect(modeIn(s(), 'cut')).toMatchObject({ host: 'a', hover: [-10, -10] });
    expect(does().lines!(modeIn(s(), 'cut')!, s())).toHaveLength(4);
    expect(press(-9, -9)).toBe('stroke');
    pull(6, 4, false);
    expect(modeIn(s(), 'cut')).toMatchObject({ stage: 'outline', from: [-10, -10], to: [5, 5] });
    expect(does().says!(modeIn(s(), 'cut')!, s())).toBe('15 × 15 mm');
    pull(11, 4, true);
    expect(modeIn(s(), 'cut')).toMatchObject({
      stage: 'depth',
      to: [10, 5],
      on: { next: expect.closeTo(20, 1) as number },
    });
    typeCut(scene, { depth: 7 });
    expect(does().says!(modeIn(s(), 'cut')!, s())).toBe('7 mm deep');
    // The result is previewed before it is made.
    expect(Object.keys(s().document.preview!)).toHaveLength(2);
    goOnWithCut(scene);
    await made();
    expect(cutter()).toMatchObject({
      name: 'Pocket',
      parent: 'a',
      base: { primitive: 'box', width: 20, depth: 15 },
      transform: { move: [0, expect.any(Number), -2.5] },
    });
    expect(pieces()[0].steps).toMatchObject([{ kind: 'cut', mode: 'subtract', cutters: [cutter().id] }]);
    // The tool stays in hand for the next one, which joins the same step.
    expect([modeIn(s(), 'cut')?.stage, s().hand.selected]).toEqual(['aim', [cutter().id]]);
    press(-19, 14);
    pull(-12, 18, true);
    goOnWithCut(scene);
    await made();
    expect(pieces()[0].steps).toHaveLength(1);
    expect((pieces()[0].steps![0] as { cutters: string[] }).cutters).toHaveLength(2);
  });

  it('goes back by one stage, and away with the last; its preview goes with it', () => {
    take('draw-cut');
    hover(0, 0);
    press(0, 0);
    pull(10, 10, true);
    typeCut(scene, { width: 12 });
    expect(does().says!({ ...modeIn(s(), 'cut')!, stage: 'outline' }, s())).toBe('12 × 10 mm');
    backFromCut(scene);
    expect(modeIn(s(), 'cut')?.stage).toBe('aim');
    expect(s().document.preview).toBeNull();
    expect(runModeKey(scene, 'Escape')).toBe(true);
    expect([s().hand.mode, runModeKey(scene, 'Escape')]).toEqual([null, false]);
    // Taken twice, it is put away too; and leaving the level ends it with its preview.
    take('draw-cut');
    take('draw-cut');
    expect(s().hand.mode).toBeNull();
    take('draw-cut');
    press(0, 0);
    pull(10, 10, true);
    expect(s().document.preview).not.toBeNull();
    scene.store.dispatch(handActions.levelTaken('face'));
    expect([s().hand.mode, s().document.preview]).toEqual([null, null]);
  });

  it('draws a free outline corner by corner, takes one back, and closes it at the first', async () => {
    scene.store.dispatch(settingActions.cutSettings({ shape: 'free' }));
    take('draw-cut');
    expect(press(0, 0)).toBe('click');
    press(10, 0);
    press(10, 10);
    press(0, 15);
    expect(modeIn(s(), 'cut')!.points).toEqual([[0, 0], [10, 0], [10, 10], [0, 15]]); // prettier-ignore
    runModeKey(scene, 'Delete');
    expect(modeIn(s(), 'cut')!.points).toHaveLength(3);
    expect(modeHelp(s())!.map(([key]) => key)).toContain('first corner');
    press(0, 0);
    expect(modeIn(s(), 'cut')!.stage).toBe('depth');
    backFromCut(scene);
    expect(modeIn(s(), 'cut')).toMatchObject({ stage: 'outline', points: { length: 3 } });
    runModeKey(scene, 'Enter');
    runModeKey(scene, 'Enter');
    await made();
    expect(cutter().name).toBe('Cutout');
  });

  it('has as many sides as the wheel says, from 3 to 256, once a regular outline is open', () => {
    scene.store.dispatch(settingActions.cutSettings({ shape: 'regular', sides: 4 }));
    take('draw-cut');
    expect(does().wheel!(scene, 1)).toBe(false);
    press(0, 0);
    expect(does().wheel!(scene, -1)).toBe(true);
    expect(s().settings.cut.sides).toBe(5);
    for (let k = 0; k < 4; k++) does().wheel!(scene, 2);
    expect(s().settings.cut.sides).toBe(3);
    scene.store.dispatch(settingActions.cutSettings({ sides: 256 }));
    does().wheel!(scene, -1);
    expect(s().settings.cut.sides).toBe(256);
    expect(does().says!(modeIn(s(), 'cut')!, s())).toMatch(/mm across$/);
  });

  it('beside all pieces draws nothing, and asks for its size where the outline has no area', async () => {
    take('draw-cut');
    expect(press(200, 200)).toBe('click');
    expect(modeIn(s(), 'cut')).toMatchObject({ stage: 'aim', host: null });
    press(0, 0);
    pull(0, 10, true);
    expect([modeIn(s(), 'cut')!.stage, s().panels.notice?.tone]).toEqual(['outline', 'problem']);
    expect(modeIn(s(), 'cut')!.asks).toMatch(/no area/);
    // The pointer goes on pulling it open, a click is enough, and a typed number counts before where that is.
    typeCut(scene, { width: 6 });
    hover(9, 15);
    expect(press(9, 15)).toBe('click');
    expect(modeIn(s(), 'cut')).toMatchObject({ stage: 'depth', asks: null });
    expect(press(9, 15)).toBe('click');
    await made();
    expect(cutter().base).toMatchObject({ width: 6, depth: 15 });
  });
});

describe('distances on a face', () => {
  const face = { sides: [[[-20, -20], [20, -20], [20, 20], [-20, 20]]] as Array<Array<[number, number]>> }; // prettier-ignore
  const cutNow = () => modeIn(s(), 'cut')!;
  const known = (): void => {
    scene.store.dispatch(handActions.modeTaken({ ...cutNow(), ...face }));
  };

  it('hold a coordinate that was typed, until the outline is begun there', () => {
    take('draw-cut');
    hover(-9, 4);
    known();
    expect(distancesOnFace(cutNow(), s().settings.cut).map((d) => [d.axis, d.way, d.value])).toEqual([[0, -1, 10], [0, 1, 30], [1, -1, 25], [1, 1, 15]]); // prettier-ignore
    shiftCut(scene, 0, -3);
    hover(2, 2);
    expect(cutNow().hover![0]).toBe(-13);
    press(2, 2);
    expect(cutNow()).toMatchObject({
      stage: 'outline',
      from: [-13, expect.any(Number)],
      fixed: [null, null],
    });
  });

  it('of what is round are those of its centre, of all else those of its sides; typed, they move the whole drawing', () => {
    take('draw-cut');
    hover(-10, -10);
    known();
    press(-10, -10);
    pull(0, 5, false);
    const values = (): number[] => distancesOnFace(cutNow(), s().settings.cut).map((d) => d.value);
    expect(values()).toEqual([10, 20, 10, 15]);
    shiftCut(scene, 1, 2.5);
    expect(values()).toEqual([10, 20, 12.5, 12.5]);
    scene.store.dispatch(settingActions.cutSettings({ shape: 'round' }));
    const [left, right] = values();
    expect(left + right).toBe(40);
  });
});

describe('placing', () => {
  it('sets holes down one after the other, as one step of the history, all as the first', () => {
    take('place-hole');
    expect(modeTitle(s())).toBe('Holes');
    hover(11, 9);
    expect(modeIn(s(), 'place')!.at).toMatchObject({ host: 'a', place: [10, 10], room: { extent: 40, depth: 20 } }); // prettier-ignore
    expect(radiusOf(modeIn(s(), 'place')!)).toBe(5);
    expect(Object.keys(s().document.preview!)).toHaveLength(1);
    expect(press(11, 9)).toBe('click');
    const steps = s().document.undo.length;
    hover(-10, -10);
    press(-10, -10);
    expect([s().document.undo.length, s().document.undo.at(-1)!.label]).toEqual([steps, 'Place 2 holes']);
    expect(modeIn(s(), 'place')).toMatchObject({ placed: 2, radius: 5 });
    expect(pieces().filter((p) => p.role === 'cutter').map((p) => [p.reach, p.parent, (p.base as { height: number }).height])).toEqual([['through', 'a', 22], ['through', 'a', 22]]); // prettier-ignore
    // Beside the piece a press does nothing.
    hover(300, 300);
    press(300, 300);
    expect(pieces()).toHaveLength(3);
    undo(scene);
    expect(pieces()).toHaveLength(1);
    runModeKey(scene, 'Enter');
    expect([s().hand.mode, s().document.preview]).toEqual([null, null]);
  });

  it('is turned by the angle step, within a whole turn', () => {
    take('place-hole');
    runModeKey(scene, 'r');
    expect(modeIn(s(), 'place')!.turn).toBe(15);
    runModeKey(scene, 'Shift+r');
    runModeKey(scene, 'Shift+r');
    expect(modeIn(s(), 'place')!.turn).toBe(345);
    take('place-hole');
    expect(s().hand.mode).toBeNull();
  });

  it('of a piece needs one that is selected; holes are sized by the face, rounded down', () => {
    take('place-again');
    expect([s().hand.mode, s().panels.notice?.text]).toEqual([
      null,
      'Select the piece to place again first.',
    ]);
    const at = (extent: number) => ({ piece: null, turn: 0, rel: [], up: 0, at: { room: { extent, depth: 1 } } }) as never; // prettier-ignore
    expect([3, 6.2, 40, 200].map((x) => radiusOf(at(x)))).toEqual([0.5, 1, 5, 25]);
    expect(radiusOf({ ...(at(40) as object), radius: 1.5 } as never)).toBe(1.5);
  });
});

describe('one mode at a time', () => {
  it('another one takes the place of the one before', () => {
    take('draw-cut');
    take('place-hole');
    expect(s().hand.mode?.is).toBe('place');
    take('draw-cut');
    expect(s().hand.mode?.is).toBe('cut');
    expect(s().document.preview).toBeNull();
  });

  it('a drawing ends with its piece, rims with their step, an anchor with its cutter', () => {
    const put = (mode: Parameters<typeof handActions.modeTaken>[0]): void =>
      void scene.store.dispatch(handActions.modeTaken(mode));
    const select = (...ids: string[]): void => void scene.store.dispatch(handActions.selected({ ids }));
    select('a');
    put({ is: 'draw', tool: 'knife', lines: [] });
    scene.store.dispatch(handActions.stepChosen(1));
    expect(s().hand.mode?.is).toBe('draw');
    select();
    expect(s().hand.mode).toBeNull();
    select('a');
    scene.store.dispatch(handActions.stepChosen(0));
    put({ is: 'rims', piece: 'a', step: 0, key: 'scope' });
    expect(s().hand.mode?.is).toBe('rims');
    scene.store.dispatch(handActions.stepChosen(1));
    expect(s().hand.mode).toBeNull();
    put({ is: 'anchor', piece: 'a', hold: 'distance' });
    expect([modeTitle(s()), modeHelp(s())!.length]).toEqual(['Anchor', 2]);
    select();
    expect(s().hand.mode).toBeNull();
    put({ is: 'draw', tool: 'ring', lines: [] });
    scene.store.dispatch(handActions.siteTaken({ onResult: true }));
    expect(s().hand.mode).toBeNull();
    put({ is: 'draw', tool: 'ring', lines: [] });
    expect(modeHelp(s())![0]).toEqual(['point', 'shows the loop']);
    scene.store.dispatch(handActions.elementsPicked([1, 2]));
    expect(modeHelp(s())![0]).toEqual(['Enter', 'cuts the 2 picked']);
  });

  it('what is drawn shows as lines: a point as one of no length, a face closed', () => {
    const { lines } = modeOn({ ...s(), hand: { ...s().hand, mode: { is: 'draw', tool: 'face', lines: [] } } })!.does; // prettier-ignore
    const drawn = (tool: 'face' | 'knife', n: number) =>
      lines!(
        { is: 'draw', tool, lines: [Array.from({ length: n }, (_, k): [number, number, number] => [k, 0, 0])] }, // prettier-ignore
        s(),
      );
    expect(drawn('face', 1)).toEqual([[0, 0, 0], [0, 0, 0]]); // prettier-ignore
    // Lines first, then a dot per point.
    expect([drawn('face', 2)!.length, drawn('face', 3)!.length, drawn('knife', 3)!.length]).toEqual([
      2 + 4,
      6 + 6,
      4 + 6,
    ]);
    expect(drawn('face', 3)!.slice(4, 6)).toEqual([[2, 0, 0], [0, 0, 0]]); // prettier-ignore
    const ahead = (apart: boolean) =>
      lines!({ is: 'draw', tool: 'knife', lines: [[[0, 0, 0]]], ahead: [5, 0, 0], apart }, s());
    expect(ahead(false)).toEqual([[0, 0, 0], [5, 0, 0], [0, 0, 0], [0, 0, 0]]); // prettier-ignore
    expect(ahead(true)).toEqual([[0, 0, 0], [0, 0, 0], [5, 0, 0], [5, 0, 0]]); // prettier-ignore
  });
});

describe('anchors and rims', () => {
  it('sides are named by where they face', () => {
    expect([[1, 0, 0], [-1, 0, 0], [0, 1, 0], [0, -1, 0], [0, 0, 1], [0, 0, -1], [0.8, 0.6, 0]].map((f) => sideName(f as never))).toEqual(['right', 'left', 'top', 'bottom', 'front', 'back', 'slanted side']); // prettier-ignore
    const to = (of: string) => ({ to: [{ of }], facing: [0, 1, 0] }) as never;
    expect(['faces', 'edges', 'points'].map((of) => targetName(to(of)))).toEqual(['top', 'edge, top', 'corner, top']); // prettier-ignore
  });

  it('only a cutter nested in a piece it cuts has a host', () => {
    const host: Piece = { id: 'h', base: BLOCK, steps: [{ kind: 'cut', mode: 'subtract', cutters: ['c'] }] };
    const c: Piece = { id: 'c', role: 'cutter', base: BLOCK, parent: 'h' };
    const of = (...list: Piece[]) => hostOf(new Map(list.map((p) => [p.id, p])), list.at(-1)!)?.id ?? null;
    expect(of(host, c)).toBe('h');
    expect(of(host, { ...c, role: undefined })).toBeNull();
    expect(of(host, { ...c, parent: undefined })).toBeNull();
    expect(of({ ...host, steps: [] }, c)).toBeNull();
  });

  it('a cutter’s rims go in and out of a scope; without any, all cuts count', () => {
    const one = withRimsOf({ rule: 'rims' }, 'c');
    expect(one).toEqual({ rule: 'rims', cutters: ['c'] });
    expect(withRimsOf(one, 'd')).toEqual({ rule: 'rims', cutters: ['c', 'd'] });
    expect(withRimsOf(withRimsOf(one, 'd'), 'c')).toEqual({ rule: 'rims', cutters: ['d'] });
    expect(withRimsOf(one, 'c')).toEqual({ rule: 'rims' });
    expect(withRimsOf({ rule: 'all', of: 'edges' }, 'c')).toEqual({ rule: 'rims', cutters: ['c'] });
  });
});
