/** Several pieces at once: numbers that differ, twins edited where they stand, what a cut took out. */
import { By, Key } from 'selenium-webdriver';
import { describe, expect, it } from 'vitest';
import type { Piece } from '@urnsmith/core/document/schema';
import { atBench } from './atBench';

const { on, h } = await atBench({ window: [1280, 800] });

const named = async (name: string): Promise<Piece> => (await on.stored()).find((p) => p.name === name)!;
const radii = async (): Promise<number[]> =>
  (await on.stored()).flatMap((p) => ('radius' in p.base ? [p.base.radius as number] : []));
const bore = (id: string, name: string, radius: number, x: number): Piece => ({
  id,
  name,
  role: 'cutter',
  parent: 'a',
  base: { primitive: 'cylinder', radius, height: 60, sides: 16 },
  transform: { move: [x, 0, 0] },
});

describe('several pieces', () => {
  it('take one number, or as much more each; what differs is shown as that', async () => {
    await on.open('Together', [
      { id: 'a', name: 'Plate', base: { primitive: 'box', width: 120, height: 20, depth: 60 }, steps: [{ id: 's1', kind: 'cut', mode: 'subtract', cutters: ['b', 'c', 'd'] }] },
      bore('b', 'Bore', 5, -40),
      bore('c', 'Bore 2', 8, 0),
      bore('d', 'Bore 3', 6, 40),
    ]);
    await h.pick('Bore', 'Bore 2', 'Bore 3');
    await h.until('all of them', async () => (await h.text('.card')).includes('3 of a kind'));
    const field = await h.driver.findElement(By.xpath('//*[@data-field][label[.="Radius"]]//input'));
    expect([await field.getAttribute('value'), await field.getAttribute('placeholder')]).toEqual(['', 'differ']);
    await field.click();
    await field.sendKeys(Key.ARROW_UP, Key.ARROW_UP);
    await h.until('each 1 mm more', async () => String(await radii()) === '6,9,7');
    await h.type('Radius', '4');
    await h.until('all of one radius', async () => String(await radii()) === '4,4,4');
    // Their heights are the same, so they are shown.
    await h.type('Y', '5', '.placement [aria-label="Move"]');
    await h.until('all moved', async () => (await on.stored()).slice(1).every((p) => p.transform!.move![1] === 5));
    expect((await on.stored()).slice(1).map((p) => p.transform!.move![0])).toEqual([-40, 0, 40]);
    await on.key(Key.CONTROL, 'z');
    await h.until('one undo', async () => (await on.stored()).slice(1).every((p) => p.transform!.move![1] === 0));
  }); // prettier-ignore
});

describe('a twin', () => {
  it('is edited where it stands, and all of its kind follow', async () => {
    await h.pick('Plate');
    await on.key(Key.CONTROL, Key.SHIFT, 'd');
    await h.until('the twin', async () => (await on.stored()).length === 5);
    await h.type('X', '150', '.placement [aria-label="Move"]');
    const faces = (name: string): Promise<string> => h.text(`.rows [data-name="${name}"] em`);
    const before = await faces('Plate');
    expect(await faces('Plate 2')).toBe(before);
    await on.key('t');
    await h.until('rounded here', async () => (await named('Plate 2')).steps?.length === 2);
    expect((await named('Plate')).base).toEqual({ twin: (await named('Plate 2')).id });
    await h.until('both rounded', async () => (await faces('Plate')) !== before && (await faces('Plate')) === (await faces('Plate 2')));
    await h.pick('Plate');
    expect(await h.text('.strip')).toContain('Built as Plate 2');
    await h.press('Make its own', '.card');
    await h.until('its own', async () => (await named('Plate')).steps?.length === 2);
    expect((await on.stored()).filter((p) => p.role === 'cutter')).toHaveLength(6);
  }); // prettier-ignore
});

describe('a preset', () => {
  it('is kept with the scene or for all, without cuts and picks, and given to several pieces at once', async () => {
    const block = (id: string, name: string, more: Partial<Piece> = {}): Piece => ({
      id,
      name,
      base: { primitive: 'box', width: 30, height: 20, depth: 30 },
      transform: { move: [id.charCodeAt(0) * 50 - 4850, 0, 0] },
      ...more,
    });
    await on.open('Presets', [
      block('a', 'Model', {
        steps: [
          { id: 's1', kind: 'cut', mode: 'subtract', cutters: ['h'] },
          { id: 's2', kind: 'bevel', scope: { rule: 'sharp', angle: 40 }, width: 1.5, segments: 2 },
          { id: 's3', kind: 'normals', weight: 'area' },
        ],
      }),
      block('b', 'Second'),
      block('c', 'Third'),
      { ...bore('h', 'Hole', 5, 0), role: 'cutter', parent: 'a' },
    ]);
    await h.pick('Model');
    // All steps are kept, whichever is open, unless only that one is asked for.
    await h.click('[data-lane="Edge"] .bead');
    await h.find('Presets');
    await h.see('[aria-label="Name of a new preset"]');
    expect(await h.text('[role=dialog]')).toContain('Left out: 1 step');
    await (await h.see('[aria-label="Name of a new preset"]')).sendKeys('Soft edges', Key.ENTER);
    await h.see('[data-preset="Soft edges"]');
    await h.tick('only the step Round', '[role=dialog]');
    await (await h.see('[aria-label="Name of a new preset"]')).sendKeys('Rounding', Key.ENTER);
    expect(await h.text('[data-preset="Rounding"]')).not.toContain('Normals');
    await h.tick('only the step Round', '[role=dialog]');
    await h.tick('for all scenes', '[role=dialog]');
    await (await h.see('[aria-label="Name of a new preset"]')).sendKeys('House style', Key.ENTER);
    await h.see('[data-preset="House style"]');
    await h.click('[aria-label="Close"]');
    await h.pick('Second', 'Third');
    await h.find('Presets');
    await h.press('Apply', '[data-preset="Soft edges"]');
    await h.until('both have them', async () => {
      const [, b, c] = await on.stored();
      return [b, c].every((p) => p.steps?.map((s) => s.kind).join() === 'bevel,normals');
    });
    expect((await on.stored())[1].steps![0]).toMatchObject({
      width: 1.5,
      scope: { rule: 'sharp', angle: 40 },
    });
    await on.key(Key.CONTROL, 'z');
    await h.until('one undo', async () => (await on.stored()).slice(1, 3).every((p) => !p.steps?.length));
    // Another scene has the one for all.
    await on.open('Elsewhere', [block('a', 'Other')]);
    await h.pick('Other');
    await h.find('Presets');
    await h.see('[data-preset="House style"]');
    expect(await h.driver.findElements(By.css('[data-preset="Soft edges"]'))).toHaveLength(0);
    await h.press('Apply', '[data-preset="House style"]');
    await h.until('there too', async () => (await on.stored())[0].steps?.length === 2);
  });
});
