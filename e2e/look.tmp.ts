import { writeFileSync } from 'node:fs';
import { Key } from 'selenium-webdriver';
import { openBrowser, consoleProblems } from './browser';
import { OnBench } from './onBench';
import { TestServer } from './server';
const server = new TestServer();
await server.start();
const browser = await openBrowser();
const on = new OnBench(server, browser);
const shot = async (n: string) =>
  writeFileSync(`/tmp/look/${n}.png`, Buffer.from(await browser.driver.takeScreenshot(), 'base64'));
try {
  await on.open('Look', [
    {
      id: 'a',
      name: 'Block',
      base: { primitive: 'box', width: 120, height: 60, depth: 80, segments: [3, 2, 2] },
    },
    {
      id: 'b',
      name: 'Soft block',
      base: { primitive: 'box', width: 60, height: 60, depth: 60, segments: [2, 2, 2] },
      transform: { move: [130, 0, 0] },
      steps: [{ kind: 'smooth', levels: 4 }],
    },
  ] as never);
  await on.h.pick('Block');
  await on.key('9');
  await browser.driver.sleep(800);
  await on.clickAt(-132, -6);
  await on.key('l');
  await browser.driver.sleep(1200);
  await shot('edges');
  await on.key('q');
  await on.key('q');
  await browser.driver.sleep(900);
  await shot('edges-normals');
  await on.key('q');
  await on.key('q');
  await browser.driver.sleep(900);
  await shot('edges-drift');
  await on.key('q');
  await on.key(' ');
  await browser.driver.sleep(300);
  await on.h.keys('ro');
  await browser.driver.sleep(400);
  await shot('search-ro');
  await on.h.keys(Key.ESCAPE);
  await browser.driver.sleep(200);
  await on.key(' ');
  await browser.driver.sleep(300);
  await on.h.keys('circle');
  await browser.driver.sleep(400);
  await shot('search-circle');
  await on.h.keys(Key.ESCAPE);
  await browser.driver.sleep(200);
  await on.key('8');
  await on.clickAt(-60, 20);
  await browser.driver.sleep(500);
  await browser.driver.executeScript(
    `const c=document.querySelector('#stage');const r=c.getBoundingClientRect();for(const t of ['pointerdown','pointerup','contextmenu'])c.dispatchEvent(new (t==='contextmenu'?MouseEvent:PointerEvent)(t,{bubbles:true,cancelable:true,clientX:r.left+250,clientY:r.top+300,button:2,buttons:2,pointerId:1,pointerType:'mouse'}));`,
  );
  await browser.driver.sleep(500);
  await shot('ring-face');
} finally {
  console.log(await consoleProblems(browser.driver));
  await browser.close();
  await server.close();
}
