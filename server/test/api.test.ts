import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Piece } from '@urnsmith/core/document/schema';
import { contentHash, encodeMesh } from '@urnsmith/core/formats/meshBlob';
import { buildPrimitive } from '@urnsmith/core/primitives/index';
import { start, type Running } from '../src/start';

const folder = mkdtempSync(join(tmpdir(), 'urnsmith-api-'));
const database = join(folder, 'test.sqlite');
let server: Running;
beforeAll(async () => {
  server = await start({ database });
});
afterAll(async () => {
  await server.stop();
  rmSync(folder, { recursive: true });
});

const json = { 'content-type': 'application/json' };
const call = (path: string, init: RequestInit = {}): Promise<Response> => fetch(server.url + path, init);
const post = (path: string, body: unknown, headers: Record<string, string> = {}): Promise<Response> =>
  call(path, { method: 'POST', body: JSON.stringify(body), headers: { ...json, ...headers } });
const box: Piece = { id: 'box', name: 'Box', base: { primitive: 'box', width: 10, height: 10, depth: 10 } };
const create = async (name: string, pieces: Piece[] = [box]): Promise<string> =>
  ((await (await post('/api/scenes', { name, document: { pieces } })).json()) as { id: string }).id;
interface State {
  seq: number;
  document: { pieces: Piece[] };
  undo: Array<{ number: number; label: string }>;
  redo: Array<{ number: number; label: string }>;
}
const open = async (id: string): Promise<State> => (await (await call(`/api/scenes/${id}`)).json()) as State;
const rename = (n: string, was = 'Box') => ({
  forward: { pieces: { box: { ...box, name: n } } },
  inverse: { pieces: { box: { ...box, name: was } } },
});

describe('scenes', () => {
  it('are listed newest first, searched literally, renamed, copied, put away and restored', async () => {
    const a = await create('Winch 100%');
    const b = await create('Bell_1');
    const names = async (search = ''): Promise<string[]> =>
      (
        (await (await call(`/api/scenes?search=${encodeURIComponent(search)}`)).json()) as Array<{
          name: string;
        }>
      ).map((s) => s.name);
    expect((await names()).slice(0, 2).sort()).toEqual(['Bell_1', 'Winch 100%']);
    expect(await names('%')).toEqual(['Winch 100%']);
    expect(await names('_')).toEqual(['Bell_1']);
    expect(
      (
        await call(`/api/scenes/${a}`, {
          method: 'PATCH',
          body: JSON.stringify({ name: ' Drum ' }),
          headers: json,
        })
      ).status,
    ).toBe(200);
    const copy = ((await (await post(`/api/scenes/${a}/duplicate`, {})).json()) as { id: string }).id;
    expect((await open(copy)).document.pieces).toEqual([box]);
    expect(await names('Drum')).toEqual(expect.arrayContaining(['Drum', 'Drum copy']));
    await call(`/api/scenes/${b}`, { method: 'DELETE' });
    expect((await call(`/api/scenes/${b}`)).status).toBe(404);
    await post(`/api/scenes/${b}/restore`, {});
    expect((await open(b)).document.pieces).toHaveLength(1);
  });

  it('keep an append-only journal that undo and redo move along', async () => {
    const id = await create('Journal');
    for (const [k, n] of ['one', 'two', 'three'].entries()) {
      const r = await post(`/api/scenes/${id}/revisions`, {
        seq: k,
        label: n,
        ...rename(n, ['Box', 'one', 'two'][k]),
      });
      expect(await r.json()).toEqual({ seq: k + 1, number: k + 1 });
    }
    await post(`/api/scenes/${id}/head`, { seq: 3, to: 1 });
    let s = await open(id);
    expect([s.document.pieces[0].name, s.undo.map((r) => r.label), s.redo.map((r) => r.label)]).toEqual([
      'one',
      ['one'],
      ['two', 'three'],
    ]);
    await post(`/api/scenes/${id}/head`, { seq: 4, to: 2 });
    expect((await open(id)).document.pieces[0].name).toBe('two');
    await post(`/api/scenes/${id}/head`, { seq: 5, to: 0 });
    expect((await open(id)).document.pieces[0].name).toBe('Box');
    // A new action after undo starts a new branch; the old one stays in the journal, out of reach of redo.
    await post(`/api/scenes/${id}/revisions`, { seq: 6, label: 'other', ...rename('other') });
    s = await open(id);
    expect([s.undo.map((r) => r.label), s.redo]).toEqual([['other'], []]);
    expect((await post(`/api/scenes/${id}/head`, { seq: 7, to: 3 })).status).toBe(422);
  });

  it('refuse a write that did not see the last one, and change nothing', async () => {
    const id = await create('Two windows');
    await post(`/api/scenes/${id}/revisions`, { seq: 0, label: 'first', ...rename('first') });
    const late = await post(`/api/scenes/${id}/revisions`, { seq: 0, label: 'late', ...rename('late') });
    expect(late.status).toBe(409);
    expect(await late.json()).toMatchObject({ code: 'changed-elsewhere', detail: { seq: 1 } });
    expect((await open(id)).document.pieces[0].name).toBe('first');
  });

  it('refuse bad bodies and documents with the place', async () => {
    const id = await create('Strict');
    const status = async (r: Promise<Response>): Promise<[number, string]> => {
      const x = await r;
      return [x.status, ((await x.json()) as { message: string }).message];
    };
    expect(await status(post('/api/scenes', { name: '' }))).toEqual([400, expect.stringMatching(/^name/)]);
    expect(await status(post('/api/scenes', { name: 'x', extra: 1 }))).toEqual([
      400,
      expect.stringContaining('extra'),
    ]);
    expect(await status(call('/api/scenes', { method: 'POST', body: '{', headers: json }))).toEqual([
      400,
      'The body is not JSON.',
    ]);
    const wrong = {
      forward: { pieces: { box: { ...box, base: { primitive: 'box', width: -4, height: 1, depth: 1 } } } },
      inverse: { pieces: {} },
    };
    expect(await status(post(`/api/scenes/${id}/revisions`, { seq: 0, label: 'x', ...wrong }))).toEqual([
      422,
      'pieces/0/base/width: Must be at least 0.001.',
    ]);
    const circle = {
      forward: { pieces: { box: { ...box, steps: [{ kind: 'cut', mode: 'subtract', cutters: ['box'] }] } } },
      inverse: { pieces: {} },
    };
    expect(await status(post(`/api/scenes/${id}/revisions`, { seq: 0, label: 'x', ...circle }))).toEqual([
      422,
      'pieces: Cutters run in a circle: Box → Box.',
    ]);
    expect((await open(id)).seq).toBe(0);
    expect(await status(call('/api/nowhere'))).toEqual([404, 'There is no such address.']);
  });

  it('keep pictures, and refuse what is none', async () => {
    const id = await create('Pictured');
    const png = Uint8Array.of(0x89, 0x50, 0x4e, 0x47, 13, 10, 26, 10, 1, 2, 3);
    const put = (body: Uint8Array, faces: string): Promise<Response> =>
      call(`/api/scenes/${id}/thumbnail?faces=${faces}`, {
        method: 'PUT',
        body: body as Uint8Array<ArrayBuffer>,
      });
    expect((await put(png, '12')).status).toBe(200);
    expect(new Uint8Array(await (await call(`/api/scenes/${id}/thumbnail`)).arrayBuffer())).toEqual(png);
    expect((await put(Uint8Array.of(1, 2, 3), '12')).status).toBe(400);
    expect((await put(png, '-1')).status).toBe(400);
  });
});

describe('files', () => {
  it('come in as OBJ and go out in every format', async () => {
    const obj =
      'o Wedge\nv 0 0 0\nv 30 0 0\nv 30 0 20\nv 0 0 20\nv 0 15 20\nv 30 15 20\nf 1 2 3 4\nf 4 3 6 5\nf 1 5 6 2\nf 1 4 5\nf 2 6 3\n';
    const made = await call('/api/scenes/import?name=Wedge', { method: 'POST', body: obj });
    expect(made.status).toBe(201);
    const { id } = (await made.json()) as { id: string };
    const { document } = await open(id);
    expect(document.pieces[0].name).toBe('Wedge');
    for (const [format, start] of [
      ['glb', 'glTF'],
      ['gltf', '{"asset"'],
      ['obj', '# Urnsmith'],
      ['stl', 'Urnsmith'],
      ['ply', 'ply'],
    ]) {
      const r = await post(`/api/scenes/${id}/export`, { pieces: ['p1'], format, unit: 'mm', up: 'y' });
      expect(r.status).toBe(200);
      expect(JSON.parse(r.headers.get('x-counts')!)).toEqual({ points: 6, faces: 5, triangles: 8 });
      expect(r.headers.get('content-disposition')).toContain(`Wedge.${format}`);
      expect(
        Buffer.from(await r.arrayBuffer())
          .toString('latin1')
          .startsWith(start),
      ).toBe(true);
    }
    const bad = await call('/api/scenes/import?name=Bad', { method: 'POST', body: 'v 1 2 3\nf 1 2 3' });
    expect([bad.status, ((await bad.json()) as { message: string }).message]).toEqual([
      422,
      'Line 2: point 2 does not exist, there are 1 so far.',
    ]);
    const missing = await post(`/api/scenes/${id}/export`, {
      pieces: ['p9'],
      format: 'glb',
      unit: 'm',
      up: 'y',
    });
    expect(missing.status).toBe(422);
  });

  it('are stored under their true hash only, and collected when nothing names them', async () => {
    const bytes = encodeMesh(buildPrimitive({ primitive: 'sphere', radius: 5 }));
    const hash = await contentHash(bytes);
    const put = (h: string): Promise<Response> =>
      call(`/api/blobs/${h}`, { method: 'PUT', body: bytes as Uint8Array<ArrayBuffer> });
    expect((await put('0'.repeat(64))).status).toBe(422);
    expect((await put(hash)).status).toBe(200);
    expect((await put(hash)).status).toBe(200);
    expect(
      Buffer.from(await (await call(`/api/blobs/${hash}`)).arrayBuffer()).equals(Buffer.from(bytes)),
    ).toBe(true);
    await create('Uses it', [{ id: 'a', base: { blob: hash } }]);
    expect(server.app.blobs.collect(Date.now() + 1000)).toBe(0);
    const lone = encodeMesh(buildPrimitive({ primitive: 'sphere', radius: 6 }));
    await call(`/api/blobs/${await contentHash(lone)}`, {
      method: 'PUT',
      body: lone as Uint8Array<ArrayBuffer>,
    });
    expect(server.app.blobs.collect(Date.now() + 1000)).toBe(1);
  });
});

describe('guards', () => {
  it('refuse writes from other origins and calls under other host names', async () => {
    expect((await post('/api/scenes', { name: 'x' }, { origin: 'http://evil.example' })).status).toBe(403);
    expect((await post('/api/scenes', { name: 'x' }, { origin: server.url })).status).toBe(201);
    const r = await server.app.app.request('http://rebound.example/api/scenes', {
      headers: { host: 'rebound.example' },
    });
    expect(r.status).toBe(403);
  });
  it('send a strict content security policy and refuse oversized bodies', async () => {
    const r = await call('/api/health');
    expect(r.headers.get('content-security-policy')).toContain("default-src 'none'");
    const big = await call('/api/scenes', {
      method: 'POST',
      body: 'x'.repeat(17 * 1024 * 1024),
      headers: json,
    });
    expect(big.status).toBe(413);
  });
  it('keep everything over a restart', async () => {
    const id = await create('Stays');
    await post(`/api/scenes/${id}/revisions`, { seq: 0, label: 'kept', ...rename('kept') });
    await server.stop();
    server = await start({ database });
    const s = await open(id);
    expect([s.document.pieces[0].name, s.undo.map((r) => r.label)]).toEqual(['kept', ['kept']]);
  });
});
