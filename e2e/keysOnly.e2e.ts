/** The whole way from an empty scene to a file without a pointer. */
import { Key } from 'selenium-webdriver';
import { describe, expect, it } from 'vitest';
import type { Piece } from '@urnsmith/core/document/schema';
import { volume } from '@urnsmith/core/mesh/measure';
import { atBench } from './atBench';

const at = await atBench();

const box = (id: string, name: string, x: number, parent?: string): Piece => ({
  id,
  name,
  base: { primitive: 'box', width: 20, height: 20, depth: 20 },
  transform: { move: [x, 0, 0] },
  ...(parent && { parent }),
});

/** The focused element, as a person would name it. */
const focused = (): Promise<string> =>
  at.browser.driver.executeScript(
    'const e = document.querySelector(":focus") ?? document.body; return e.dataset.name ?? e.getAttribute("aria-label") ?? e.id ?? e.tagName',
  );
const untilFocused = (name: string): Promise<unknown> =>
  at.h.until(`the focus on ${name}`, async () => (await focused()) === name);
const selected = (): Promise<string[]> =>
  at.browser.driver.executeScript(
    'return [...document.querySelectorAll(".rows [aria-selected=true]")].map((e) => e.dataset.name)',
  );
const untilSelected = (...names: string[]): Promise<unknown> =>
  at.h.until(`${names} selected`, async () => (await selected()).join() === names.join());

async function found(words: string): Promise<void> {
  await at.h.keys(Key.SPACE);
  await at.h.see('[cmdk-input]');
  await at.h.keys(...words, Key.ENTER);
}

/** Into the Card's numbers by Enter; from one to the next by Tab; out again by Escape. */
async function numbers(...values: Array<string | null>): Promise<void> {
  await at.h.keys(Key.ENTER);
  await at.h.until('a number in hand', async () => (await focusedTag()) === 'INPUT');
  for (const [k, value] of values.entries()) {
    if (value !== null) await at.h.keys(...value);
    if (k < values.length - 1) await at.h.keys(Key.TAB);
  }
  await at.h.keys(Key.ENTER, Key.ESCAPE);
}
const focusedTag = (): Promise<string> =>
  at.browser.driver.executeScript('return document.querySelector(":focus")?.tagName ?? ""');

describe('the Ledger by keys', () => {
  it('goes, folds, extends, and finds by letters', async () => {
    const { on, h } = at;
    await on.open('Tree', [
      box('a', 'Anchor', 0),
      box('b', 'Buoy', 40, 'a'),
      box('c', 'Crane', 80, 'a'),
      box('d', 'Davit', 120),
    ]);
    await h.keys(Key.F6);
    while (!(await focused()).match(/Anchor/)) await h.keys(Key.F6);
    await h.keys(Key.ARROW_DOWN);
    await untilSelected('Buoy');
    await untilFocused('Buoy');
    // Shift extends, and the last one is the host.
    await h.chord(Key.SHIFT, Key.ARROW_DOWN);
    await h.chord(Key.SHIFT, Key.ARROW_DOWN);
    await untilSelected('Buoy', 'Crane', 'Davit');
    expect(await h.text('.rows [data-name="Davit"]')).toContain('host');
    // Control goes without selecting; Enter makes another selected one the host.
    await h.chord(Key.CONTROL, Key.ARROW_UP);
    await untilFocused('Crane');
    await untilSelected('Buoy', 'Crane', 'Davit');
    await h.keys(Key.ENTER);
    await h.until('host', async () => (await h.text('.rows [data-name="Crane"]')).includes('host'));
    await h.chord(Key.CONTROL, Key.SPACE);
    await untilSelected('Buoy', 'Davit');
    // To the parent, folded, and unfolded.
    await h.keys(Key.ARROW_LEFT);
    await untilFocused('Anchor');
    await h.keys(Key.ARROW_LEFT, Key.ARROW_DOWN);
    await untilFocused('Davit');
    await h.keys(Key.HOME, Key.ARROW_RIGHT, Key.ARROW_RIGHT);
    await untilFocused('Buoy');
    await h.keys('d');
    await untilFocused('Davit');
    await h.keys(Key.HOME);
    await untilSelected('Anchor');
    // Once the arrows have been let go of, letters are commands again.
    await h.keys(Key.ESCAPE, 's');
    await untilFocused('Anchor');
    await h.see('.card');
  });
});

describe('picks by keys', () => {
  it('go from neighbour to neighbour, add, and grow', async () => {
    const { on, h } = at;
    await on.open('Walk', [box('a', 'Block', 0)]);
    await on.key('1');
    while (!(await focused()).match(/Block/)) await h.keys(Key.F6);
    await h.keys(Key.HOME);
    await untilSelected('Block');
    await h.keys('8');
    await untilFocused('The model');
    await h.keys(Key.ARROW_UP);
    await on.untilCounts('1 of 6 faces');
    await h.chord(Key.ALT, Key.SHIFT, Key.ARROW_UP);
    await on.untilCounts('2 of 6 faces');
    await h.keys('.');
    await on.untilCounts('6 of 6 faces');
    await h.keys(Key.ESCAPE, '9', Key.ARROW_LEFT);
    await on.untilCounts('1 of 12 edges');
    await h.keys('0');
    await on.untilCounts('2 of 8 points');
    // Faces picked by keys are what an operation acts on: the front is pulled out.
    await h.keys(Key.ESCAPE, '8', Key.ARROW_UP, 'w');
    await h.until('extruded', async () => ((await on.stored())[0].actions ?? []).length === 1);
    expect((await on.stored())[0].actions![0]).toMatchObject({ op: 'extrude', select: { faces: [expect.any(Number)] } }); // prettier-ignore
  });
});

describe('a plate with four holes', () => {
  it('is made, rounded and sent out with keys alone', async () => {
    const { on, h } = at;
    await on.open('Keys alone');
    await found('box');
    await untilFocused('Box');
    await numbers('120', '8', '80');
    await untilFocused('Box');
    const places = [
      ['45', '0', '25'],
      ['-45', '0', '25'],
      ['45', '0', '-25'],
      ['-45', '0', '-25'],
    ];
    for (const [k, place] of places.entries()) {
      await found('cylinder');
      await untilFocused(k ? `Cylinder ${k + 1}` : 'Cylinder');
      await numbers('6', null, '20', null, null, null, null, ...place);
    }
    // The holes first and the plate last, which is the host.
    await h.keys(Key.END);
    for (let k = 0; k < 4; k++) await h.chord(Key.SHIFT, Key.ARROW_UP);
    await untilSelected('Box', 'Cylinder', 'Cylinder 2', 'Cylinder 3', 'Cylinder 4');
    await h.keys('q');
    await h.until('cut', async () => (await on.stored())[0].steps?.length === 1);
    await h.keys('t');
    await h.until('rounded', async () => (await on.stored())[0].steps?.length === 2);
    expect(await focused()).not.toBe('BODY');
    const mesh = await on.exported();
    const whole = 120 * 8 * 80;
    const holes = 4 * Math.PI * 36 * 8;
    expect(volume(mesh)).toBeLessThan(whole - holes * 0.95);
    expect(volume(mesh)).toBeGreaterThan(whole - holes * 1.3);
  });
});
