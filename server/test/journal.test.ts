/** Writes that are safe to repeat, history that cannot bend, and two windows that both hold. */
import { copyFileSync } from 'node:fs';
import { join } from 'node:path';
import Database from 'better-sqlite3';
import fc from 'fast-check';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { START } from '@urnsmith/core/document/scene';
import { worldMatrix } from '@urnsmith/core/document/placement';
import type { Piece } from '@urnsmith/core/document/schema';
import { documentFaults } from '@urnsmith/core/document/validate';
import { documentOf, piecesOf, type SceneDocument } from '@urnsmith/core/document/sections';
import { openDatabase } from '../src/store/database';
import { documentHash } from '../src/store/documentHash';
import { Journal } from '../src/store/journal';
import { SceneStore } from '../src/store/scenes';
import { Snapshots } from '../src/store/snapshots';
import { box, OnServer, Window } from './onServer';

let on: OnServer;
beforeAll(async () => {
  on = await new OnServer().start();
});
afterAll(() => on.close());

const other: Piece = { id: 'other', name: 'Other', base: { primitive: 'sphere', radius: 3 } };
const at = async (id: string): Promise<Window> => new Window(on, id).look();

describe('a write', () => {
  it('sent again gives the same answer and is there once', async () => {
    const w = await at(await on.create('Repeats'));
    const one = w.rename('one');
    const first = await w.send(one);
    expect(first).toEqual({ status: 200, body: { seq: 1, head: one.id, merged: false } });
    await w.send(w.rename('two'));
    for (let k = 0; k < 3; k++) expect(await on.act(w.scene, one)).toEqual(first);
    const s = await on.open(w.scene);
    expect([s.seq, s.pieces[0].name, s.undo.map((r) => r.label)]).toEqual([
      2,
      'two',
      ['Rename to one', 'Rename to two'],
    ]);
  });

  it('under the id of another one is refused', async () => {
    const w = await at(await on.create('Ids'));
    const one = w.rename('one');
    await w.send(one);
    const r = await w.send({ ...w.rename('two'), id: one.id });
    expect([r.status, r.body.code]).toEqual([422, 'id-used']);
    const elsewhere = await on.create('Elsewhere');
    expect((await on.act(elsewhere, one)).body.code).toBe('id-used');
  });

  it('that is refused leaves nothing behind, and those after it go on', async () => {
    const w = await at(await on.create('Refused'));
    const before = await on.open(w.scene);
    const bad = w.revision('Flatten', (l) => l.map((p) => ({ ...p, transform: { size: [0, 1, 1] } })));
    expect(await w.send(bad)).toMatchObject({
      status: 422,
      body: {
        code: 'bad-document',
        message: 'pieces/box/transform/size: A size of 0 would flatten the piece.',
      },
    });
    expect(await on.open(w.scene)).toEqual(before);
    await w.look();
    expect((await w.send(w.rename('goes on'))).status).toBe(200);
  });

  const refusals: Array<[string, object, string]> = [
    ['a place that is not there', { path: ['pieces', 'ghost', 'name'], op: 'replace', value: 'x' }, 'bad-patch'],
    ['a list that is shorter', { path: ['pieces', 'box', 'steps', 4], op: 'add', value: {} }, 'bad-patch'],
    ['a whole section', { path: ['pieces'], op: 'replace', value: {} }, 'bad-body'],
    ['a section there is not', { path: ['stars', 'a'], op: 'add', value: { id: 'a' } }, 'bad-patch'],
    ['a key that is built in', { path: ['pieces', 'box', '__proto__'], op: 'add', value: {} }, 'bad-patch'],
    ['an id that is built in', { path: ['pieces', 'toString'], op: 'add', value: { ...box, id: 'toString' } }, 'bad-patch'],
    ['another id than its key', { path: ['pieces', 'b'], op: 'add', value: { ...box, id: 'c' } }, 'bad-document'],
    ['a piece without a place in the list', { path: ['pieces', 'b'], op: 'add', value: { ...box, id: 'b' } }, 'bad-document'],
    ['a place in the list for nothing', { path: ['order', 'ghost'], op: 'add', value: 'a1' }, 'bad-document'],
    ['a place that is none', { path: ['order', 'box'], op: 'replace', value: '!' }, 'bad-document'],
    ['a step of no kind', { path: ['pieces', 'box', 'steps'], op: 'add', value: [{ kind: 'constructor' }] }, 'bad-document'],
    ['an operation of no kind', { path: ['pieces', 'box', 'actions'], op: 'add', value: [{ op: 'toString', select: { faces: [] } }] }, 'bad-document'],
    ['a rule of no kind', { path: ['pieces', 'box', 'actions'], op: 'add', value: [{ op: 'push', select: { rule: 'valueOf' } }] }, 'bad-document'],
    ['a primitive of no kind', { path: ['pieces', 'box', 'base'], op: 'replace', value: { primitive: 'hasOwnProperty' } }, 'bad-document'],
    ['a mesh that is not stored', { path: ['pieces', 'box', 'base'], op: 'replace', value: { blob: 'f'.repeat(64) } }, 'no-mesh'],
    ['an inverse that does not lead back', { path: ['pieces', 'box', 'name'], op: 'replace', value: 'New' }, 'bad-inverse'],
  ]; // prettier-ignore
  it('is checked, forward and back', async () => {
    const w = await at(await on.create('Checked'));
    for (const [what, patch, code] of refusals) {
      const action = { ...w.move(START), kind: 'revision', label: 'x', forward: [patch], inverse: [] };
      const { from: _, to: __, patch: ___, ...revision } = action as never as Record<string, unknown>;
      // For the ones whose way back is right, so that they fail for what they are.
      const back = (patch as { path: string[]; op: string }).op === 'add' ? [{ op: 'remove', path: (patch as { path: string[] }).path }] : []; // prettier-ignore
      const body = code === 'bad-inverse' ? revision : { ...revision, inverse: back };
      const r = await on.answer(on.post(`/api/scenes/${w.scene}/actions`, body));
      expect([what, r.body.code]).toEqual([what, code]);
    }
    expect((await on.open(w.scene)).seq).toBe(0);
  });

  it('names nothing JSON would lose', async () => {
    const w = await at(await on.create('Numbers'));
    const text = JSON.stringify(w.revision('Move', (l) => l.map((p) => ({ ...p, transform: { move: [12321, 0, 0] } })))); // prettier-ignore
    for (const n of ['1e400', '-1e999', '1e-400', '12345678901234567891']) {
      const r = await on.answer(on.post(`/api/scenes/${w.scene}/actions`, text.replace('12321', n)));
      expect([n, r.status, r.body.code]).toEqual([n, 400, 'not-json']);
    }
    const key = await on.answer(
      on.post('/api/scenes', '{"name":"x","document":{"__proto__":{"pieces":[]}}}'),
    );
    expect(key.body).toMatchObject({ code: 'not-json', message: expect.stringContaining('__proto__') });
  });
});

describe('two windows', () => {
  it('both hold when they reach different pieces, also when both add', async () => {
    const id = await on.create('Both', [box, other]);
    const [a, b] = [await at(id), await at(id)];
    expect((await a.send(a.rename('A'))).body.merged).toBe(false);
    const late = await b.send(b.rename('B', 'other'));
    expect(late).toMatchObject({ status: 200, body: { merged: true } });
    const added = (w: Window, p: Piece) => w.send(w.revision(`Add ${p.id}`, (l) => [...l, p]));
    expect((await added(a, { ...box, id: 'fromA' })).status).toBe(200);
    expect((await added(b, { ...box, id: 'fromB' })).status).toBe(200);
    expect((await on.open(id)).pieces.map((p) => p.name ?? p.id).sort()).toEqual(['A', 'B', 'Box', 'Box']);
    // A place in the list both took is no trouble for the next who sorts.
    const c = await at(id);
    expect((await c.send(c.revision('Sort', (l) => [...l].reverse()))).status).toBe(200);
    expect((await on.open(id)).pieces.map((p) => p.id)).toEqual(c.pieces.map((p) => p.id));
  });

  it('are told when they cannot, and what was done is kept as a scene of its own', async () => {
    const id = await on.create('Contested', [box, other]);
    const [a, b] = [await at(id), await at(id)];
    await a.send(a.rename('A'));
    const first = b.rename('B other', 'other');
    expect((await b.send(first)).status).toBe(200);
    const clash = b.rename('B');
    const after = b.revision('Move', (l) => l.map((p) => ({ ...p, transform: { move: [1, 2, 3] } })));
    expect((await b.send(clash)).body.code).toBe('changed-elsewhere');
    const kept = await on.answer<{ id: string; name: string }>(
      on.post(`/api/scenes/${id}/recovery`, { window: b.name, base: b.base, actions: [clash, after] }),
    );
    expect(kept.body.name).toMatch(/^Contested \(recovered \d{4}-\d\d-\d\d \d\d:\d\d\)/);
    expect((await on.open(kept.body.id)).pieces).toEqual(b.pieces);
    expect((await on.open(id)).pieces.map((p) => p.name)).toEqual(['A', 'B other']);
  });

  it('cannot leave a reference to a piece the other took away', async () => {
    const id = await on.create('Dangling', [box, other]);
    const [a, b] = [await at(id), await at(id)];
    await a.send(a.revision('Delete Other', (l) => l.filter((p) => p.id !== 'other')));
    const cut = b.revision('Cut', (l) =>
      l.map((p) =>
        p.id === 'box' ? { ...p, steps: [{ kind: 'cut', mode: 'subtract', cutters: ['other'] }] } : p,
      ),
    );
    expect((await b.send(cut)).body.code).toBe('changed-elsewhere');
  });

  it('take back their own work by a step of its own when the other acted since', async () => {
    const id = await on.create('Undo', [box, other]);
    const [a, b] = [await at(id), await at(id)];
    await a.send(a.rename('A'));
    await b.look();
    await b.send(b.rename('B', 'other'));
    const undo = await a.send(a.move(START));
    expect(undo.body.merged).toBe(true);
    const s = await on.open(id);
    expect(s.pieces.map((p) => p.name)).toEqual(['Box', 'B']);
    expect(s.undo.map((r) => r.label)).toEqual(['Rename to A', 'Rename to B', 'Undo “Rename to A”']);
  });

  it('hear of each other when it happens', async () => {
    const id = await on.create('Heard');
    const w = await at(id);
    const stream = await on.call('/api/events');
    const reader = stream.body!.pipeThrough(new TextDecoderStream()).getReader();
    await reader.read();
    const { body } = await w.send(w.rename('heard'));
    let text = '';
    while (!text.includes('"scene"')) text += (await reader.read()).value ?? '';
    const event = JSON.parse(/data: (\{.*\})/.exec(text)![1]) as object;
    expect(event).toEqual({ scene: id, seq: body.seq, window: w.name });
    await reader.cancel();
  });
});

describe('history', () => {
  it('goes to any step, however far, and answers only with the state asked for', async () => {
    const w = await at(await on.create('Deep'));
    const ids = [START];
    for (let k = 1; k <= 700; k++) ids.push((await w.send(w.rename(`n${k}`))).body.head);
    for (const k of [699, 200, 0, 13, 700, 1]) {
      expect((await w.send(w.move(ids[k]))).body.head).toBe(ids[k]);
      const s = await on.open(w.scene);
      expect([s.head, s.pieces[0].name]).toEqual([ids[k], k ? `n${k}` : 'Box']);
    }
    const s = await on.open(w.scene);
    expect([s.undo.length, s.redo.length, s.more]).toEqual([1, 200, false]);
    expect(s.redo[0].label).toBe('Rename to n2');
    // Pages reach to the start; a search finds what is nowhere near.
    const page = async (query: string) =>
      (
        await on.answer<{ revisions: Array<{ number: number; label: string }>; more: boolean }>(
          on.call(`/api/scenes/${w.scene}/history${query}`),
        )
      ).body;
    let [seen, below] = [0, ''];
    for (let p = await page(''); ; p = await page(below)) {
      seen += p.revisions.length;
      below = `?below=${p.revisions.at(-1)!.number}`;
      if (!p.more) break;
    }
    expect(seen).toBe(700);
    expect((await page('?search=n45')).revisions.map((r) => r.label)).toContain('Rename to n45');
    // A new action forgets what could be brought again; those steps are refused from then on.
    await w.look();
    expect((await w.send(w.rename('branch'))).status).toBe(200);
    const gone = await w.send(w.move(ids[50]));
    expect([gone.status, gone.body.code]).toEqual([422, 'no-revision']);
    expect((await w.send(w.move('nowhere'))).body.code).toBe('no-revision');
    expect((await w.send({ ...w.move(START), from: START } as never)).body.code).toBe('out-of-step');
  });

  it('always replays to the document: thousands of random actions, undos and branches', () => {
    const db = openDatabase(':memory:');
    const journal = new Journal(db);
    const scenes = new SceneStore(db, journal);
    const rounds = Number(process.env.URNSMITH_SOAK ?? 1) * 2000;
    const random = seeded(7);
    const id = scenes.create('Random', documentOf([box]));
    let document = journal.document(id);
    let [seq, made] = [0, 0];
    const send = (a: object): void => void (seq = journal.accept(id, a as never).seq);
    for (let k = 0; k < rounds; k++) {
      const state = k % 40 === 0 || random() < 0.3 ? journal.open(id) : null;
      if (state && random() < 0.7) {
        const targets = [START, ...state.undo.map((r) => r.action), ...state.redo.map((r) => r.action)];
        const to = targets[Math.floor(random() * targets.length)];
        send({ id: `m${k}`, window: 'w', base: seq, kind: 'move', from: state.head, to, patch: [] });
        document = journal.document(id);
        continue;
      }
      const w = { document, base: seq } as never as Window;
      const action = Window.prototype.revision.call(
        Object.assign(Object.create(Window.prototype) as Window, w),
        `step ${made++}`,
        (l: Piece[]) => mutated(l, random, k),
      );
      send({ ...action, window: 'w', id: `a${k}` });
      document = journal.document(id);
    }
    // From nothing but the start and the patches, and from every snapshot: the same, hash for hash.
    const all = db
      .prepare<[string], { number: number; hash: string }>(
        'SELECT number, hash FROM revision WHERE scene = ?',
      )
      .all(id);
    const snapshots = new Snapshots(db);
    expect(snapshots.numbers(id).size).toBeGreaterThan(Math.min(3, rounds / 2000));
    for (const n of [...snapshots.numbers(id)].slice(1)) expect(documentHash(snapshots.get(id, n)!.document)).toBe(all[n - 1].hash); // prettier-ignore
    db.prepare('DELETE FROM snapshot WHERE scene = ? AND number > 0').run(id);
    const fresh = new Journal(db);
    expect(fresh.document(id)).toEqual(document);
    expect(documentFaults(document)).toEqual([]);
    for (const r of all.filter((_, i) => i % Math.ceil(all.length / 12) === 0))
      expect(documentHash(fresh.documentAt(id, r.number))).toBe(r.hash);
    db.close();
  });

  it('keeps milestones, restores them as a step, and tells what changed since', async () => {
    const w = await at(await on.create('Stages', [box, other]));
    await w.send(w.rename('early'));
    const set = await on.answer<{ id: number }>(
      on.post(`/api/scenes/${w.scene}/milestones`, { name: 'Blocked out' }),
    );
    expect(set.status).toBe(201);
    await w.send(w.revision('Delete Other', (l) => l.filter((p) => p.id !== 'other')));
    await w.send(
      w.revision('Add and turn', (l) => [
        ...l.map((p) => ({ ...p, name: 'late', transform: { turn: [0, 9, 0] as [number, number, number] } })),
        { ...box, id: 'more', name: 'More' },
      ]),
    );
    const url = `/api/scenes/${w.scene}/milestones/${set.body.id}`;
    expect((await on.answer(on.call(`${url}/compare`))).body).toEqual({
      added: ['More'],
      removed: ['Other'],
      changed: [{ name: 'late', what: ['name', 'place'] }],
    });
    const back = await on.answer<{ head: string }>(
      on.post(`${url}/restore`, { id: 'back-1', window: w.name, base: w.base }),
    );
    expect(back.status).toBe(200);
    const s = await on.open(w.scene);
    expect([s.pieces.map((p) => p.name), s.undo.at(-1)!.label]).toEqual([
      ['early', 'Other'],
      'Back to “Blocked out”',
    ]);
    expect((await w.look()) && (await w.send(w.move(s.undo.at(-2)!.action))).status).toBe(200);
    expect((await on.open(w.scene)).pieces.map((p) => p.name)).toEqual(['late', 'More']);
  });

  it('thins out daily milestones and never those a person set', () => {
    const { journal, scenes } = on.running.app;
    const id = scenes.create('Days', documentOf([box]));
    const day = 24 * 3600 * 1000;
    const now = Date.UTC(2026, 10, 26, 12);
    const { milestones } = journal;
    for (let age = 0; age < 200; age++) milestones.set(id, `day ${age}`, 0, true, now - age * day);
    for (let age = 0; age < 200; age += 50) milestones.set(id, `mine ${age}`, 0, false, now - age * day);
    milestones.thin(id, now);
    const left = milestones.list(id);
    expect(left.filter((m) => !m.automatic)).toHaveLength(4);
    const ages = left.filter((m) => m.automatic).map((m) => (now - m.created) / day);
    expect(ages.filter((a) => a <= 7)).toHaveLength(8);
    expect(ages.filter((a) => a > 7 && a <= 60).length).toBeLessThanOrEqual(9);
    expect(ages.filter((a) => a > 60).length).toBeLessThanOrEqual(6);
    expect(Math.max(...ages)).toBeGreaterThan(130);
  });
});

describe('a store of version 1', () => {
  it('opens: same pieces, same history, every step there and back', async () => {
    const s = new OnServer();
    copyFileSync(join(import.meta.dirname, 'stores/version-1.sqlite'), s.database);
    await s.start();
    const cards = (await (await s.call('/api/scenes')).json()) as Array<{
      id: string;
      name: string;
      pieces: number;
    }>;
    expect(cards.map((c) => c.name).sort()).toEqual(['Bent history', 'Gauge bracket']);
    const gauge = cards.find((c) => c.name === 'Gauge bracket')!;
    const w = await new Window(s, gauge.id).look();
    const state = await s.open(gauge.id);
    const expected = (await import('./stores/version-1.json')).default['Gauge bracket'];
    expect(state.pieces).toEqual(expected.document.pieces);
    expect(state.undo.map((r) => r.label)).toEqual(expected.undo.map((r) => r.label));
    expect(state.redo.map((r) => r.label)).toEqual(['Widen Plate']);
    expect(documentFaults(state.document)).toEqual([]);
    const steps = [START, ...state.undo.map((r) => r.action), ...state.redo.map((r) => r.action)];
    const seen: SceneDocument[] = [];
    for (const to of steps) {
      expect((await w.send(w.move(to))).body.head).toBe(to);
      seen.push((await s.open(gauge.id)).document);
    }
    expect(piecesOf(seen[0]).map((p) => p.id)).toEqual(['plate', 'kept']);
    expect(piecesOf(seen[4]).map((p) => p.id)).toEqual(['plate', 'p3']);
    expect(seen.at(-1)!.pieces.plate.base).toMatchObject({ width: 90 });
    for (const [k, to] of [...steps.entries()].reverse()) {
      await w.send(w.move(to));
      expect((await s.open(gauge.id)).document).toEqual(seen[k]);
    }
    // The mesh that was stored whole is still read, and a bent history opens with what was last seen.
    const mesh = (expected.document.pieces as Piece[])
      .concat(piecesOf(seen[0]))
      .find((p) => 'blob' in p.base)!;
    expect((await s.call(`/api/meshes/${(mesh.base as { blob: string }).blob}`)).status).toBe(200);
    const bent = await s.open(cards.find((c) => c.name === 'Bent history')!.id);
    expect(bent.pieces[0].base).toMatchObject({ width: 12 });
    await s.close();
  });

  it('gets its cutters nested in what they cut, as one step that undo takes back', async () => {
    const s = await new OnServer().start();
    const block = (id: string, more: Partial<Piece>): Piece => ({ ...box, id, name: id, ...more });
    const pieces = [
      block('host', {
        transform: { move: [40, 0, 0], turn: [0, 90, 0] },
        steps: [{ kind: 'cut', mode: 'subtract', cutters: ['tool', 'kept', 'free'] }],
      }),
      block('tool', { role: 'cutter', transform: { move: [45, 0, 0] } }),
      block('shelf', {}),
      block('kept', { role: 'cutter', parent: 'shelf' }),
      block('free', { role: 'cutter', staysInWorld: true }),
    ];
    const id = await s.create('Old cutters', pieces);
    const undone = await s.create('Undone', pieces);
    const w = await new Window(s, undone).look();
    await w.send(w.rename('Renamed', 'shelf'));
    await w.send(w.move(START));
    await s.running.stop();
    const db = new Database(s.database);
    db.pragma('user_version = 3');
    db.close();
    await s.start();
    const now = await s.open(id);
    const by = new Map(now.pieces.map((p) => [p.id, p]));
    expect([...by.values()].map((p) => p.parent)).toEqual([undefined, 'host', undefined, 'shelf', undefined]);
    const before = new Map(pieces.map((p) => [p.id, p]));
    for (const p of pieces)
      worldMatrix(by, p.id).forEach((x, k) => expect(x).toBeCloseTo(worldMatrix(before, p.id)[k], 9));
    expect(now.undo.map((r) => r.label)).toEqual(['Nest cutters in what they cut']);
    const back = await new Window(s, id).look();
    await back.send(back.move(START));
    expect((await s.open(id)).pieces).toEqual(pieces);
    // An undo from another window can still be redone.
    expect((await s.open(undone)).redo).toHaveLength(1);
    await s.close();
  });

  it('is refused in one sentence when it is newer than the program', () => {
    const file = join(on.folder, 'newer.sqlite');
    const db = new Database(file);
    db.pragma('user_version = 99');
    db.close();
    expect(() => openDatabase(file)).toThrow(/written by a newer Urnsmith \(version 99/);
  });
});

describe('documents', () => {
  it('change and change back by the patches found between any two', () => {
    const piece = fc.record({
      id: fc.constantFrom('a', 'b', 'c', 'd', 'e', 'f'),
      name: fc.constantFrom('x', 'y'),
      width: fc.integer({ min: 1, max: 3 }),
      steps: fc.array(fc.integer({ min: 1, max: 3 }), { maxLength: 3 }),
    });
    const list = fc.uniqueArray(piece, { selector: (p) => p.id, maxLength: 6 }).map((l) =>
      l.map((p): Piece => ({
        id: p.id,
        name: p.name,
        base: { primitive: 'box', width: p.width, height: 1, depth: 1 },
        steps: p.steps.map((width) => ({ kind: 'bevel', width })),
      })),
    );
    const db = openDatabase(':memory:');
    const journal = new Journal(db);
    const scenes = new SceneStore(db, journal);
    fc.assert(
      fc.property(list, fc.array(list, { maxLength: 5 }), (first, rest) => {
        const id = scenes.create('Law', documentOf(first));
        for (const [k, next] of rest.entries()) {
          const w = Object.assign(Object.create(Window.prototype) as Window, {
            document: journal.document(id),
            base: journal.open(id).seq,
          });
          if (JSON.stringify(piecesOf(w.document)) === JSON.stringify(next)) continue;
          const action = w.revision(`to ${k}`, () => next);
          journal.accept(id, { ...action, window: 'w' });
          expect(piecesOf(journal.document(id))).toEqual(next);
        }
      }),
      { numRuns: 60, seed: 11 },
    );
    db.close();
  });
});

function seeded(seed: number): () => number {
  let s = seed;
  return () => {
    s = (Math.imul(s, 1664525) + 1013904223) >>> 0;
    return s / 2 ** 32;
  };
}

/** One of the changes a person makes: add, remove, sort, widen, step on, step off. */
function mutated(list: Piece[], random: () => number, k: number): Piece[] {
  const at = Math.floor(random() * list.length);
  const what = Math.floor(random() * 6);
  const changed = (make: (p: Piece) => Piece): Piece[] => list.map((p, i) => (i === at ? make(p) : p));
  if (what === 0 || !list.length) return [...list, { ...box, id: `p${k}`, name: `Piece ${k}` }];
  if (what === 1 && list.length > 3) return list.filter((_, i) => i !== at);
  if (what === 2 && list.length > 2) return [...list.slice(1), list[0]];
  if (what === 3) return changed((p) => ({ ...p, steps: [...(p.steps ?? []).slice(0, 4), { kind: 'bevel', width: 1 + (k % 9000) }] })); // prettier-ignore
  if (what === 4 && list[at].steps?.length) return changed((p) => ({ ...p, steps: p.steps!.slice(1) }));
  return changed((p) => ({ ...p, base: { primitive: 'box', width: 1 + (k % 90_000), height: 1, depth: 1 } }));
}
