/** Scenes in and out: mesh files and scene files as scenes, pieces as mesh files, a scene as one file. */
import { createReadStream } from 'node:fs';
import { readFile, stat, writeFile } from 'node:fs/promises';
import { Readable } from 'node:stream';
import { Hono } from 'hono';
import { Type } from 'typebox';
import { documentOf, meshesOf, type SceneDocument } from '@urnsmith/core/document/sections';
import { shortened } from '@urnsmith/core/document/names';
import { ARCHIVE_LIMITS } from '@urnsmith/core/formats/archive';
import { FORMATS, READ, WRITTEN, type Format } from '@urnsmith/core/formats/index';
import { UNITS, type ExportOptions } from '@urnsmith/core/formats/part';
import type { Jobs } from '../jobs/Jobs';
import type { Journal } from '../store/journal';
import type { MeshStore } from '../store/meshes';
import type { SceneStore } from '../store/scenes';
import { bodyToFile, goneSignal, inFolder, validated, type Folder } from './bodies';

const ExportBody = Type.Object(
  {
    pieces: Type.Array(Type.String({ maxLength: 64 }), { minItems: 1, maxItems: 5000 }),
    format: Type.Union(WRITTEN.map((f) => Type.Literal(f))),
    unit: Type.Union(Object.keys(UNITS).map((u) => Type.Literal(u))),
    up: Type.Union([Type.Literal('y'), Type.Literal('z')]),
  },
  { additionalProperties: false },
);
/** Media types of mesh files that are read, each with its format. */
const MESH_TYPES = new Map(
  READ.flatMap((f) => [FORMATS[f].media, ...(FORMATS[f].mediaToo ?? [])].map((type) => [type, f] as const)),
);
const MOST = Math.max(...READ.map((f) => FORMATS[f].most ?? 0));
export const SCENE_FILE = 'application/vnd.urnsmith.scene+zip';

export const transferRoutes = (scenes: SceneStore, journal: Journal, meshes: MeshStore, jobs: Jobs) => {
  /** Lays a scene's document and the meshes it needs into a folder. @returns bytes there are to work on */
  async function lay(folder: Folder, document: SceneDocument): Promise<{ hashes: string[]; bytes: number }> {
    const text = JSON.stringify(document);
    await writeFile(folder.in('document.json'), text);
    const hashes = [...meshesOf(document)];
    let bytes = text.length;
    for (const hash of hashes) {
      const mesh = await meshes.get(hash);
      bytes += mesh.length;
      await writeFile(folder.in(hash), mesh);
    }
    return { hashes, bytes };
  }

  const store = async (folder: Folder, hashes: ReadonlyArray<string>): Promise<void> => {
    for (const hash of hashes) await meshes.put(hash, await readFile(folder.in(hash)));
  };

  return new Hono()
    .post('/import', async (c) => {
      const name = shortened((c.req.query('name') ?? '').trim(), 120) || 'Imported';
      return inFolder(async (folder) => {
        const file = folder.in('in');
        const isScene = c.req.header('content-type')?.startsWith(SCENE_FILE);
        if (isScene) {
          const size = await bodyToFile(c, [SCENE_FILE], ARCHIVE_LIMITS.packed, file);
          const scene = await jobs.run('unpack', { file, folder: folder.path }, size, goneSignal(c));
          await store(folder, scene.hashes);
          const id = scenes.create(scenes.freeName(scene.name), scene.document);
          if (scene.picture) scenes.setPicture(id, await readFile(folder.in('picture.png')), 0);
          return c.json({ id }, 201);
        }
        const type = (c.req.header('content-type') ?? '').split(';')[0].trim();
        const format = MESH_TYPES.get(type);
        const most = format ? (FORMATS[format].most ?? MOST) : MOST;
        const size = await bodyToFile(c, [...MESH_TYPES.keys()], most, file);
        const { pieces, hashes } = await jobs.run(
          'import',
          { file, folder: folder.path, format: format! },
          size,
          goneSignal(c),
        );
        await store(folder, hashes);
        return c.json({ id: scenes.create(name, documentOf(pieces)) }, 201);
      });
    })
    .post('/:id/export', validated(ExportBody), async (c) => {
      const body = c.get('body') as ExportOptions & { format: Format; pieces: string[] };
      const id = c.req.param('id');
      const { document } = journal.open(id);
      return inFolder(async (folder) => {
        const { bytes } = await lay(folder, document);
        const { file, counts } = await jobs.run(
          'export',
          { folder: folder.path, options: body },
          bytes,
          goneSignal(c),
        );
        return c.body(await readFile(file), 200, {
          'content-type': FORMATS[body.format].media,
          'content-disposition': attachment(scenes.name(id), body.format),
          'x-counts': JSON.stringify(counts),
        });
      });
    })
    .get('/:id/file', async (c) => {
      const id = c.req.param('id');
      const name = scenes.name(id);
      const { document } = journal.open(id);
      return inFolder(async (folder) => {
        const { hashes, bytes } = await lay(folder, document);
        const picture = scenes.picture(id);
        if (picture) await writeFile(folder.in('picture.png'), picture);
        const { file } = await jobs.run(
          'pack',
          { folder: folder.path, name, hashes, picture: picture !== null },
          bytes,
          goneSignal(c),
        );
        const { size } = await stat(file);
        const opened = createReadStream(file);
        // Once open, the file stays readable when its folder goes.
        await new Promise((resolve, reject) => opened.once('open', resolve).once('error', reject));
        return c.body(Readable.toWeb(opened) as ReadableStream, 200, {
          'content-type': SCENE_FILE,
          'content-length': String(size),
          'content-disposition': attachment(name, 'urn.zip'),
        });
      });
    });
};

function attachment(name: string, extension: string): string {
  const file = `${name.replace(/[^\p{L}\p{N}]+/gu, '-').replace(/^-|-$/g, '') || 'scene'}.${extension}`;
  return `attachment; filename*=UTF-8''${encodeURIComponent(file)}`;
}
