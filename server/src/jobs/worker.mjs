// A process that works starts without the loader of its parent. Its program is bundled first: read module by module it
// would take ten seconds to load, as one file half a second.
import { mkdirSync, rmSync } from 'node:fs';
import { fileURLToPath, pathToFileURL } from 'node:url';
import { buildSync } from 'esbuild';

const at = (path) => fileURLToPath(new URL(path, import.meta.url));
const folder = at('../../../node_modules/.cache/urnsmith');
const program = `${folder}/work-${process.pid}.mjs`;
mkdirSync(folder, { recursive: true });
buildSync({
  entryPoints: [at('./work.ts')],
  outfile: program,
  bundle: true,
  platform: 'node',
  format: 'esm',
  target: 'node20',
  // It finds its own files beside it.
  external: ['manifold-3d'],
  banner: {
    js: "import { createRequire as requireFrom } from 'node:module'; const require = requireFrom(import.meta.url);",
  },
  logLevel: 'silent',
});
try {
  await import(pathToFileURL(program).href);
} finally {
  rmSync(program, { force: true });
}
