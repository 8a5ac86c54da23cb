// npm run bench: ratios against named references, growth over three sizes, and the drag in the browser.
import { cpus } from 'node:os';
import { mkdirSync } from 'node:fs';
import { join } from 'node:path';
import { buildInterface, ensureBrowser, ensurePackages, root, run } from './ensure.mjs';

ensurePackages();
const { build } = await import('esbuild');
mkdirSync(join(root, '.tmp'), { recursive: true });
// Bundled as for production, so that no development loader slows the inner loops.
await build({
  entryPoints: [join(root, 'bench/core.ts')],
  outfile: join(root, '.tmp/bench.mjs'),
  bundle: true,
  platform: 'node',
  format: 'esm',
  packages: 'external',
  alias: { '@urnsmith/core': join(root, 'core/src') },
});
console.log(`${cpus().length} × ${cpus()[0].model.trim()}, Node ${process.version}`);
run(process.execPath, ['.tmp/bench.mjs']);
for (const file of ['store', 'largeMesh']) run(process.execPath, ['--import', 'tsx', `bench/${file}.ts`]);
if (!process.argv.includes('--core')) {
  ensureBrowser();
  buildInterface();
  for (const file of ['drag', 'cutterDrag', 'gestures', 'mainThread', 'manyPieces'])
    run(process.execPath, ['--import', 'tsx', `bench/${file}.ts`]);
}
