/**
 * Finds the unit tests about a source file: those that import it themselves, that are named for it, or that say
 * `@covers` with its folder.
 */
import { readdirSync, readFileSync } from 'node:fs';
import { basename, dirname, join } from 'node:path';
import { root } from './ensure.mjs';

const nameOf = (path) => basename(path).replace(/(\.test)?\.(tsx?|mjs)$/, '');

/** All unit tests, as paths from the root. */
export const testFiles = () =>
  ['core/test', 'server/test', 'web/test'].flatMap((folder) =>
    readdirSync(join(root, folder))
      .filter((f) => f.endsWith('.test.ts'))
      .map((f) => `${folder}/${f}`),
  );

/**
 * Tests about a source, or, where there are none, tests about the sources that import it, or that import those; and
 * tests that cover its folder. Whole import graphs are no help here: through the evaluator nearly every test imports
 * nearly all of the core.
 */
export function relatedTests(sources) {
  const tests = textsOf(testFiles());
  const about = (source) => {
    const imported = importing(source);
    return tests.filter(
      (t) => t.path === source || nameOf(t.path) === nameOf(source) || imported.test(t.text),
    );
  };
  const around = (source, hops = 2) => {
    const near = about(source);
    if (near.length || !hops || !source.includes('/src/')) return near;
    const imported = importing(source);
    return textsOf(sourceFiles())
      .filter((f) => imported.test(f.text))
      .flatMap((f) => around(f.path, hops - 1));
  };
  const covering = (source) => tests.filter((t) => coveredBy(t.text).includes(dirname(source)));
  const found = sources.flatMap((source) => [...around(source), ...covering(source)]);
  return [...new Set(found.map((t) => t.path))];
}

/** Folders that a test says it covers. */
const coveredBy = (text) => /@covers (.*)/.exec(text)?.[1].split(/,\s*|\s+/) ?? [];

const textsOf = (paths) => paths.map((path) => ({ path, text: readFileSync(join(root, path), 'utf8') }));

/** An import of a file, from its own folder or from elsewhere. A folder is imported by its own name. */
function importing(source) {
  const [folder, name] = source
    .replace(/(\/index)?\.(tsx?|mjs)$/, '')
    .split('/')
    .slice(-2);
  return new RegExp(`from '([^']*/${folder}|\\.)/${name}(\\.ts|/index)?'`);
}

const sourceFiles = () =>
  ['core/src', 'server/src', 'web/src'].flatMap((folder) =>
    readdirSync(join(root, folder), { recursive: true })
      .filter((f) => /\.tsx?$/.test(f))
      .map((f) => `${folder}/${f}`),
  );
