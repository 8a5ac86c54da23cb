// Installs what a fresh clone lacks. Plain JavaScript: it runs before anything is installed.
import { execFileSync, spawnSync } from 'node:child_process';
import { existsSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { isFresh } from '../server/bundle.mjs';

export const root = join(dirname(fileURLToPath(import.meta.url)), '..');

/** Runs a program to its end; throws when it fails. */
export function run(program, args, options = {}) {
  execFileSync(program, args, { cwd: root, stdio: 'inherit', ...options });
}

export function ensurePackages() {
  if (existsSync(join(root, 'node_modules/.package-lock.json'))) return;
  console.log('Installing packages (the database driver is compiled, which takes a few minutes) …');
  run('npm', ['ci', '--no-audit', '--no-fund']);
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
