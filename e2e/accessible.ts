/** Accessibility barriers found by axe. */
import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import type { WebDriver } from 'selenium-webdriver';

/** Findings on the page as it is, but for minor ones: each with what it is about. */
export async function barriers(driver: WebDriver): Promise<string[]> {
  const axe = readFileSync(createRequire(import.meta.url).resolve('axe-core/axe.min.js'), 'utf8');
  // Colour transitions have ended, however slowly the page is drawn.
  await driver.sleep(250);
  await driver.executeAsyncScript(
    `const done = arguments[0];
     requestAnimationFrame(() => Promise.allSettled(document.getAnimations().map((a) => a.finished)).then(() => done()));`,
  );
  return driver.executeAsyncScript<string[]>(
    `${axe}; const done = arguments[arguments.length - 1];
     axe.run(document, { resultTypes: ['violations'] }).then(r => done(r.violations.filter(v => v.impact !== 'minor').map(v => v.id + ': ' + v.nodes.map(n => n.target).join(' | '))));`,
  );
}
