/** Import of mesh files as scenes, and export of a scene's pieces. */
import { Hono } from 'hono';
import { bodyLimit } from 'hono/body-limit';
import { Type } from 'typebox';
import { FORMATS, UNITS } from '@urnsmith/core/formats/part';
import { MEDIA_TYPES } from '@urnsmith/core/formats/index';
import type { Jobs } from '../jobs/Jobs';
import type { BlobStore } from '../store/blobs';
import type { SceneStore } from '../store/scenes';
import { validated } from './validated';

const ExportBody = Type.Object(
  {
    pieces: Type.Array(Type.String({ maxLength: 64 }), { minItems: 1, maxItems: 5000 }),
    format: Type.Union(FORMATS.map((f) => Type.Literal(f))),
    unit: Type.Union(Object.keys(UNITS).map((u) => Type.Literal(u))),
    up: Type.Union([Type.Literal('y'), Type.Literal('z')]),
  },
  { additionalProperties: false },
);

export const transferRoutes = (scenes: SceneStore, blobs: BlobStore, jobs: Jobs) =>
  new Hono()
    .post('/import', bodyLimit({ maxSize: 256 * 1024 * 1024 }), async (c) => {
      const name = (c.req.query('name') ?? '').trim().slice(0, 120) || 'Imported';
      const { pieces, meshes } = await jobs.importObj(await c.req.text());
      for (const { hash, bytes } of meshes) blobs.put(hash, bytes);
      return c.json({ id: scenes.create(name, { pieces }) }, 201);
    })
    .post('/:id/export', bodyLimit({ maxSize: 1024 * 1024 }), validated(ExportBody), async (c) => {
      const body = c.get('body');
      const scene = scenes.open(c.req.param('id'));
      const { bytes, counts } = await jobs.export(scene.document, body as never, (hash) => blobs.get(hash));
      const file = `${scene.name.replace(/[^\p{L}\p{N}]+/gu, '-').replace(/^-|-$/g, '') || 'scene'}.${body.format}`;
      return c.body(bytes as Uint8Array<ArrayBuffer>, 200, {
        'content-type': MEDIA_TYPES[body.format as keyof typeof MEDIA_TYPES],
        'content-disposition': `attachment; filename*=UTF-8''${encodeURIComponent(file)}`,
        'x-counts': JSON.stringify(counts),
      });
    });
