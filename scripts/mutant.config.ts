/** The unit tests with one place of one source file changed, as URNSMITH_MUTANT says; see scripts/mutate.mjs. */
import { mergeConfig } from 'vitest/config';
import base from '../vitest.config';

const { path, start, end, by } = JSON.parse(process.env.URNSMITH_MUTANT!) as {
  path: string;
  start: number;
  end: number;
  by: string;
};

export default mergeConfig(base, {
  plugins: [
    {
      name: 'mutant',
      enforce: 'pre' as const,
      transform: (code: string, id: string) =>
        id === path ? `${code.slice(0, start)}${by}${code.slice(end)}` : null,
    },
  ],
  test: { root: new URL('..', import.meta.url).pathname, maxWorkers: 1 },
});
