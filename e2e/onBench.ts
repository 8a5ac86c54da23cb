/** A person at the Bench: opens a scene, clicks on the stage, presses keys, and looks at what was stored. */
import { readFileSync } from 'node:fs';
import { By, type WebElement } from 'selenium-webdriver';
import type { SceneState } from '@urnsmith/core/document/scene';
import { piecesOf } from '@urnsmith/core/document/sections';
import type { Piece } from '@urnsmith/core/document/schema';
import { readObj } from '@urnsmith/core/formats/readObj';
import type { PolyMesh } from '@urnsmith/core/mesh/PolyMesh';
import { drawn, type Browser } from './browser';
import { downloadBy } from './downloads';
import { HandsOn } from './hands';
import { answered, asked } from './inPage';
import type { TestServer } from './server';

/** Buttons of the tray. */
const TOOLS = '.tray [role="group"] button';
/** Of the tray: its tools by what is held with their keys. */
export const LAYERS = ['Keys', 'Shift', 'Alt', 'More'];

export class OnBench {
  readonly h: HandsOn;
  canvas!: WebElement;
  /** Where what is looked at is seen: pixels are counted from there. */
  middle!: WebElement;
  scene = '';

  constructor(
    private readonly server: TestServer,
    private readonly browser: Browser,
  ) {
    this.h = new HandsOn(browser.driver);
  }

  /** @param search of the address, `?measure` for what measurements ask */
  async open(name: string, pieces: Piece[] = [], search = ''): Promise<void> {
    const made = await fetch(`${this.server.url}/api/scenes`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ name, document: { pieces } }),
    });
    if (!made.ok) throw new Error(await made.text());
    ({ id: this.scene } = (await made.json()) as { id: string });
    await this.goTo(`/scene/${this.scene}/bench${search}`);
    await this.untilDrawn();
  }

  /**
   * Goes to an address of the server. A page that is already there navigates inside the app, as a link does: a full
   * load takes nearly twice as long.
   */
  private async goTo(path: string): Promise<void> {
    const { driver } = this.browser;
    const gone = await asked<boolean>(
      driver,
      `if (location.origin !== args[0]) return false;
       for (const old of all('#stage')) old.id = 'left';
       history.pushState(null, '', args[1]);
       dispatchEvent(new PopStateEvent('popstate'));
       return true;`,
      this.server.url,
      path,
    );
    if (!gone) await driver.get(this.server.url + path);
  }

  /** Opens the Bench on the scene again. */
  async reopen(): Promise<void> {
    await this.browser.driver.get(`${this.server.url}/scene/${this.scene}/bench`);
    await this.untilDrawn();
    await this.h.see('.rows .row');
  }

  /** The view is on the pieces once all of them are built. */
  async untilDrawn(): Promise<void> {
    this.canvas = await this.h.see('#stage[aria-busy="false"]', 60_000);
    this.middle = await this.browser.driver.findElement(By.css('.turnsAbout'));
  }

  async stored(): Promise<Piece[]> {
    await this.h.saved();
    const open = await fetch(`${this.server.url}/api/scenes/${this.scene}`);
    return piecesOf(((await open.json()) as SceneState).document);
  }

  async lastAction(): Promise<Record<string, unknown>> {
    return (await this.stored())[0].actions!.at(-1)!;
  }

  /** The counts line, once it says something. */
  counts(): Promise<string> {
    return this.h.text('.count b');
  }

  untilCounts(text: string): Promise<unknown> {
    return answered(
      this.browser.driver,
      `return all('.count b').some((e) => shown(e) && says(e).includes(args[0]))`,
      [text],
      45_000,
      `the counts do not say “${text}”`,
    );
  }

  /** Clicks at pixels from the middle of the stage. */
  async clickAt(x: number, y: number, ...held: string[]): Promise<void> {
    const a = this.browser.driver.actions();
    for (const k of held) a.keyDown(k);
    a.move({ origin: this.middle, x: Math.round(x), y: Math.round(y) }).click();
    for (const k of held) a.keyUp(k);
    await a.perform();
  }

  /**
   * One millimetre in pixels, seen square-on from above, once the view is at rest: the width's handle floats 16 pixels
   * off the side.
   */
  async scaleFrom(halfWidth: number, dimension = 'width'): Promise<number> {
    // Handles follow the view when it is drawn.
    await drawn(this.browser.driver);
    await this.h.rest();
    return answered(
      this.browser.driver,
      `const middle = (e) => { const box = e.getBoundingClientRect(); return box.x + box.width / 2; };
       const handle = all('.handle[aria-label^="' + args[0] + '"] i').find(shown);
       const pixels = handle && middle(handle) - middle(all('.turnsAbout')[0]) - 16;
       // Whole pixels: a place on the rim shall not be seen beside it.
       return pixels > 0 && Math.floor(pixels) / args[1];`,
      [dimension, halfWidth],
      45_000,
      `no handle of the ${dimension} is seen`,
    );
  }

  /** Brings what is selected, or everything, into view as if no bar lay over the stage, for tests that go by pixels. */
  async frameWhole(...keys: string[]): Promise<void> {
    const bars = (shown: string): Promise<void> =>
      this.browser.driver.executeScript(
        "document.querySelectorAll('.ov > *, [data-over]').forEach((e) => (e.style.display = arguments[0]))",
        shown,
      );
    await bars('none');
    await this.key(...keys, 'n');
    await bars('');
  }

  /** A key by itself; the stage has the keys while no field has the focus. */
  key(...keys: string[]): Promise<void> {
    return this.h.stageKey(...keys);
  }

  /** Titles of the tools in the tray, under what is held with their keys. */
  async tools(): Promise<string[]> {
    const out: string[] = [];
    for (const layer of LAYERS) {
      await this.h.press(layer, '.tray');
      out.push(...(await asked<string[]>(this.browser.driver, `return all('${TOOLS}').map((b) => b.title)`)));
    }
    return out;
  }

  /** Presses a tool in the tray, by its title. */
  async tool(title: string): Promise<void> {
    const find = (): Promise<WebElement | null> =>
      asked(this.browser.driver, `return all('${TOOLS}').find((b) => b.title === args[0]) ?? null`, title);
    for (const layer of ['', ...LAYERS]) {
      if (layer) await this.h.press(layer, '.tray');
      const button = await find();
      if (button) return button.click();
    }
    throw new Error(`There is no tool “${title}”.`);
  }

  /** Opens the ways to pick at the level. */
  async picks(): Promise<void> {
    if (!(await this.h.count('.pickMenu'))) await this.h.click('.picks');
    await this.h.see('.pickMenu');
  }

  /** A key, and the action it stands for on the Card. */
  async act(title: string, ...keys: string[]): Promise<void> {
    await this.key(...keys);
    await this.h.until(title, async () => (await this.h.text('.lastAction .head b')) === title);
  }

  /** Opens the Crate, exports OBJ and reads the first object of the file that comes. */
  async exported(): Promise<PolyMesh> {
    const { h, browser } = this;
    await this.reopen();
    await h.click('a[href$="/crate"]');
    await h.until('the counts', async () => Number(await h.text('[data-sum="faces"]')) > 0);
    await h.press('OBJ', '.card');
    // The list under “Left to mend” appears above the buttons and moves them down.
    await h.until('the check', async () => !(await h.text('.card')).includes('being looked at'));
    await h.rest();
    const file = await downloadBy(h, browser, 'Export OBJ', '.obj');
    return readObj(readFileSync(file, 'utf8'))[0].mesh;
  }
}
