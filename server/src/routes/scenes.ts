/** /api/scenes: the library, one scene's document and journal, its picture. */
import { Hono } from 'hono';
import { bodyLimit } from 'hono/body-limit';
import { Type } from 'typebox';
import type { Patch } from '@urnsmith/core/document/patch';
import type { SceneDocument } from '@urnsmith/core/document/schema';
import type { SceneStore } from '../store/scenes';
import { validated } from './validated';

const strict = { additionalProperties: false };
const Name = Type.String({ minLength: 1, maxLength: 120, pattern: '\\S' });
const Seq = Type.Integer({ minimum: 0 });
const PatchBody = Type.Object(
  {
    pieces: Type.Record(Type.String({ maxLength: 64 }), Type.Unknown()),
    order: Type.Optional(Type.Array(Type.String({ maxLength: 64 }), { maxItems: 5000 })),
  },
  strict,
);
const CreateBody = Type.Object(
  {
    name: Name,
    document: Type.Optional(Type.Object({ pieces: Type.Array(Type.Unknown(), { maxItems: 5000 }) }, strict)),
  },
  strict,
);
const RevisionBody = Type.Object(
  { seq: Seq, label: Type.String({ minLength: 1, maxLength: 200 }), forward: PatchBody, inverse: PatchBody },
  strict,
);

export const sceneRoutes = (scenes: SceneStore) =>
  new Hono()
    .use(bodyLimit({ maxSize: 16 * 1024 * 1024 }))
    .get('/', (c) => c.json(scenes.list((c.req.query('search') ?? '').slice(0, 120))))
    .post('/', validated(CreateBody), (c) => {
      const { name, document } = c.get('body');
      return c.json({ id: scenes.create(name.trim(), (document ?? { pieces: [] }) as SceneDocument) }, 201);
    })
    .get('/:id', (c) => c.json(scenes.open(c.req.param('id'))))
    .patch('/:id', validated(Type.Object({ name: Name }, strict)), (c) => {
      scenes.rename(c.req.param('id'), c.get('body').name.trim());
      return c.json({});
    })
    .delete('/:id', (c) => {
      scenes.remove(c.req.param('id'));
      return c.json({});
    })
    .post('/:id/restore', (c) => {
      scenes.restore(c.req.param('id'));
      return c.json({});
    })
    .post('/:id/duplicate', (c) => c.json({ id: scenes.duplicate(c.req.param('id')) }, 201))
    .post('/:id/revisions', validated(RevisionBody), (c) => {
      const { seq, label, forward, inverse } = c.get('body');
      return c.json(scenes.append(c.req.param('id'), seq, label, forward as Patch, inverse as Patch), 201);
    })
    .post('/:id/head', validated(Type.Object({ seq: Seq, to: Seq }, strict)), (c) => {
      const { seq, to } = c.get('body');
      return c.json(scenes.move(c.req.param('id'), seq, to));
    })
    .get('/:id/thumbnail', (c) =>
      c.body(new Uint8Array(scenes.picture(c.req.param('id'))), 200, {
        'content-type': 'image/png',
        'cache-control': 'no-cache',
      }),
    )
    .put('/:id/thumbnail', async (c) => {
      const png = new Uint8Array(await c.req.arrayBuffer());
      const faces = Number(c.req.query('faces'));
      const isPng = png.length < 1024 * 1024 && png[0] === 0x89 && png[1] === 0x50 && png[2] === 0x4e;
      if (!isPng || !Number.isSafeInteger(faces) || faces < 0)
        return c.json(
          { code: 'bad-picture', message: 'A picture must be a PNG under 1 MB, with a face count.' },
          400,
        );
      scenes.setPicture(c.req.param('id'), png, faces);
      return c.json({});
    });
