/**
 * Hands at the Bench with everything real but the drawing: clicks, boxes, strokes and drags on built pieces.
 *
 * @covers web/src/hands, web/src/state
 */
import { describe, expect, it, vi } from 'vitest';
import { Vector3 } from 'three';
import type { Piece } from '@urnsmith/core/document/schema';
import type { DragValue } from '../src/hands/dragValue';
import { walkPicks } from '../src/hands/walkPicks';
import { handActions } from '../src/state/handSlice';
import { settingActions } from '../src/state/settingSlice';
import { undo } from '../src/state/actions';
import { LiveBench } from './liveBench';

vi.mock('../src/viewport/screens', () => import('./noScreens'));

const grid: Piece = { id: 'grid', name: 'Grid', base: { primitive: 'box', width: 20, height: 20, depth: 20, segments: [4, 4, 1] } }; // prettier-ignore
const block: Piece = { id: 'block', name: 'Block', base: { primitive: 'box', width: 6, height: 6, depth: 6 }, transform: { move: [30, 0, 0] } }; // prettier-ignore
const drag = (v: Partial<DragValue>): DragValue => ({ tool: 'move', axes: [0], move: [0, 0, 0], degrees: 0, factors: [1, 1, 1], ...v }); // prettier-ignore
/** Middles of the 16 faces at the front, in rows. */
const front = (column: number, row: number): [number, number, number] => [-7.5 + 5 * column, -7.5 + 5 * row, 10]; // prettier-ignore

/** Middles of what is picked of a piece, rounded, in any order. */
function picked(b: LiveBench, id = 'grid'): string[] {
  const { hand } = b.state;
  const view = b.stage.cages.of(id)!;
  const { shape, positions } = view.cage!;
  const of = id === hand.active ? hand.picked : (hand.beside[id] ?? []);
  const pointsOf = (i: number): number[] =>
    hand.level === 'point' ? [i] : hand.level === 'edge' ? [shape.edges[2 * i], shape.edges[2 * i + 1]] : [...shape.corners.subarray(shape.faceStart[i], shape.faceStart[i + 1])]; // prettier-ignore
  return of.map((i) => {
    const points = pointsOf(i);
    return [0, 1, 2].map((k) => Number((points.reduce((s, v) => s + positions[3 * v + k], 0) / points.length).toFixed(2))).join(); // prettier-ignore
  });
}
const places = (...list: number[][]): string[] => list.map((p) => p.join());

describe('a click on an element', () => {
  it('picks it alone; with Shift it is added, and taken out again', async () => {
    const b = await LiveBench.open(grid);
    await b.hold('face', 'grid');
    await b.click(front(1, 1));
    await b.click(front(2, 1));
    expect(picked(b)).toEqual(places(front(2, 1)));
    await b.click(front(0, 0), true);
    expect(picked(b).sort()).toEqual(places(front(0, 0), front(2, 1)).sort());
    const [x, y] = b.at(...front(2, 1));
    expect(b.host.elements.isPicked(b.host.elements.at(x, y)!)).toBe(true);
    await b.click(front(2, 1), true);
    expect(picked(b)).toEqual(places(front(0, 0)));
    expect(b.host.elements.isPicked(b.host.elements.at(x, y)!)).toBe(false);
  });

  it('beside the piece lets all go, and says how to get many back', async () => {
    const b = await LiveBench.open(grid);
    await b.hold('face', 'grid');
    for (const k of [0, 1, 2]) await b.click(front(k, 0), true);
    await b.click([-25, 0, 10], true);
    expect(picked(b)).toHaveLength(3);
    await b.click([-25, 0, 10]);
    expect([picked(b), b.state.panels.notice]).toEqual([[], null]);
    for (const k of [0, 1, 2, 3]) await b.click(front(k, 0), true);
    await b.click([-25, 0, 10]);
    expect([picked(b), b.state.panels.notice?.text]).toEqual([[], '4 picks were let go.']);
    expect(b.state.panels.notice?.picks).toBe(true);
  });

  it('on another piece takes that in hand, or both with Shift, unless it is locked', async () => {
    const locked: Piece = { ...block, id: 'locked', name: 'Locked', locked: true, transform: { move: [-30, 0, 0] } }; // prettier-ignore
    const b = await LiveBench.open(grid, block, locked);
    await b.hold('face', 'grid');
    await b.click(front(0, 0));
    await b.click([-30, 0, 3]);
    expect([b.state.hand.active, picked(b)]).toEqual(['grid', []]);
    await b.click(front(0, 0));
    await b.click([30, 0, 3], true);
    await b.rest();
    expect([b.state.hand.active, b.state.hand.selected]).toEqual(['block', ['grid', 'block']]);
    expect([picked(b, 'block'), picked(b)]).toEqual([places([0, 0, 3]), places(front(0, 0))]);
    await b.click([31, 1, 3]);
    expect([picked(b, 'block'), picked(b)]).toEqual([places([0, 0, 3]), []]);
  });

  it('twice takes the loop of an edge, its ring across, or the strip of faces', async () => {
    const b = await LiveBench.open(grid);
    await b.hold('edge', 'grid');
    const twice = async (x: number, y: number, add: boolean, across: boolean): Promise<void> => {
      const at = b.at(x, y, 10);
      b.host.elements.twice(b.host.elements.at(...at), add, across);
      await b.rest();
    };
    await twice(0, 7.5, false, false);
    const loop = picked(b);
    expect(loop).toEqual(expect.arrayContaining(places([0, -7.5, 10], [0, 7.5, 10], [0, 7.5, -10])));
    expect(loop).not.toContain('-5,7.5,10');
    await twice(0, 7.5, false, true);
    const ring = picked(b);
    expect(ring).toEqual(expect.arrayContaining(places([-5, 7.5, 10], [5, 7.5, 10])));
    expect(ring).not.toContain('0,2.5,10');
    await twice(5, 7.5, true, false);
    expect(picked(b)).toEqual(expect.arrayContaining([...ring, '5,-7.5,10']));
    b.scene.store.dispatch(handActions.levelTaken('face'));
    await b.rest();
    // The strip goes on over the edge the pointer is nearest to.
    await twice(-2.5, 4.6, false, false);
    expect(picked(b)).toEqual(expect.arrayContaining(places(front(1, 0), front(1, 3))));
    expect(picked(b)).not.toContain(front(0, 2).join());
    await twice(-2.5, 4.6, false, true);
    expect(picked(b)).toEqual(expect.arrayContaining(places(front(0, 2), front(3, 2))));
    expect(picked(b)).not.toContain(front(1, 0).join());
  });

  it('is told as pointed at once, however often it moves there', async () => {
    const b = await LiveBench.open(grid);
    await b.hold('face', 'grid');
    const seen: unknown[] = [];
    const stop = b.scene.store.subscribe(() => seen.push(b.state.hand.pointed));
    const at = (x: number, y: number) => b.host.elements.at(...b.at(x, y, 10));
    b.host.elements.point(at(1, 1));
    b.host.elements.point(at(2, 2));
    b.host.elements.point(null);
    b.host.elements.point(null);
    stop();
    expect(seen).toEqual([at(1, 1)!.element, null]);
  });
});

describe('a box, a lasso and a brush', () => {
  const box = (b: LiveBench, x0: number, y0: number, x1: number, y1: number) =>
    [[x0, y0], [x1, y0], [x1, y1], [x0, y1]].map(([x, y]) => { const [cx, cy] = b.at(x, y, 10); return { x: cx, y: cy }; }); // prettier-ignore
  it('pick what lies inside, add to it, and take away where all of it is picked', async () => {
    const b = await LiveBench.open(grid);
    await b.hold('face', 'grid');
    const inside = async (add: boolean, ...corners: [number, number, number, number]): Promise<string[]> => {
      await b.host.elements.inside(box(b, ...corners), add);
      await b.rest();
      return picked(b).sort();
    };
    expect(await inside(false, -11, -11, 0.5, 0.5)).toEqual(places(front(0, 0), front(0, 1), front(1, 0), front(1, 1)).sort()); // prettier-ignore
    expect(await inside(true, -11, -11, 11, -4.5)).toEqual(places(front(0, 0), front(0, 1), front(1, 0), front(1, 1), front(2, 0), front(3, 0)).sort()); // prettier-ignore
    expect(await inside(true, -11, -11, 11, -4.5)).toEqual(places(front(0, 1), front(1, 1)).sort());
    expect(await inside(true, 40, 40, 50, 50)).toEqual(places(front(0, 1), front(1, 1)).sort());
    expect(await inside(false, 40, 40, 50, 50)).toEqual([]);
  });

  it('paint over one element after another; picked ones stay', async () => {
    const b = await LiveBench.open(grid);
    await b.hold('face', 'grid');
    for (const k of [0, 1, 1, 2]) b.host.elements.paint(b.host.elements.at(...b.at(...front(k, 0)))!);
    expect(picked(b)).toEqual(places(front(0, 0), front(1, 0), front(2, 0)));
  });
});

describe('keys', () => {
  it('go from element to element, from what the pointer or the keys picked last, and say where it ends', async () => {
    const b = await LiveBench.open(grid);
    await b.hold('face', 'grid');
    await walkPicks(b.scene, 'up', false);
    const first = picked(b)[0].split(',').map(Number);
    await walkPicks(b.scene, 'right', false);
    expect(picked(b)).toEqual(places([first[0] + 5, first[1], 10]));
    await walkPicks(b.scene, 'left', true);
    expect(picked(b).sort()).toEqual(places(first, [first[0] + 5, first[1], 10]).sort());
    await b.click(front(3, 0));
    await walkPicks(b.scene, 'down', false);
    await walkPicks(b.scene, 'down', false);
    expect(b.state.panels.notice?.text).toBe('There is nothing further down.');
    expect(b.state.panels.notice?.tone).toBe('info');
  });
});

describe('a drag of pieces', () => {
  it('shows them on their way, and is one action by its name when the hand lets go', async () => {
    const b = await LiveBench.open(grid, block);
    await b.hold('piece', 'block');
    expect(b.host.dragStart()).toHaveLength(3);
    b.host.dropped();
    expect(b.state.document.undo).toHaveLength(0);
    b.host.dragStart();
    b.host.dragged(drag({ move: [3, 0, 0] }));
    expect(b.state.document.preview?.block?.transform?.move).toEqual([33, 0, 0]);
    expect(b.said.at(-1)).toBe('X 3 mm');
    b.host.dragged(drag({ move: [5, 0, 0] }));
    b.host.dropped();
    expect([b.piece('block').transform!.move, b.said.at(-1)]).toEqual([[35, 0, 0], '']);
    expect(b.state.document.undo.at(-1)?.label).toBe('Move Block');
    b.host.dragStart();
    b.host.dragged(drag({ move: [9, 0, 0] }));
    b.host.aborted();
    expect([b.state.document.preview, b.piece('block').transform!.move]).toEqual([null, [35, 0, 0]]);
    b.scene.store.dispatch(handActions.selected({ ids: ['grid', 'block'] }));
    b.host.dragStart();
    b.host.dragged(drag({ tool: 'turn', axes: [2], degrees: 90 }));
    b.host.dropped();
    expect(b.state.document.undo.at(-1)?.label).toBe('Turn 2 pieces');
    expect(b.piece('grid').transform!.turn).toEqual([0, 0, 90]);
    b.scene.store.dispatch(handActions.selected({ ids: [] }));
    expect(b.host.dragStart()).toBeNull();
  });
});

describe('a drag of elements', () => {
  it('moves what is picked on all pieces in hand as one action, and says which points go along', async () => {
    const b = await LiveBench.open(grid, block);
    await b.hold('face', 'grid', 'block');
    await b.click([30, 0, 3]);
    await b.click(front(0, 0), true);
    expect(b.host.dragStart()).toHaveLength(3);
    b.host.dragged(drag({ move: [0, 0, 2] }));
    b.host.dropped();
    await b.rest();
    expect(b.piece('grid').actions).toMatchObject([{ op: 'transform', move: [0, 0, 2] }]);
    expect(b.piece('block').actions).toMatchObject([{ op: 'transform', move: [0, 0, 2] }]);
    expect(b.state.document.undo).toHaveLength(1);
    // The moved faces stay picked, also after undo.
    expect(picked(b, 'block')).toEqual(places([0, 0, 5]));
    undo(b.scene);
    await b.rest();
    expect([picked(b, 'block'), picked(b)]).toEqual([places([0, 0, 3]), places(front(0, 0))]);
  });

  it('lies down on another piece where that is asked for', async () => {
    const plate: Piece = { id: 'plate', name: 'Plate', base: { primitive: 'box', width: 80, height: 80, depth: 2 }, transform: { move: [0, 0, 16] }, hidden: true }; // prettier-ignore
    const b = await LiveBench.open(grid, plate);
    await b.hold('face', 'grid');
    b.scene.store.dispatch(settingActions.elementSettings({ onto: 'plate' }));
    await b.click(front(1, 1));
    b.host.dragStart();
    b.host.dragged(drag({ move: [0, 0, 4.5] }));
    b.host.dropped();
    await b.rest();
    expect(b.piece('grid').actions).toMatchObject([{ surface: { base: { primitive: 'box' }, place: [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 16, 1] } }]); // prettier-ignore
    expect(picked(b)).toEqual(places([-2.5, -2.5, 15]));
    // A piece does not lie down on itself.
    b.scene.store.dispatch(settingActions.elementSettings({ onto: 'grid' }));
    b.host.dragStart();
    b.host.dragged(drag({ move: [0, 0, 1] }));
    b.host.dropped();
    await b.rest();
    expect(b.piece('grid').actions!.at(-1)).not.toHaveProperty('surface');
  });

  it('begins nowhere on a locked piece, or with nothing picked', async () => {
    const b = await LiveBench.open(grid);
    await b.hold('face', 'grid');
    expect(b.host.dragStart()).toBeNull();
  });

  it('with a brush reaches as far as its pixels span there; the wheel makes it larger', async () => {
    const b = await LiveBench.open(grid);
    await b.hold('point', 'grid');
    await b.click([0, 0, 10]);
    b.scene.store.dispatch(settingActions.elementSettings({ reach: 3, brush: true, brushSize: 60 }));
    b.host.dragStart();
    expect(b.state.settings.elements.reach).toBe(3);
    expect(b.host.dragWheel(-1, true)).toBe(false);
    b.scene.store.dispatch(settingActions.elementSettings({ soft: true }));
    b.host.dragStart();
    // One millimetre in ten pixels.
    expect(b.state.settings.elements.reach).toBeCloseTo(6, 6);
    expect(b.host.dragWheel(-1, true)).toBe(true);
    expect(b.state.settings.elements).toMatchObject({ reach: Number((6 * Math.exp(0.12)).toPrecision(4)), brushSize: Number((60 * Math.exp(0.12)).toPrecision(4)) }); // prettier-ignore
    expect(b.host.dragWheel(-1, false)).toBe(false);
  });
});

describe('what a drag holds by', () => {
  it('is the corner near the pointer, else the place on the surface', async () => {
    const b = await LiveBench.open(grid, block);
    await b.hold('piece', 'grid');
    const radius = b.state.settings.elements.pickRadius / 10;
    const heldAt = (x: number, y: number): number[] | undefined => b.host.heldAt(...b.at(x, y, 10))?.toArray().map((v) => Number(v.toFixed(6))); // prettier-ignore
    expect(heldAt(9.9 - radius, 9.9)).toEqual([10, 10, 10]);
    expect(heldAt(9.9 - 1.6 * radius, 10 - 1.6 * radius)).not.toEqual([10, 10, 10]);
    expect(heldAt(2, 3)).toEqual([2, 3, 10]);
    expect(heldAt(-25, 0)).toBeUndefined();
    await b.hold('face', 'grid');
    await b.click(front(2, 2));
    expect(heldAt(0.2, 0.2)).toEqual([0, 0, 10]);
    expect(heldAt(2.5, 2.6)).toEqual([2.5, 2.6, 10]);
    expect(heldAt(-2.5, 2.6)).toBeUndefined();
    await b.hold('edge', 'grid');
    await b.click([0, 2.5, 10]);
    expect(heldAt(0, 4.8)).toEqual([0, 5, 10]);
    await b.hold('point', 'grid');
    await b.click([5, 5, 10]);
    expect(heldAt(5.1, 5)).toEqual([5, 5, 10]);
    expect(b.host.dragStart()?.map((v: Vector3) => v.length())).toEqual([1, 1, 1]);
  });
});

describe('clicks and boxes on pieces', () => {
  it('select, add, and leave alone what is selected where Shift hits nothing', async () => {
    const b = await LiveBench.open(grid, block);
    b.host.click('grid', false);
    b.host.click('block', true);
    expect(b.host.selected()).toEqual(['grid', 'block']);
    b.host.click('grid', true);
    b.host.click(null, true);
    expect(b.host.selected()).toEqual(['block']);
    b.host.box(['grid'], true);
    expect(b.host.selected()).toEqual(['block', 'grid']);
    b.host.box(['grid'], false);
    expect(b.host.selected()).toEqual(['grid']);
    b.host.click(null, false);
    expect(b.host.selected()).toEqual([]);
    b.host.hover({ piece: 'grid', story: ['x'] } as never);
    expect([b.state.hints.hovered, b.state.hints.story]).toEqual(['grid', []]);
    b.host.click('grid', false);
    b.host.hover({ piece: 'grid', story: ['x'] } as never);
    expect(b.state.hints.story).toEqual(['x']);
    b.host.hover(null);
    expect([b.state.hints.hovered, b.state.hints.story]).toEqual([null, []]);
  });
});
