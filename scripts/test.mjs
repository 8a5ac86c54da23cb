// npm test: types, format, lint, unit, property and API tests, then the interface in a real browser.
import { spawn, spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { bundleServer } from '../server/bundle.mjs';
import { bin, buildInterface, ensureBrowser, ensuringPackages, root } from './ensure.mjs';
import { STATIC_CHECKS } from './staticChecks.mjs';

const packages = ensuringPackages();
ensureBrowser();

const reports = mkdtempSync(join(tmpdir(), 'urnsmith-tests-'));
let passed = 0;
let failed = 0;

/** Checks that pass or fail as a whole, side by side. */
async function checks(list) {
  const runs = list.map(async ([title, program, args]) => {
    const { code, said } = await saying(program, args);
    console.log(`\n— ${title}\n${said}`);
    if (code === 0) passed++;
    else failed++;
  });
  await Promise.all(runs);
}

/** Runs a program to its end. @returns its exit code and all it printed */
function saying(program, args) {
  return new Promise((resolve) => {
    let said = '';
    const child = spawn(bin(program), args, { cwd: root });
    for (const stream of [child.stdout, child.stderr]) stream.on('data', (d) => (said += d));
    child.on('close', (code) => resolve({ code, said: said.trim() }));
  });
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

await checks(STATIC_CHECKS);
// Once, before tests that start the server side by side would each make it.
await bundleServer();
buildInterface();
await packages;
suite('Unit, property and API tests', []);
suite('The interface in a browser', ['-c', 'e2e/vitest.config.ts']);

rmSync(reports, { recursive: true, force: true });
console.log(`\n${passed} passed, ${failed} failed`);
process.exit(failed ? 1 : 0);
