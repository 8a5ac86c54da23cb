/** A practitioner's job, start to end, in the real interface. */
import { readFileSync, writeFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { basename, join } from 'node:path';
import { NodeIO } from '@gltf-transform/core';
import { By, Key } from 'selenium-webdriver';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { SceneState } from '@urnsmith/core/document/scene';
import type { Piece } from '@urnsmith/core/document/schema';
import { piecesOf } from '@urnsmith/core/document/sections';
import { drawableOf } from '@urnsmith/core/formats/drawable';
import { placedForExport } from '@urnsmith/core/formats/part';
import { checkMesh } from '@urnsmith/core/mesh/checkMesh';
import { volume } from '@urnsmith/core/mesh/measure';
import type { PolyMesh } from '@urnsmith/core/mesh/PolyMesh';
import { IDENTITY } from '@urnsmith/core/mesh/transform';
import { loadKernel } from '@urnsmith/core/solid/kernel';
import { Evaluator } from '@urnsmith/core/build/evaluate';
import { barriers } from './accessible';
import { consoleProblems, type Browser } from './browser';
import { downloadBy } from './downloads';
import { HandsOn } from './hands';
import { TestServer } from './server';
import { workerBrowser } from './workerBrowser';

const validator = createRequire(import.meta.url)('gltf-validator') as {
  validateBytes(
    b: Uint8Array,
  ): Promise<{ issues: { numErrors: number; numWarnings: number; messages: unknown[] } }>;
};

const server = new TestServer();
let browser: Browser;
let h: HandsOn;
let scene = '';

beforeAll(async () => {
  await loadKernel();
  await server.start();
  browser = await workerBrowser({ origin: server.url });
  h = new HandsOn(browser.driver);
});
afterAll(async () => {
  await browser?.driver.get('about:blank');
  await server.close();
});

const stored = async (): Promise<SceneState & { pieces: Piece[] }> => {
  const state = (await (await fetch(`${server.url}/api/scenes/${scene}`)).json()) as SceneState;
  return { ...state, pieces: piecesOf(state.document) };
};

/** The stored scene, built by core. */
async function built(name: string): Promise<PolyMesh> {
  const { pieces } = await stored();
  const e = new Evaluator({ blob: () => { throw new Error(); }, file: () => { throw new Error(); } }); // prettier-ignore
  e.setPieces(pieces);
  const { mesh, steps } = e.build(pieces.find((p) => p.name === name)!.id);
  expect(steps.filter((s) => s.fault)).toEqual([]);
  return mesh;
}

const shownFaces = (name: string) => async (): Promise<number | null> => {
  const t = await (await h.see(`.rows [data-name="${name}"] em`)).getText();
  return /^\d/.test(t) ? Number(t.replace(/\s/g, '')) : null;
};

const expectAccessible = async (): Promise<void> => expect(await barriers(browser.driver)).toEqual([]);

describe('Scenes', () => {
  it('shows the demo scene with a picture, its pieces and faces', async () => {
    await browser.driver.get(server.url);
    await h.see('.sceneCard img', 60000);
    expect(await h.text('.sceneCard .name')).toBe('Skerry Light: pressure hatch');
    expect(await h.text('.sceneCard .about')).toMatch(/43 pieces · \d+ \d+ faces/);
    const width = await browser.driver.executeScript(
      'return document.querySelector(".sceneCard img").naturalWidth',
    );
    expect(width).toBe(480);
    await expectAccessible();
  });

  it('duplicates, renames, searches, deletes and takes the deletion back', async () => {
    await h.press('More for Skerry Light: pressure hatch');
    await h.menuItem('Duplicate');
    await h.press('More for Skerry Light: pressure hatch 2');
    await h.menuItem('Rename');
    const field = await h.see('.nameInput');
    await h.rest();
    await field.sendKeys(Key.chord(Key.CONTROL, 'a'), 'Spare hatch', Key.ENTER);
    await h.see('[aria-label="Open Spare hatch"]');
    await (await h.see('[aria-label="Find a scene"]')).sendKeys('spare');
    await h.until(
      'filtering',
      async () => (await browser.driver.findElements(By.css('.sceneCard'))).length === 1,
    );
    await h.press('More for Spare hatch');
    await h.menuItem('Delete');
    await h.until(
      'the card going',
      async () => (await browser.driver.findElements(By.css('.sceneCard'))).length === 0,
    );
    await h.press('Undo', '.notices');
    await h.see('[aria-label="Open Spare hatch"]');
    await (await h.see('[aria-label="Find a scene"]')).sendKeys(Key.chord(Key.CONTROL, 'a'), Key.DELETE);
  });

  it('imports an OBJ file with n-gons, and tells the line of a broken one', async () => {
    const bad = join(browser.downloads, '..', 'broken.obj');
    writeFileSync(bad, 'v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\nf 1 2 9\n');
    const input = await browser.driver.findElement(By.css('input[type=file]'));
    await input.sendKeys(bad);
    expect(await h.text('.notice')).toMatch(
      /broken\.obj was not imported\. Line 5: point 9 does not exist, there are 3 so far/,
    );
    const good = join(browser.downloads, '..', 'wedge.obj');
    writeFileSync(
      good,
      'o Wedge\nv 0 0 0\nv 30 0 0\nv 30 0 20\nv 0 0 20\nv 0 15 20\nv 30 15 20\nf -6 -5 -4 -3\nf 4 3 6 5\nf 1 5 6 2\nf 1 4 5\nf 2 6 3\n',
    );
    await (await browser.driver.findElement(By.css('input[type=file]'))).sendKeys(good);
    await h.until('the faces showing', async () => (await shownFaces('Wedge')()) === 5);
    await browser.driver.get(server.url);
  });
});

describe('Bench', () => {
  it('adds a box and sizes it with arithmetic and units', async () => {
    await h.press('New scene');
    await h.see('#stage');
    scene = (await browser.driver.getCurrentUrl()).split('/').at(-2)!;
    await h.press('Start with a box');
    await h.type('Width', '4in - 1.6mm');
    await h.type('Height', '40/2');
    await h.type('Depth', '80');
    await h.saved();
    expect((await stored()).pieces[0].base).toMatchObject({
      primitive: 'box',
      width: 100,
      height: 20,
      depth: 80,
    });
  });

  it('refuses numbers out of range with a sentence and changes nothing', async () => {
    await h.type('Width', '0');
    expect(await h.text('.card .fault')).toBe('Width must be at least 0.001 mm.');
    await h.type('Width', '12 °');
    expect(await h.text('.card .fault')).toMatch(/unit “°” does not fit/);
    await h.saved();
    expect((await stored()).pieces[0].base).toMatchObject({ width: 100 });
    await h.type('Width', '100');
  });

  it('pulls a dimension handle on the model', async () => {
    const before = ((await stored()).pieces[0].base as { width: number }).width;
    await h.pull(await h.see('.handle[aria-label^="width"] i'), [60, 18]);
    await h.saved();
    const after = ((await stored()).pieces[0].base as { width: number }).width;
    expect(after).toBeGreaterThan(before + 5);
    expect((await stored()).undo.at(-1)!.label).toBe('Width of Box');
    await h.focusStage();
    await h.chord(Key.CONTROL, 'z');
    await h.saved();
    expect(((await stored()).pieces[0].base as { width: number }).width).toBe(before);
  });

  it('adds a cylinder and drags it along one axis only', async () => {
    await h.press('piece', '.foot');
    await h.menuItem('Cylinder');
    await h.type('Radius', '10');
    await h.type('Height', '60');
    // New pieces stand on their foot; this one must reach as far down as up.
    await h.press('middle', '[aria-label="Origin"]');
    await h.until('the build', async () => !(await h.text('.strip .who')).includes('…'));
    await h.saved();
    await h.focusStage();
    await h.keys('n');
    await h.keys('s');
    // The handles stand in the middle of the stage; the X arrow points right and a little down.
    const stage = await h.see('#stage');
    await h.drag(stage, [66, 22], [90, 30]);
    await h.saved();
    const { move } = (await stored()).pieces[1].transform!;
    expect(move![0]).toBeGreaterThan(3);
    expect(move!.slice(1)).toEqual([0, 0]);
    expect((await stored()).undo.at(-1)!.label).toBe('Move Cylinder');
  });

  it('snaps and holds to the axis nearest to the pointer’s way while dragging freely', async () => {
    await h.type('X', '0', '.placement [aria-label="Move"]');
    await h.focusStage();
    await h.keys('m');
    await h.keys('n');
    const stage = await h.see('#stage');
    await h.drag(stage, [0, 0], [-70, 40], () => h.holding(Key.SHIFT));
    await h.lettingGo(Key.SHIFT);
    await h.saved();
    const { move } = (await stored()).pieces[1].transform!;
    expect([move![0], move![1]]).toEqual([0, 0]);
    expect(Math.abs(move![2] % 5)).toBe(0);
    await h.keys('m');
    await h.chord(Key.CONTROL, 'z');
    await h.keys('a');
  });

  it('cuts live: the host follows its cutter while it is dragged', async () => {
    await h.pick('Cylinder', 'Box');
    await h.focusStage();
    await h.keys('q');
    await h.until('the cut', async () => (await shownFaces('Box')()) === 4 + 32 + 4);
    expect(await h.text('.bead.on')).toMatch(/Cylinder\n− 1/);
    await h.saved();
    let mesh = await built('Box');
    expect(checkMesh(mesh).closed).toBe(true);
    const hole = volume(mesh);
    expect(hole).toBeLessThan(160000);
    // Drag the hidden cutter half out of the side: faces change before the button is let go.
    await h.press('Cylinder', '.cutters');
    await h.type('X', '0', '.placement [aria-label="Move"]');
    await h.focusStage();
    await h.keys('s');
    await h.chord(Key.SHIFT, 'n');
    const stage = await h.see('#stage');
    let during = 0;
    const faces = await h.text('.rows [data-name="Box"] em');
    await h.drag(stage, [66, 22], [240, 80], async () => {
      during = await h.until('the host following', async () => {
        const n = await h.text('.rows [data-name="Box"] em');
        return n !== faces && /\d/.test(n) ? Number(n) : null;
      });
    });
    await h.saved();
    expect(during).not.toBe(40);
    mesh = await built('Box');
    expect(volume(mesh)).not.toBeCloseTo(hole, 0);
    await h.type('X', '0', '.placement [aria-label="Move"]');
    await h.focusStage();
    await h.keys('a');
  });

  it('changes the mode, rests a cutter, and brings both back', async () => {
    await h.pick('Box');
    await h.click('.bead:not(.base)');
    await h.press('union', '.card');
    await h.saved();
    expect(volume(await built('Box'))).toBeGreaterThan(160000);
    await h.press('subtract', '.card');
    await h.press('Switch off Cylinder');
    await h.until('the hole closing', async () => (await shownFaces('Box')()) === 6);
    await h.press('Switch on Cylinder');
    await h.until('the hole coming back', async () => (await shownFaces('Box')()) === 40);
  });

  it('rounds the rims, whatever the order, and follows the cut', async () => {
    // Normals first: the lanes put the bevel before them all the same.
    await h.focusStage();
    await h.keys('c');
    await h.until('normals', async () => (await h.text('[data-lane="Shade"]')).includes('Normals'));
    await h.keys('t');
    await h.type('Width', '1.5');
    await h.type('Segments', '4');
    await h.saved();
    const { pieces } = await stored();
    expect(pieces[0].steps!.map((s) => s.kind)).toEqual(['cut', 'normals', 'bevel']);
    const mesh = await built('Box');
    expect(checkMesh(mesh).closed).toBe(true);
    await h.until('the rounding showing', async () => (await shownFaces('Box')()) === 40 + 64 * 4);
    expect(await h.text('[data-lane="Edge"] .bead')).toMatch(/Rims\n1\.5 mm · 4 seg/);
    await expectAccessible();
  });

  it('shows every look, its legend, and the shading before and after', async () => {
    const stage = await h.see('#stage');
    const pictures = new Set<string>();
    for (const look of ['Gloss', 'Normals', 'Facing', 'Drift', 'Clay']) {
      await h.press(look, '.tr');
      await h.rest();
      pictures.add(await h.picture(stage));
      if (look === 'Drift') expect(await h.text('.legend')).toMatch(/0°\s*1°\s*2°\s*6°\s*12°/);
    }
    expect(pictures.size).toBe(5);
    await h.focusStage();
    await h.chord(Key.SHIFT, 'o');
    expect(await h.text('.stageNote')).toBe('before Shade');
    await h.chord(Key.SHIFT, 'o');
    for (const key of ['y', 'u', 'i', 'p', '1', '5']) await h.keys(key);
    for (const key of ['p', 'i', 'u', 'y']) await h.keys(key);
  });

  it('groups, nests, locks, makes faint, hides, duplicates and deletes', async () => {
    await h.focusStage();
    await h.press('piece', '.foot');
    await h.menuItem('Torus');
    await h.focusStage();
    await h.chord(Key.CONTROL, 'd');
    await h.pick('Torus', 'Torus 2');
    await h.focusStage();
    await h.chord(Key.CONTROL, 'g');
    await h.see('.rows [data-name="Group"]');
    await h.pick('Torus');
    await h.focusStage();
    for (const k of ['k', 'j', 'l']) await h.keys(k);
    await h.saved();
    const torus = (await stored()).pieces.find((p) => p.name === 'Torus')!;
    expect(torus).toMatchObject({ hidden: true, faint: true, locked: true });
    expect((await stored()).pieces.find((p) => p.id === torus.parent)!.name).toBe('Group');
    await h.pick('Group');
    await h.focusStage();
    await h.keys(Key.DELETE);
    await h.saved();
    expect((await stored()).pieces.map((p) => p.name)).toEqual(['Box', 'Cylinder']);
  });

  it('lights up and names an open operand, and refuses a circle of cutters', async () => {
    await h.focusStage();
    await h.press('piece', '.foot');
    await h.menuItem('Plane');
    await h.pick('Plane', 'Box');
    await h.focusStage();
    await h.keys('q');
    expect(await h.text('.card .faultBox')).toMatch(/“Plane” is not a closed solid: 4 of its edges are open/);
    await h.see('.bead.broken');
    await h.press('Go to that piece');
    expect(await h.text('.card .head b')).toBe('Plane');
    await h.focusStage();
    await h.keys(Key.DELETE);
    await h.pick('Box', 'Cylinder');
    await h.focusStage();
    await h.keys('q');
    expect(await h.text('.notice span')).toBe('That would cut in a circle: Box → Cylinder → Box.');
    await h.saved();
    expect((await stored()).pieces.find((p) => p.name === 'Cylinder')!.steps ?? []).toEqual([]);
  });

  it('orbits, zooms to the pointer, boxes, and opens the ring', async () => {
    const stage = await h.see('#stage');
    await h.focusStage();
    await h.keys(Key.ESCAPE);
    expect(await h.text('.card .head b')).toBe('Working grid');
    await h.chord(Key.SHIFT, 'n');
    const before = await h.picture(stage);
    await browser.driver
      .actions()
      .move({ origin: stage })
      .press(2)
      .move({ origin: stage, x: 90, y: 30 })
      .release(2)
      .perform();
    await h.rest();
    const turned = await h.picture(stage);
    expect(turned).not.toBe(before);
    await h.wheel(stage, -240);
    await h.rest();
    expect(await h.picture(stage)).not.toBe(turned);
    await h.chord(Key.SHIFT, 'n');
    await h.rest();
    await h.drag(stage, [-340, -230], [680, 480]);
    await h.until('the box selection', async () => (await h.text('.count')).includes('selected'));
    await h.keys(Key.ESCAPE);
    await browser.driver.actions().move({ origin: stage, x: 0, y: 0 }).press(2).release(2).perform();
    await h.press('Tube', '.ring');
    await h.see('.rows [data-name="Tube"]');
    await h.focusStage();
    await h.keys(Key.DELETE);
    await h.saved();
  });

  it('finds commands by name', async () => {
    await h.focusStage();
    await h.keys(' ');
    await (await h.see('.finderBox input')).sendKeys('add sph', Key.ENTER);
    await h.see('.rows [data-name="Sphere"]');
    await h.focusStage();
    await h.keys(Key.DELETE);
    await h.saved();
  });

  it('undoes and redoes everything by name', async () => {
    const names = (await stored()).pieces.map((p) => p.name).sort();
    const steps = (await stored()).undo.length;
    expect(steps).toBeGreaterThan(15);
    await h.focusStage();
    for (let k = 0; k < steps; k++) await h.chord(Key.CONTROL, 'z');
    await h.saved();
    expect((await stored()).pieces).toEqual([]);
    await h.focusStage();
    for (let k = 0; k < steps; k++) await h.chord(Key.CONTROL, Key.SHIFT, 'z');
    await h.saved();
    expect((await stored()).pieces.map((p) => p.name).sort()).toEqual(names);
  });

  it('shows the progress of a slow build, and stops it on demand', async () => {
    const base = { primitive: 'quadSphere', radius: 50, divisions: 100 };
    const pieces = [
      {
        id: 'a',
        name: 'Heavy',
        base,
        steps: [{ kind: 'bevel', scope: { rule: 'corners', count: 4 }, width: 0.1, segments: 4 }],
      },
    ];
    const made = await fetch(`${server.url}/api/scenes`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ name: 'Slow', document: { pieces } }),
    });
    const { id } = (await made.json()) as { id: string };
    await browser.driver.get(`${server.url}/scene/${id}/bench`);
    expect(await h.text('.working')).toMatch(/1\/1 Heavy/);
    // The page shares memory with its workers, which is how they hear that they are to stop.
    expect(await browser.driver.executeScript('return crossOriginIsolated')).toBe(true);
    await h.press('stop', '.who');
    await h.until(
      'the end of it',
      async () => (await browser.driver.findElements(By.css('.working'))).length === 0,
    );
    await h.pick('Heavy');
    expect(await h.text('.faultBox')).toContain('was stopped');
    await h.press('Build it again', '.faultBox');
    await h.press('stop', '.who');
    // The bench stays usable: the step is switched off, and the ball alone is built.
    await h.click('.bead:not(.base)');
    await h.click('.card .row2 input[type=checkbox]');
    await h.until('the ball', async () => (await shownFaces('Heavy')()) === 60000);
  });

  it('loses nothing when the server is killed and the window closed', async () => {
    await browser.driver.get(`${server.url}/scene/${scene}/bench`);
    await h.pick('Box');
    await h.click('.bead.base');
    await h.type('Height', '24');
    await h.saved();
    await server.kill('SIGKILL');
    await h.type('Height', '22');
    await h.until('the warning', async () => (await h.text('.saved')).includes('kept here'));
    await browser.driver.get('about:blank');
    await server.start();
    await browser.driver.get(`${server.url}/scene/${scene}/bench`);
    await h.pick('Box');
    await h.saved();
    const s = await stored();
    expect(s.pieces.find((p) => p.name === 'Box')!.base).toMatchObject({ height: 22 });
    expect(s.undo.at(-1)!.label).toBe('Height of Box');
    await h.focusStage();
    await h.chord(Key.CONTROL, 'z');
    await h.saved();
    expect((await stored()).pieces.find((p) => p.name === 'Box')!.base).toMatchObject({
      height: 24,
    });
  });
});

describe('Crate', () => {
  it('exports a GLB whose counts, volume and normals are what core says', async () => {
    await browser.driver.get(`${server.url}/scene/${scene}/bench`);
    await h.pick('Box');
    await h.click('a[href$="/crate"]');
    await h.until('the counts', async () => Number(await h.text('[data-sum="faces"]')) > 0);
    const mesh = await built('Box');
    const said = Object.fromEntries(
      await Promise.all(
        ['points', 'faces', 'triangles'].map(async (k) => [k, Number(await h.text(`[data-sum="${k}"]`))]),
      ),
    ) as Record<string, number>;
    expect(said).toEqual({
      points: mesh.positions.length / 3,
      faces: mesh.faceStart.length - 1,
      triangles: drawableOf(mesh).indices.length / 3,
    });
    await expectAccessible();
    const file = await downloadBy(h, browser, 'Export GLB', '.glb');
    const bytes = new Uint8Array(readFileSync(file));
    const { issues } = await validator.validateBytes(bytes);
    expect([issues.numErrors, issues.numWarnings, issues.messages.slice(0, 5)]).toEqual([
      0,
      0,
      expect.anything(),
    ]);
    const doc = await new NodeIO().readBinary(bytes);
    const primitive = doc.getRoot().listMeshes()[0].listPrimitives()[0];
    const expected = drawableOf(
      placedForExport({ name: 'Box', mesh, matrix: IDENTITY }, { unit: 'm', up: 'y' }),
    );
    const normals = primitive.getAttribute('NORMAL')!.getArray()!;
    const positions = primitive.getAttribute('POSITION')!.getArray()!;
    expect(normals.length).toBe(expected.normals.length);
    expect(
      Math.max(...Array.from(normals, (x: number, i) => Math.abs(x - expected.normals[i]))),
    ).toBeLessThan(1e-6);
    const index = primitive.getIndices()!.getArray()!;
    expect(index.length / 3).toBe(said.triangles);
    expect(triangleVolume(positions, index) * 1e9).toBeCloseTo(volume(mesh), -1);
  });

  it('exports polygons as OBJ, and prints the format it wrote', async () => {
    await h.press('OBJ', '.card');
    const file = await downloadBy(h, browser, 'Export OBJ', '.obj');
    const text = readFileSync(file, 'utf8');
    const mesh = await built('Box');
    expect(text.split('\n').filter((l) => l.startsWith('f ')).length).toBe(mesh.faceStart.length - 1);
    expect(await h.text('.packed')).toContain(basename(file));
  });

  it('left no severe message in the console', async () => {
    const problems = (await consoleProblems(browser.driver)).filter(
      (m) => !/Failed to load resource|ERR_CONNECTION/.test(m),
    );
    expect(problems).toEqual([]);
  });
});

function triangleVolume(p: ArrayLike<number>, index: ArrayLike<number>): number {
  let six = 0;
  for (let i = 0; i < index.length; i += 3) {
    const [a, b, c] = [index[i], index[i + 1], index[i + 2]].map((v) => [
      p[3 * v],
      p[3 * v + 1],
      p[3 * v + 2],
    ]);
    six +=
      a[0] * (b[1] * c[2] - b[2] * c[1]) +
      a[1] * (b[2] * c[0] - b[0] * c[2]) +
      a[2] * (b[0] * c[1] - b[1] * c[0]);
  }
  return six / 6;
}
