/** Visibility: edges in hand, outlines, the ring at the pointer, command search, names. */
import { PNG } from 'pngjs';
import { By, Key, Origin } from 'selenium-webdriver';
import { describe, expect, it } from 'vitest';
import type { Piece } from '@urnsmith/core/document/schema';
import { contentHash, encodeMesh } from '@urnsmith/core/formats/meshBlob';
import { faceCount } from '@urnsmith/core/mesh/PolyMesh';
import { buildPrimitive } from '@urnsmith/core/primitives/index';
import { shadingNormals } from '@urnsmith/core/shading/shadingNormals';
import { atBench } from './atBench';

const at = await atBench({ sharp: true });

const block = (id: string, name: string, more: Partial<Piece> = {}): Piece => ({
  id,
  name,
  base: { primitive: 'box', width: 120, height: 40, depth: 80, segments: [2, 1, 2] },
  ...more,
});

const picture = async (): Promise<PNG> => PNG.sync.read(Buffer.from(await at.on.h.picture(), 'base64'));

const luminance = (png: PNG, i: number): number =>
  [0, 1, 2]
    .map((k) => png.data[i + k] / 255)
    .map((c) => (c <= 0.04045 ? c / 12.92 : ((c + 0.055) / 1.055) ** 2.4))
    .reduce((sum, c, k) => sum + c * [0.2126, 0.7152, 0.0722][k], 0);

/** The greatest contrast in a square of pixels. */
function contrastIn(png: PNG, x0: number, y0: number, half: number): number {
  let [low, high] = [1, 0];
  for (let y = y0 - half; y <= y0 + half; y++)
    for (let x = x0 - half; x <= x0 + half; x++) {
      const l = luminance(png, 4 * (y * png.width + x));
      [low, high] = [Math.min(low, l), Math.max(high, l)];
    }
  return (high + 0.05) / (low + 0.05);
}

/** A right click on the stage, pixels from its corner. */
async function rightClick(x: number, y: number): Promise<{ x: number; y: number }> {
  const r = await at.on.canvas.getRect();
  const to = { x: Math.round(r.x + x), y: Math.round(r.y + y) };
  await at.browser.driver
    .actions()
    .move({ origin: Origin.VIEWPORT, ...to })
    .contextClick()
    .perform();
  return to;
}

const centreOf = (r: { x: number; y: number; width: number; height: number }): { x: number; y: number } => ({
  x: r.x + r.width / 2,
  y: r.y + r.height / 2,
});
const middleOf = async (css: string): Promise<{ x: number; y: number }> =>
  centreOf(await (await at.h.see(css)).getRect());

describe('edges in hand', () => {
  it('stand out 3 to 1 from what they lie on, in every look, picked and pointed at', async () => {
    const { on, h, browser } = at;
    await on.open('Edges', [block('a', 'Block')]);
    await h.pick('Block');
    await on.key('5');
    const mm = await on.scaleFrom(60);
    await on.key('9');
    await h.until('the cage', async () => (await on.counts()).startsWith('0 of'));
    // The edge across the middle of the top, seen square-on from above.
    const r = await on.canvas.getRect();
    const middle = centreOf(await on.middle.getRect());
    const spot = { x: Math.round(middle.x + 20 * mm), y: Math.round(middle.y) };
    const away = (): Promise<void> =>
      browser.driver.actions().move({ origin: Origin.VIEWPORT, x: Math.round(r.x + 300), y: Math.round(r.y + r.height - 120) }).perform(); // prettier-ignore
    for (const look of ['Clay', 'Gloss', 'Normals', 'Facing', 'Drift']) {
      await h.press(look, '.tr');
      await away();
      await h.rest();
      const bare = contrastIn(await picture(), spot.x, spot.y, 5);
      await browser.driver
        .actions()
        .move({ origin: Origin.VIEWPORT, ...spot })
        .perform();
      await h.rest();
      expect([look, 'pointed', contrastIn(await picture(), spot.x, spot.y, 5) >= Math.max(3, bare)]).toEqual([look, 'pointed', true]); // prettier-ignore
      await on.clickAt(20 * mm, 0);
      await on.untilCounts('1 of');
      await away();
      await h.rest();
      const png = await picture();
      expect([look, 'picked', contrastIn(png, spot.x, spot.y, 5) >= 3]).toEqual([look, 'picked', true]);
      // More than two pixels wide: the colour of what is picked, not of a hair.
      let wide = 0;
      for (let y = spot.y - 6; y <= spot.y + 6; y++) {
        const i = 4 * (y * png.width + spot.x);
        if (png.data[i + 1] > 150 && png.data[i + 1] > png.data[i] + 50) wide++;
      }
      expect([look, wide >= 2]).toEqual([look, true]);
      await on.clickAt(20 * mm, 0, Key.SHIFT);
    }
  });
});

describe('a selected smoothed piece', () => {
  it('is outlined, and its wire is not in the colour of what is selected', async () => {
    const { on, h } = at;
    await on.open('Soft', [block('a', 'Soft block', { steps: [{ kind: 'smooth', levels: 4 }] })]);
    await h.pick('Soft block');
    await h.rest();
    const png = await picture();
    const r = await on.canvas.getRect();
    const counts = { glaze: 0, inner: 0 };
    for (let y = Math.round(r.y + 100); y < r.y + r.height - 60; y++)
      for (let x = Math.round(r.x + 10); x < r.x + r.width - 10; x++) {
        const i = 4 * (y * png.width + x);
        if (png.data[i + 1] > 190 && png.data[i + 1] > png.data[i] + 70) counts.glaze++;
      }
    const middle = centreOf(await on.middle.getRect());
    const mid = { x: Math.round(middle.x), y: Math.round(middle.y) };
    for (let y = mid.y - 25; y < mid.y + 25; y++)
      for (let x = mid.x - 25; x < mid.x + 25; x++) {
        const i = 4 * (y * png.width + x);
        if (png.data[i + 1] > 150 && png.data[i + 1] > png.data[i] + 50) counts.inner++;
      }
    expect([counts.glaze > 300, counts.inner]).toEqual([true, 0]);
  });
});

describe('the ring', () => {
  it('opens at the pointer, whole inside the window, and offers what the level can do', async () => {
    const { on, h, browser } = at;
    await on.open('Ring', [block('a', 'Block'), block('b', 'Other', { hidden: true })]);
    await h.pick('Block');
    const r = await on.canvas.getRect();
    const to = await rightClick(r.width / 2, r.height / 2 + 40);
    const top = await middleOf('.ring button:nth-child(1)');
    const low = await middleOf('.ring button:nth-child(5)');
    expect(Math.abs((top.x + low.x) / 2 - to.x)).toBeLessThan(2);
    expect(Math.abs((top.y + low.y) / 2 - to.y)).toBeLessThan(2);
    await h.keys(Key.ESCAPE);
    for (const [x, y] of [
      [6, r.height - 6],
      [r.width - 6, r.height - 6],
      [r.width - 6, 60],
    ]) {
      await rightClick(x, y);
      const { width, height } = (await browser.driver.executeScript(
        'return { width: innerWidth, height: innerHeight }',
      )) as { width: number; height: number };
      for (const b of await browser.driver.findElements(By.css('.ring button'))) {
        const q = await b.getRect();
        expect([q.x >= 0, q.y >= 0, q.x + q.width <= width, q.y + q.height <= height]).toEqual([
          true,
          true,
          true,
          true,
        ]);
      }
      await h.keys(Key.ESCAPE);
    }
    // With faces picked, Delete takes those faces and not the piece.
    await on.key('5');
    const mm = await on.scaleFrom(60);
    await on.key('8');
    await on.clickAt(30 * mm, 20 * mm);
    await on.untilCounts('1 of');
    await rightClick(r.width / 2 + 30 * mm, r.height / 2 + 20 * mm);
    const offered = await Promise.all(
      (await browser.driver.findElements(By.css('.ring button'))).map((b) => b.getText()),
    );
    expect(offered).toEqual([
      'Extrude',
      'Inset',
      'Bridge',
      'Duplicate',
      'Grow',
      'Delete, dissolve',
      'New piece',
      'Flat region',
    ]);
    await h.press('Delete, dissolve', '.ring');
    await h.until('the face going', async () => (await on.stored())[0].actions?.length === 1);
    const pieces = await on.stored();
    expect([pieces.length, pieces[0].actions![0].op]).toEqual([2, 'deleteFaces']);
  });
});

describe('command search', () => {
  it('finds by starts of words and runs from any level', async () => {
    const { on, h } = at;
    await on.open('Search', [block('a', 'Block')]);
    await h.pick('Block');
    await on.key('8');
    await h.until('the cage', async () => (await on.counts()).includes('of'));
    const first = async (typed: string): Promise<string> => {
      await on.key(' ');
      await (await h.see('.finderBox input')).sendKeys(typed);
      return h.until('an answer', async () => h.text('.finderBox [cmdk-item] span'));
    };
    expect(await first('mirror')).toBe('Mirror once');
    await h.keys(Key.ESCAPE);
    expect(await first('dupl')).toBe('Duplicate faces');
    await h.keys(Key.ESCAPE);
    // A command of Piece level, found and run from Face level.
    expect(await first('group')).toBe('Group');
    await h.keys(Key.ENTER);
    await h.until('the group', async () => (await on.stored()).some((p) => 'group' in p.base));
    expect(await first('export')).toBe('Export from the Crate');
    await h.keys(Key.ENTER);
    await h.until('the Crate', async () => (await at.browser.driver.getCurrentUrl()).endsWith('/crate'));
  });
});

describe('the Card', () => {
  it('never calls true what it did not count', async () => {
    const { on, h } = at;
    await on.open('Judged', [
      block('a', 'Block'),
      { id: 'b', name: 'Ball', base: { primitive: 'sphere', radius: 20 }, transform: { move: [0, 0, 120] } },
    ]);
    await h.pick('Block');
    await h.until('the verdict', async () => (await h.text('.card')).includes('✓ as it is meant'));
    await h.pick('Ball');
    await h.until('another verdict', async () => (await h.text('.card')).includes('✓ as it is meant'));
  });

  it('says how much is shaded wrong, and mends it by a step that was tried before', async () => {
    const { on, h } = at;
    await on.open('Shaded', [
      {
        id: 'a',
        name: 'Block',
        base: { primitive: 'box', width: 40, height: 20, depth: 30 },
        steps: [
          { id: 's1', kind: 'bevel', scope: { rule: 'sharp', angle: 30 }, width: 2, segments: 2 },
          { id: 's2', kind: 'normals', weight: 'area', hardAngle: 40 },
        ],
      },
    ]);
    await h.pick('Block');
    await h.until('the share', async () =>
      /\d+ faces lean[^]*% of the area over 2°/.test(await h.text('.card')),
    );
    await h.until('the repair', async () =>
      /As built: [\d.]+% over 2° → nothing/.test(await h.text('.card')),
    );
    await h.until('the chart', async () => (await at.browser.driver.findElements({ css: '.card .recharts-bar-rectangle' })).length > 2); // prettier-ignore
    const before = await h.picture(on.canvas);
    await h.click('[aria-label="The next place"]');
    await h.until('the place', async () => /1 of \d+: \d+ faces?/.test(await h.text('[aria-label="Places where the shading leans"]'))); // prettier-ignore
    await h.until('in view', async () => (await h.picture(on.canvas)) !== before);
    await (await at.browser.driver.findElements({ css: '.card .recharts-bar-rectangle path' })).at(-1)!.click(); // prettier-ignore
    await h.until('the faces it counts, picked', async () => /[1-9]\d* of 54 faces/.test(await h.text('.count b'))); // prettier-ignore
    await on.key('7');
    await h.click('[data-lane="Shade"] .bead');
    await h.until('both figures', async () =>
      /[\d.]+% of the area over 2° as weighed, < 0.1% as built/.test(await h.text('.card')),
    );
    await h.click('[data-lane="Form"] .bead');
    await h.press('Repair', '.card');
    await h.until('mended', async () => (await h.text('.card')).includes('✓ as it is meant'));
    expect((await on.stored())[0].steps![1]).toMatchObject({
      kind: 'normals',
      weight: 'built',
      hardAngle: 40,
    });
  });

  it('tells what is kept in memory, and takes another limit of faces', async () => {
    const { on, h } = at;
    await on.open('About', [block('a', 'Block')]);
    await h.pick('Block');
    await on.key(' ');
    await (await h.see('.finderBox input')).sendKeys('about');
    await h.keys(Key.ENTER);
    await h.until('the server’s memory', async () => (await h.text('.memory')).includes('of at most 64 MB'));
    const field = await h.see('.faceLimit input');
    await field.sendKeys(Key.chord(Key.CONTROL, 'a'), '10', Key.TAB);
    expect(await h.text('.faceLimit span')).toMatch(/from 1000 to 50000000/);
    await field.sendKeys(Key.chord(Key.CONTROL, 'a'), '1000', Key.TAB);
    await h.press('Close');
    await h.pick('Block');
    await on.key('t');
    await h.type('Segments', '32');
    await h.until('the refusal', async () => (await h.text('.faultBox')).includes('the limit is 1 000'));
    await at.browser.driver.executeScript('localStorage.clear()');
  });
});

describe('Normals cast', () => {
  it('from before its cuts mend a bored pole in one move, and come from another piece that is chosen', async () => {
    const { on, h, browser } = at;
    await on.open('Cast', [
      { id: 'a', name: 'Pole', base: { primitive: 'cylinder', radius: 25, height: 60, sides: 32 }, steps: [{ kind: 'cut', mode: 'subtract', cutters: ['h'] }, { kind: 'normals', weight: 'area', hardAngle: 180, rank: false }] },
      { id: 'h', name: 'Bore', role: 'cutter', base: { primitive: 'cylinder', radius: 7, height: 90, sides: 16 }, transform: { turn: [90, 0, 0] } },
      { id: 'b', name: 'Ball', base: { primitive: 'sphere', radius: 30 }, transform: { move: [90, 0, 0] } },
    ]); // prettier-ignore
    await h.pick('Pole');
    await h.focusStage();
    await browser.driver.actions().sendKeys(' ').perform();
    await (await h.see('[cmdk-input]')).sendKeys('cast normals from before', Key.ENTER);
    await h.until('the step', async () => (await on.stored())[0].steps?.at(-1)?.kind === 'cast');
    await h.until('its bead', async () => /Cast\n\d+ corners/.test(await h.text('[data-lane="Shade"]')));
    const shade = await h.text('[data-lane="Shade"]');
    // The bore's own walls find none of the pole's, and are lit.
    expect(await h.text('.card')).toMatch(
      /\d+ corners found a surface; those at \d+ points did not, and are lit/,
    );
    await h.type('Reach', '0.5');
    await h.until('a nearer reach', async () => (await on.stored())[0].steps!.at(-1)!.kind === 'cast' && ((await on.stored())[0].steps!.at(-1) as { reach?: number }).reach === 0.5); // prettier-ignore
    const from = await h.see('.card select[aria-label="From"]');
    await from.findElement({ css: 'option[value="b"]' }).click();
    await h.until('the other piece', async () =>
      (await h.text('[data-lane="Shade"]')).includes('Cast from Ball'),
    );
    expect(shade).not.toContain('Cast from');
  });
});

describe('Faults of shading', () => {
  it('are told by kind on the Card, lit where they are, and mended', async () => {
    const { on, h, browser, server } = at;
    const sound = buildPrimitive({ primitive: 'cylinder', radius: 25, height: 60, sides: 32 });
    const normals = shadingNormals(sound).slice();
    // One wall is shaded as if it leaned back by 40°.
    const wall = [...Array(faceCount(sound)).keys()].find(
      (f) => sound.faceStart[f + 1] - sound.faceStart[f] === 4,
    )!;
    for (let c = sound.faceStart[wall]; c < sound.faceStart[wall + 1]; c++)
      normals.set([normals[3 * c] * 0.766, 0.643, normals[3 * c + 2] * 0.766], 3 * c);
    const layers = {
      ...sound.layers,
      corner: { ...sound.layers.corner, normal: { size: 3, data: normals } },
    };
    const bytes = encodeMesh({ ...sound, layers });
    const blob = await contentHash(bytes);
    const put = await fetch(`${server.url}/api/meshes/${blob}`, {
      method: 'PUT',
      body: Buffer.from(bytes),
      headers: { 'content-type': 'application/octet-stream' },
    });
    expect(put.ok).toBe(true);
    await on.open('Faults', [{ id: 'a', name: 'Pole', base: { blob } }]);
    await h.pick('Pole');
    const told = await h.text('.card [data-fault-kind="break"]');
    expect(told).toMatch(/2 edges of one surface where the shading breaks, by up to 4\d/);
    const before = await h.picture(on.canvas);
    await browser.driver.actions({ async: true }).move({ origin: await h.see('.card [data-fault-kind="break"] button') }).perform(); // prettier-ignore
    await h.until('lit', async () => (await h.picture(on.canvas)) !== before);
    await h.press('Repair', '.card');
    await h.until('mended', async () => (await on.stored())[0].steps?.[0]?.kind === 'normals');
    await h.until('none left', async () => (await h.text('.card')).includes('as it is meant') && !(await browser.driver.findElements({ css: '[data-fault-kind]' })).length); // prettier-ignore
  });
});

describe('The card of a scene', () => {
  it('has its picture though a piece is selected, and shows none of that', async () => {
    const { on, h, server } = at;
    await on.open('On a card', [block('a', 'Card block')]);
    await h.pick('Card block');
    const picture = async (): Promise<PNG | null> => {
      const answer = await fetch(`${server.url}/api/scenes/${on.scene}/thumbnail`);
      return answer.ok ? PNG.sync.read(Buffer.from(await answer.arrayBuffer())) : null;
    };
    const png = (await h.until('the picture', picture))!;
    expect([png.width, png.height]).toEqual([480, 300]);
    let [glaze, lit] = [0, 0];
    for (let i = 0; i < png.data.length; i += 4) {
      const [r, g, b] = png.data.subarray(i, i + 3);
      // The colour of what is selected, and the clay of the block.
      if (g > 150 && g > r + 50) glaze++;
      if (r > 120 && Math.abs(r - b) < 40) lit++;
    }
    expect([glaze, lit > 2000]).toEqual([0, true]);
    // On the stage it is still selected.
    expect(await h.text('.count')).toContain('1 selected');
  });
});
