/**
 * Actions left behind by closed windows: the outbox with and without the browser's stores, and who sends it later.
 */
import type { Scene } from '../src/app/Scene';
import { Outgoing } from '../src/state/outgoing';
import 'fake-indexeddb/auto';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { openDB } from 'idb';
import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import { diffDocuments } from '@urnsmith/core/document/patch';
import type { SceneState } from '@urnsmith/core/document/scene';
import type { Piece } from '@urnsmith/core/document/schema';
import { piecesOf, withPieces, type SceneDocument } from '@urnsmith/core/document/sections';
import { start, type Running } from '../../server/src/start';
import { nextTurn, outbox, type Waiting } from '../src/api/outbox';
import { openScene } from './openScene';

/** Local storage as a browser has it. */
class Front implements Storage {
  private readonly items = new Map<string, string>();
  full = false;
  get length(): number {
    return this.items.size;
  }
  key(i: number): string | null {
    return [...this.items.keys()][i] ?? null;
  }
  getItem(key: string): string | null {
    return this.items.get(key) ?? null;
  }
  setItem(key: string, value: string): void {
    if (this.full) throw new DOMException('full', 'QuotaExceededError');
    this.items.set(key, value);
  }
  removeItem(key: string): void {
    this.items.delete(key);
  }
  clear(): void {
    this.items.clear();
  }
}

const folder = mkdtempSync(join(tmpdir(), 'urnsmith-left-'));
const realFetch = globalThis.fetch;
let server: Running;
let front: Front;
beforeAll(async () => {
  server = await start({ database: join(folder, 'a.sqlite') });
  globalThis.fetch = ((path: string, init?: RequestInit) =>
    realFetch(server.url + path, init)) as typeof fetch;
});
afterAll(async () => {
  globalThis.fetch = realFetch;
  await server.stop();
  rmSync(folder, { recursive: true });
});
beforeEach(() => {
  front = new Front();
  Object.defineProperty(globalThis, 'localStorage', { value: front, configurable: true });
});
afterEach(async () => {
  for (const item of await outbox.all()) await outbox.remove(item.id);
  Reflect.deleteProperty(globalThis, 'localStorage');
});

const box = (id: string, name = id): Piece => ({
  id,
  name,
  base: { primitive: 'box', width: 1, height: 1, depth: 1 },
});

async function create(...pieces: Piece[]): Promise<string> {
  const r = await fetch('/api/scenes', {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ name: 'Left', document: { pieces } }),
  });
  return ((await r.json()) as { id: string }).id;
}
const stateOf = async (id: string): Promise<SceneState> =>
  (await (await fetch(`/api/scenes/${id}`)).json()) as SceneState;
const namesIn = async (id: string): Promise<string[]> =>
  piecesOf((await stateOf(id)).document).map((p) => p.name!);

/** Actions of a window that was closed before they were sent. */
class ClosedWindow {
  readonly name = crypto.randomUUID();
  constructor(
    readonly scene: string,
    private document: SceneDocument,
    private readonly base: number,
  ) {}
  static async at(scene: string): Promise<ClosedWindow> {
    const s = await stateOf(scene);
    return new ClosedWindow(scene, s.document, s.seq);
  }
  async did(label: string, change: (l: Piece[]) => Piece[]): Promise<Waiting> {
    const after = withPieces(this.document, change(piecesOf(this.document)));
    const d = diffDocuments(this.document, after)!;
    this.document = after;
    const item: Waiting = {
      id: crypto.randomUUID(),
      window: this.name,
      base: this.base,
      kind: 'revision',
      label,
      ...d,
      scene: this.scene,
      turn: nextTurn(),
    };
    await outbox.add(item);
    return item;
  }
}
const rename = (id: string, name: string) => (l: Piece[]) => l.map((p) => (p.id === id ? { ...p, name } : p));

const outgoing = new Outgoing();
let scene: Scene;
async function open(id: string): Promise<void> {
  scene?.close();
  scene = openScene(id, outgoing);
  await scene.open();
}

describe('the outbox', () => {
  const item = (id: string): Waiting => ({
    id,
    window: 'w',
    base: 0,
    kind: 'move',
    from: 'a',
    to: 'b',
    patch: [],
    scene: 's',
    turn: nextTurn(),
  });

  it('holds an item in the same moment, and hands it on to the larger store', async () => {
    const under = outbox.add(item('one'));
    expect([outbox.holds('one'), front.length]).toEqual([true, 1]);
    expect(await under).toBe(true);
    expect([outbox.holds('one'), front.length]).toEqual([true, 0]);
    await outbox.remove('one');
    expect([outbox.holds('one'), await outbox.all()]).toEqual([false, []]);
  });

  it('gives back everything in its order, from both stores, once each', async () => {
    const [a, b, c] = [item('a'), item('b'), item('c')];
    await outbox.add(b);
    // As a window leaves it that was closed before the larger store answered.
    front.setItem(`urnsmith.outbox.${a.id}`, JSON.stringify(a));
    front.setItem(`urnsmith.outbox.${b.id}`, JSON.stringify(b));
    front.setItem('urnsmith.outbox.rubbish', '{');
    front.setItem('something else', 'x');
    await outbox.add(c);
    expect((await outbox.all()).map((i) => i.id)).toEqual(['a', 'b', 'c']);
  });

  it('says so when a store is full or refused, and does with the other', async () => {
    front.full = true;
    const under = outbox.add(item('full'));
    expect(outbox.holds('full')).toBe(false);
    expect(await under).toBe(true);
    Reflect.deleteProperty(globalThis, 'localStorage');
    expect(await outbox.add(item('none'))).toBe(true);
    expect((await outbox.all()).map((i) => i.id)).toEqual(['full', 'none']);
  });

  it('lets go of meshes only when the server has them and nothing that waits names them', async () => {
    const hash = 'a'.repeat(64);
    expect(await outbox.keepMesh(hash, Uint8Array.of(1, 2, 3))).toBe(true);
    expect([await outbox.unsentMeshes(), await outbox.mesh(hash)]).toEqual([[hash], Uint8Array.of(1, 2, 3)]);
    await outbox.add({ ...item('names it'), to: hash } as Waiting);
    await outbox.tidyMeshes();
    await outbox.meshSent(hash);
    await outbox.tidyMeshes();
    expect([await outbox.unsentMeshes(), await outbox.mesh(hash)]).toEqual([[], Uint8Array.of(1, 2, 3)]);
    await outbox.remove('names it');
    await outbox.tidyMeshes();
    expect(await outbox.mesh(hash)).toBeNull();
  });
});

describe('what a closed window left', () => {
  it('is sent before its scene is shown, in order', async () => {
    const id = await create(box('a'));
    const w = await ClosedWindow.at(id);
    for (let k = 1; k <= 5; k++) await w.did(`Rename ${k}`, rename('a', `n${k}`));
    await open(id);
    expect(scene.store.getState().document.pieces.map((p) => p.name)).toEqual(['n5']);
    expect((await stateOf(id)).undo).toHaveLength(5);
    expect(await outbox.all()).toEqual([]);
  });

  it('is sent whatever page is opened, of every scene', async () => {
    const [one, two] = [await create(box('a')), await create(box('a'))];
    await (await ClosedWindow.at(one)).did('One', rename('a', 'one'));
    await (await ClosedWindow.at(two)).did('Two', rename('a', 'two'));
    await outgoing.sendLeftovers();
    expect([await namesIn(one), await namesIn(two)]).toEqual([['one'], ['two']]);
  });

  it('by two windows holds side by side, and where it cannot, becomes a scene of its own', async () => {
    const id = await create(box('a'), box('b'));
    const [first, second] = [await ClosedWindow.at(id), await ClosedWindow.at(id)];
    await first.did('A', rename('a', 'first'));
    await second.did('B', rename('b', 'second'));
    await second.did('Clash', rename('a', 'second too'));
    await second.did('After', (l) => [...l, box('c', 'third')]);
    await open(id);
    expect(await namesIn(id)).toEqual(['first', 'second']);
    const [recovered] = scene.store.getState().document.recovered.slice(-1);
    expect(recovered.name).toMatch(/^Left \(recovered /);
    // The last state the second window showed.
    expect(await namesIn(recovered.id)).toEqual(['second too', 'second', 'third']);
    expect(await outbox.all()).toEqual([]);
  });

  it('that was already taken is not done twice', async () => {
    const id = await create(box('a'));
    const w = await ClosedWindow.at(id);
    const item = await w.did('Once', (l) => [...l, box('b')]);
    const { scene: _, turn: __, ...action } = item;
    const sent = await fetch(`/api/scenes/${id}/actions`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify(action),
    });
    expect(sent.status).toBe(200);
    await open(id);
    expect([(await stateOf(id)).seq, await namesIn(id)]).toEqual([1, ['a', 'b']]);
  });

  it('with one bad action among good ones loses only that one, and keeps it to be looked at', async () => {
    const id = await create(box('a'));
    const w = await ClosedWindow.at(id);
    await w.did('Good', rename('a', 'good'));
    await w.did('Bad', (l) =>
      l.map((p) => ({ ...p, transform: { size: [0, 1, 1] as [number, number, number] } })),
    );
    await w.did('Good too', (l) => [...l, box('b', 'added')]);
    await open(id);
    expect(scene.store.getState().document.pieces.map((p) => [p.name, p.transform])).toEqual([
      ['good', undefined],
      ['added', undefined],
    ]);
    expect((await outbox.asides(id)).map((x) => x.label)).toEqual(['Bad']);
    expect(scene.store.getState().document.aside).toBe(1);
    for (const x of await outbox.asides(id)) await outbox.dropAside(x.id);
  });

  it('of a scene that was deleted meanwhile is set aside, not lost', async () => {
    const id = await create(box('a'));
    await (await ClosedWindow.at(id)).did('Late', rename('a', 'late'));
    await fetch(`/api/scenes/${id}`, { method: 'DELETE' });
    await outgoing.sendLeftovers();
    expect([await outbox.all(), (await outbox.asides(id)).map((x) => x.label)]).toEqual([[], ['Late']]);
    for (const x of await outbox.asides(id)) await outbox.dropAside(x.id);
  });
});

it('a scene opens though IndexedDB does not answer, and what it held is sent once it does', async () => {
  const id = await create(box('a'));
  await (await ClosedWindow.at(id)).did('Late', rename('a', 'late'));
  // Local storage let go of it: only IndexedDB has it.
  expect(front.length).toBe(0);
  const { getAll } = IDBObjectStore.prototype;
  IDBObjectStore.prototype.getAll = () => new IDBRequest();
  try {
    await open(id);
    expect([scene.store.getState().document.status, scene.store.getState().document.pieces[0].name]).toEqual([
      'ready',
      'a',
    ]);
  } finally {
    IDBObjectStore.prototype.getAll = getAll;
  }
  await expect
    .poll(
      async () => (await fetch(`/api/scenes/${id}`).then((r) => r.json() as Promise<SceneState>)).undo.length,
      {
        timeout: 15_000,
      },
    )
    .toBe(1);
  await outgoing.settled();
  expect(await outbox.all()).toEqual([]);
});

it('work of an earlier version that was never sent is kept to be looked at', async () => {
  // A store as the version before left it, under a name of its own.
  const old = await openDB('urnsmith-old', 1, {
    upgrade: (db) => void db.createObjectStore('waiting', { keyPath: 'key', autoIncrement: true }),
  });
  await old.add('waiting', {
    kind: 'revision',
    label: 'Old work',
    scene: 's-old',
    seq: 3,
    forward: { pieces: {} },
    inverse: { pieces: {} },
  });
  old.close();
  const { Outbox } = await import('../src/api/outbox');
  const upgraded = new Outbox('urnsmith-old');
  expect(await upgraded.asides('s-old')).toMatchObject([
    { label: 'Old work', reason: expect.stringContaining('earlier version') },
  ]);
});
