/** A person's actions at the interface: clicking, typing, dragging, by the names they see. */
import { error, Key, Origin, type Actions, type WebDriver, type WebElement } from 'selenium-webdriver';
import { drawn, gestureAfter } from './browser';
import { answered, asked, quiet, shownElement } from './inPage';

/** A person waits; a busy machine may stand still for many seconds. */
const PATIENCE = 45_000;
/** Between two looks, ms. */
const AGAIN = 30;
/** A drag's moves, and how long each takes, ms. */
const MOVES = 6;
const MOVE_MS = 25;
/** Takes the focus off any field. */
const LET_GO = "document.querySelector(':focus')?.blur()";

export class HandsOn {
  constructor(readonly driver: WebDriver) {}

  /** The first shown element, by CSS. */
  see(css: string, ms = PATIENCE): Promise<WebElement> {
    return shownElement(this.driver, css, ms);
  }

  /** A picture of an element, or of the page; asked for again where the browser was too busy to answer. */
  async picture(of: WebElement | WebDriver = this.driver): Promise<string> {
    for (let left = 3; ; left--)
      try {
        return await of.takeScreenshot();
      } catch (e) {
        if (!left || !(e instanceof error.TimeoutError)) throw e;
      }
  }

  /** Text of the first shown element, by CSS. */
  text(css: string): Promise<string> {
    return answered(
      this.driver,
      'const e = all(args[0]).find(shown); return e && [says(e)]',
      [css],
      PATIENCE,
      `nothing that matches ${css} is shown`,
    ).then((found) => (found as [string])[0]);
  }

  /** Texts of all elements that match, shown or not; none is an answer too. */
  texts(css: string): Promise<string[]> {
    return asked(this.driver, 'return all(args[0]).map(says)', css);
  }

  /** How many elements match. */
  count(css: string): Promise<number> {
    return asked(this.driver, 'return all(args[0]).length', css);
  }

  async click(css: string): Promise<void> {
    await this.clickOn('all(args[0]).find(shown)', [css], `nothing that matches ${css} can be clicked`);
  }

  /** Clicks an element once nothing lies over it. @param found expression in the page */
  private async clickOn(found: string, args: unknown[], what: string): Promise<WebElement> {
    const e = await answered<WebElement>(
      this.driver,
      `const e = ${found}; return e && ready(e)`,
      args,
      PATIENCE,
      what,
    );
    await this.driver.actions({ async: true }).move({ origin: e }).click().perform();
    return e;
  }

  /** A button by its visible text. */
  async press(text: string, within = 'body'): Promise<void> {
    await this.clickOn(
      `all(args[1]).flatMap((box) => all('button', box)).find((b) => named(b, args[0]) && shown(b))`,
      [text, within],
      `no button “${text}”`,
    );
  }

  /** The box to tick with that label. */
  async tick(label: string, within = '.card'): Promise<void> {
    await this.clickOn(
      `all(args[1] + ' label.check').find((l) => says(l) === args[0])?.querySelector('input')`,
      [label, within],
      `no box “${label}”`,
    );
  }

  /** A command by what is typed into the search. */
  async find(text: string): Promise<void> {
    await this.stageKey(' ');
    await (await this.see('[cmdk-input]')).sendKeys(text, Key.ENTER);
  }

  async menuItem(text: string): Promise<void> {
    await this.clickOn(
      `all('[role="menuitem"]').find((e) => named(e, args[0]))`,
      [text],
      `no menu item “${text}”`,
    );
  }

  /** Types into the field with that label. */
  async type(label: string, value: string, within = '.card'): Promise<void> {
    const input = await this.clickOn(
      `all(args[1] + ' :is(.field, [data-field])')
         .find((f) => all('label', f).slice(0, 1).some((label) => says(label) === args[0]))
         ?.querySelector('input')`,
      [label, within],
      `no field “${label}”`,
    );
    await input.sendKeys(Key.chord(Key.CONTROL, 'a'), value, Key.ENTER);
    // A refused number stays as it was typed, with the reason; Escape would let go of it.
    if ((await input.getAttribute('aria-invalid')) !== 'true')
      await this.driver.actions().sendKeys(Key.ESCAPE).perform();
  }

  async keys(...keys: string[]): Promise<void> {
    await this.driver
      .actions()
      .sendKeys(...keys)
      .perform();
  }

  /** A key on the stage, with modifiers before it. The stage has the keys while no field has the focus. */
  async stageKey(...keys: string[]): Promise<void> {
    const a = gestureAfter(this.driver, LET_GO);
    for (const k of keys) a.keyDown(k);
    for (const k of [...keys].reverse()) a.keyUp(k);
    await a.perform();
  }

  /** Modifiers, then one key. */
  async chord(...keys: string[]): Promise<void> {
    const a = this.driver.actions();
    for (const k of keys) a.keyDown(k);
    for (const k of [...keys].reverse()) a.keyUp(k);
    await a.perform();
  }

  /** Presses at a point of an element (pixels from its middle), moves in steps, lets go. */
  async drag(
    e: WebElement,
    from: [number, number],
    by: [number, number],
    during?: () => Promise<void>,
  ): Promise<void> {
    const gesture = (): Actions => this.driver.actions({ async: true });
    const at = (k: number): { origin: WebElement; x: number; y: number; duration: number } => ({
      origin: e,
      x: Math.round(from[0] + (by[0] * k) / MOVES),
      y: Math.round(from[1] + (by[1] * k) / MOVES),
      duration: k ? MOVE_MS : 0,
    });
    // The app may need a frame to take hold of the element.
    await gesture().move(at(0)).press().perform();
    const moves = gesture();
    for (let k = 1; k <= MOVES; k++) moves.move(at(k));
    await (during ? moves : moves.release()).perform();
    if (!during) return;
    await during();
    await gesture().release().perform();
  }

  /** A key goes down, in the midst of a drag too, and stays down. */
  holding(key: string): Promise<void> {
    return this.driver.actions({ async: true }).keyDown(key).perform();
  }
  lettingGo(key: string): Promise<void> {
    return this.driver.actions({ async: true }).keyUp(key).perform();
  }

  /** Drags a thing that moves along while it is dragged. */
  async pull(e: WebElement, by: [number, number]): Promise<void> {
    await this.driver.actions({ async: true }).move({ origin: e }).press().perform();
    const moves = this.driver.actions({ async: true });
    for (let k = 0; k < MOVES; k++)
      moves.move({
        origin: Origin.POINTER,
        x: Math.round(by[0] / MOVES),
        y: Math.round(by[1] / MOVES),
        duration: MOVE_MS,
      });
    await moves.release().perform();
  }

  /** Turns the wheel over an element. */
  async wheel(e: WebElement, by: number): Promise<void> {
    // The driver has it, its types do not.
    const actions = this.driver.actions() as unknown as {
      scroll(x: number, y: number, dx: number, dy: number, origin: WebElement): { perform(): Promise<void> };
    };
    await actions.scroll(0, 0, 0, by, e).perform();
  }

  async until<T>(what: string, f: () => Promise<T | null | undefined | false>, ms = PATIENCE): Promise<T> {
    let why = 'the last answer was no';
    const ask = async (): Promise<T | null | undefined | false> => {
      try {
        return await f();
      } catch (e) {
        why = (e as Error).message;
        return null;
      }
    };
    try {
      return (await this.driver.wait(ask, ms, undefined, AGAIN)) as T;
    } catch (e) {
      throw new Error(`${what} did not happen: ${why}`, { cause: e });
    }
  }

  /** Selects a piece by its name in the Ledger; more are added with Shift. */
  async pick(...names: string[]): Promise<void> {
    for (const [i, name] of names.entries()) {
      const row = await this.see(`.rows [data-name="${name}"]`);
      const a = this.driver.actions();
      // On the name: the row's flags appear right of it under the pointer.
      const onName = { origin: row, x: -50, y: 0 };
      if (i) await a.keyDown(Key.SHIFT).move(onName).click().keyUp(Key.SHIFT).perform();
      else await a.move(onName).click().perform();
    }
  }

  /** The stage knows no keys while a field has the focus: give it back. */
  async focusStage(): Promise<void> {
    await this.driver.executeScript(LET_GO);
  }

  /** Once all that was done is stored. */
  async saved(): Promise<void> {
    await answered(
      this.driver,
      `return all('.saved').some((e) => e.dataset.save === 'saved')`,
      [],
      PATIENCE,
      'saving did not happen',
    );
  }

  /** Once nothing is being built, nothing in the page changes, and all of it is drawn. */
  async rest(): Promise<void> {
    await quiet(this.driver);
    await drawn(this.driver);
  }
}
