/**
 * A junction box as a practitioner makes one, from an empty scene: cuts drawn on faces and anchored, through and blind, a
 * recess, text, an outline from SVG, a lid taken out, a vent placed again, a wall edited by hand. Then an early dimension
 * changes, and nothing is lost.
 */
import { rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { By, Key, until } from 'selenium-webdriver';
import { describe, expect, it } from 'vitest';
import type { Piece } from '@urnsmith/core/document/schema';
import type { CutStep } from '@urnsmith/core/steps/index';
import { boundsOf } from '@urnsmith/core/mesh/measure';
import type { Vec3 } from '@urnsmith/core/mesh/vec3';
import { atBench } from './atBench';

const { on, h } = await atBench();

const named = async (name: string): Promise<Piece> => {
  const p = (await on.stored()).find((x) => x.name === name);
  if (!p) throw new Error(`There is no “${name}”.`);
  return p;
};
const moveOf = async (name: string): Promise<Vec3> => (await named(name)).transform!.move as Vec3;
const cuts = async (name: string): Promise<CutStep[]> =>
  ((await named(name)).steps ?? []).filter((s): s is CutStep => s.kind === 'cut');

/** Looks square-on at a side of the box; it fills most of the stage. */
async function lookFrom(key: string, piece = 'Box'): Promise<void> {
  await h.pick(piece);
  await on.key(key);
  await on.frameWhole();
  await h.rest();
}

/** Draws a cut from a place on the face, pixels from the middle of the stage, with numbers that are typed. */
async function drawCut(
  choices: string[],
  from: [number, number],
  numbers: Record<string, string>,
): Promise<void> {
  const before = (await on.stored()).length;
  await on.key(Key.ALT, 'q');
  await h.until('the tool', async () => (await h.text('.toolline b')) === 'Draw a cut');
  for (const choice of choices) await h.press(choice, '.card');
  await h.drag(on.middle, from, [40, 30]);
  await h.until('the depth', async () => (await h.text('.card')).includes('pull the depth'));
  for (const [label, value] of Object.entries(numbers)) await h.type(label, value);
  await on.key(Key.ENTER);
  await h.until('the cutter', async () => (await on.stored()).length === before + 1);
  await on.key(Key.ESCAPE);
  await h.until('put away', async () => (await h.text('.toolline b')) === 'Select');
}

/** Anchors the cutter in hand by a click on the box. */
async function anchor(button: string, ...at: [number, number]): Promise<void> {
  const held = async (): Promise<number> =>
    (await on.stored()).reduce((n, p) => n + (p.anchors?.length ?? 0), 0);
  const before = await held();
  await h.press(button, '.card');
  await on.clickAt(...at);
  await h.until(`“${button}”`, async () => (await held()) === before + 1);
}

/** Puts a piece somewhere by numbers on the Card. */
async function moved(name: string, to: { move: Vec3; turn?: Vec3 }): Promise<void> {
  await h.pick(name);
  for (const [part, v] of Object.entries(to)) {
    const fields = await h.driver.findElements(By.css('.placement input:not([type="checkbox"])'));
    const from = part === 'move' ? 0 : 3;
    for (let k = 0; k < 3; k++) {
      if ((await fields[from + k].getAttribute('value')) === String(v[k])) continue;
      await fields[from + k].click();
      await fields[from + k].sendKeys(Key.chord(Key.CONTROL, 'a'), String(v[k]), Key.ENTER);
    }
  }
  await h.until(`${name} moved`, async () => String(await moveOf(name)) === String(to.move));
}

/** Selects a cutter and then its host, and cuts. */
async function cutInto(host: string, command: string, ...cutters: string[]): Promise<void> {
  const before = (await cuts(host)).length;
  await h.pick(...cutters, host);
  await h.find(command);
  await h.until(command, async () => (await cuts(host)).length === before + 1);
}

describe('a junction box', () => {
  it('is hollowed from a block, by a blind cut held in the centre of its top', async () => {
    await on.open('Junction box');
    await h.find('Add box');
    for (const [label, value] of [['Width', '120'], ['Height', '50'], ['Depth', '80']]) await h.type(label, value);
    await lookFrom('5');
    await drawCut(['subtract', 'rectangle', 'blind'], [-100, -60], { Width: '100', Length: '60', Depth: '44' });
    await h.pick('Pocket');
    await anchor('Centre of a face', -230, -130);
    const [x, , z] = await moveOf('Pocket');
    expect([x, z].map((v) => Number(v.toFixed(6)) + 0)).toEqual([0, 0]);
  }); // prettier-ignore

  it('has a hole through the wall of one end, in its middle and 20 mm over its foot', async () => {
    await lookFrom('2');
    await drawCut(['subtract', 'round', 'first wall'], [30, 10], { Across: '20' });
    expect(await named('Hole')).toMatchObject({
      reach: 'next',
      anchors: [{ hold: 'distance' }, { hold: 'centre' }],
    });
    await lookFrom('1');
    await h.pick('Hole');
    await anchor('Middle of two', -60, 30);
    await lookFrom('6');
    await h.pick('Hole');
    await anchor('Hold a distance', 60, 30);
    const fields = await h.driver.findElements(By.css('[aria-label="From bottom"] input'));
    await fields[1].click();
    await fields[1].sendKeys(Key.chord(Key.CONTROL, 'a'), '20', Key.ENTER);
    await h.until('the distance', async () => Math.abs((await moveOf('Hole'))[1] - 20) < 1e-6);
    expect((await moveOf('Hole'))[2]).toBeCloseTo(0, 6);
  });

  it('has a recess in front, text raised in it, and rounded rims', async () => {
    await lookFrom('1');
    await drawCut(['recess', 'rectangle'], [-100, -20], { Width: '50', Length: '16', Thickness: '1.2' });
    expect((await cuts('Box')).map((c) => [c.mode, c.thickness])).toEqual([
      ['subtract', undefined],
      ['recess', 1.2],
    ]);
    await h.pick('Box');
    await on.key('t');
    await h.until('the rounding', async () => (await named('Box')).steps!.some((s) => s.kind === 'bevel'));
    await h.type('Width', '0.8');
    await h.find('Add text');
    const words = await h.see('.card textarea');
    await words.click();
    await words.sendKeys(Key.chord(Key.CONTROL, 'a'), 'NO 7', Key.ENTER);
    await h.until('the words', async () => ((await named('Text')).base as { text: string }).text === 'NO 7');
    await h.type('Letter height', '10');
    // Stood up before the front, and raised from the floor of the recess.
    await moved('Text', { move: [0, 25, 37], turn: [90, 0, 0] });
    await h.type('Depth', '6');
    await cutInto('Box', 'cut raise', 'Text');
    await h.type('Thickness', '0.6');
    await h.until('the raised text', async () => (await cuts('Box')).at(-1)!.thickness === 0.6);
  });

  it('has a hole by an SVG outline, and a lid that is what a cut takes out of it', async () => {
    const file = join(tmpdir(), `vents-${process.pid}.svg`);
    writeFileSync(
      file,
      '<svg width="40mm" viewBox="0 0 40 40"><rect x="0" y="0" width="40" height="4"/><rect x="0" y="10" width="40" height="4"/></svg>',
    );
    await h.find('Outline from an SVG');
    const input = await h.driver.wait(until.elementLocated(By.css('[aria-label="SVG file"]')), 20_000);
    await input.sendKeys(file);
    await h.until('the outlines', async () =>
      (await h.text('[role="dialog"] [role="status"]')).includes('2 outlines'),
    );
    await h.press('Add the outline');
    rmSync(file);
    const name = (await on.stored()).at(-1)!.name!;
    await moved(name, { move: [0, 25, -45], turn: [90, 0, 0] });
    await cutInto('Box', 'cut subtract', name);
    await h.find('Add box');
    await moved('Box 2', { move: [0, 45, 0] });
    for (const [label, value] of [
      ['Width', '200'],
      ['Height', '40'],
      ['Depth', '200'],
    ])
      await h.type(label, value);
    await cutInto('Box', 'cut subtract', 'Box 2');
    await h.find('take out');
    await h.until('the lid', async () => (await on.stored()).some((p) => p.name === 'Box taken out'));
    await h.type('Clearance', '0.25');
    await h.until(
      'the clearance',
      async () => ((await named('Box taken out')).base as { clearance: number }).clearance === 0.25,
    );
  });

  it('takes a vent four more times, seated on the faces it is set down on', async () => {
    await lookFrom('1');
    await drawCut(['subtract', 'slot', 'blind'], [-190, 90], { Width: '12', Length: '3', Depth: '2' });
    await h.pick('Slot');
    await on.key(Key.ALT, 'e');
    await h.until('the tool', async () => (await h.text('.toolline b')) === 'Place again');
    for (const x of [-120, -40, 40, 120]) {
      await h.driver.actions({ async: true }).move({ origin: on.middle, x, y: 90 }).perform();
      await on.clickAt(x, 90);
    }
    await on.key(Key.ESCAPE);
    await h.until(
      'four more',
      async () => (await on.stored()).filter((p) => /^Slot/.test(p.name!)).length === 5,
    );
    const last = (await cuts('Box')).at(-1)!;
    // They cut in one step with the first of them, and with what it joined.
    expect(last.cutters).toHaveLength(6);
    for (const p of (await on.stored()).filter((x) => /^Slot/.test(x.name!)))
      expect(p.anchors?.map((a) => a.hold)).toEqual(['distance', 'centre']);
  });

  it('is edited by hand where a hole has made a wall', async () => {
    await lookFrom('2');
    await on.key('8');
    await on.untilCounts('0 of ');
    // The wall of the hole, seen a little from one side.
    await on.key(Key.SHIFT, Key.ARROW_RIGHT);
    await h.rest();
    await on.clickAt(-175, 22);
    await h.until('a facet', async () => /^[1-9]/.test(await on.counts()));
    await on.act('Extrude', 'w');
    await h.until('a step of edits', async () => (await named('Box')).steps!.some((s) => s.kind === 'hand'));
    await h.type('Distance', '1');
    await on.key('7');
  });

  it('loses nothing when an early dimension changes, and is exported as large as that', async () => {
    const told = async (): Promise<string[]> => {
      await h.rest();
      await h.until('the build', async () => !(await h.text('.strip .who')).includes('…'));
      const beads = await h.driver.findElements(By.css('.strip .bead'));
      return Promise.all(beads.map(async (b) => `${await b.getText()} ${await b.getAttribute('title')}`));
    };
    const isLost = (t: string): boolean => /not there any more|cannot act|anchor/.test(t);
    await h.pick('Box');
    expect((await told()).filter(isLost)).toEqual([]);
    await h.type('Width', '140');
    expect((await told()).filter(isLost)).toEqual([]);
    // The lid follows, and keeps its clearance under it.
    await h.pick('Box taken out');
    await h.until('the lid', async () => (await h.text('.count b')).includes('1 selected'));
    const mesh = await on.exported();
    const { min, max } = boundsOf(mesh);
    // The text stands out in front by what it was raised.
    expect([max[0] - min[0], max[2] - min[2]].map((v) => Number(v.toFixed(4)))).toEqual([140, 80.6]);
  });
});
