/** The order of folders, as the linter holds it. */
import { join } from 'node:path';
import { ESLint } from 'eslint';
import { describe, expect, it } from 'vitest';

const root = join(import.meta.dirname, '../..');
const linter = new ESLint({ cwd: root });

/** The linter's messages for a file with one import. */
const said = async (path: string, imported: string): Promise<string[]> => {
  const [{ messages }] = await linter.lintText(`export * from '${imported}';\n`, {
    filePath: join(root, path),
  });
  return messages.map((m) => m.message);
};

describe('an import', () => {
  it.each([
    ['core/src/mesh/x.ts', '../steps', 'mesh/ lies below steps/'],
    ['core/src/ops/x.ts', '../document/graph', 'ops/ lies below document/'],
    ['core/src/ops/bevel/x.ts', '../../build/evaluate', 'ops/ lies below build/'],
    ['web/src/viewport/x.ts', '../views/bench/Card', 'viewport/ lies below views/'],
    ['server/src/store/x.ts', '../routes/scenes', 'store/ lies below routes/'],
    ['core/src/mesh/x.ts', 'react', 'one way'],
    ['web/src/views/x.ts', '@urnsmith/server/x', 'one way'],
  ])('of %s from %s is refused', async (path, imported, words) => {
    expect((await said(path, imported)).join()).toContain(words);
  });

  it.each([
    ['core/src/build/x.ts', '../steps'],
    ['core/src/ops/bevel/x.ts', '../../mesh/PolyMesh'],
    ['web/src/views/bench/x.ts', '../../viewport/Stage'],
    ['web/src/views/x.ts', './bench/Card'],
  ])('of %s from %s is fine', async (path, imported) => {
    expect(await said(path, imported)).toEqual([]);
  });
});
