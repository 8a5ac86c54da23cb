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
