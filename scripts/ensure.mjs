// Installs what a fresh clone lacks. Plain JavaScript: it runs before anything is installed.
import { execFileSync, spawn, spawnSync } from 'node:child_process';
import { existsSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { isFresh } from '../server/bundle.mjs';

export const root = join(dirname(fileURLToPath(import.meta.url)), '..');

/** Runs a program to its end; throws when it fails. */
export function run(program, args, options = {}) {
  execFileSync(program, args, { cwd: root, stdio: 'inherit', ...options });
}

const DRIVER = 'better-sqlite3';
const DRIVER_BUILT = join(root, 'node_modules', DRIVER, 'build/Release/better_sqlite3.node');

export function ensurePackages() {
  if (ensureScripts()) return;
  console.log('Compiling the database driver, which takes a few minutes …');
  run('npm', ['rebuild', DRIVER]);
}

/**
 * Installs all packages; the database driver is compiled meanwhile.
 * @returns resolves once the driver is there
 */
export async function ensuringPackages() {
  if (ensureScripts()) return;
  console.log('Compiling the database driver meanwhile, which takes a few minutes …');
  const compiler = spawn('npm', ['rebuild', DRIVER], { cwd: root, stdio: ['ignore', 'ignore', 'inherit'] });
  const code = await new Promise((resolve) => compiler.on('close', resolve));
  if (code !== 0) throw new Error(`npm rebuild ${DRIVER} ended with code ${code}`);
}

/** Installs the packages, uncompiled. @returns whether the database driver is compiled already */
function ensureScripts() {
  if (!existsSync(join(root, 'node_modules/.package-lock.json'))) {
    console.log('Installing packages …');
    run('npm', ['ci', '--ignore-scripts', '--no-audit', '--no-fund']);
  }
  return existsSync(DRIVER_BUILT);
}

export function ensureBrowser() {
  const has = (p) => spawnSync('which', [p]).status === 0;
  if (has('chromium') && has('chromedriver')) return;
  console.log('Installing Chromium and ChromeDriver …');
  const sudo = process.getuid?.() === 0 ? [] : ['sudo'];
  const apt = (...args) => {
    const [program, ...rest] = [...sudo, 'apt-get', ...args];
    run(program, rest, { env: { ...process.env, DEBIAN_FRONTEND: 'noninteractive' } });
  };
  apt('update', '-qq');
  apt('install', '-y', '-qq', 'chromium', 'chromium-driver');
}

export const bin = (name) => join(root, 'node_modules/.bin', name);

const INTERFACE = [
  'core/src',
  'web/src',
  'web/public',
  'web/index.html',
  'web/vite.config.ts',
  'web/declarationsOnly.ts',
  'package-lock.json',
];

/** Builds the interface into web/dist, unless nothing changed since it was built. */
export function buildInterface() {
  const sources = INTERFACE.map((s) => join(root, s));
  if (!isFresh(join(root, 'web/dist/index.html'), sources))
    run(bin('vite'), ['build', 'web', '--logLevel', 'warn']);
}
