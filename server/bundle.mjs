/**
 * Bundles the server, the command line and the job worker into server/dist. Loaded module by module through a
 * TypeScript loader they take seconds to start; bundled they take a fraction of one.
 */
import {
  existsSync,
  mkdirSync,
  readdirSync,
  renameSync,
  rmSync,
  statSync,
  utimesSync,
  writeFileSync,
} from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';

const ENTRIES = {
  start: 'demo/start.ts',
  cli: 'server/src/cli/index.ts',
  worker: 'server/src/jobs/work.ts',
};
const SOURCES = ['core/src', 'server/src', 'server/bundle.mjs', 'demo', 'package.json'];
/** Packages with native, WebAssembly or script files beside them. */
const EXTERNAL = ['better-sqlite3', 'manifold-3d', 'open'];

const here = dirname(fileURLToPath(import.meta.url));

/** Newest change of any file in these files and folders, milliseconds since 1970. */
export function newestIn(paths) {
  let newest = 0;
  for (const path of paths) {
    const at = statSync(path);
    newest = Math.max(newest, at.mtimeMs);
    if (at.isDirectory()) newest = Math.max(newest, newestIn(readdirSync(path).map((f) => join(path, f))));
  }
  return newest;
}

/** @returns whether `output` exists and nothing in `sources` changed after it was written */
export const isFresh = (output, sources) =>
  existsSync(output) && statSync(output).mtimeMs > newestIn(sources);

/**
 * Bundles what changed since the last time; a fresh bundle is left alone.
 * @param root folder of the checkout
 * @returns the folder with start.mjs, cli.mjs and worker.mjs
 */
export async function bundleServer(root = join(here, '..')) {
  const out = join(root, 'server/dist');
  const stamp = join(out, 'built');
  if (
    isFresh(
      stamp,
      SOURCES.map((s) => join(root, s)),
    )
  )
    return out;
  const { build } = await import('esbuild');
  const began = Date.now() / 1000;
  const { outputFiles } = await build({
    absWorkingDir: root,
    entryPoints: ENTRIES,
    outdir: out,
    outExtension: { '.js': '.mjs' },
    splitting: true,
    bundle: true,
    write: false,
    platform: 'node',
    format: 'esm',
    target: 'node20',
    external: EXTERNAL,
    banner: {
      js: "import { createRequire as requireFrom } from 'node:module'; const require = requireFrom(import.meta.url);",
    },
    logLevel: 'warning',
  });
  mkdirSync(out, { recursive: true });
  // Entries last: a process that starts meanwhile sees the old program or the new one, never half of it.
  const isEntry = ({ path }) => Object.keys(ENTRIES).some((e) => path === join(out, `${e}.mjs`));
  for (const file of [...outputFiles].sort((a, b) => isEntry(a) - isEntry(b)))
    replace(file.path, file.contents);
  replace(stamp, '');
  // A source that changed while it was read counts as newer than the bundle.
  utimesSync(stamp, began, began);
  // Files of an older bundle; those another process is just writing end otherwise.
  const kept = new Set(outputFiles.map((f) => f.path));
  for (const name of readdirSync(out))
    if (name.endsWith('.mjs') && !kept.has(join(out, name))) rmSync(join(out, name), { force: true });
  return out;
}

function replace(path, contents) {
  const beside = `${path}.${process.pid}`;
  writeFileSync(beside, contents);
  renameSync(beside, path);
}
