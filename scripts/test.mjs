// npm test: types, format, lint, unit, property and API tests, then the interface in a real browser.
import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { bin, buildInterface, ensureBrowser, ensurePackages, root } from './ensure.mjs';

ensurePackages();
ensureBrowser();

const reports = mkdtempSync(join(tmpdir(), 'urnsmith-tests-'));
let passed = 0;
let failed = 0;

/** A check that passes or fails as a whole. */
function check(title, program, args) {
  console.log(`\n— ${title}`);
  const { status } = spawnSync(program, args, { cwd: root, stdio: 'inherit' });
  if (status === 0) passed++;
  else failed++;
}

/** A suite whose tests are counted one by one. */
function suite(title, args) {
  console.log(`\n— ${title}`);
  const out = join(reports, `${passed}-${failed}.json`);
  const run = spawnSync(
    bin('vitest'),
    ['run', ...args, '--reporter=default', '--reporter=json', `--outputFile.json=${out}`],
    { cwd: root, stdio: 'inherit', env: { ...process.env, NO_COLOR: '1' } },
  );
  try {
    const { numPassedTests, numFailedTests } = JSON.parse(readFileSync(out, 'utf8'));
    passed += numPassedTests;
    failed += numFailedTests;
    if (run.status !== 0 && numFailedTests === 0) failed++;
  } catch {
    failed++;
  }
}

check('Types', bin('tsc'), ['--noEmit']);
check('Format', bin('prettier'), ['--check', '--log-level', 'warn', '.']);
check('Lint', bin('eslint'), ['.', '--max-warnings', '0']);
suite('Unit, property and API tests', []);
buildInterface();
suite('The interface in a browser', ['-c', 'e2e/vitest.config.ts']);

rmSync(reports, { recursive: true, force: true });
console.log(`\n${passed} passed, ${failed} failed`);
process.exit(failed ? 1 : 0);
