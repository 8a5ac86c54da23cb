/** /api/scenes: the library, one scene's document and journal, its milestones, its picture. */
import { Hono } from 'hono';
import { Type, type Static } from 'typebox';
import { upgradeDocument } from '@urnsmith/core/document/migrations';
import { shortened } from '@urnsmith/core/document/names';
import type { SceneAction } from '@urnsmith/core/document/scene';
import { pieceListFaults } from '@urnsmith/core/document/validate';
import type { SceneDocument } from '@urnsmith/core/document/sections';
import { StoreError } from '../store/errors';
import type { Journal } from '../store/journal';
import { compared } from '../store/milestones';
import type { SceneStore } from '../store/scenes';
import { BodyError, bytesOf, validated } from './bodies';

const strict = { additionalProperties: false };
const Name = Type.String({ minLength: 1, maxLength: 120, pattern: '\\S' });
const Count = Type.Integer({ minimum: 0, maximum: Number.MAX_SAFE_INTEGER });
const Id = Type.String({ minLength: 1, maxLength: 80, pattern: '^[A-Za-z0-9_.-]+$' });
const PatchBody = Type.Array(
  Type.Object(
    {
      op: Type.Union([Type.Literal('add'), Type.Literal('replace'), Type.Literal('remove')]),
      path: Type.Array(Type.Union([Type.String({ maxLength: 120 }), Count]), { minItems: 2, maxItems: 40 }),
      value: Type.Optional(Type.Unknown()),
    },
    strict,
  ),
  { maxItems: 100_000 },
);
const From = { id: Id, window: Id, base: Count };
const ActionBody = Type.Union([
  Type.Object(
    {
      ...From,
      kind: Type.Literal('revision'),
      label: Type.String({ minLength: 1, maxLength: 200 }),
      forward: PatchBody,
      inverse: PatchBody,
    },
    strict,
  ),
  Type.Object({ ...From, kind: Type.Literal('move'), from: Id, to: Id, patch: PatchBody }, strict),
]);
/** A document of today's form, or the list of pieces that was the form before. */
const DocumentBody = Type.Object({}, { additionalProperties: true });
const CreateBody = Type.Object({ name: Name, document: Type.Optional(DocumentBody) }, strict);
const RecoverBody = Type.Object(
  { window: Id, base: Count, actions: Type.Array(ActionBody, { maxItems: 10_000 }) },
  strict,
);

/** @throws StoreError `bad-document` */
function documentIn(value: unknown): SceneDocument {
  const pieces = value === undefined ? [] : (value as { pieces?: unknown }).pieces;
  if (!Array.isArray(pieces)) return upgradeDocument(value);
  const faults = pieceListFaults(pieces);
  if (faults.length)
    throw new StoreError(422, 'bad-document', `${faults[0].path}: ${faults[0].message}`, faults.slice(0, 20));
  return upgradeDocument({ pieces });
}

export const sceneRoutes = (scenes: SceneStore, journal: Journal) =>
  new Hono()
    .get('/', (c) => c.json(scenes.list((c.req.query('search') ?? '').slice(0, 120))))
    .post('/', validated(CreateBody), (c) => {
      const { name, document } = c.get('body');
      return c.json({ id: scenes.create(name.trim(), documentIn(document)) }, 201);
    })
    .get('/:id', (c) => c.json(journal.open(c.req.param('id'))))
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
    .post('/:id/actions', validated(ActionBody), (c) =>
      c.json(journal.accept(c.req.param('id'), c.get('body') as SceneAction)),
    )
    .get('/:id/history', (c) => {
      const below = c.req.query('below');
      return c.json(
        journal.history(c.req.param('id'), {
          below: below === undefined ? undefined : wholeNumber(below, 'below'),
          search: c.req.query('search')?.slice(0, 120),
          patches: c.req.query('patches') === '1',
        }),
      );
    })
    .post('/:id/recovery', validated(RecoverBody), (c) => {
      const { window, base, actions } = c.get('body') as Static<typeof RecoverBody>;
      const id = c.req.param('id');
      const name = recoveryName(scenes.name(id));
      const copy = scenes.create(
        scenes.freeName(name),
        journal.recovered(id, window, base, actions as SceneAction[]),
      );
      return c.json({ id: copy, name: scenes.name(copy) }, 201);
    })
    .get('/:id/milestones', (c) => {
      const id = c.req.param('id');
      scenes.name(id);
      return c.json(
        journal.milestones.list(id).map(({ number, automatic, ...m }) => ({
          ...m,
          automatic: automatic === 1,
          action: journal.actionAt(id, number),
        })),
      );
    })
    .post('/:id/milestones', validated(Type.Object({ name: Name }, strict)), (c) => {
      const id = c.req.param('id');
      return c.json({ id: journal.milestones.set(id, c.get('body').name.trim(), journal.headOf(id)) }, 201);
    })
    .get('/:id/milestones/:milestone/compare', (c) => {
      const id = c.req.param('id');
      scenes.name(id);
      const m = journal.milestones.get(id, wholeNumber(c.req.param('milestone'), 'milestone'));
      return c.json(compared(journal.documentAt(id, m.number), journal.document(id)));
    })
    .post('/:id/milestones/:milestone/restore', validated(Type.Object(From, strict)), (c) => {
      const id = c.req.param('id');
      scenes.name(id);
      const m = journal.milestones.get(id, wholeNumber(c.req.param('milestone'), 'milestone'));
      const label = shortened(`Back to “${m.name}”`, 200);
      return c.json(journal.changeTo(id, c.get('body'), label, journal.documentAt(id, m.number)));
    })
    .get('/:id/thumbnail', (c) => {
      const png = scenes.picture(c.req.param('id'));
      if (!png) throw new StoreError(404, 'no-picture', 'This scene has no picture yet.');
      return c.body(new Uint8Array(png), 200, { 'content-type': 'image/png', 'cache-control': 'no-cache' });
    })
    .put('/:id/thumbnail', async (c) => {
      const faces = wholeNumber(c.req.query('faces') ?? '', 'faces');
      const png = await bytesOf(c, ['image/png'], 1024 * 1024);
      if (!(png[0] === 0x89 && png[1] === 0x50 && png[2] === 0x4e))
        throw new BodyError(400, 'bad-picture', 'The picture is not a PNG.');
      scenes.setPicture(c.req.param('id'), png, faces);
      return c.json({});
    });

/** @throws BodyError `bad-query` */
function wholeNumber(text: string, what: string): number {
  const n = Number(text);
  if (!/^\d{1,15}$/.test(text) || !Number.isSafeInteger(n))
    throw new BodyError(400, 'bad-query', `“${what}” must be a whole number.`);
  return n;
}

const recoveryName = (name: string): string => {
  const when = new Date().toISOString().slice(0, 16).replace('T', ' ');
  return `${shortened(name, 90)} (recovered ${when})`;
};
