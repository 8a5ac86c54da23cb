/** What a person does at the interface: clicking, typing, dragging, by the names they see. */
import { By, error, Key, Origin, until, type WebDriver, type WebElement } from 'selenium-webdriver';

/** A person waits; a busy machine may stand still for many seconds. */
const PATIENCE = 45_000;

export class HandsOn {
  constructor(readonly driver: WebDriver) {}

  /** The first shown element with an accessible name or text, by CSS. */
  async see(css: string, ms = PATIENCE): Promise<WebElement> {
    const e = await this.driver.wait(until.elementLocated(By.css(css)), ms, `nothing matches ${css}`);
    await this.driver.wait(until.elementIsVisible(e), ms, `${css} stays hidden`);
    return e;
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

  async text(css: string): Promise<string> {
    return (await this.see(css)).getText();
  }

  async click(css: string): Promise<void> {
    await (await this.see(css)).click();
  }

  /** A button by its visible text. */
  async press(text: string, within = 'body'): Promise<void> {
    const xpath = `//button[normalize-space(.)=${quote(text)} or @aria-label=${quote(text)}]`;
    const e = await this.driver.wait(
      async () => {
        for (const box of await this.driver.findElements(By.css(within)))
          for (const b of await box.findElements(By.xpath('.' + xpath))) if (await b.isDisplayed()) return b;
        return null;
      },
      PATIENCE,
      `no button “${text}”`,
    );
    await e!.click();
  }

  /** A command by what is typed into the search. */
  async find(text: string): Promise<void> {
    await this.focusStage();
    await this.keys(' ');
    await (await this.see('[cmdk-input]')).sendKeys(text, Key.ENTER);
  }

  async menuItem(text: string): Promise<void> {
    const e = await this.driver.wait(
      until.elementLocated(By.xpath(`//*[@role='menuitem'][normalize-space(.)=${quote(text)}]`)),
      PATIENCE,
    );
    await e.click();
  }

  /** Types into the field with that label. */
  async type(label: string, value: string, within = '.card'): Promise<void> {
    const input = await this.driver.wait(
      async () => {
        for (const f of await this.driver.findElements(By.css(`${within} :is(.field, [data-field])`))) {
          const l = await f.findElements(By.css('label'));
          if (l.length && (await l[0].getText()) === label) return f.findElement(By.css('input'));
        }
        return null;
      },
      PATIENCE,
      `no field “${label}”`,
    );
    await input!.click();
    await input!.sendKeys(Key.chord(Key.CONTROL, 'a'), value, Key.ENTER);
    // A refused number stays as it was typed, with the reason; Escape would let go of it.
    if ((await input!.getAttribute('aria-invalid')) !== 'true')
      await this.driver.actions().sendKeys(Key.ESCAPE).perform();
  }

  async keys(...keys: string[]): Promise<void> {
    await this.driver
      .actions()
      .sendKeys(...keys)
      .perform();
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
    const start = this.driver
      .actions({ async: true })
      .move({ origin: e, x: Math.round(from[0]), y: Math.round(from[1]) })
      .press();
    await start.perform();
    for (let k = 1; k <= 6; k++)
      await this.driver
        .actions({ async: true })
        .move({
          origin: e,
          x: Math.round(from[0] + (by[0] * k) / 6),
          y: Math.round(from[1] + (by[1] * k) / 6),
          duration: 40,
        })
        .perform();
    await during?.();
    await this.driver.actions({ async: true }).release().perform();
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
    for (let k = 0; k < 6; k++)
      await this.driver
        .actions({ async: true })
        .move({ origin: Origin.POINTER, x: Math.round(by[0] / 6), y: Math.round(by[1] / 6), duration: 40 })
        .perform();
    await this.driver.actions({ async: true }).release().perform();
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
    const asked = async (): Promise<T | null | undefined | false> => {
      try {
        return await f();
      } catch (e) {
        why = (e as Error).message;
        return null;
      }
    };
    try {
      return (await this.driver.wait(asked, ms)) as T;
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
    await this.driver.executeScript("document.querySelector(':focus')?.blur()");
  }

  async saved(): Promise<void> {
    await this.until(
      'saving',
      async () => (await (await this.see('.saved')).getAttribute('data-save')) === 'saved',
    );
  }
}

const quote = (s: string): string => (s.includes("'") ? `"${s}"` : `'${s}'`);
