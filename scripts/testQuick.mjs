// npm run test:quick: types, lint and the unit tests of what changed since main, for work in between.
import { spawnSync } from 'node:child_process';
import { bin, ensurePackages, root } from './ensure.mjs';
import { relatedTests } from './relatedTests.mjs';
import { STATIC_CHECKS } from './staticChecks.mjs';

ensurePackages();
const run = (program, args) => spawnSync(bin(program), args, { cwd: root, stdio: 'inherit' }).status === 0;
const git = (...args) =>
  spawnSync('git', args, { cwd: root, encoding: 'utf8' }).stdout.split('\n').filter(Boolean);

/** Since the branch left main; on main itself, since what was last pushed. */
const [base = 'HEAD'] = git(
  'merge-base',
  'HEAD',
  git('branch', '--show-current')[0] === 'main' ? 'origin/main' : 'main',
);
const changed = [...git('diff', '--name-only', '--diff-filter=d', base), ...git('ls-files', '--others', '--exclude-standard')]; // prettier-ignore
const scripts = changed.filter((f) => /\.(ts|tsx|mjs)$/.test(f));
const checks = STATIC_CHECKS.filter(([title]) => title !== 'Format').map(([, program, args]) =>
  program === 'eslint'
    ? [program, [...(scripts.length ? scripts : ['.']), '--max-warnings', '0']]
    : [program, args],
);
let sound = checks.every(([program, args]) => run(program, args));
const tests = relatedTests(scripts);
if (sound && tests.length) sound = run('vitest', ['run', ...tests, '--bail', '5']);
process.exit(sound ? 0 : 1);
