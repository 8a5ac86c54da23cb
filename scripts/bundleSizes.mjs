/** Measures the script each view loads, gzipped: the entry, the view's own chunks, and all they import statically. */
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { gzipSync } from 'node:zlib';
import { root } from './ensure.mjs';

/** Views by the modules that are loaded for them. */
const VIEWS = {
  Scenes: ['src/views/scenes/ScenesView.tsx'],
  Bench: ['src/views/SceneShell.tsx', 'src/views/bench/BenchView.tsx'],
  Crate: ['src/views/SceneShell.tsx', 'src/views/crate/CrateView.tsx'],
};

/** @returns kilobytes of gzipped script by view */
export function viewSizes(dist = join(root, 'web/dist')) {
  const manifest = JSON.parse(readFileSync(join(dist, '.vite/manifest.json'), 'utf8'));
  const reach = (key, into) => {
    if (into.has(key)) return into;
    into.add(key);
    for (const next of manifest[key].imports ?? []) reach(next, into);
    return into;
  };
  const gzipped = (key) => gzipSync(readFileSync(join(dist, manifest[key].file))).length;
  return Object.fromEntries(
    Object.entries(VIEWS).map(([view, modules]) => {
      const chunks = new Set();
      for (const m of ['index.html', ...modules]) reach(m, chunks);
      return [view, [...chunks].reduce((sum, key) => sum + gzipped(key), 0) / 1000];
    }),
  );
}

if (process.argv[1] === import.meta.filename) console.log(viewSizes());
