/**
 * npm run mutate -- [--count 200] [--seed 1] [--only formats,select,state,hands] [--list]: changes one place of the
 * sources at a time and runs the unit tests about that file. A change that no test notices is a survivor: it is printed
 * with its place. Sources are left alone; each run of the tests sees its own change (scripts/mutant.config.ts).
 */
import { spawn } from 'node:child_process';
import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { parseArgs } from 'node:util';
import ts from 'typescript';
import { bin, ensurePackages, root } from './ensure.mjs';
import { relatedTests } from './relatedTests.mjs';

const FOLDERS = {
  formats: 'core/src/formats',
  select: 'core/src/select',
  state: 'web/src/state',
  hands: 'web/src/hands',
};
const { values: options } = parseArgs({
  options: {
    count: { type: 'string', default: '200' },
    seed: { type: 'string', default: '1' },
    only: { type: 'string', default: Object.keys(FOLDERS).join() },
    list: { type: 'boolean', default: false },
  },
});
ensurePackages();

/** Operators, each with the one it is swapped for. */
const SWAPS = Object.fromEntries(
  ['+ -', '* /', '< >=', '> <=', '=== !==', '&& ||'].flatMap((pair) => {
    const [a, b] = pair.split(' ');
    return [
      [a, b],
      [b, a],
    ];
  }),
);

/** Every place of a file that can be changed, with what it becomes. */
function mutantsOf(path) {
  const text = readFileSync(join(root, path), 'utf8');
  const source = ts.createSourceFile(path, text, ts.ScriptTarget.ES2022, true);
  const out = [];
  const add = (node, by) => out.push({ path, start: node.getStart(), end: node.getEnd(), by, line: source.getLineAndCharacterOfPosition(node.getStart()).line + 1, was: node.getText() }); // prettier-ignore
  const visit = (node) => {
    // Types, messages and imports do nothing at run time that a test could notice.
    if (ts.isTypeNode(node) || ts.isImportDeclaration(node) || ts.isInterfaceDeclaration(node)) return;
    const swap = ts.isBinaryExpression(node) && SWAPS[node.operatorToken.getText()];
    if (swap) add(node.operatorToken, swap);
    if (ts.isPrefixUnaryExpression(node) && node.operator === ts.SyntaxKind.ExclamationToken) add(node, node.operand.getText()); // prettier-ignore
    if (ts.isNumericLiteral(node)) add(node, node.text === '0' ? '1' : `(${node.text} * 2)`);
    if (ts.isIfStatement(node)) add(node.expression, 'true');
    if (ts.isConditionalExpression(node)) add(node.condition, 'false');
    if (ts.isReturnStatement(node) && node.expression) add(node.expression, 'undefined as never');
    if (ts.isExpressionStatement(node) && ts.isCallExpression(node.expression)) add(node, ';');
    if (node.kind === ts.SyntaxKind.TrueKeyword) add(node, 'false');
    if (node.kind === ts.SyntaxKind.FalseKeyword) add(node, 'true');
    ts.forEachChild(node, visit);
  };
  visit(source);
  return out;
}

function randomOf(seed) {
  let state = seed;
  return (below) => (state = (state * 48271) % 2147483647) % below;
}

const files = options.only.split(',').flatMap((name) =>
  readdirSync(join(root, FOLDERS[name]))
    .filter((f) => f.endsWith('.ts'))
    .map((f) => `${FOLDERS[name]}/${f}`),
);
const tests = new Map(files.map((f) => [f, relatedTests([f])]));
const all = files.flatMap(mutantsOf);
const random = randomOf(Number(options.seed));
const chosen = Array.from({ length: Math.min(Number(options.count), all.length) }, () => all.splice(random(all.length), 1)[0]); // prettier-ignore

/** Whether any test about the file notices the change. A run that hangs has noticed it too. */
function caught({ path, start, end, by }) {
  return new Promise((resolve) => {
    const child = spawn(
      bin('vitest'),
      ['run', '-c', 'scripts/mutant.config.ts', '--bail', '1', ...tests.get(path)],
      {
        cwd: root,
        stdio: 'ignore',
        detached: true,
        env: { ...process.env, URNSMITH_MUTANT: JSON.stringify({ path: join(root, path), start, end, by }) },
      },
    );
    const timer = setTimeout(() => process.kill(-child.pid, 'SIGKILL'), 120_000);
    child.on('close', (code) => {
      clearTimeout(timer);
      resolve(code !== 0);
    });
  });
}

const waiting = options.list ? [] : [...chosen];
const tally = {};
let survivors = 0;
if (options.list) for (const m of chosen) console.log(`${m.path}:${m.line}: ${m.was} → ${m.by}`);
await Promise.all(
  [0, 1].map(async () => {
    for (let m = waiting.shift(); m; m = waiting.shift()) {
      const folder = m.path.replace(/\/[^/]*$/, '');
      const t = (tally[folder] ??= { caught: 0, of: 0 });
      t.of++;
      if (tests.get(m.path).length && (await caught(m))) t.caught++;
      else {
        survivors++;
        const why = tests.get(m.path).length ? '' : ' (no unit test is about this file)';
        console.log(`survives: ${m.path}:${m.line}: ${m.was.slice(0, 60)} → ${m.by.slice(0, 40)}${why}`);
      }
    }
  }),
);
for (const [folder, t] of Object.entries(tally)) console.log(`${folder}: ${t.caught} of ${t.of} caught`);
if (!options.list) console.log(`${chosen.length - survivors} of ${chosen.length} caught`);
