/** The demo scenes as a first start shows them: each with its picture, and the faces it counts. */
import { PNG } from 'pngjs';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { Evaluator } from '@urnsmith/core/build/evaluate';
import { piecesOf } from '@urnsmith/core/document/sections';
import type { SceneCard, SceneState } from '@urnsmith/core/document/scene';
import { faceCount } from '@urnsmith/core/mesh/PolyMesh';
import { loadKernel } from '@urnsmith/core/solid/kernel';
import { BOX_SCENE, seed, VALVE_SCENE } from '../../demo/seed';
import { OnServer } from './onServer';

const on = new OnServer();
let cards: SceneCard[] = [];

beforeAll(async () => {
  await loadKernel();
  await on.start();
  seed(on.running.app.scenes);
  cards = (await (await on.call('/api/scenes')).json()) as SceneCard[];
});
afterAll(() => on.close());

it('every scene has a picture from the start', async () => {
  expect(cards).toHaveLength(6);
  for (const { id, name } of cards) {
    const answer = await on.call(`/api/scenes/${id}/thumbnail`);
    const { width, height, data } = PNG.sync.read(Buffer.from(await answer.arrayBuffer()));
    expect([name, width, height]).toEqual([name, 480, 300]);
    // Something is drawn: its brightest pixel is brighter than the dark stage.
    expect(data.reduce((most, x, i) => (i % 4 === 3 ? most : Math.max(most, x)), 0)).toBeGreaterThan(100);
  }
});

// `npm run shots` makes pictures and counts anew.
it.each([BOX_SCENE, VALVE_SCENE])('%s has as many faces as its card says', async (name) => {
  const { id, faces } = cards.find((c) => c.name === name)!;
  const { document } = (await (await on.call(`/api/scenes/${id}`)).json()) as SceneState;
  const none = (): never => {
    throw new Error('no mesh is stored');
  };
  const evaluator = new Evaluator({ blob: none, file: none });
  const pieces = piecesOf(document);
  evaluator.setPieces(pieces);
  const solids = pieces.filter((p) => !('group' in p.base) && (p.role ?? 'solid') === 'solid');
  expect(solids.reduce((n, p) => n + faceCount(evaluator.build(p.id).mesh), 0)).toBe(faces);
});
