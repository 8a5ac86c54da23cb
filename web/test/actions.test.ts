/** Actions of the Bench against the real server: what they leave in the stored scene. */
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import type { Piece } from '@urnsmith/core/document/schema';
import { start, type Running } from '../../server/src/start';
import {
  addPrimitive,
  addStep,
  commit,
  cutWith,
  deletePieces,
  duplicatePieces,
  editStep,
  flagPieces,
  groupPieces,
  moveStep,
  nest,
  redo,
  removeStep,
  shiftStep,
  undo,
} from '../src/state/actions';
import { bench } from '../src/state/benchSlice';
import { saver } from '../src/state/saving';
import { store } from '../src/state/store';

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

let id = '';
beforeEach(async () => {
  const r = await fetch('/api/scenes', {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ name: 'Actions' }),
  });
  id = ((await r.json()) as { id: string }).id;
  store.dispatch(bench.benchCleared());
  await saver.open(id);
});

const pieces = (): Piece[] => store.getState().document.pieces;
const piece = (name: string): Piece => pieces().find((p) => p.name === name)!;
const last = (): string | undefined => store.getState().document.undo.at(-1)?.label;
const stored = async (): Promise<{
  document: { pieces: Piece[] };
  undo: Array<{ label: string }>;
  redo: unknown[];
}> => {
  await new Promise((r) => setTimeout(r, 20));
  await saver.settled();
  return (await (await fetch(`/api/scenes/${id}`)).json()) as never;
};

describe('actions', () => {
  it('add primitives under fresh names, complete with every number', async () => {
    addPrimitive('box');
    addPrimitive('box', [1, 2, 3]);
    expect(pieces().map((p) => p.name)).toEqual(['Box', 'Box 2']);
    expect(piece('Box').base).toEqual({
      primitive: 'box',
      width: 100,
      height: 100,
      depth: 100,
      segments: [1, 1, 1],
    });
    expect(piece('Box 2').transform).toEqual({ move: [1, 2, 3] });
    expect(store.getState().bench.selected).toEqual([piece('Box 2').id]);
    expect((await stored()).document.pieces).toEqual(pieces());
  });

  it('cut: make cutters of pieces, refuse circles, free cutters again', async () => {
    const host = addPrimitive('box');
    const tool = addPrimitive('cylinder');
    cutWith(host, [tool], 'subtract');
    expect([piece('Cylinder').role, piece('Box').steps![0]]).toMatchObject([
      'cutter',
      { kind: 'cut', mode: 'subtract', cutters: [tool] },
    ]);
    expect(last()).toBe('Subtract Cylinder from Box');
    expect([store.getState().bench.active, store.getState().bench.step]).toEqual([host, 0]);
    cutWith(tool, [host], 'union');
    expect(store.getState().bench.notice).toMatchObject({
      tone: 'problem',
      text: 'That would cut in a circle: Box → Cylinder → Box.',
    });
    cutWith(host, [], 'subtract');
    expect(store.getState().bench.notice!.text).toMatch(/Select the cutters first/);
    removeStep(host, 0, 'Remove the cut');
    expect([piece('Cylinder').role, piece('Box').steps]).toEqual(['solid', []]);
    expect((await stored()).undo).toHaveLength(4);
  });

  it('delete: children go along, hosts lose the cutter, one undo brings all back', async () => {
    const host = addPrimitive('box');
    const tool = addPrimitive('cylinder');
    const child = addPrimitive('torus');
    cutWith(host, [tool], 'subtract');
    nest(child, tool);
    const before = pieces();
    deletePieces([tool]);
    expect(pieces().map((p) => [p.name, p.steps])).toEqual([['Box', []]]);
    expect(store.getState().bench.notice).toMatchObject({ undo: true });
    undo();
    expect(pieces()).toEqual(before);
    redo();
    expect((await stored()).document.pieces.map((p) => p.name)).toEqual(['Box']);
  });

  it('duplicate: copies of host and cutter cut one another', async () => {
    const host = addPrimitive('box');
    const tool = addPrimitive('cylinder');
    cutWith(host, [tool], 'subtract');
    duplicatePieces([host, tool]);
    const [hostCopy, toolCopy] = [piece('Box copy'), piece('Cylinder copy')];
    expect((hostCopy.steps![0] as { cutters: string[] }).cutters).toEqual([toolCopy.id]);
    duplicatePieces([host]);
    expect((pieces().at(-1)!.steps![0] as { cutters: string[] }).cutters).toEqual([tool]);
    expect((await stored()).document.pieces).toHaveLength(5);
  });

  it('nest and group without moving anything in the world', async () => {
    const a = addPrimitive('box', [10, 0, 0]);
    const b = addPrimitive('torus', [0, 5, 0]);
    nest(b, a);
    expect([piece('Torus').parent, piece('Torus').transform!.move]).toEqual([a, [-10, 5, 0]]);
    nest(a, b);
    expect(store.getState().bench.notice!.text).toBe('Box cannot be nested inside itself.');
    nest(b, null);
    expect([piece('Torus').parent, piece('Torus').transform!.move]).toEqual([undefined, [0, 5, 0]]);
    groupPieces([a, b]);
    expect([piece('Group').base, piece('Box').parent, piece('Torus').parent]).toEqual([
      { group: true },
      piece('Group').id,
      piece('Group').id,
    ]);
    expect((await stored()).document.pieces.map((p) => p.name)).toEqual(['Group', 'Box', 'Torus']);
  });

  it('move steps along their lane only', () => {
    const a = addPrimitive('box');
    addStep(a, { kind: 'bevel', width: 1 }, 'Round');
    addStep(a, { kind: 'normals' }, 'Shade');
    addStep(a, { kind: 'bevel', width: 3 }, 'Round more');
    shiftStep(a, 2, -1);
    expect(piece('Box').steps!.map((s) => (s.kind === 'bevel' ? s.width : s.kind))).toEqual([
      3,
      1,
      'normals',
    ]);
    moveStep(a, 0, 2);
    expect(store.getState().bench.notice!.text).toBe('Round steps stay in the Edge lane.');
    editStep(a, 0, 'Width', (s) => ({ ...s, width: 4 }) as typeof s);
    expect(piece('Box').steps![0]).toMatchObject({ width: 4 });
    expect(piece('Box').steps!.map((s) => s.id)).toEqual(['s3', 's1', 's2']);
  });

  it('flag, say what they did, and do nothing when nothing changes', () => {
    const a = addPrimitive('box');
    flagPieces([a], 'hidden');
    expect([piece('Box').hidden, last()]).toEqual([true, 'Hide Box']);
    flagPieces([a], 'hidden');
    expect([piece('Box').hidden, last()]).toEqual([false, 'Show Box']);
    expect(commit('Nothing', pieces())).toBe(false);
    expect(last()).toBe('Show Box');
  });

  it('are kept while the server is away and sent when it is back', async () => {
    addPrimitive('box');
    await stored();
    away = true;
    addPrimitive('cone');
    undo();
    addPrimitive('disc');
    await new Promise((r) => setTimeout(r, 50));
    expect(store.getState().document.save).toBe('offline');
    away = false;
    const s = await stored();
    expect(s.document.pieces.map((p) => p.name)).toEqual(['Box', 'Disc']);
    expect([s.undo.map((r) => r.label), s.redo]).toEqual([['Add Box', 'Add Disc'], []]);
    expect(store.getState().document.save).toBe('saved');
  });

  it('stop with a clear choice when another window wrote first', async () => {
    addPrimitive('box');
    const { seq } = (await stored()) as unknown as { seq: number };
    await fetch(`/api/scenes/${id}/revisions`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ seq, label: 'elsewhere', forward: { pieces: {} }, inverse: { pieces: {} } }),
    });
    addPrimitive('cone');
    await stored();
    expect(store.getState().document.save).toBe('conflict');
    await saver.open(id);
    expect([store.getState().document.save, pieces().map((p) => p.name)]).toEqual(['saved', ['Box']]);
  });
});
