/** Which unit tests are about a source file: those that import it themselves, or that are named for it. */
import { readdirSync, readFileSync } from 'node:fs';
import { basename, join } from 'node:path';
import { root } from './ensure.mjs';

const nameOf = (path) => basename(path).replace(/(\.test)?\.(tsx?|mjs)$/, '');

/** All unit tests, as paths from the root. */
export const testFiles = () =>
  ['core/test', 'server/test', 'web/test'].flatMap((folder) =>
    readdirSync(join(root, folder))
      .filter((f) => f.endsWith('.test.ts'))
      .map((f) => `${folder}/${f}`),
  );

/** Import graphs are no help here: through the evaluator nearly every test imports nearly all of the core. */
export function relatedTests(sources) {
  const tests = testFiles().map((path) => ({ path, text: readFileSync(join(root, path), 'utf8') }));
  const about = (source) => {
    const name = nameOf(source);
    // Folders are imported by the name of what they hold.
    const imported = new RegExp(
      `from '[^']*/${name === 'index' ? basename(join(source, '..')) : name}(/index)?'`,
    );
    return tests.filter((t) => t.path === source || nameOf(t.path) === name || imported.test(t.text));
  };
  return [...new Set(sources.flatMap(about).map((t) => t.path))];
}
