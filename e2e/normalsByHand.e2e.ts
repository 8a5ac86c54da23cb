/** Shading by hand: evened out where panels meet, sampled, turned, cast from another piece, ranked, bent. */
import { PNG } from 'pngjs';
import { Key } from 'selenium-webdriver';
import { describe, expect, it } from 'vitest';
import type { Action } from '@urnsmith/core/actions/actions';
import type { Piece } from '@urnsmith/core/document/schema';
import { loadKernel } from '@urnsmith/core/solid/kernel';
import { distance, pointOf, type Vec3 } from '@urnsmith/core/mesh/vec3';
import type { PolyMesh } from '@urnsmith/core/mesh/PolyMesh';
import { shadingNormals } from '@urnsmith/core/shading/shadingNormals';
import { Evaluator } from '@urnsmith/core/build/evaluate';
import { atBench } from './atBench';

const { browser, on, h } = await atBench({ sharp: true });
const { driver } = browser;
await loadKernel();

const panel = (id: string, name: string, faces: number[]): Piece => ({
  id,
  name,
  base: { primitive: 'cylinder', radius: 30, height: 40, sides: 16, caps: 'none' },
  // Stretched by hand, so nothing is known any more of the surface they stand for.
  actions: [
    { op: 'keepFaces', select: { faces } },
    { op: 'transform', select: { rule: 'all', of: 'points' }, size: [1, 1.05, 1] },
  ],
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
    await h.until('both back', async () => (await lasts()).every((a) => a.op === 'transform'));
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

/** Pixels of the stage near a colour of the tint. */
async function tinted(near: (r: number, g: number, b: number) => boolean): Promise<number> {
  const png = PNG.sync.read(Buffer.from(await h.picture(on.canvas), 'base64'));
  let found = 0;
  for (let i = 0; i < png.data.length; i += 4)
    if (near(png.data[i], png.data[i + 1], png.data[i + 2])) found++;
  return found;
}

describe('what another piece is shaded like', () => {
  it('is cast onto what is picked, from the other piece in hand', async () => {
    // A facet laid on a round wall.
    const wall: Piece = {
      id: 'w',
      name: 'Wall',
      base: { primitive: 'cylinder', radius: 30, height: 60, sides: 48 },
    };
    const patch: Piece = { id: 'p', name: 'Patch', base: { primitive: 'plane', width: 20, depth: 20, segments: [2, 2] }, transform: { move: [0, 0, 30.5], turn: [90, 0, 0] } }; // prettier-ignore
    await on.open('Patch', [wall, patch]);
    await h.pick('Patch');
    await on.key('8');
    await on.untilCounts('0 of 4 faces');
    await h.find('Pick all');
    await on.untilCounts('4 of 4 faces');
    // Alone in hand there is nothing to cast from, and it says so.
    await h.find('Cast the shading from another');
    await h.until('the reason', async () =>
      (await h.text('.notice')).includes('Take one other piece in hand'),
    );
    await h.press('✕', '.notice');
    await on.key('7');
    await h.pick('Wall', 'Patch');
    await on.key('8');
    await on.untilCounts('of 4 faces here');
    await on.key('1');
    await h.rest();
    await on.clickAt(8, 8);
    await on.untilCounts('1 of 4 faces here, 0 on 1 other piece');
    await h.find('Cast the shading from another');
    await h.until('the cast', async () => (await on.stored())[1].actions?.at(-1)?.to === 'cast');
    const [, mesh] = await built();
    const n = shadingNormals(mesh);
    const [f] = (await on.stored())[1].actions!.map((a) => (a.select as { faces: number[] }).faces[0]);
    for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) {
      // In the patch's frame the wall bends away along x, and its axis lies 30.5 below.
      const [x] = pointOf(mesh.positions, mesh.corners[c]);
      const long = Math.hypot(x, 30.5);
      expect(pointOf(n, c)).toEqual([x / long, 30.5 / long, 0].map((v) => expect.closeTo(v, 2)));
    }
  });

  it('faces are ranked by hand, and seen so until the chip is ended', async () => {
    await on.open('Ranks', [
      { id: 'a', name: 'Slab', base: { primitive: 'box', width: 40, height: 20, depth: 40 } },
    ]);
    await h.pick('Slab');
    await on.key('5');
    await on.key('8');
    await on.untilCounts('0 of 6 faces');
    await on.clickAt(0, 0);
    await on.untilCounts('1 of 6');
    const gold = (r: number, g: number, b: number): boolean => r > 150 && g > 120 && r - b > 45;
    expect(await tinted(gold)).toBeLessThan(500);
    await h.find('Let the faces lead');
    await on.key(Key.ESCAPE);
    await on.untilCounts('0 of 6');
    // The face under the pointer is lit instead.
    await driver.actions({ async: true }).move({ origin: on.middle, x: 300, y: 0 }).perform();
    await h.until('the tint', async () => (await tinted(gold)) > 3000);
    await h.press('tinted: gold leads, blue follows');
    await h.until('no tint', async () => (await tinted(gold)) < 500);
  });

  it('bent normals darken what is shut in, and go into the file', async () => {
    const block: Piece = {
      id: 'a',
      name: 'Block',
      base: { primitive: 'box', width: 40, height: 20, depth: 40 },
      steps: [{ kind: 'cut', mode: 'subtract', cutters: ['b'] }],
    };
    const slot: Piece = { id: 'b', name: 'Slot', role: 'cutter', parent: 'a', base: { primitive: 'box', width: 8, height: 30, depth: 60 }, transform: { move: [0, 10, 0] } }; // prettier-ignore
    await on.open('Open', [block, slot]);
    await h.pick('Block');
    await h.find('Bent normals');
    await h.until('the step', async () => (await on.stored())[0].steps!.some((s) => s.kind === 'bent'));
    await h.until('what it found', async () => /64 rays from each of \d+ corners; \d+% of them escape/.test(await h.text('.card'))); // prettier-ignore
    await h.type('Rays', '128');
    await h.until('more rays', async () => (await h.text('.card')).includes('128 rays'));
    const [mesh] = await built();
    const { bent, openness } = mesh.layers.corner;
    expect(bent.data.length).toBe(3 * mesh.corners.length);
    expect(Math.min(...openness.data)).toBeLessThan(0.4);
    expect(Math.max(...openness.data)).toBe(1);
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
