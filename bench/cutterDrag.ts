/**
 * Dragging one of 700 cutters in the browser: how long the page is held, and how often the host is drawn anew while the
 * hand moves.
 */
import { grille } from '../demo/grille';
import { measured } from './measured';
import { ms, row } from './report';

const MOVES = 40;

await measured(async ({ driver, tasks, on }) => {
  await on.open('Grille', grille().pieces, '?measure');
  await on.h.pick('Hole');
  await on.h.focusStage();
  await on.key('s');
  const to = (x: number, y: number): Promise<void> =>
    driver
      .actions({ async: true })
      .move({ origin: on.canvas, x: Math.round(x), y: Math.round(y), duration: 20 })
      .perform();
  await to(0, 0);
  await driver.actions({ async: true }).press().perform();
  // The first move makes what is kept; those after it go on from there.
  for (let k = 1; k < 5; k++) await to(4, k);
  await driver.sleep(4000);
  let pictures: { total: number; own: number }[] = [];
  const moved = await tasks.during(async () => {
    pictures = await driver.executeAsyncScript(
      `const done = arguments[0];
       const m = window.urnsmithMeasure;
       const c = document.getElementById('stage');
       const box = c.getBoundingClientRect();
       (async () => {
         const out = [];
         for (let k = 1; k <= ${MOVES}; k++) {
           const start = performance.now();
           const picture = m.nextPicture('grille');
           c.dispatchEvent(new PointerEvent('pointermove', {
             clientX: box.left + box.width / 2 + 4 + k / 2, clientY: box.top + box.height / 2 + 2 + 6 * Math.sin(k / 9),
             button: -1, buttons: 1, pointerId: 1, bubbles: true }));
           const r = await Promise.race([picture, new Promise((f) => setTimeout(() => f(null), 4000))]);
           if (r) out.push({ total: performance.now() - start, own: r.arrived - start + r.update });
         }
         done(out);
       })();`,
    );
  });
  if (pictures.length < MOVES / 2) throw new Error(`Only ${pictures.length} pictures came.`);
  const released = await tasks.during(async () => {
    await driver.actions({ async: true }).release().perform();
    await driver.sleep(3000);
  });
  console.log('\nDragging one of 700 cutters in the browser');
  const rate = (key: 'total' | 'own'): string => {
    const sorted = pictures.map((p) => p[key]).sort((x, y) => x - y);
    return (1000 / sorted[sorted.length >> 1]).toFixed(1);
  };
  row('', ['longest task (50)', 'let go', 'a second (4)', 'own work only']);
  row('grille', [ms(moved.longest), ms(released.longest), rate('total'), rate('own')]);
});
