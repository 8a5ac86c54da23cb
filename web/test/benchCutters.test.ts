/**
 * Cutters, placing and shading at the Bench, on built pieces: what is found under the pointer, and what comes of it.
 *
 * @covers web/src/hands, web/src/state
 */
import { describe, expect, it, vi } from 'vitest';
import type { Piece } from '@urnsmith/core/document/schema';
import {
  cutterAtRim,
  cuttersNear,
  cutterOf,
  selectCutterHere,
  selectHost,
  walkCutters,
} from '../src/hands/cutterHere';
import { drawnNormals } from '../src/hands/drawnNormals';
import { gradientOf } from '../src/hands/gradient';
import { setRadius, takeHole, takePlaceAgain, turnPlaced } from '../src/hands/placeAgain';
import { takeCutDrawing, typeCut } from '../src/hands/cutDrawing';
import { editPiece } from '../src/state/actions';
import { setReach } from '../src/state/anchors';
import { act } from '../src/state/elements';
import { handActions } from '../src/state/handSlice';
import { actBeside, actOnto, applyNormal, hasSample, sampleNormal } from '../src/state/normalsInHand';
import { surfaceOf } from '../src/state/otherSurface';
import { pickAnew, takePicksAnew } from '../src/state/pickAnew';
import { pivotToPicked, pivotsTo, seatGrid, seatPeg } from '../src/state/placing';
import { settingActions } from '../src/state/settingSlice';
import { viewActions } from '../src/state/viewSlice';
import { LiveBench } from './liveBench';

vi.mock('../src/viewport/screens', () => import('./noScreens'));

const PLAIN = { shiftKey: false, ctrlKey: false, metaKey: false };
const cutter = (id: string, x: number, more: Partial<Piece> = {}): Piece => ({
  id,
  name: id,
  role: 'cutter',
  parent: 'host',
  base: { primitive: 'box', width: 6, height: 6, depth: 10 },
  transform: { move: [x, 0, 10] },
  ...more,
});
const host = (...cutters: string[]): Piece => ({
  id: 'host',
  name: 'Host',
  base: { primitive: 'box', width: 60, height: 20, depth: 20 },
  ...(cutters.length && { steps: [{ kind: 'cut', mode: 'subtract', cutters }] }),
});
const under = (b: LiveBench, x: number, y: number, z = 10) => {
  const [cx, cy] = b.at(x, y, z);
  b.stage.pointerAt = { x: cx, y: cy };
  return b.stage.pick(cx, cy, new Set(['left', 'right', 'far']))!;
};

describe('from a wall to its cutter', () => {
  it('the floor of a recess tells which cutter made it, twins by where they stand', async () => {
    const b = await LiveBench.open(
      host('left', 'right'),
      cutter('left', -15),
      cutter('right', 15, { base: { twin: 'left' } as never }),
    );
    expect([-15, 15, 0].map((x) => cutterOf(b.scene, under(b, x, 0))?.id)).toEqual(['left', 'right', undefined]); // prettier-ignore
    under(b, 15, 1);
    selectCutterHere(b.scene);
    expect(b.state.hand.selected).toEqual(['right']);
    under(b, 0, 0);
    selectCutterHere(b.scene);
    expect(b.state.panels.notice?.text).toBe('No cutter made the face under the pointer.');
    selectHost(b.scene);
    expect(b.state.hand.selected).toEqual(['host']);
    selectHost(b.scene);
    expect(b.state.panels.notice?.text).toBe('No piece is cut by this one.');
  });

  it('at a rim seen along its walls, within ten pixels', async () => {
    const b = await LiveBench.open(host('left'), cutter('left', -15));
    const at = (x: number) => cutterAtRim(b.scene, b.stage, 'host', ...b.at(x, 0, 10))?.id;
    expect([-15, -11.5, -11.1, -10.9, 5].map(at)).toEqual(['left', 'left', 'left', undefined, undefined]);
  });

  it('keys walk through the cutters in the order they cut; those near the pointer are told first', async () => {
    const all = Array.from({ length: 10 }, (_, k) => cutter(`c${k}`, -27 + 6 * k, { base: { primitive: 'box', width: 3, height: 3, depth: 4 } })); // prettier-ignore
    const ids = all.map((c) => c.id);
    const b = await LiveBench.open(host(...ids), ...all);
    walkCutters(b.scene, 1);
    expect(b.state.panels.notice).toMatchObject({ text: 'Select a piece that is cut, or one of its cutters, first.', tone: 'problem' }); // prettier-ignore
    const step = (by: 1 | -1): string => {
      walkCutters(b.scene, by);
      return `${b.state.hand.selected.join()}: ${b.state.panels.notice?.text}`;
    };
    b.scene.store.dispatch(handActions.selected({ ids: ['host'] }));
    expect(step(1)).toBe('c0: Cutter 1 of 10 of Host.');
    expect(step(1)).toBe('c1: Cutter 2 of 10 of Host.');
    expect(step(-1)).toBe('c0: Cutter 1 of 10 of Host.');
    expect(step(-1)).toBe('c9: Cutter 10 of 10 of Host.');
    expect(step(1)).toBe('c0: Cutter 1 of 10 of Host.');
    b.scene.store.dispatch(handActions.selected({ ids: ['host'] }));
    expect(step(-1)).toBe('c9: Cutter 10 of 10 of Host.');
    under(b, 26, 5);
    expect(cuttersNear(b.scene, ids)).toEqual(['c9', 'c8', 'c7', 'c6', 'c5', 'c4', 'c3', 'c2']);
    under(b, 40, 30);
    expect(cuttersNear(b.scene, ids)).toBeNull();
  });

  it('a face clicked twice puts its step on the Card, and then its cutter in hand', async () => {
    const b = await LiveBench.open(host('left'), cutter('left', -15));
    b.scene.store.dispatch(handActions.selected({ ids: ['host'] }));
    b.host.twice(under(b, -15, 0) as never);
    expect([b.state.hand.step, b.state.hand.selected]).toEqual([0, ['host']]);
    b.host.twice(under(b, -15, 0) as never);
    expect(b.state.hand.selected).toEqual(['left']);
    b.scene.store.dispatch(handActions.selected({ ids: ['host'] }));
    b.host.twice(under(b, 0, 0) as never);
    expect(b.state.hand.step).toBeNull();
  });
});

describe('a cutter that goes through', () => {
  it('is anchored to the face it goes in by, beside the hole it has cut', async () => {
    const drill = cutter('drill', 0, { base: { primitive: 'cylinder', radius: 3, height: 8, sides: 12 } as never, transform: { move: [5, 10, 2] } }); // prettier-ignore
    const b = await LiveBench.open(host('drill'), drill);
    await setReach(b.scene, 'drill', 'through');
    const { reach, anchors } = b.piece('drill');
    expect(reach).toBe('through');
    expect(anchors).toHaveLength(1);
    expect(anchors![0].facing.map(Math.round)).toEqual([0, 1, 0]);
    // A second time it holds already.
    await setReach(b.scene, 'drill', 'next');
    expect([b.piece('drill').reach, b.piece('drill').anchors]).toEqual(['next', anchors]);
    await setReach(b.scene, 'drill', undefined);
    expect(b.piece('drill')).not.toHaveProperty('reach');
  });

  it('that stands beside its host has no face to hold to', async () => {
    const drill = cutter('drill', 0, { transform: { move: [100, 10, 2] } });
    const b = await LiveBench.open(host('drill'), drill);
    await setReach(b.scene, 'drill', 'through');
    expect(b.piece('drill').anchors ?? []).toEqual([]);
  });
});

describe('a piece placed again', () => {
  it('is seated on each face as the first one sits on its own, turned by the wheel, set down by clicks', async () => {
    const knob: Piece = { id: 'knob', name: 'Knob', base: { primitive: 'box', width: 4, height: 6, depth: 4 }, transform: { move: [-20, 13, 0] }, parent: 'host' }; // prettier-ignore
    const b = await LiveBench.open(host(), knob);
    takePlaceAgain(b.scene);
    expect(b.state.panels.notice?.tone).toBe('problem');
    b.scene.store.dispatch(handActions.selected({ ids: ['knob'] }));
    takePlaceAgain(b.scene);
    b.scene.store.dispatch(settingActions.snapSwitched());
    const hover = (x: number, y: number): boolean => b.host.modeHover(...b.at(x, y, 10), PLAIN);
    expect(hover(10, 0)).toBe(true);
    turnPlaced(b.scene, 1);
    turnPlaced(b.scene, -1);
    b.host.modePress(...b.at(10, 0, 10), PLAIN);
    await b.rest();
    const made = b.state.document.pieces.find((p) => !['host', 'knob'].includes(p.id))!;
    // On the front its Y points at the eye, and it stands as deep in it as the first one does.
    expect(made.transform!.move!.map((v) => Math.round(v * 1e3) / 1e3)).toEqual([10, 0, 13]);
    hover(-10, 0);
    b.host.modePress(...b.at(-10, 0, 10), PLAIN);
    await b.rest();
    expect(b.state.document.pieces).toHaveLength(4);
    expect(b.state.document.undo).toHaveLength(1);
    expect(hover(10, 40)).toBe(true);
    expect(b.state.hand.mode).toMatchObject({ is: 'place', at: null });
  });

  it('holes are sized by their face, or as typed, and go through', async () => {
    const b = await LiveBench.open(host());
    takeHole(b.scene);
    b.host.modeHover(...b.at(10, 0, 10), PLAIN);
    expect(b.state.hand.mode).toMatchObject({ at: { room: { extent: 20, depth: 20 } } });
    setRadius(b.scene, 2);
    b.host.modePress(...b.at(10, 0, 10), PLAIN);
    await b.rest();
    const hole = b.state.document.pieces.find((p) => p.role === 'cutter')!;
    expect(hole).toMatchObject({ parent: 'host', reach: 'through', base: { radius: 2 } });
    // Through from the front: the back is met there, too.
    expect(b.stage.pick(...b.at(10, 0, 10), new Set([hole.id]))).toBeNull();
    expect(b.stage.pick(...b.at(13, 0, 10), new Set([hole.id]))?.piece).toBe('host');
  });
});

describe('a drawn cut', () => {
  it('is pulled open on a face, as deep as typed, and cuts there', async () => {
    const b = await LiveBench.open(host());
    takeCutDrawing(b.scene);
    b.host.modeHover(...b.at(0, 0, 10), PLAIN);
    expect(b.host.modePress(...b.at(-5, -5, 10), PLAIN)).toBe('stroke');
    const [x, y] = b.at(-5, -5, 10);
    const [tx, ty] = b.at(5, 5, 10);
    b.host.modeStroke({ x, y }, { x: tx, y: ty }, false);
    b.host.modeStroke({ x, y }, { x: tx, y: ty }, true);
    await b.rest();
    // Just under the face; twenty to the other side.
    const mode = b.state.hand.mode as { on: { next: number; gap: number; size: number } };
    expect(mode.on.next).toBeCloseTo(20, 1);
    expect(mode.on.gap).toBe(Infinity);
    typeCut(b.scene, { depth: 4 });
    b.host.modePress(...b.at(0, 0, 10), PLAIN);
    await b.rest();
    const cut = b.state.document.pieces.find((p) => p.role === 'cutter')!;
    expect(cut.parent).toBe('host');
    expect(under(b, 0, 0).point.z).toBeGreaterThan(-11);
    const floor = b.stage.pick(...b.at(0, 0, 10), new Set([cut.id]))!;
    expect(floor.point.z).toBeCloseTo(6, 3);
    expect(b.stage.pick(...b.at(6, 0, 10), new Set([cut.id]))!.point.z).toBeCloseTo(10, 3);
    // It goes with its face: as deep in a deeper body, and never inside it.
    expect(cut.anchors!.map((a) => a.hold)).toEqual(['distance', 'centre']);
    editPiece(b.scene, 'host', 'Deeper', (p) => ({
      ...p,
      base: { primitive: 'box', width: 60, height: 20, depth: 30 },
    }));
    await b.rest();
    expect(b.stage.pick(...b.at(0, 0, 15), new Set([cut.id]))!.point.z).toBeCloseTo(11, 3);
    expect(b.stage.pick(...b.at(6, 0, 15), new Set([cut.id]))!.point.z).toBeCloseTo(15, 3);
  });
});

describe('grid, peg and pivot', () => {
  const at = (m: ReadonlyArray<number> | null, column: number): number[] => m!.slice(4 * column, 4 * column + 3).map((v) => Math.round(v * 1e3) / 1e3 + 0); // prettier-ignore
  it('are put on the face under the pointer, on picked elements, or on three picked points', async () => {
    const b = await LiveBench.open(host());
    under(b, 40, 40);
    seatGrid(b.scene, b.stage);
    expect(b.state.panels.notice).toMatchObject({ text: 'Point at a face, or pick some, to seat the grid on.', tone: 'problem' }); // prettier-ignore
    under(b, 7, 3);
    seatGrid(b.scene, b.stage);
    expect([1, 3].map((k) => at(b.state.view.gridFrame, k))).toEqual([[0, 0, 1], [7, 3, 10]]); // prettier-ignore
    await b.hold('face', 'host');
    await b.click([0, 0, 10]);
    seatPeg(b.scene, b.stage);
    expect([1, 3].map((k) => at(b.state.view.peg, k))).toEqual([[0, 0, 1], [0, 0, 10]]); // prettier-ignore
    await b.hold('point', 'host');
    for (const [k, p] of ([[-30, -10, 10], [30, -10, 10], [30, 10, 10]] as Array<[number, number, number]>).entries()) await b.click(p, k > 0); // prettier-ignore
    seatGrid(b.scene, b.stage);
    const { gridFrame } = b.state.view;
    expect(at(gridFrame, 1).map(Math.abs)).toEqual([0, 0, 1]);
    expect([-30, 30]).toContain(at(gridFrame, 3)[0]);
  });

  it('the pivot goes to the middle of what is picked, or of the bounds, and the piece stays', async () => {
    const b = await LiveBench.open(host());
    await b.hold('face', 'host');
    pivotToPicked(b.scene);
    expect(b.state.panels.notice?.text).toBe('Point at a face, or pick some, to put the pivot at.');
    await b.click([0, 0, 10]);
    pivotToPicked(b.scene);
    await b.rest();
    expect(b.piece('host').transform?.move).toEqual([0, 0, 10]);
    expect(b.state.document.undo.at(-1)?.label).toBe('Pivot of Host');
    expect(under(b, 3, 3).point.z).toBeCloseTo(10, 6);
    await b.hold('piece', 'host');
    pivotsTo(b.scene, 'foot');
    await b.rest();
    expect(b.piece('host').transform?.move).toEqual([0, -10, 0]);
    b.scene.store.dispatch(viewActions.pegSet([1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 5, 6, 7, 1]));
    pivotsTo(b.scene, 'peg');
    expect(b.piece('host').transform?.move).toEqual([5, 6, 7]);
  });
});

describe('what an action leaves picked', () => {
  it('is picked once it is built, in every piece in hand', async () => {
    const b = await LiveBench.open(host(), { ...host(), id: 'other', name: 'Other', transform: { move: [0, 30, 0] } }); // prettier-ignore
    await b.hold('face', 'host', 'other');
    await b.click([0, 30, 10]);
    await b.click([0, 0, 10], true);
    await act(b.scene, 'inset', { thickness: 2 });
    await b.rest();
    const { active, picked, beside } = b.state.hand;
    const z = (id: string, faces: ReadonlyArray<number>): number[] => {
      const { shape, positions } = b.stage.cages.of(id)!.cage!;
      return faces.flatMap((f) => [...shape.corners.subarray(shape.faceStart[f], shape.faceStart[f + 1])].map((v) => positions[3 * v])).map(Math.abs); // prettier-ignore
    };
    expect(active).toBe('host');
    expect([z('host', picked), z('other', beside.other)]).toEqual([[28, 28, 28, 28], [28, 28, 28, 28]]); // prettier-ignore
  });

  it('an edit takes other picks where those are made anew', async () => {
    const b = await LiveBench.open(host());
    await b.hold('face', 'host');
    await b.click([0, 0, 10]);
    await act(b.scene, 'inset', { thickness: 2 });
    await b.rest();
    await pickAnew(b.scene, { piece: b.piece('host'), step: null }, 0);
    await b.rest();
    expect(b.state.hand.anew).toEqual({ step: null, action: 0 });
    b.stage.rig.look('top');
    await b.rest();
    await b.click([0, 10, 0]);
    await takePicksAnew(b.scene);
    await b.rest();
    expect(b.state.hand.anew).toBeNull();
    expect(b.piece('host').actions).toMatchObject([
      { op: 'inset', select: { rule: 'picked' }, thickness: 2 },
    ]);
    const tops = b.scene.builds.get('host')!.cage!.positions;
    expect([...tops].filter((_, k) => k % 3 === 0 && Math.abs(tops[k + 1] - 10) < 1e-6 && Math.abs(Math.abs(tops[k]) - 28) < 1e-6)).toHaveLength(4); // prettier-ignore
  });
});

describe('shading in hand', () => {
  it('is drawn from what is picked, the held apart, and as long as it is set', async () => {
    const b = await LiveBench.open({ ...host(), transform: { move: [0, 5, 0], size: [1, 2, 1] } });
    await b.hold('face', 'host');
    await b.click([0, 0, 10]);
    const ask = () => drawnNormals(b.scene).of([{ id: 'host', matrix: [1, 0, 0, 0, 0, 2, 0, 0, 0, 0, 1, 0, 0, 5, 0, 1], selection: { kind: 'face', indices: b.state.hand.picked as number[] } }], 4); // prettier-ignore
    ask();
    await b.rest();
    const drawn = ask();
    expect(drawn.held).toHaveLength(0);
    // Four corners, from the face straight out.
    expect(drawn.free).toHaveLength(24);
    expect([...drawn.free.slice(0, 6)].map(Math.abs)).toEqual([30, expect.any(Number), 10, 30, expect.any(Number), 14]); // prettier-ignore
    expect(ask()).toBe(drawn);
  });

  it('is sampled and applied elsewhere, cast from a piece without picks, and evened out with others', async () => {
    const b = await LiveBench.open(host(), { ...host(), id: 'turned', name: 'Turned', transform: { move: [0, 30, 0], turn: [90, 0, 0] } }); // prettier-ignore
    await applyNormal(b.scene);
    expect(b.state.panels.notice?.text).toBe('Sample a normal first.');
    await b.hold('face', 'host', 'turned');
    await sampleNormal(b.scene);
    expect([hasSample(b.scene), b.state.panels.notice?.tone]).toEqual([false, 'problem']);
    await b.click([0, 0, 10]);
    await sampleNormal(b.scene);
    expect(hasSample(b.scene)).toBe(true);
    await b.click([0, 30, 10], true);
    const cast = () => actOnto(b.scene, 'holdNormals', () => ({ to: 'cast', way: 'nearest', reach: 5 }));
    expect([await cast(), b.state.panels.notice?.tone]).toEqual([false, 'problem']);
    await applyNormal(b.scene);
    await b.rest();
    // Toward the front in the world is the way its own frame says.
    const held = b.piece('turned').actions!.at(-1) as unknown as { direction: number[] };
    expect(held.direction.map((v) => Math.round(v) + 0)).toEqual([0, 1, 0]);
    await actBeside(b.scene, 'holdNormals', () => ({ to: 'even' }));
    await b.rest();
    const even = b.piece('turned').actions!.at(-1) as unknown as { beside: number[][] };
    expect(even.beside).toHaveLength(4);
    for (const [, , , x, y, z] of even.beside) expect(y).toBeGreaterThan(10 * Math.hypot(x, z));
    // From the one piece in hand that has no picks.
    const shell: Piece = {
      id: 'shell',
      name: 'Shell',
      base: { primitive: 'box', width: 62, height: 22, depth: 22 },
    };
    const c = await LiveBench.open(host(), shell);
    c.scene.store.dispatch(handActions.selected({ ids: ['host', 'shell'] }));
    await c.hold('face', 'host', 'shell');
    c.scene.store.dispatch(handActions.piecesPicked({ picks: { host: [0] }, lead: 'host' }));
    const done = await actOnto(c.scene, 'holdNormals', () => ({ to: 'cast', way: 'nearest', reach: 5 }));
    await c.rest();
    expect([done, c.piece('host').actions]).toMatchObject([
      true,
      [{ to: 'cast', surface: { base: { width: 62 } } }],
    ]);
  });

  it('another piece is named by what it is made of while nothing was done to it', async () => {
    const b = await LiveBench.open(host(), { ...host(), id: 'plain', name: 'Plain', transform: { move: [0, 0, 9] } }, { id: 'group', base: { group: true } }); // prettier-ignore
    const of = (other: string | null) => surfaceOf(b.scene, b.piece('host'), other);
    expect(await of('plain')).toMatchObject({
      base: { primitive: 'box' },
      place: expect.arrayContaining([9]),
    });
    expect([await of('host'), await of('group'), await of('none'), await of(null)]).toEqual([null, null, null, null]); // prettier-ignore
  });
});

describe('how much points follow', () => {
  it('is asked once and shown from then on, until something else is asked', async () => {
    const b = await LiveBench.open(host());
    await b.hold('point', 'host');
    const { cage } = b.scene.builds.get('host')!;
    const points = new Uint32Array([0]);
    const of = (reach: number) => gradientOf(b.scene).of('host', cage as never, points, { reach, falloff: 'linear', along: 'space' } as never, 1); // prettier-ignore
    expect(of(40)).toBeNull();
    await b.rest();
    const first = of(40)!;
    expect(first[0]).toBe(1);
    expect([...first].filter((w) => w > 0 && w < 1).length).toBeGreaterThan(0);
    // The last answer stays until the next is there.
    expect(of(5)).toBe(first);
    await b.rest();
    expect([...of(5)!].filter((w) => w > 0)).toEqual([1]);
  });
});
