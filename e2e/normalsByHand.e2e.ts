/** Shading by hand: evened out where two panels meet, sampled and applied, turned by the handles, seen as lines. */
import { Key } from 'selenium-webdriver';
import { describe, expect, it } from 'vitest';
import type { Action } from '@urnsmith/core/document/actions';
import type { Piece } from '@urnsmith/core/document/schema';
import { loadKernel } from '@urnsmith/core/solid/kernel';
import { distance, pointOf, type Vec3 } from '@urnsmith/core/mesh/vec3';
import type { PolyMesh } from '@urnsmith/core/mesh/PolyMesh';
import { shadingNormals } from '@urnsmith/core/shading/cornerNormals';
import { Evaluator } from '@urnsmith/core/steps/evaluate';
import { atBench } from './atBench';

const { browser, on, h } = await atBench();
const { driver } = browser;
await loadKernel();

const panel = (id: string, name: string, faces: number[]): Piece => ({
  id,
  name,
  base: { primitive: 'cylinder', radius: 30, height: 40, sides: 16, caps: 'none' },
  actions: [{ op: 'keepFaces', select: { faces } }],
});

const none = (): never => {
  throw new Error('no file is used');
};
async function built(): Promise<PolyMesh[]> {
  const pieces = await on.stored();
  const e = new Evaluator({ blob: none, file: none });
  e.setPieces(pieces);
  return pieces.map((p) => e.build(p.id).mesh);
}

/** How far the shading of two pieces differs where they touch; the number of corners that do. */
async function seam(): Promise<{ corners: number; apart: number }> {
  const [a, b] = await built();
  const [na, nb] = [shadingNormals(a), shadingNormals(b)];
  let corners = 0;
  let apart = 0;
  a.corners.forEach((v, i) =>
    b.corners.forEach((w, j) => {
      if (distance(pointOf(a.positions, v), pointOf(b.positions, w)) > 1e-6) return;
      corners++;
      apart = Math.max(apart, distance(pointOf(na, i), pointOf(nb, j)));
    }),
  );
  return { corners, apart };
}

const lasts = async (): Promise<Action[]> => (await on.stored()).map((p) => p.actions!.at(-1)!);

describe('shading by hand', () => {
  it('two panels that only touch are evened out in one move, and taken back in one', async () => {
    await on.open('Panels', [
      panel('a', 'Left panel', [0, 1, 2, 3]),
      panel('b', 'Right panel', [4, 5, 6, 7]),
    ]);
    expect((await seam()).apart).toBeGreaterThan(0.1);
    await h.pick('Left panel', 'Right panel');
    await on.key('8');
    await on.untilCounts('0 of 4 faces');
    await h.find('Pick all');
    await on.untilCounts('4 of 4 faces here, 4 on 1 other piece');
    await h.find('Even out the shading');
    await h.until('both held', async () => (await lasts()).every((a) => a.to === 'even'));
    expect(await seam()).toEqual({ corners: 2, apart: 0 });
    await h.until('it says so', async () => (await h.text('.notice')).includes('Held 32 normals.'));
    await on.key(Key.CONTROL, 'z');
    await h.until('both back', async () => (await lasts()).every((a) => a.op === 'keepFaces'));
  });

  it('the shading of one face is sampled for another, and turned by the handles', async () => {
    const slab: Piece = { id: 'a', name: 'Slab', base: { primitive: 'box', width: 30, height: 10, depth: 60, segments: [2, 1, 2] } }; // prettier-ignore
    await on.open('Slab', [slab]);
    await h.pick('Slab');
    await on.key('5');
    await on.key('p');
    await on.key('n');
    const s = await on.scaleFrom(15);
    await on.key('8');
    await on.untilCounts('0 of');
    await on.clickAt(7 * s, -12 * s);
    await on.untilCounts('1 of');
    await on.key('d');
    await h.press('shading', '[aria-label="Turns"]');
    await h.see('.switched');
    await h.find('Shading normals as lines');
    // An eighth of the ring about the upright axis, where no other ring is.
    const about = { x: Math.round(7.5 * s), y: Math.round(-15 * s) };
    const ring = 84 * 0.92;
    const from = {
      origin: on.middle,
      x: about.x + Math.round(ring * 0.707),
      y: about.y - Math.round(ring * 0.707),
    };
    await driver
      .actions()
      .move(from)
      .press()
      .move({ origin: on.middle, x: about.x + Math.round(ring * 0.3), y: about.y - Math.round(ring * 0.95) })
      .move({ origin: on.middle, x: about.x, y: about.y - Math.round(ring) })
      .release()
      .perform();
    await h.until('the turn', async () => (await lasts())[0]?.to === 'turn');
    const turned = (await lasts())[0];
    expect(turned.direction).toEqual([0, 1, 0].map((x) => expect.closeTo(x, 6)));
    expect(Math.abs(turned.degrees as number)).toBeGreaterThan(20);
    // The number on the Card turns it on.
    await h.type('X', '1', '.card [aria-label="Direction"]');
    await h.until('about another axis', async () => (await lasts())[0].direction?.toString() === '1,1,0');
    const [mesh] = await built();
    const tilted = tiltedFaces(mesh);
    expect(tilted.length).toBe(1);
    // Sampled, and applied to the face beside it.
    await on.key('a');
    await h.find('Sample the shading');
    await h.until('sampled', async () => (await h.text('.notice')).includes('sampled'));
    await on.clickAt(-7 * s, -12 * s);
    await on.untilCounts('1 of');
    await h.find('Apply the sampled');
    await h.until('applied', async () => (await on.stored())[0].actions!.length === 2);
    const [both] = await built();
    const [one, other] = tiltedFaces(both).map((f) => pointOf(shadingNormals(both), both.faceStart[f]));
    expect(other).toEqual(one.map((x) => expect.closeTo(x, 5)));
  });
});

/** Faces of the top that are shaded as if they leaned. */
function tiltedFaces(mesh: PolyMesh): number[] {
  const n = shadingNormals(mesh);
  const out: number[] = [];
  for (let f = 0; f + 1 < mesh.faceStart.length; f++) {
    const corners = Array.from(
      { length: mesh.faceStart[f + 1] - mesh.faceStart[f] },
      (_, k) => mesh.faceStart[f] + k,
    );
    const top = corners.every((c) => mesh.positions[3 * mesh.corners[c] + 1] > 4.9);
    const leans = (v: Vec3): boolean => v[1] < 0.999;
    if (top && corners.every((c) => leans(pointOf(n, c)))) out.push(f);
  }
  return out;
}
