/**
 * Questions a test asks of the page, each as one script that runs there and waits there: a question per element and
 * per look costs a round trip each, and most of the time of a test.
 */
import { error, type WebDriver, type WebElement } from 'selenium-webdriver';

/** Between two looks, ms. */
const AGAIN = 30;
/** Longest wait of one script; a page that is left meanwhile takes its script along, so longer waits are made of several. */
const STRETCH = 4_000;

/** Helpers that the questions below can call in the page. `ready` returns the element if nothing covers its middle. */
const VOCABULARY = `
  const all = (css, within = document) => [...within.querySelectorAll(css)];
  const shown = (e) => {
    if (!e.checkVisibility({ opacityProperty: true, visibilityProperty: true })) return false;
    const box = e.getBoundingClientRect();
    return box.width > 0 && box.height > 0 || getComputedStyle(e).overflow !== 'hidden' && e.getClientRects().length > 0;
  };
  const says = (e) => e.innerText.replaceAll('\\u00a0', ' ').trim();
  const ready = (e) => {
    e.scrollIntoView({ block: 'nearest', inline: 'nearest' });
    const box = e.getBoundingClientRect();
    return e.contains(document.elementFromPoint(box.x + box.width / 2, box.y + box.height / 2)) && e;
  };
  const named = (e, name) => e.ariaLabel === name || e.textContent.replace(/\\s+/g, ' ').trim() === name;
`;

/**
 * Waits in the page until a question has an answer that is neither null, undefined nor false.
 * @param question a function's body over `args`, in the vocabulary above
 * @param what is told where there is none in time
 */
export async function answered<T>(
  driver: WebDriver,
  question: string,
  args: unknown[],
  ms: number,
  what: string,
): Promise<T> {
  const until = Date.now() + ms;
  for (;;) {
    const left = until - Date.now();
    const found = await stretch<T>(driver, question, args, Math.max(AGAIN, Math.min(STRETCH, left)));
    if (found !== null) return found;
    if (Date.now() >= until) throw new error.TimeoutError(`${what}\nWait timed out after ${ms}ms`);
  }
}

async function stretch<T>(
  driver: WebDriver,
  question: string,
  args: unknown[],
  ms: number,
): Promise<T | null> {
  try {
    const found = await driver.executeAsyncScript<T | null>(
      `${VOCABULARY}
       const done = arguments[arguments.length - 1];
       const args = arguments[0];
       const until = performance.now() + arguments[1];
       const ask = () => { ${question} };
       (function look() {
         let found;
         try {
           found = ask();
         } catch (e) {
           return done({ wrongQuestion: String(e) });
         }
         if (found !== null && found !== undefined && found !== false) done(found);
         else if (performance.now() >= until) done(null);
         else setTimeout(look, ${AGAIN});
       })();`,
      args,
      ms,
    );
    const wrong = (found as { wrongQuestion?: string } | null)?.wrongQuestion;
    if (wrong) throw new Error(`${wrong} in: ${question}`);
    return found;
  } catch (e) {
    if (!leftPage(e)) throw e;
    // The page was left, or is not yet there; the next one is asked.
    await driver.sleep(AGAIN);
    return null;
  }
}

/** Whether a script ended because its page did. */
const leftPage = (e: unknown): boolean =>
  e instanceof error.StaleElementReferenceError ||
  (e instanceof error.JavascriptError && /unload/.test(e.message)) ||
  (e instanceof error.WebDriverError &&
    /aborted by navigation|context was destroyed|Cannot read properties of null/.test(e.message));

/** An answer at once, whatever it is. */
export const asked = <T>(driver: WebDriver, question: string, ...args: unknown[]): Promise<T> =>
  driver.executeScript<T>(`${VOCABULARY} const args = arguments[0]; ${question}`, args);

/** The first shown element, by CSS. */
export const shownElement = (driver: WebDriver, css: string, ms: number): Promise<WebElement> =>
  answered(driver, 'return all(args[0]).find(shown)', [css], ms, `nothing that matches ${css} is shown`);

/**
 * Waits until the page is at rest: nothing is being built, and for a while nothing in it has changed.
 * @param still ms without a change
 */
export const quiet = (driver: WebDriver, still = 90, ms = 45_000): Promise<void> =>
  answered(
    driver,
    `if (!window.lastChange) {
       window.lastChange = performance.now();
       new MutationObserver(() => (window.lastChange = performance.now())).observe(document, {
         subtree: true, childList: true, attributes: true, characterData: true,
       });
     }
     if (all('#stage[aria-busy="true"]').length) window.lastChange = performance.now();
     return performance.now() - window.lastChange >= args[0];`,
    [still],
    ms,
    'the page does not come to rest',
  );
