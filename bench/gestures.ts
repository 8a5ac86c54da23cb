/**
 * Measures each gesture at the Bench on the demo scenes: the page's longest task and the work of the workers, in
 * processor time, so that drawing in software does not count. `npx tsx bench/gestures.ts hatch` measures one scene.
 */
import { Key } from 'selenium-webdriver';
import type { Piece } from '@urnsmith/core/document/schema';
import { bell } from '../demo/bell';
import { grille } from '../demo/grille';
import { hatch } from '../demo/hatch';
import { lantern } from '../demo/lantern';
import { measured } from './measured';
import { ms, row } from './report';

interface Scene {
  pieces: Piece[];
  host: string;
  cutter: string;
}
const SCENES: Record<string, () => Scene> = {
  hatch: () => ({ ...hatch(), host: 'frame', cutter: 'opening' }),
  lamp: () => ({ ...lantern(), host: 'house', cutter: 'room' }),
  bell: () => ({ ...bell(), host: 'bell', cutter: 'hollow' }),
  grille: () => ({ ...grille(), host: 'grille', cutter: 'h1' }),
};
const MOVES = 12;
const asked = process.argv.slice(2);

await measured(async ({ driver, tasks, on }) => {
  console.log('\nGestures on the demo scenes: processor time');
  row('', ['longest (16)', 'page', 'workers']);
  const calm = (): Promise<unknown> =>
    driver.executeAsyncScript(
      'const done = arguments[0]; let n = 0; const look = () => { n = window.urnsmithMeasure.idle() ? n + 1 : 0; n > 8 ? done(1) : setTimeout(look, 50); }; look();',
    );
  for (const [name, scene] of Object.entries(SCENES)) {
    if (asked.length && !asked.includes(name)) continue;
    const { pieces, host, cutter } = scene();
    const nameOf = (id: string): string => pieces.find((p) => p.id === id)!.name ?? id;
    const cost = async (title: string, what: () => Promise<unknown>, after = calm): Promise<void> => {
      const { longest, sum, workers } = await tasks.during(async () => {
        await what();
        await after();
      });
      row(`${name}: ${title}`, [ms(longest), ms(sum), ms(workers)]);
    };
    const to = (x: number, y: number): Promise<void> =>
      driver.actions({ async: true }).move({ origin: on.canvas, x, y, duration: 20 }).perform();
    const moves = async (from: number, n: number): Promise<void> => {
      for (let k = 1; k <= n; k++) await to(from + 6 * k, 4 * k);
    };
    const press = (): Promise<void> => driver.actions({ async: true }).press().perform();
    const release = (): Promise<void> => driver.actions({ async: true }).release().perform();
    const choose = async (id: string): Promise<void> => {
      await on.h.pick(nameOf(id));
      await on.h.focusStage();
    };
    await cost('opening', () => on.open(nameOf(host), pieces, '?measure'));
    await cost('choosing the host', () => choose(host));
    await on.key('s');
    await to(0, 0);
    await press();
    await cost(
      'dragging the host',
      () => moves(0, MOVES),
      async () => {},
    );
    await cost('letting the host go', release);
    // The cutter is under the middle of the view again.
    await on.key(Key.CONTROL, 'z');
    await cost('choosing a cutter', () => choose(cutter));
    await on.key('s');
    await to(0, 0);
    await cost(
      'pressing on it, first picture',
      async () => {
        await press();
        await driver.executeScript(
          'window.nextPicture = window.urnsmithMeasure.nextPicture(arguments[0])',
          host,
        );
        await moves(0, 4);
        const came = await driver.executeAsyncScript<boolean>(
          'const done = arguments[0]; window.nextPicture.then(() => done(true)); setTimeout(() => done(false), 10000);',
        );
        if (!came) console.log(`${name}: no picture came, as the cutter was not taken`);
      },
      async () => {},
    );
    await cost(
      `${MOVES} moves of it`,
      () => moves(24, MOVES),
      async () => {},
    );
    await cost('letting it go', release);
    await cost('undo', () => on.key(Key.CONTROL, 'z'));
    await cost('redo', () => on.key(Key.CONTROL, Key.SHIFT, 'z'));
    await on.key(Key.CONTROL, 'z');
    await choose(host);
    await calm();
    await cost('Face level', () => on.key('8'));
    await cost('Piece level', () => on.key('7'));
    await cost('opening the search', () => on.key(' '));
    await on.h.keys(Key.ESCAPE);
    for (const look of ['drift', 'gloss']) {
      await on.key(' ');
      await (await on.h.see('[cmdk-input]')).sendKeys(`Look: ${look}`);
      await on.h.until('found', async () => (await on.h.text('[cmdk-item]')).includes(look));
      await cost(`the look ${look}`, () => on.h.keys(Key.ENTER));
    }
    await on.h.find('Look: clay');
  }
});
