/** One picture of each main view, 1280×800, from the demo data. */
import { nestedIn } from '@urnsmith/core/document/graph';
import type { SceneCard, SceneState } from '@urnsmith/core/document/scene';
import { piecesOf } from '@urnsmith/core/document/sections';
import { mkdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { Key, type WebElement } from 'selenium-webdriver';
import { openBrowser, preferring } from '../e2e/browser';
import { HandsOn } from '../e2e/hands';
import { PICTURES, pictureFile } from '../demo/seed';
import { TestServer } from '../e2e/server';

const folder = join(import.meta.dirname, '../docs/screenshots');
mkdirSync(folder, { recursive: true });
// The pictures of the cards are made anew, and kept for whoever starts the demo.
const server = new TestServer({ demo: 'without pictures' });
await server.start();
const browser = await openBrowser(1280, 800, true);
const h = new HandsOn(browser.driver);
const { driver } = browser;
const settle = (ms = 900): Promise<void> => driver.sleep(ms);
const shot = async (name: string): Promise<void> => {
  await settle();
  writeFileSync(join(folder, `${name}.png`), Buffer.from(await driver.takeScreenshot(), 'base64'));
};
/** Where what is looked at is seen: pixels are counted from there. */
const middle = (): Promise<WebElement> => driver.findElement({ css: '.turnsAbout' });

/** How many cards have a picture. */
const pictured = (): Promise<number> =>
  driver.executeScript(
    'return [...document.querySelectorAll(".sceneCard img")].filter(i => i.naturalWidth).length',
  );

async function keepDemoPictures(): Promise<void> {
  const cards = await driver.executeScript<number>('return document.querySelectorAll(".sceneCard").length');
  await h.until('the demo pictures', async () => (await pictured()) === cards, 120_000);
  const scenes = (await (await fetch(`${server.url}/api/scenes`)).json()) as SceneCard[];
  mkdirSync(PICTURES, { recursive: true });
  for (const { id, name } of scenes) {
    const png = await fetch(`${server.url}/api/scenes/${id}/thumbnail`);
    writeFileSync(pictureFile(name), Buffer.from(await png.arrayBuffer()));
  }
  const faces = Object.fromEntries(scenes.map((s) => [s.name, s.faces]));
  writeFileSync(join(PICTURES, 'faces.json'), `${JSON.stringify(faces, null, 2)}\n`);
}

try {
  await driver.get(server.url);
  await h.see('.sceneCard');
  await driver.executeScript('localStorage.setItem("urnsmith-first-moves", "away")');
  await keepDemoPictures();
  const id = await driver.executeScript<string>(
    'return document.querySelector("[data-scene]").dataset.scene',
  );
  // Company for the demo scene: pieces of it as scenes of their own.
  const state = (await (await fetch(`${server.url}/api/scenes/${id}`)).json()) as SceneState;
  const all = piecesOf(state.document);
  const part = async (name: string, keep: (p: { id: string; parent?: string }) => boolean): Promise<void> => {
    const pieces = all
      .filter(keep)
      .map(({ parent, ...p }) => (all.some((q) => q.id === parent && keep(q)) ? { ...p, parent } : p));
    await fetch(`${server.url}/api/scenes`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ name, document: { pieces } }),
    });
  };
  const wheel = nestedIn(all, ['handwheel']);
  await part('Handwheel study', (p) => wheel.has(p.id));
  await part('Hinge lug', (p) => ['lug1', 'knuckle1', 'pin-bore1'].includes(p.id));
  await part('Door blank', (p) => p.id === 'door' || /^(dish|boss|keyway|bolt-hole)/.test(p.id));
  await driver.navigate().refresh();
  await h.until('all pictures', async () => (await pictured()) === 9, 60000);
  await shot('scenes');

  await driver.get(`${server.url}/scene/${id}/bench`);
  await h.see('.rows [data-name="Door"]');
  await settle(6000);
  await shot('bench');
  // A cut in hand: the dish of the door, pulled a little out of its bed.
  await h.pick('Door');
  await h.focusStage();
  await h.keys('n');
  await (await driver.findElements({ css: '.bead' }))[1].click();
  await h.press('Dish', '.cutters');
  await h.focusStage();
  await h.keys('h');
  await h.keys('s');
  await settle(1500);
  await h.drag(await middle(), [-34, 19], [-9, 5], () => shot('bench-cut'));
  await h.focusStage();
  await driver.actions().keyDown(Key.CONTROL).sendKeys('z').keyUp(Key.CONTROL).perform();
  await h.keys('a');
  await h.pick('Door');
  await h.focusStage();
  await h.keys('n');
  await (await driver.findElements({ css: '.bead' })).at(-1)!.click();
  await h.press('Drift', '.tr');
  await h.focusStage();
  await h.chord(Key.SHIFT, 'o');
  await settle(1500);
  await shot('bench-drift');
  await h.focusStage();
  await h.chord(Key.SHIFT, 'o');
  await settle(1500);
  await h.press('Clay', '.tr');
  await h.focusStage();
  await h.keys('h');

  await h.click('a[href$="/crate"]');
  await settle(2500);
  await shot('crate');

  // The lamp house, every rim of it rounded.
  await driver.get(server.url);
  await h.click('[aria-label="Open Skerry Light: lamp house"]');
  await h.see('.rows [data-name="Lamp house"]');
  await settle(6000);
  await h.pick('Lamp house');
  await h.focusStage();
  await h.keys('h', 'n');
  await h.click('[data-lane="Edge"] .bead');
  await shot('lamp-house');
  await h.press('Gloss', '.tr');
  await h.focusStage();
  await h.keys('y');
  await h.click('[data-lane="Shade"] .bead');
  await shot('lamp-house-gloss');
  await h.press('Clay', '.tr');
  await h.focusStage();
  await h.keys('y');

  // The plate on the bell, shaded as itself and as the bell.
  await driver.get(server.url);
  await h.click('[aria-label="Open Skerry Light: fog horn bell"]');
  await h.see('#stage[aria-busy="false"]', 60000);
  await settle(3000);
  await h.pick("Maker's plate");
  await h.focusStage();
  await h.keys('n', 'y');
  await h.press('Gloss', '.tr');
  const cast = (await driver.findElements({ css: '[data-lane="Shade"] .bead' })).at(-1)!;
  await cast.click();
  for (const name of ['cast-before', 'cast-after']) {
    await h.click('.card .row2 input[type="checkbox"]');
    await settle(3000);
    await shot(name);
  }
  await h.press('Clay', '.tr');
  await h.focusStage();
  await h.keys('y');

  // The junction box: a gland hole, anchored; and the grille with its 700 cutters.
  await driver.get(server.url);
  await h.click('[aria-label="Open Skerry Light: junction box"]');
  await h.see('#stage[aria-busy="false"]', 60000);
  await settle(3000);
  await h.pick('Gland');
  await shot('junction-box');
  await driver.get(server.url);
  await h.click('[aria-label="Open Skerry Light: bell grille"]');
  await h.see('#stage[aria-busy="false"]', 60000);
  await settle(3000);
  await h.pick('Bell grille');
  await h.focusStage();
  await h.keys('n');
  await h.click('[data-lane="Cut"] .bead');
  await settle(1500);
  await shot('grille');

  await driver.get(server.url);
  await h.click('[aria-label="Open Skerry Light: valve on its plinth"]');
  await h.see('.rows [data-name="Plinth"]');
  await settle(5000);
  // This one in the light theme.
  await preferring(driver, { 'prefers-color-scheme': 'light' });
  await h.pick('Handwheel');
  await shot('valve');
  await preferring(driver, { 'prefers-color-scheme': 'dark' });
  const clickAt = async (x: number, y: number): Promise<void> =>
    driver
      .actions()
      .move({ origin: await middle(), x, y })
      .click()
      .perform();
  // Faces of the handwheel, about to be turned.
  await h.pick('Handwheel');
  await h.focusStage();
  await h.keys('n');
  await h.keys('8');
  await h.see('.countPick');
  await clickAt(0, -25);
  await h.keys('j');
  await settle(500);
  await h.keys('.', 'd');
  await h.find('Shading normals as lines');
  await settle(1200);
  await shot('bench-face');
  await h.find('Shading normals as lines');
  // Edges of the stone: where a ring cut would run, with the tool in hand.
  await h.keys('a', '7');
  await h.pick('Plinth');
  await h.focusStage();
  await h.keys('n', '9');
  await h.see('.countPick');
  await h.keys('r');
  for (const x of [-34, -38]) {
    await driver
      .actions()
      .move({ origin: await middle(), x, y: 36 })
      .perform();
    await settle(700);
  }
  await shot('bench-edge');
  await h.keys(Key.ESCAPE);
  // A corner of it pulled softly.
  await h.keys('0');
  await settle(600);
  await h.keys('s');
  await h.chord(Key.SHIFT, 'a');
  await clickAt(-280, -67);
  await settle(500);
  await h.drag(await middle(), [-280, -67], [-14, -30], async () => {
    await settle(900);
    await shot('bench-point');
  });
  // The history, and a milestone compared with the scene.
  await h.focusStage();
  await h.keys('7');
  for (const [name, key] of [
    ['Handwheel', 'k'],
    ['Wheel rim', 'l'],
    ['Handwheel', 'k'],
  ]) {
    await h.pick(name);
    await h.focusStage();
    await h.keys(key);
  }
  await h.press('History');
  await h.press('Milestones');
  await (await h.see('[aria-label="Name of a new milestone"]')).sendKeys('Before the engraving', Key.ENTER);
  await h.see('.milestones li');
  await h.press('Close');
  await h.pick('Plinth');
  await h.focusStage();
  await h.keys('j');
  await h.press('History');
  await h.press('Milestones');
  await h.press('Compare');
  await settle(700);
  await shot('history');
  await h.press('Close');
  await h.focusStage();
  await h.keys('?');
  await h.press('Faces, edges, points', '.keysBox');
  await settle(400);
  await shot('keys');
  // A box of their own for cuts that are drawn and edits on the result.
  const box = {
    id: 'case',
    name: 'Case',
    base: { primitive: 'box', width: 130, height: 44, depth: 90 },
    steps: [
      { id: 's1', kind: 'cut', mode: 'subtract', cutters: ['room', 'gland'] },
      { id: 's2', kind: 'bevel', scope: { rule: 'sharp', angle: 60 }, width: 2, segments: 3 },
      { id: 's3', kind: 'normals' },
    ],
  };
  const corners = [[-55, -35], [55, -35], [55, 35], [-55, 35]]; // prettier-ignore
  const cutters = [
    { id: 'room', name: 'Room', role: 'cutter', parent: 'case', base: { primitive: 'outline', contours: [corners], height: 44, corner: 8 }, transform: { move: [0, 6, 0] } },
    { id: 'gland', name: 'Gland hole', role: 'cutter', parent: 'case', base: { primitive: 'cylinder', radius: 9, height: 40, sides: 48 }, transform: { move: [65, 0, 0], turn: [0, 0, 90] } },
  ]; // prettier-ignore
  const made = await fetch(`${server.url}/api/scenes`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ name: 'Junction box', document: { pieces: [box, ...cutters] } }),
  });
  const junction = (await made.json()) as { id: string };
  await driver.get(`${server.url}/scene/${junction.id}/bench`);
  await h.see('#stage[aria-busy="false"]', 60000);
  await h.pick('Case');
  await h.focusStage();
  await h.keys('n');
  await settle(1500);
  await h.chord(Key.ALT, 'q');
  await h.press('slot', '.card');
  await h.drag(await middle(), [-160, 8], [125, 90]);
  await driver
    .actions({ async: true })
    .move({ origin: await middle(), x: -75, y: 50 })
    .perform();
  await settle(800);
  await h.type('Depth', '6');
  await settle(1500);
  await shot('draw-cut');
  await h.focusStage();
  await h.keys(Key.ENTER);
  await h.keys(Key.ESCAPE);
  await h.pick('Case');
  await h.focusStage();
  await h.keys('8');
  await h.see('.countPick');
  await settle(1500);
  await driver
    .actions({ async: true })
    .move({ origin: await middle(), x: -155, y: -66 })
    .click()
    .perform();
  await settle(500);
  await h.focusStage();
  await h.keys('w');
  await h.type('Distance', '4');
  await settle(1500);
  await shot('on-result');
} finally {
  await browser.close();
  await server.close();
}
