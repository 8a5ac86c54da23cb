// npm run soak [part …] [-- --seed N]: operations, cuts, rounding, recipes, routes, readers, kills, replay, browser.
import { buildInterface, bin, ensureBrowser, ensurePackages, run } from './ensure.mjs';

ensurePackages();
const args = process.argv.slice(2);
const named = args.filter((a) => !a.startsWith('--') && !/^\d+$/.test(a));
const browser = !named.length || named.includes('browser');
if (browser || named.includes('kills') || !named.length) buildInterface();
const inOneProcess = ['operations', 'cuts', 'rounding', 'recipes', 'routes', 'readers', 'kills'];
if (!named.length || named.some((n) => inOneProcess.includes(n)))
  run(process.execPath, ['--expose-gc', '--import', 'tsx', 'soak/main.ts', ...args]);
if (!named.length || named.includes('replay'))
  run(bin('vitest'), ['run', 'server/test/journal.test.ts', '-t', 'always replays'], {
    env: { ...process.env, URNSMITH_SOAK: '10' },
  });
if (browser) {
  ensureBrowser();
  run(bin('vitest'), ['run', '-c', 'e2e/vitest.config.ts', 'reliability'], {
    env: { ...process.env, URNSMITH_SOAK: '1' },
  });
}
