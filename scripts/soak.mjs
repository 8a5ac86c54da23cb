// npm run soak [part …] [-- --seed N]: operations, cuts, rounding, recipes, routes, readers, kills, laws, replay, browser.
import { buildInterface, bin, ensureBrowser, ensurePackages, run } from './ensure.mjs';

ensurePackages();
const args = process.argv.slice(2);
const named = args.filter((a) => !a.startsWith('--') && !/^\d+$/.test(a));
const browser = !named.length || named.includes('browser');
if (browser || named.includes('kills') || !named.length) buildInterface();
const inOneProcess = ['operations', 'cuts', 'rounding', 'recipes', 'routes', 'readers', 'kills'];
if (!named.length || named.some((n) => inOneProcess.includes(n)))
  run(process.execPath, ['--expose-gc', '--import', 'tsx', 'soak/main.ts', ...args]);
// The properties of `npm test`, with several times as many random runs.
if (!named.length || named.includes('laws'))
  run(bin('vitest'), ['run', 'core/test', 'server/test/fuzz'], {
    env: { ...process.env, URNSMITH_SOAK: '1' },
  });
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
