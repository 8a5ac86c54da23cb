/** The HTTP API on the real server: library, files, guards. */
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { contentHash, encodeMesh } from '@urnsmith/core/formats/meshBlob';
import { buildPrimitive } from '@urnsmith/core/primitives/index';
import { box, OnServer, Window } from './onServer';

let on: OnServer;
beforeAll(async () => {
  on = await new OnServer().start();
});
afterAll(() => on.close());

const json = { 'content-type': 'application/json' };
const bytes = (b: Uint8Array) => b as Uint8Array<ArrayBuffer>;

describe('settings', () => {
  it('keep changed keys over a restart, and refuse what is none', async () => {
    const put = (body: unknown) =>
      on.call('/api/settings/keys', { method: 'PUT', headers: json, body: JSON.stringify(body) });
    const get = async (): Promise<unknown> => (await on.call('/api/settings/keys')).json();
    expect(await get()).toEqual({});
    const keys = { hide: 'q', 'cut-subtract': '' };
    expect((await put(keys)).status).toBe(200);
    await on.running.stop();
    await on.start();
    expect(await get()).toEqual(keys);
    for (const bad of [[], { hide: 7 }, { 'no such/id': 'q' }, { hide: 'q'.repeat(41) }])
      expect([bad, (await put(bad)).status]).toEqual([bad, 400]);
    expect(await get()).toEqual(keys);
  });
});

describe('presets for all scenes', () => {
  it('are kept over a restart, and refused where a step is none', async () => {
    const put = (body: unknown) =>
      on.call('/api/settings/presets', { method: 'PUT', headers: json, body: JSON.stringify(body) });
    const get = async (): Promise<unknown> => (await on.call('/api/settings/presets')).json();
    expect(await get()).toEqual([]);
    const rims = {
      id: 'preset1',
      name: 'Rims',
      steps: [{ kind: 'bevel', scope: { rule: 'rims' }, width: 2 }],
    };
    expect((await put([rims])).status).toBe(200);
    await on.running.stop();
    await on.start();
    expect(await get()).toEqual([rims]);
    for (const bad of [
      {},
      [{ ...rims, steps: [] }],
      [{ ...rims, steps: [{ kind: 'melt' }] }],
      [{ ...rims, id: 'a b' }],
    ])
      expect([bad, (await put(bad)).status]).toEqual([bad, 400]);
    expect(await get()).toEqual([rims]);
  });
});

describe('scenes', () => {
  it('are listed newest first, searched literally, renamed, copied, put away and restored', async () => {
    const a = await on.create('Winch 100%');
    const b = await on.create('Bell_1');
    const names = async (search = ''): Promise<string[]> =>
      (
        (await (await on.call(`/api/scenes?search=${encodeURIComponent(search)}`)).json()) as Array<{
          name: string;
        }>
      ).map((s) => s.name);
    expect((await names()).slice(0, 2).sort()).toEqual(['Bell_1', 'Winch 100%']);
    expect(await names('%')).toEqual(['Winch 100%']);
    expect(await names('_')).toEqual(['Bell_1']);
    expect(
      (
        await on.call(`/api/scenes/${a}`, {
          method: 'PATCH',
          body: JSON.stringify({ name: ' Drum ' }),
          headers: json,
        })
      ).status,
    ).toBe(200);
    const copy = ((await (await on.post(`/api/scenes/${a}/duplicate`, {})).json()) as { id: string }).id;
    expect((await on.open(copy)).pieces).toEqual([box]);
    expect(await names('Drum')).toEqual(expect.arrayContaining(['Drum', 'Drum 2']));
    await on.call(`/api/scenes/${b}`, { method: 'DELETE' });
    expect((await on.call(`/api/scenes/${b}`)).status).toBe(404);
    await on.post(`/api/scenes/${b}/restore`, {});
    expect((await on.open(b)).pieces).toHaveLength(1);
  });

  it('refuse bad bodies and documents with the place', async () => {
    const id = await on.create('Strict');
    const status = async (r: Promise<Response>): Promise<[number, string]> => {
      const x = await r;
      return [x.status, ((await x.json()) as { message: string }).message];
    };
    expect(await status(on.post('/api/scenes', { name: '' }))).toEqual([400, expect.stringMatching(/^name/)]);
    expect(await status(on.post('/api/scenes', { name: 'x', extra: 1 }))).toEqual([
      400,
      expect.stringContaining('extra'),
    ]);
    expect(await status(on.call('/api/scenes', { method: 'POST', body: '{', headers: json }))).toEqual([
      400,
      expect.stringMatching(/^This is not JSON/),
    ]);
    const w = await new Window(on, id).look();
    const sent = async (change: object): Promise<[number, string]> => {
      await w.look();
      const r = await w.send(w.revision('x', (l) => l.map((p) => ({ ...p, ...change }))));
      return [r.status, r.body.message];
    };
    expect(await sent({ base: { primitive: 'box', width: -4, height: 1, depth: 1 } })).toEqual([
      422,
      'pieces/box/base/width: Must be at least 0.001.',
    ]);
    expect(await sent({ steps: [{ kind: 'cut', mode: 'subtract', cutters: ['box'] }] })).toEqual([
      422,
      'pieces: Cutters run in a circle: Box → Box.',
    ]);
    expect((await on.open(id)).seq).toBe(0);
    expect(await status(on.call('/api/nowhere'))).toEqual([404, 'There is no such address.']);
  });

  it('keep pictures, and refuse what is none', async () => {
    const id = await on.create('Pictured');
    const png = Uint8Array.of(0x89, 0x50, 0x4e, 0x47, 13, 10, 26, 10, 1, 2, 3);
    const put = (body: Uint8Array, faces: string): Promise<Response> =>
      on.call(`/api/scenes/${id}/thumbnail?faces=${faces}`, {
        method: 'PUT',
        body: bytes(body),
        headers: { 'content-type': 'image/png' },
      });
    expect((await put(png, '12')).status).toBe(200);
    expect(new Uint8Array(await (await on.call(`/api/scenes/${id}/thumbnail`)).arrayBuffer())).toEqual(png);
    expect((await put(Uint8Array.of(1, 2, 3), '12')).status).toBe(400);
    expect((await put(png, '-1')).status).toBe(400);
  });
});

describe('files', () => {
  it('come in as OBJ and go out in every format', async () => {
    const obj =
      'o Wedge\nv 0 0 0\nv 30 0 0\nv 30 0 20\nv 0 0 20\nv 0 15 20\nv 30 15 20\nf 1 2 3 4\nf 4 3 6 5\nf 1 5 6 2\nf 1 4 5\nf 2 6 3\n';
    const made = await on.call('/api/scenes/import?name=Wedge', {
      method: 'POST',
      body: obj,
      headers: { 'content-type': 'text/plain' },
    });
    expect(made.status).toBe(201);
    const { id } = (await made.json()) as { id: string };
    const { pieces } = await on.open(id);
    expect(pieces[0].name).toBe('Wedge');
    for (const [format, start] of [
      ['glb', 'glTF'],
      ['gltf', '{"asset"'],
      ['obj', '# Urnsmith'],
      ['stl', 'Urnsmith'],
      ['ply', 'ply'],
    ]) {
      const r = await on.post(`/api/scenes/${id}/export`, { pieces: ['p1'], format, unit: 'mm', up: 'y' });
      expect(r.status).toBe(200);
      expect(JSON.parse(r.headers.get('x-counts')!)).toEqual({ points: 6, faces: 5, triangles: 8 });
      expect(r.headers.get('content-disposition')).toContain(`Wedge.${format}`);
      expect(
        Buffer.from(await r.arrayBuffer())
          .toString('latin1')
          .startsWith(start),
      ).toBe(true);
    }
    const bad = await on.call('/api/scenes/import?name=Bad', {
      method: 'POST',
      body: 'v 1 2 3\nf 1 2 3',
      headers: { 'content-type': 'model/obj' },
    });
    expect([bad.status, ((await bad.json()) as { message: string }).message]).toEqual([
      422,
      'Line 2: point 2 does not exist, there are 1 so far.',
    ]);
    const missing = await on.post(`/api/scenes/${id}/export`, {
      pieces: ['p9'],
      format: 'glb',
      unit: 'm',
      up: 'y',
    });
    expect(missing.status).toBe(422);
  });

  const putMesh = (hash: string, body: Uint8Array): Promise<Response> =>
    on.call(`/api/meshes/${hash}`, {
      method: 'PUT',
      body: bytes(body),
      headers: { 'content-type': 'application/octet-stream' },
    });

  it('are stored under their true hash only, and collected when no history needs them', async () => {
    const mesh = encodeMesh(buildPrimitive({ primitive: 'sphere', radius: 5 }));
    const hash = await contentHash(mesh);
    expect((await putMesh('0'.repeat(64), mesh)).status).toBe(422);
    expect((await putMesh(hash, mesh)).status).toBe(200);
    expect((await putMesh(hash, mesh)).status).toBe(200);
    const got = await on.call(`/api/meshes/${hash}`);
    expect(Buffer.from(await got.arrayBuffer()).equals(Buffer.from(mesh))).toBe(true);
    const w = await new Window(on, await on.create('Uses it', [{ id: 'a', base: { blob: hash } }])).look();
    const { meshes } = on.running.app;
    expect(meshes.collect(Date.now() + 1000)).toBe(0);
    // A mesh that only an old step of the history uses is kept.
    await w.send(w.revision('Delete', () => []));
    expect(meshes.collect(Date.now() + 1000)).toBe(0);
    const lone = encodeMesh(buildPrimitive({ primitive: 'sphere', radius: 6 }));
    await putMesh(await contentHash(lone), lone);
    // A fresh mesh may belong to an action that has not arrived yet.
    expect(meshes.collect(Date.now() - 60_000)).toBe(0);
    expect(meshes.has(await contentHash(lone))).toBe(true);
    expect(meshes.collect(Date.now() + 1000)).toBe(1);
    expect(meshes.has(await contentHash(lone))).toBe(false);
  });

  it('are meshes or they are refused', async () => {
    const good = encodeMesh(buildPrimitive({ primitive: 'box', width: 1, height: 2, depth: 3 }));
    const text = new TextDecoder('latin1').decode(good);
    const header = text.slice(0, text.indexOf('\0'));
    const nan = Uint8Array.from(good);
    nan.set(new Uint8Array(Float64Array.of(NaN).buffer), Math.ceil((header.length + 1) / 8) * 8);
    const bad = [
      new Uint8Array(0),
      new TextEncoder().encode('URNMESH1 nonsense'),
      good.slice(0, -8),
      Uint8Array.from([...good, ...new Uint8Array(8)]),
      nan,
      ...['"size":3', '"length":', 'Float64Array', '"positions"', '"faceStart"', 'URNMESH1[{'].map((part) =>
        Uint8Array.from(good, (b, i) => (i === header.indexOf(part) + part.length - 1 ? b ^ 1 : b)),
      ),
    ];
    for (const [k, b] of bad.entries()) {
      const r = await on.answer(putMesh(await contentHash(b), b));
      expect([k, r.status, r.body.code]).toEqual([k, 422, 'bad-blob']);
    }
  });

  it('go out as one file and come in again as the same scene', async () => {
    const mesh = encodeMesh(buildPrimitive({ primitive: 'torus', radius: 5, tubeRadius: 1 }));
    const hash = await contentHash(mesh);
    await putMesh(hash, mesh);
    const id = await on.create('Whole', [
      { id: 'a', name: 'Stored', base: { blob: hash } },
      { ...box, steps: [{ kind: 'cut', mode: 'subtract', cutters: ['a'] }] },
    ]);
    const file = await on.call(`/api/scenes/${id}/file`);
    expect([file.status, file.headers.get('content-disposition')]).toEqual([
      200,
      "attachment; filename*=UTF-8''Whole.urn.zip",
    ]);
    const type = file.headers.get('content-type')!;
    const packed = new Uint8Array(await file.arrayBuffer());
    const take = (b: Uint8Array) =>
      on.answer<{ id: string; code: string; message: string }>(
        on.call('/api/scenes/import', { method: 'POST', body: bytes(b), headers: { 'content-type': type } }),
      );
    const again = await take(packed);
    expect(again.status).toBe(201);
    const copy = await on.open(again.body.id);
    expect([copy.name, copy.document]).toEqual(['Whole 2', (await on.open(id)).document]);
    const { status, body } = await take(packed.slice(0, packed.length / 2));
    expect([status, body.code]).toEqual([422, 'bad-archive']);
  });
});

describe('guards', () => {
  it('refuse writes from other origins and calls under other host names', async () => {
    expect((await on.post('/api/scenes', { name: 'x' }, { origin: 'http://evil.example' })).status).toBe(403);
    expect((await on.post('/api/scenes', { name: 'x' }, { origin: on.running.url })).status).toBe(201);
    const r = await on.running.app.app.request('http://rebound.example/api/scenes', {
      headers: { host: 'rebound.example' },
    });
    expect(r.status).toBe(403);
  });

  it('send a strict content security policy, ask for a content type, and answer oversized bodies', async () => {
    const r = await on.call('/api/health');
    expect(r.headers.get('content-security-policy')).toContain("default-src 'none'");
    const typed = async (type: string) =>
      (await on.answer(on.post('/api/scenes', { name: 'x' }, { 'content-type': type }))).body.code;
    expect([await typed('text/plain'), await typed('')]).toEqual(['wrong-type', 'wrong-type']);
    // Far larger than the limit: read to the end and answered, not cut off.
    for (const size of [17, 60])
      expect(
        await on.answer(
          on.call('/api/scenes', { method: 'POST', body: 'x'.repeat(size * 1024 * 1024), headers: json }),
        ),
      ).toMatchObject({
        status: 413,
        body: { code: 'too-large', message: 'This address takes up to 16 MB.' },
      });
  });

  it('tell what is kept in memory, and its bounds', async () => {
    const { body } = await on.answer<{ memory: Record<string, Record<string, number>> }>(
      on.call('/api/health'),
    );
    expect(body.memory.documents.characters).toBeLessThanOrEqual(body.memory.documents.limit);
    expect(body.memory.jobs).toMatchObject({ secondsEach: 60, megabytesEach: 1024 });
  });

  it('keep everything over a restart', async () => {
    const w = await new Window(on, await on.create('Stays')).look();
    await w.send(w.rename('kept'));
    await on.running.stop();
    await on.start();
    const s = await on.open(w.scene);
    expect([s.pieces[0].name, s.undo.map((r) => r.label)]).toEqual(['kept', ['Rename to kept']]);
  });
});
