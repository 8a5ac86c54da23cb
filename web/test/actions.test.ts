/** Actions of the Bench against the real server: what they leave in the stored scene. */
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import 'fake-indexeddb/auto';
import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import { diffDocuments } from '@urnsmith/core/document/patch';
import type { SceneState } from '@urnsmith/core/document/scene';
import type { Piece } from '@urnsmith/core/document/schema';
import { piecesOf, withPieces } from '@urnsmith/core/document/sections';
import { decodeMesh } from '@urnsmith/core/formats/meshBlob';
import { boundsOf, faceNormal, surfaceArea } from '@urnsmith/core/mesh/measure';
import {
  buildPrimitive,
  PRIMITIVE_KINDS,
  type Primitive,
  type PrimitiveKind,
} from '@urnsmith/core/primitives/index';
import { faceCount } from '@urnsmith/core/mesh/PolyMesh';
import { start, type Running } from '../../server/src/start';
import {
  addPrimitive,
  addStep,
  commit,
  addCutting,
  deletePieces,
  duplicatePieces,
  editStep,
  flagPieces,
  groupPieces,
  moveStep,
  moveToLane,
  nest,
  redo,
  removeStep,
  setStaysInWorld,
  shiftStep,
  undo,
} from '../src/state/actions';
import {
  canRestore,
  duplicateAndRemember,
  repeatDuplicate,
  resetPlacement,
  restorePlacement,
  settle,
} from '../src/state/arrange';
import { commandById } from '../src/commands/commands';
import { handActions } from '../src/state/handSlice';
import { viewActions } from '../src/state/viewSlice';
import {
  countRings,
  drawPoint,
  finishDrawing,
  putDrawingAway,
  showAhead,
  takeDrawing,
  undoPoint,
} from '../src/hands/drawing';
import { joinPieces, separateShells } from '../src/state/parts';
import { editTogether, sameBase, sameSteps } from '../src/state/together';
import { selectTwins } from '../src/state/twins';
import type { Scene } from '../src/app/Scene';
import { Outgoing } from '../src/state/outgoing';
import { outbox } from '../src/api/outbox';
import { CanvasStage } from './canvasStage';
import { openScene } from './openScene';
import { modeIn } from '../src/state/mode';

const folder = mkdtempSync(join(tmpdir(), 'urnsmith-actions-'));
let server: Running;
const realFetch = globalThis.fetch;
let away = false;

beforeAll(async () => {
  server = await start({ database: join(folder, 'a.sqlite') });
  // The interface calls its own origin.
  globalThis.fetch = ((path: string, init?: RequestInit) =>
    away ? Promise.reject(new TypeError('away')) : realFetch(server.url + path, init)) as typeof fetch;
});
afterAll(async () => {
  globalThis.fetch = realFetch;
  await server.stop();
  rmSync(folder, { recursive: true });
});

const outgoing = new Outgoing();
let scene: Scene;
let id = '';
async function open(): Promise<void> {
  scene?.close();
  scene = openScene(id, outgoing);
  await scene.open();
}
beforeEach(async () => {
  const r = await fetch('/api/scenes', {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ name: 'Actions' }),
  });
  id = ((await r.json()) as { id: string }).id;
  await open();
});

const pieces = (): Piece[] => scene.store.getState().document.pieces;
const piece = (name: string): Piece => pieces().find((p) => p.name === name)!;
const last = (): string | undefined => scene.store.getState().document.undo.at(-1)?.label;
const stored = async (): Promise<{ pieces: Piece[]; undo: Array<{ label: string }>; redo: unknown[] }> => {
  await scene.saver.settled();
  const state = (await (await fetch(`/api/scenes/${id}`)).json()) as SceneState;
  return { ...state, pieces: piecesOf(state.document) };
};

/** An action of another window, as the server hears it. */
async function elsewhere(change: (list: Piece[]) => Piece[]): Promise<Response> {
  const state = (await (await fetch(`/api/scenes/${id}`)).json()) as SceneState;
  const d = diffDocuments(state.document, withPieces(state.document, change(piecesOf(state.document))))!;
  return fetch(`/api/scenes/${id}/actions`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ id: crypto.randomUUID(), window: 'elsewhere', base: state.seq, kind: 'revision', label: 'elsewhere', ...d }),
  }); // prettier-ignore
}

const cutWith = (host: string, cutters: string[], mode: 'subtract' | 'union'): void => {
  const named = pieces().find((p) => p.id === cutters[0])?.name;
  addCutting(scene, host, { kind: 'cut', mode, cutters }, cutters, `Cut with ${named}`);
};

describe('actions', () => {
  it('add primitives under fresh names, complete with every number', async () => {
    addPrimitive(scene, 'box');
    addPrimitive(scene, 'box', { move: [1, 2, 3] });
    expect(pieces().map((p) => p.name)).toEqual(['Box', 'Box 2']);
    expect(piece('Box').base).toEqual({
      primitive: 'box',
      width: 100,
      height: 100,
      depth: 100,
      segments: [1, 1, 1],
      origin: 'foot',
    });
    expect(piece('Box 2').transform).toEqual({ move: [1, 2, 3] });
    expect(scene.store.getState().hand.selected).toEqual([piece('Box 2').id]);
    expect((await stored()).pieces).toEqual(pieces());
  });

  it('cut: make cutters of pieces, refuse circles, free cutters again', async () => {
    const host = addPrimitive(scene, 'box');
    const tool = addPrimitive(scene, 'cylinder');
    cutWith(host, [tool], 'subtract');
    expect([piece('Cylinder').role, piece('Box').steps![0]]).toMatchObject([
      'cutter',
      { kind: 'cut', mode: 'subtract', cutters: [tool] },
    ]);
    expect(last()).toBe('Cut with Cylinder');
    expect([scene.store.getState().hand.active, scene.store.getState().hand.step]).toEqual([host, 0]);
    cutWith(tool, [host], 'union');
    expect(scene.store.getState().panels.notice).toMatchObject({
      tone: 'problem',
      text: 'That would cut in a circle: Box → Cylinder → Box.',
    });
    cutWith(host, [], 'subtract');
    expect(scene.store.getState().panels.notice!.text).toMatch(/Select the cutters first/);
    removeStep(scene, host, 0, 'Remove the cut');
    expect([piece('Cylinder').role, piece('Box').steps]).toEqual(['cutter', []]);
    expect(scene.store.getState().panels.notice!.text).toBe(
      'Cylinder has nothing to cut now. It stays a cutter and is left out of exports.',
    );
    expect((await stored()).undo).toHaveLength(4);
  });

  it('undo of what was added leaves nothing selected that is gone', async () => {
    const kept = scene.store.getState().document.pieces.length;
    addPrimitive(scene, 'box');
    addPrimitive(scene, 'sphere');
    const [box, ball] = scene.store
      .getState()
      .document.pieces.slice(kept)
      .map((p) => p.id);
    scene.store.dispatch(handActions.selected({ ids: [box, ball] }));
    undo(scene);
    expect(scene.store.getState().hand).toMatchObject({ selected: [box], active: box });
    undo(scene);
    expect(scene.store.getState().hand).toMatchObject({ selected: [], active: null });
  });

  it('delete: children go along, hosts lose the cutter, one undo brings all back', async () => {
    const host = addPrimitive(scene, 'box');
    const tool = addPrimitive(scene, 'cylinder');
    const child = addPrimitive(scene, 'torus');
    cutWith(host, [tool], 'subtract');
    nest(scene, child, tool);
    const before = pieces();
    deletePieces(scene, [tool]);
    expect(pieces().map((p) => [p.name, p.steps])).toEqual([['Box', []]]);
    expect(scene.store.getState().panels.notice).toMatchObject({ undo: true });
    undo(scene);
    expect(pieces()).toEqual(before);
    redo(scene);
    expect((await stored()).pieces.map((p) => p.name)).toEqual(['Box']);
  });

  it('several at once: one number for all of a kind, as much more for each, and nothing where one cannot take it', async () => {
    const [a, b] = [addPrimitive(scene, 'cylinder'), addPrimitive(scene, 'cylinder')];
    const box = addPrimitive(scene, 'box');
    const radius = (v: (x: number) => number) => (p: Piece): Piece => ({ ...p, base: { ...p.base, radius: v((p.base as { radius: number }).radius) } as Piece['base'] });
    const of = (...ids: string[]): Piece[] => ids.map((id) => pieces().find((p) => p.id === id)!);
    expect(sameBase(of(a, box, b)).map((p) => p.id)).toEqual([a, b]);
    editTogether(scene, of(b), 'Radius', radius(() => 9));
    editTogether(scene, of(a, b), 'Radius of Cylinder', radius((x) => x + 1));
    expect(last()).toBe('Radius of Cylinder, 2 at once');
    expect(of(a, b).map((p) => (p.base as { radius: number }).radius)).toEqual([51, 10]);
    const before = pieces();
    const refused = editTogether(scene, of(a, b), 'Radius', radius((x) => x - 20), (p) => ((p.base as { radius: number }).radius > 0 ? null : 'Radius would be below 0.'));
    expect([refused, pieces(), scene.store.getState().panels.notice!.text]).toEqual([false, before, 'Cylinder 2: Radius would be below 0.']);
    // Steps that are like one another: the second rounding of each.
    const round = (width: number) => ({ kind: 'bevel' as const, width });
    for (const [id, widths] of [[a, [1, 2]], [b, [3]], [box, [4, 5]]] as const) for (const w of widths) addStep(scene, id, round(w), 'Round');
    expect(sameSteps(of(a, b, box), 1).map((x) => [x.piece.id, x.index])).toEqual([[a, 1], [box, 1]]);
    // Steps that are given; the cut stays where it is.
    const tool = addPrimitive(scene, 'torus');
    cutWith(box, [tool], 'subtract');
    scene.store.dispatch(handActions.selected({ ids: [b, tool, box] }));
    scene.store.dispatch(handActions.stepChosen(null));
    commandById('give-steps').run(scene);
    expect(of(b, tool).map((p) => p.steps!.map((x) => [x.kind, (x as { width: number }).width]))).toEqual([[['bevel', 3], ['bevel', 4], ['bevel', 5]], [['bevel', 4], ['bevel', 5]]]);
    expect(scene.store.getState().panels.notice!.text).toMatch(/2 pieces have the 2 steps of Box; 1 left out, as they depend on other pieces or picks/);
    commandById('select-host').run(scene);
    scene.store.dispatch(handActions.selected({ ids: [tool] }));
    commandById('select-host').run(scene);
    expect(scene.store.getState().hand.selected).toEqual([box]);
    expect((await stored()).pieces).toEqual(pieces());
  }); // prettier-ignore

  it('new pieces stand on the ground, or on the peg along its axis', () => {
    const added = (kind: PrimitiveKind): { base: Primitive; move: number[] } => {
      const id = addPrimitive(scene, kind);
      const p = pieces().find((x) => x.id === id)!;
      return { base: p.base as Primitive, move: p.transform?.move ?? [0, 0, 0] };
    };
    const low = (base: Primitive): number => boundsOf(buildPrimitive(base)).min[1];
    for (const kind of PRIMITIVE_KINDS) {
      const { base, move } = added(kind);
      expect(move[1] + low(base)).toBeCloseTo(0, 6);
    }
    // A peg in a wall, its axis along X.
    scene.store.dispatch(viewActions.pegSet([0, -1, 0, 0, 1, 0, 0, 0, 0, 0, 1, 0, 7, 8, 9, 1]));
    const { base, move } = added('cone');
    expect(move).toEqual([7 - low(base), 8, 9]);
  });

  it('twins: share base and build; a step added to one is the build of all; made their own they have copies', async () => {
    const host = addPrimitive(scene, 'box');
    const tool = addPrimitive(scene, 'cylinder');
    cutWith(host, [tool], 'subtract');
    scene.store.dispatch(handActions.selected({ ids: [host] }));
    commandById('twin').run(scene);
    expect(piece('Box 2')).toEqual({
      ...piece('Box'),
      id: piece('Box 2').id,
      name: 'Box 2',
      base: { twin: host },
      steps: undefined,
    });
    expect(pieces()).toHaveLength(3);
    commandById('twin').run(scene);
    expect(piece('Box 3').base).toEqual({ twin: host });
    // A rounding added at the last of them is the build of all; base and cutter are now kept there.
    const before = pieces();
    commandById('round').run(scene);
    expect(piece('Box 3').steps!.map((x) => x.kind)).toEqual(['cut', 'bevel']);
    expect([piece('Box').base, piece('Box 2').base]).toEqual([
      { twin: piece('Box 3').id },
      { twin: piece('Box 3').id },
    ]);
    expect(piece('Cylinder').parent).toBe(piece('Box 3').id);
    expect((await stored()).pieces).toEqual(pieces());
    undo(scene);
    undo(scene);
    expect(pieces()).toEqual(before);
    scene.store.dispatch(handActions.selected({ ids: [piece('Box 2').id] }));
    commandById('make-own').run(scene);
    const [step] = piece('Box 2').steps as Array<{ cutters: string[] }>;
    expect(step.cutters).toEqual([piece('Cylinder 2').id]);
    expect(piece('Cylinder 2').parent).toBe(piece('Box 2').id);
    expect(piece('Box 3').base).toEqual({ twin: host });
    // The original goes: what is left of its twins keeps base, build and cutter.
    deletePieces(scene, [host]);
    expect(piece('Box 3').steps!.map((x) => x.kind)).toEqual(['cut']);
    expect(piece('Cylinder').parent).toBe(piece('Box 3').id);
    expect((await stored()).pieces).toEqual(pieces());
  });

  it('twins: what would change the others with it is refused; edits that come by any way go to what is shared', async () => {
    const host = addPrimitive(scene, 'box');
    scene.store.dispatch(handActions.selected({ ids: [host] }));
    commandById('twin').run(scene);
    const twin = piece('Box 2').id;
    settle(scene, [host], ['size']);
    expect(scene.store.getState().panels.notice!.text).toMatch(
      /Box has twins, and they would change with it/,
    );
    commit(scene, 'A step', pieces().map((p) => (p.id === twin ? { ...p, steps: [{ kind: 'normals' }] } : p))); // prettier-ignore
    expect([piece('Box').base, piece('Box 2').steps]).toEqual([{ twin }, [{ id: 's1', kind: 'normals' }]]);
    // Work about the world cannot go over to another place.
    editStep(scene, twin, 0, 'About', () => ({ kind: 'mirror', axes: ['x'], about: 'world' }) as never);
    addStep(scene, host, { kind: 'normals' }, 'Normals');
    expect(scene.store.getState().panels.notice!.text).toMatch(/make Box its own first/);
    expect(piece('Box').steps).toBeUndefined();
    selectTwins(scene);
    expect((await stored()).pieces).toEqual(pieces());
  });

  it('take out: what a cutter removes is a piece nested in the host, and goes when the host goes', async () => {
    const host = addPrimitive(scene, 'box');
    const tool = addPrimitive(scene, 'cylinder');
    commandById('take-out').run(scene);
    expect(scene.store.getState().panels.notice!.text).toMatch(/Select a cutter/);
    cutWith(host, [tool], 'subtract');
    scene.store.dispatch(handActions.selected({ ids: [tool] }));
    commandById('take-out').run(scene);
    expect(piece('Cylinder taken out')).toMatchObject({
      parent: host,
      base: { taken: host, step: piece('Box').steps![0].id, cutter: tool, clearance: 0.2 },
    });
    // Of a split both halves are pieces, with the gap there was.
    editStep(scene, host, 0, 'Split', (s) => ({ ...s, mode: 'split', gap: 3 }) as never);
    scene.store.dispatch(handActions.selected({ ids: [tool] }));
    commandById('take-out').run(scene);
    expect(piece('Box').steps![0]).toMatchObject({ keep: 'outside', gap: 3, mode: 'split' });
    expect(piece('Box inner half').base).toEqual({
      taken: host,
      step: piece('Box').steps![0].id,
      clearance: 1.5,
    });
    undo(scene);
    expect(piece('Box').steps![0]).not.toHaveProperty('keep');
    expect((await stored()).pieces).toEqual(pieces());
    deletePieces(scene, [host]);
    expect(pieces()).toEqual([]);
    expect(scene.store.getState().panels.notice!.text).toBe('Deleted Box with 2 nested in it.');
  });

  it('duplicate: copies of host and cutter cut one another', async () => {
    const host = addPrimitive(scene, 'box');
    const tool = addPrimitive(scene, 'cylinder');
    cutWith(host, [tool], 'subtract');
    const cuttersOf = (name: string): string[] => (piece(name).steps![0] as { cutters: string[] }).cutters;
    duplicatePieces(scene, [host, tool]);
    expect(cuttersOf('Box 2')).toEqual([piece('Cylinder 2').id]);
    // The cutter is nested in its host, so a copy of the host alone has its own.
    duplicatePieces(scene, [host]);
    expect(scene.store.getState().hand.selected).toEqual([piece('Box 3').id]);
    expect(cuttersOf('Box 3')).toEqual([piece('Cylinder 3').id]);
    expect(piece('Cylinder 3').parent).toBe(piece('Box 3').id);
    // A copy of the cutter alone cuts in the same step.
    duplicatePieces(scene, [tool]);
    expect(cuttersOf('Box')).toEqual([tool, piece('Cylinder 4').id]);
    expect(cuttersOf('Box 2')).toEqual([piece('Cylinder 2').id]);
    expect((await stored()).pieces).toHaveLength(7);
  });

  it('keep cutters with what they cut: nested, left in the world on demand, released, deleted along', () => {
    const host = addPrimitive(scene, 'box', { move: [100, 0, 0] });
    const tool = addPrimitive(scene, 'cylinder', { move: [110, 5, 0] });
    const at = (name: string): [string | undefined, number[]] => [
      piece(name).parent,
      piece(name).transform!.move!,
    ];
    cutWith(host, [tool], 'subtract');
    expect(at('Cylinder')).toEqual([host, [10, 5, 0]]);
    setStaysInWorld(scene, tool, true);
    expect([...at('Cylinder'), piece('Cylinder').staysInWorld]).toEqual([undefined, [110, 5, 0], true]);
    // Cutting with it again leaves it there.
    const other = addPrimitive(scene, 'box', { move: [120, 0, 0] });
    cutWith(other, [tool], 'subtract');
    expect(at('Cylinder')[0]).toBeUndefined();
    setStaysInWorld(scene, tool, false);
    expect([...at('Cylinder'), piece('Cylinder').staysInWorld]).toEqual([host, [10, 5, 0], undefined]);
    // Its first host goes; the other still needs it.
    deletePieces(scene, [host]);
    expect(at('Cylinder')).toEqual([other, [-10, 5, 0]]);
    removeStep(scene, other, 0, 'Remove the cut');
    expect([...at('Cylinder'), piece('Cylinder').role]).toEqual([other, [-10, 5, 0], 'cutter']);
    expect(scene.store.getState().panels.notice!.text).toContain('nothing to cut now');
    undo(scene);
    expect(scene.store.getState().panels.notice).toBeNull();
    deletePieces(scene, [other]);
    expect(pieces()).toEqual([]);
    expect(scene.store.getState().panels.notice!.text).toBe('Deleted Box 2 with 1 nested in it.');
  });

  it('nest and group without moving anything in the world', async () => {
    const a = addPrimitive(scene, 'box', { move: [10, 0, 0] });
    const b = addPrimitive(scene, 'torus', { move: [0, 5, 0] });
    nest(scene, b, a);
    expect([piece('Torus').parent, piece('Torus').transform!.move]).toEqual([a, [-10, 5, 0]]);
    nest(scene, a, b);
    expect(scene.store.getState().panels.notice!.text).toBe('Box cannot be nested inside itself.');
    nest(scene, b, null);
    expect([piece('Torus').parent, piece('Torus').transform!.move]).toEqual([undefined, [0, 5, 0]]);
    groupPieces(scene, [a, b]);
    expect([piece('Group').base, piece('Box').parent, piece('Torus').parent]).toEqual([
      { group: true },
      piece('Group').id,
      piece('Group').id,
    ]);
    expect((await stored()).pieces.map((p) => p.name)).toEqual(['Group', 'Box', 'Torus']);
  });

  it('add a step to every selected piece at once, and one undo takes them all', () => {
    const [a, b] = [addPrimitive(scene, 'box'), addPrimitive(scene, 'cylinder')];
    scene.store.dispatch(handActions.selected({ ids: [a, b] }));
    commandById('round')!.run(scene);
    const roundings = (): number[] =>
      ['Box', 'Cylinder'].map((name) => piece(name).steps?.filter((s) => s.kind === 'bevel').length ?? 0);
    expect(roundings()).toEqual([1, 1]);
    commandById('add-step-repeat')!.run(scene);
    expect([piece('Box'), piece('Cylinder')].map((p) => p.steps!.map((s) => s.kind))).toEqual([
      ['bevel', 'repeat'],
      ['bevel', 'repeat'],
    ]);
    undo(scene);
    undo(scene);
    expect(roundings()).toEqual([0, 0]);
  });

  it('move steps along their lane, and into another', () => {
    const a = addPrimitive(scene, 'box');
    addStep(scene, a, { kind: 'bevel', width: 1 }, 'Round');
    addStep(scene, a, { kind: 'normals' }, 'Shade');
    addStep(scene, a, { kind: 'bevel', width: 3 }, 'Round more');
    shiftStep(scene, a, 2, -1);
    expect(piece('Box').steps!.map((s) => (s.kind === 'bevel' ? s.width : s.kind))).toEqual([
      3,
      1,
      'normals',
    ]);
    // To the place of a step of another lane it goes into that one, and back by its own.
    moveStep(scene, a, 0, 2);
    expect(piece('Box').steps!.map((s) => [s.id, s.pin])).toEqual([
      ['s1', undefined],
      ['s2', undefined],
      ['s3', 'Shade'],
    ]);
    moveToLane(scene, a, 2, 'Repeat');
    expect(piece('Box').steps![2]).toMatchObject({ id: 's3', pin: 'Repeat' });
    moveToLane(scene, a, 2, 'Edge');
    expect(piece('Box').steps!.map((s) => [s.id, s.pin])).toEqual(
      ['s1', 's2', 's3'].map((s) => [s, undefined]),
    );
    expect(scene.store.getState().hand.step).toBe(2);
    undo(scene);
    undo(scene);
    undo(scene);
    editStep(scene, a, 0, 'Width', (s) => ({ ...s, width: 4 }) as typeof s);
    expect(piece('Box').steps![0]).toMatchObject({ width: 4 });
    expect(piece('Box').steps!.map((s) => s.id)).toEqual(['s3', 's1', 's2']);
  });

  it('flag, say what they did, and do nothing when nothing changes', () => {
    const a = addPrimitive(scene, 'box');
    flagPieces(scene, [a], 'hidden');
    expect([piece('Box').hidden, last()]).toEqual([true, 'Hide Box']);
    flagPieces(scene, [a], 'hidden');
    expect([piece('Box').hidden, last()]).toEqual([false, 'Show Box']);
    expect(commit(scene, 'Nothing', pieces())).toBe(false);
    expect(last()).toBe('Show Box');
  });

  it('are kept while the server is away and sent when it is back', async () => {
    addPrimitive(scene, 'box');
    await stored();
    away = true;
    addPrimitive(scene, 'cone');
    undo(scene);
    addPrimitive(scene, 'disc');
    await new Promise((r) => setTimeout(r, 50));
    expect(scene.store.getState().document.save).toBe('offline');
    away = false;
    const s = await stored();
    expect(s.pieces.map((p) => p.name)).toEqual(['Box', 'Disc']);
    expect([s.undo.map((r) => r.label), s.redo]).toEqual([['Add Box', 'Add Disc'], []]);
    expect(scene.store.getState().document.save).toBe('saved');
  });

  it('hold together with what another window did to other pieces', async () => {
    const a = addPrimitive(scene, 'box');
    await stored();
    await elsewhere((l) => [...l, { id: 'x', name: 'Theirs', base: { primitive: 'sphere', radius: 4 } }]);
    flagPieces(scene, [a], 'locked');
    const s = await stored();
    expect(s.pieces.map((p) => [p.name, p.locked])).toEqual([
      ['Box', true],
      ['Theirs', undefined],
    ]);
    expect([pieces(), scene.store.getState().document.save]).toEqual([s.pieces, 'saved']);
    // Unchanged pieces are still the same objects: nothing is built again.
    const before = piece('Box');
    await elsewhere((l) => l.filter((p) => p.id !== 'x'));
    await scene.saver.sync();
    expect([pieces().map((p) => p.name), piece('Box') === before]).toEqual([['Box'], true]);
  });

  it('become a scene of their own when another window changed the same piece, and say so', async () => {
    const a = addPrimitive(scene, 'box');
    await stored();
    await elsewhere((l) => l.map((p) => ({ ...p, name: 'Theirs' })));
    addPrimitive(scene, 'cone');
    editStepless(a, 'Mine');
    addPrimitive(scene, 'torus');
    await stored();
    expect(pieces().map((p) => p.name)).toEqual(['Theirs', 'Cone']);
    const [recovered] = scene.store.getState().document.recovered;
    expect(recovered.name).toMatch(/^Actions \(recovered /);
    const copy = (await (await fetch(`/api/scenes/${recovered.id}`)).json()) as SceneState;
    expect(piecesOf(copy.document).map((p) => p.name)).toEqual(['Mine', 'Cone', 'Torus']);
    // The window goes on with the scene as it is.
    addPrimitive(scene, 'disc');
    expect((await stored()).pieces.map((p) => p.name)).toEqual(['Theirs', 'Cone', 'Disc']);
  });

  it('that are refused are set aside with the reason, and those after them are kept', async () => {
    const a = addPrimitive(scene, 'box');
    commit(scene, 'Flatten', pieces().map((p) => ({ ...p, transform: { size: [0, 1, 1] as [number, number, number] } }))); // prettier-ignore
    addPrimitive(scene, 'cone');
    const s = await stored();
    expect(s.pieces.map((p) => [p.name, p.transform])).toEqual([
      ['Box', undefined],
      ['Cone', undefined],
    ]);
    expect(pieces()).toEqual(s.pieces);
    expect([scene.store.getState().document.aside, scene.store.getState().document.save]).toEqual([
      1,
      'saved',
    ]);
    const [aside] = await outbox.asides(id);
    expect(aside).toMatchObject({ label: 'Flatten', reason: expect.stringContaining('A size of 0') });
    await outbox.dropAside(aside.id);
    expect(await outbox.asides(id)).toEqual([]);
    flagPieces(scene, [a], 'hidden');
    expect((await stored()).pieces[0].hidden).toBe(true);
  });

  it('shorten names that grow too long, and give copies short ones of their own', async () => {
    const long = 'Bracket '.repeat(40).trim();
    commit(scene, 'Long', [
      { id: 'l', name: long, base: { primitive: 'box', width: 1, height: 1, depth: 1 } },
    ]);
    expect(pieces()[0].name).toHaveLength(120);
    for (let k = 0; k < 30; k++) duplicatePieces(scene, [pieces().at(-1)!.id]);
    const names = pieces().map((p) => p.name!);
    expect([new Set(names).size, Math.max(...names.map((n) => n.length))]).toEqual([31, 120]);
    commit(scene, 'Bolt', [...pieces(), { id: 'b', name: 'Bolt copy copy', base: { group: true } }]);
    duplicatePieces(scene, ['b']);
    duplicatePieces(scene, [pieces().at(-1)!.id]);
    expect(pieces().slice(-2).map((p) => p.name)).toEqual(['Bolt', 'Bolt 2']); // prettier-ignore
    expect((await stored()).pieces).toHaveLength(34);
    expect(scene.store.getState().document.aside).toBe(0);
  });

  it('undo on and on, over pages fetched from the journal', async () => {
    addPrimitive(scene, 'box');
    for (let k = 1; k <= 230; k++) commit(scene, `Width ${k}`, pieces().map((p) => ({ ...p, base: { primitive: 'box', width: k, height: 1, depth: 1 } }))); // prettier-ignore
    await stored();
    await open();
    expect(scene.store.getState().document.undo).toHaveLength(200);
    for (let k = 0; k < 231; k++) {
      undo(scene);
      if (k % 20 === 0) await new Promise((r) => setTimeout(r, 30));
    }
    expect(pieces()).toEqual([]);
    const s = await stored();
    expect([s.pieces, s.undo, scene.store.getState().document.aside]).toEqual([[], [], 0]);
    for (let k = 0; k < 231; k++) redo(scene);
    expect((await stored()).pieces[0].base).toMatchObject({ width: 230 });
    const { undo: steps } = scene.store.getState().document;
    await scene.saver.goTo(steps[9].action);
    expect([last(), pieces()[0].base]).toMatchObject([steps[9].label, { width: 9 }]);
  });

  it('of one scene leave nothing behind in another', async () => {
    addPrimitive(scene, 'box');
    duplicateAndRemember(scene);
    const [, copy] = pieces();
    commit(scene, 'Move', pieces().map((p) => (p.id === copy.id ? { ...p, transform: { move: [9, 0, 0] } } : p))); // prettier-ignore
    resetPlacement(scene, [copy.id]);
    expect(canRestore(scene, [copy.id])).toBe(true);
    scene.store.dispatch(handActions.selected({ ids: [copy.id] }));
    await stored();
    await open();
    // The same scene, opened again: what was in hand is gone, and so is what is remembered of it.
    expect([canRestore(scene, [copy.id]), scene.store.getState().hand.selected]).toEqual([false, []]);
    const before = pieces().length;
    repeatDuplicate(scene);
    expect([pieces().length, scene.store.getState().panels.notice?.tone]).toEqual([before, 'problem']);
  });

  it('tell the truth about where work is while the server cannot store it', async () => {
    await stored();
    away = true;
    addPrimitive(scene, 'box');
    addPrimitive(scene, 'cone');
    await new Promise((r) => setTimeout(r, 50));
    expect(scene.store.getState().document).toMatchObject({ save: 'offline', waiting: 2, held: 2 });
    away = false;
    await stored();
    expect(scene.store.getState().document).toMatchObject({ save: 'saved', waiting: 0 });
    expect(await outbox.all()).toEqual([]);
  });
});

const editStepless = (piece: string, name: string): boolean =>
  commit(scene, `Rename to ${name}`, pieces().map((p) => (p.id === piece ? { ...p, name } : p))); // prettier-ignore

describe('pieces arranged', () => {
  beforeEach(() => {
    commit(scene, 'Two boxes', [
      { id: 'a', name: 'A', base: { primitive: 'box', width: 10, height: 10, depth: 10 }, transform: { move: [0, 0, 0] } },
      { id: 'b', name: 'B', base: { primitive: 'box', width: 10, height: 10, depth: 10 }, transform: { move: [30, 5, 0], turn: [0, 30, 0] } },
    ]); // prettier-ignore
  });

  it('repeat an offset as one entry of the history, again and again', async () => {
    scene.store.dispatch(handActions.selected({ ids: ['a'] }));
    duplicateAndRemember(scene);
    const copy = scene.store.getState().hand.selected[0];
    commit(scene, 'Move it', pieces().map((p) => (p.id === copy ? { ...p, transform: { move: [12, 0, 3] } } : p))); // prettier-ignore
    const before = scene.store.getState().document.undo.length;
    repeatDuplicate(scene);
    repeatDuplicate(scene);
    expect(scene.store.getState().document.undo).toHaveLength(before + 2);
    const moves = pieces().slice(3).map((p) => p.transform!.move!.map((x) => Math.round(x))); // prettier-ignore
    expect(moves).toEqual([
      [24, 0, 6],
      [36, 0, 9],
    ]);
    undo(scene);
    expect(pieces()).toHaveLength(4);
    expect((await stored()).pieces).toHaveLength(4);
  });

  it('have nothing to repeat before something was duplicated and is still there', () => {
    scene.store.dispatch(handActions.selected({ ids: ['a'] }));
    duplicateAndRemember(scene);
    undo(scene);
    repeatDuplicate(scene);
    expect(scene.store.getState().panels.notice!.text).toContain('Duplicate a piece');
    expect(pieces()).toHaveLength(2);
  });

  it('lose a placement and get it back', () => {
    resetPlacement(scene, ['b']);
    expect(piece('B').transform).toBeUndefined();
    expect(canRestore(scene, ['b'])).toBe(true);
    restorePlacement(scene, ['b']);
    expect(piece('B').transform).toEqual({ move: [30, 5, 0], turn: [0, 30, 0] });
    expect([canRestore(scene, ['b']), last()]).toEqual([false, 'Restore placement of B']);
  });

  it('are grouped with what stays elsewhere told', () => {
    const [a, b] = pieces();
    groupPieces(scene, [a.id]);
    expect(last()).toBe('Group 1 piece');
    groupPieces(scene, [a.id, b.id]);
    expect([last(), scene.store.getState().panels.notice?.text]).toEqual(['Group 1 piece', '1 piece nested elsewhere, left there.']); // prettier-ignore
  });

  it('are settled, reset and put back all together', () => {
    const placed = (): unknown[] => pieces().map((p) => p.transform);
    const before = placed();
    const ids = pieces().map((p) => p.id);
    resetPlacement(scene, ids);
    expect(placed()).toEqual([undefined, undefined]);
    expect(last()).toMatch(/^Reset placement of (2 pieces|B)$/);
    restorePlacement(scene, ids);
    expect(placed()).toEqual(before);
    scene.store.dispatch(handActions.selected({ ids }));
    commandById('settle').run(scene);
    for (const p of pieces()) expect([p.name, p.transform?.move ?? [0, 0, 0]]).toEqual([p.name, [0, 0, 0]]);
    expect(last()).toBe('Apply move, turn, size of 2 pieces');
  });

  it('say why they cannot be joined or separated', async () => {
    const told = (): string => scene.store.getState().panels.notice!.text;
    scene.store.dispatch(handActions.selected({ ids: ['a'] }));
    await joinPieces(scene);
    expect(told()).toContain('at least two');
    commit(scene, 'Lock one', pieces().map((p) => (p.id === 'b' ? { ...p, locked: true } : p))); // prettier-ignore
    scene.store.dispatch(handActions.selected({ ids: ['a', 'b'] }));
    await joinPieces(scene);
    expect(told()).toContain('unlocked');
    cutWith('b', ['a'], 'subtract');
    commit(scene, 'A third', [...pieces().map((p) => ({ ...p, locked: undefined })), { id: 'c', name: 'C', base: pieces()[0].base }]); // prettier-ignore
    scene.store.dispatch(handActions.selected({ ids: ['a', 'c'] }));
    await joinPieces(scene);
    expect(told()).toContain('B is cut by a piece that would be gone');
    scene.store.dispatch(handActions.selected({ ids: [] }));
    await separateShells(scene);
    expect(told()).toBe('Select a piece with faces first.');
    expect(pieces()).toHaveLength(3);
  });
});

describe('drawing on the stage', () => {
  const stage = new CanvasStage();
  const lines = () => modeIn(scene.store.getState(), 'draw')?.lines;

  it('sets points, takes them back, begins further lines and closes them', () => {
    scene.store.dispatch(handActions.modeTaken({ is: 'draw', tool: 'knife', lines: [] }));
    drawPoint(scene, stage.asStage, [0, 0, 0]);
    drawPoint(scene, stage.asStage, [1, 0, 0]);
    drawPoint(scene, stage.asStage, [1, 1, 0]);
    undoPoint(scene);
    expect(lines()).toEqual([[[0, 0, 0], [1, 0, 0]]]); // prettier-ignore
    drawPoint(scene, stage.asStage, [5, 0, 0], { apart: true });
    drawPoint(scene, stage.asStage, [6, 0, 0]);
    drawPoint(scene, stage.asStage, [6, 1, 0]);
    drawPoint(scene, stage.asStage, [5, 0, 0], { closes: true });
    expect(lines()!.map((l) => l.length)).toEqual([2, 4, 0]);
    expect(lines()![1][3]).toEqual([5, 0, 0]);
    // Back over the end of a line into the one before.
    for (let k = 0; k < 5; k++) undoPoint(scene);
    expect(lines()).toEqual([[[0, 0, 0]]]);
    putDrawingAway(scene);
    expect(lines()).toBeUndefined();
    undoPoint(scene);
    drawPoint(scene, stage.asStage, [0, 0, 0]);
    expect(scene.store.getState().hand.mode).toBeNull();
  });

  it('counts the rings of a cut before it is made, from one on', () => {
    const count = () => modeIn(scene.store.getState(), 'draw')?.count;
    scene.store.dispatch(handActions.modeTaken({ is: 'draw', tool: 'knife', lines: [] }));
    countRings(scene, 1);
    expect(count()).toBeUndefined();
    scene.store.dispatch(handActions.modeTaken({ is: 'draw', tool: 'ring', lines: [] }));
    for (const by of [1, 1, 1, -1]) countRings(scene, by);
    expect(count()).toBe(3);
    for (let k = 0; k < 9; k++) countRings(scene, -1);
    expect(count()).toBe(1);
  });

  it('shows where the next point would be, and keeps lines that could not be cut', async () => {
    const line: [number, number, number][] = [[0, 0, 0], [9, 0, 0]]; // prettier-ignore
    scene.store.dispatch(handActions.modeTaken({ is: 'draw', tool: 'knife', lines: [line] }));
    const shown = () => modeIn(scene.store.getState(), 'draw');
    showAhead(scene, [4, 5, 6]);
    expect([shown()!.ahead, shown()!.lines]).toEqual([[4, 5, 6], [line]]);
    const before = shown();
    showAhead(scene, [4, 5, 6]);
    expect(shown()).toBe(before);
    // With no elements in hand there is nothing to cut.
    await finishDrawing(scene, stage.asStage);
    expect(lines()).toEqual([line]);
    scene.store.dispatch(handActions.modeTaken({ is: 'draw', tool: 'knife', lines: [[[0, 0, 0]]] }));
    await finishDrawing(scene, stage.asStage);
    expect(lines()).toBeUndefined();
  });

  it('makes a piece of a face drawn with nothing in hand, in the frame of the grid', async () => {
    scene.store.dispatch(viewActions.gridSeated([1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 20, 0, 1]));
    await takeDrawing(scene, 'face');
    for (const p of [[0, 20, 0], [10, 20, 0], [10, 20, 8]] as const) drawPoint(scene, stage.asStage, [...p]); // prettier-ignore
    stage.rig.look('top');
    await finishDrawing(scene, stage.asStage);
    const sheet = pieces().at(-1)!;
    expect([sheet.name, sheet.transform!.move]).toEqual(['Sheet', [0, 20, 0]]);
    await stored();
    const bytes = await fetch(`/api/meshes/${(sheet.base as { blob: string }).blob}`);
    const mesh = decodeMesh(new Uint8Array(await bytes.arrayBuffer()));
    expect([faceCount(mesh), surfaceArea(mesh)]).toEqual([1, 40]);
    // The face looks up at the viewer, who drew it from above.
    expect(faceNormal(mesh, 0)).toEqual([0, 1, 0]);
    expect(scene.store.getState().hand.selected).toEqual([sheet.id]);
  });

  it('keeps what was drawn when it is no face, and says why', async () => {
    await takeDrawing(scene, 'face');
    drawPoint(scene, stage.asStage, [0, 0, 0]);
    drawPoint(scene, stage.asStage, [10, 0, 0]);
    const before = pieces().length;
    await finishDrawing(scene, stage.asStage);
    expect(scene.store.getState().panels.notice!.text).toContain('at least three points');
    expect([pieces().length, lines()![0].length]).toEqual([before, 2]);
    // Taken again, the tool is put away.
    await takeDrawing(scene, 'face');
    expect(lines()).toBeUndefined();
    // Tools for elements need some in hand.
    await takeDrawing(scene, 'knife');
    expect(lines()).toBeUndefined();
  });
});
