/**
 * Dragging a cutter through a host of 2 000 faces in the browser: time from a pointer move to the new picture,
 * and the part of it that is our own work (evaluation, hand-over, scene update; not the software rasteriser).
 */
import { openBrowser } from '../e2e/browser';
import { HandsOn } from '../e2e/hands';
import { TestServer } from '../e2e/server';

const server = new TestServer();
await server.start();
const browser = await openBrowser();
try {
  const { driver } = browser;
  const h = new HandsOn(driver);
  const pieces = [
    { id: 'host', name: 'Host', base: { primitive: 'box', width: 100, height: 60, depth: 100, segments: [20, 10, 20] }, steps: [{ kind: 'cut', mode: 'subtract', cutters: ['tool'] }, { kind: 'normals' }] },
    { id: 'tool', name: 'Tool', role: 'cutter', base: { primitive: 'cylinder', radius: 17, height: 90, sides: 48 } },
  ]; // prettier-ignore
  const made = await fetch(`${server.url}/api/scenes`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ name: 'Drag', document: { pieces } }),
  });
  const { id } = (await made.json()) as { id: string };
  await driver.get(`${server.url}/scene/${id}/bench?measure`);
  await h.pick('Tool');
  await driver.sleep(2500);
  await h.focusStage();
  await h.keys('s');
  await driver.sleep(500);
  const result = await driver.executeAsyncScript<{ total: number[]; own: number[] }>(
    `const done = arguments[0];
     const m = window.urnsmithMeasure;
     const c = document.getElementById('stage');
     const box = c.getBoundingClientRect();
     const at = (k) => ({ x: box.left + box.width / 2 + 66 + 140 * Math.sin(k / 9), y: box.top + box.height / 2 + 22 + 47 * Math.sin(k / 9) });
     const fire = (type, p) => c.dispatchEvent(new PointerEvent(type, { clientX: p.x, clientY: p.y, button: type === 'pointermove' ? -1 : 0, buttons: 1, pointerId: 1, bubbles: true }));
     c.setPointerCapture = () => {};
     (async () => {
       fire('pointerdown', at(0));
       const total = [], own = [];
       for (let k = 1; k <= 90; k++) {
         const start = performance.now();
         const picture = m.nextPicture('host');
         fire('pointermove', at(k));
         const r = await Promise.race([picture, new Promise(f => setTimeout(() => f(null), 2000))]);
         if (!r || k < 10) continue;
         total.push(performance.now() - start);
         own.push(r.arrived - start + r.update);
       }
       fire('pointerup', at(90));
       done({ total, own });
     })();`,
  );
  const rank = (a: number[], q: number): string =>
    `${[...a].sort((x, y) => x - y)[Math.floor((a.length - 1) * q)].toFixed(1)} ms`;
  console.log('\nDragging a cutter through a 2 000-face host in the browser (aim: own work under 50 ms)');
  console.log(
    `pointer move to picture   median ${rank(result.total, 0.5)}   95th ${rank(result.total, 0.95)}   (${result.total.length} moves)`,
  );
  console.log(`own work of it            median ${rank(result.own, 0.5)}   95th ${rank(result.own, 0.95)}`);
} finally {
  await browser.close();
  await server.close();
}
