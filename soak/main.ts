/** npm run soak: long seeded runs that print figures. Names of parts, or nothing for all; --seed N. */
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { mkdtempSync, rmSync } from 'node:fs';
import fc from 'fast-check';
import { anyAssembly, boxesOnGrid, ringsOnAxis } from '../core/test/assemblies';
import { HOSTS, roundedBuilds, shareOf, smoothedBuilds, tiltedHoles } from '../core/test/roundedBuilds';
import { walkedBuilds } from '../core/test/walkedBuilds';
import { loadKernel } from '../core/src/solid/kernel';
import { start } from '../server/src/start';
import { soakKills } from './kills';
import { soakOperations } from './operations';
import { readCost, TEXTS } from './readers';
import { readPeak } from './readPeak';
import { soakRecipes } from './recipes';
import { soakRoutes } from './routes';

const args = process.argv.slice(2);
const at = args.indexOf('--seed');
const seed = at >= 0 ? Number(args[at + 1]) : 1;
const parts = args.filter((a, i) => !a.startsWith('--') && (at < 0 || i !== at + 1));
const wanted = (name: string): boolean => !parts.length || parts.includes(name);
let faults = 0;
const say = (title: string, figures: object, found: ReadonlyArray<unknown> = []): void => {
  console.log(`${title}: ${JSON.stringify(figures)}`);
  for (const f of found.slice(0, 10)) console.log('  ', typeof f === 'string' ? f : JSON.stringify(f));
  faults += found.length;
};

const tried = <T>(part: string, name: string, law: fc.IPropertyWithHooks<T>, numRuns: number): void => {
  const run = fc.check(law, { numRuns, seed });
  say(part, { name, runs: run.numRuns }, run.failed ? [fc.defaultReportMessage(run) ?? 'failed'] : []);
};

await loadKernel();
if (wanted('operations')) {
  const { faults: found, byOperation, ...figures } = soakOperations(20_000, seed);
  say('operations', { ...figures, kinds: byOperation.size, faults: found.length }, found);
}
if (wanted('cuts')) {
  tried('cuts', 'boxes on a grid', boxesOnGrid(), 4000);
  tried('cuts', 'rings on an axis', ringsOnAxis(), 2000);
  tried('cuts', 'any assembly', anyAssembly(11), 2000);
}
if (wanted('bytes')) tried('bytes', 'changed and changed back', walkedBuilds(20, 6), 200);
if (wanted('rounding')) {
  tried('rounding', 'any build', roundedBuilds(), 1000);
  tried('rounding', 'any build, smoothed', smoothedBuilds(), 500);
  for (const host of HOSTS)
    for (const [width, bound] of [
      [1, 0.95],
      [2, 0.85],
    ]) {
      const { faults: found, full } = tiltedHoles(host, width, 28, seed);
      const [all, most] = [shareOf(full, 1), shareOf(full, 0.9)];
      if (all < bound) found.push(`${all} of the rims have their width all along, not ${bound}`);
      say('rounding', { tilted: host[0], width, rims: full.length, all, most }, found);
    }
}
if (wanted('recipes')) {
  const { faults: found, ...figures } = soakRecipes(3000, seed);
  say('recipes', { ...figures, faults: found.length }, found);
}
if (wanted('routes')) {
  const folder = mkdtempSync(join(tmpdir(), 'urnsmith-soak-'));
  const server = await start({ database: join(folder, 's.sqlite') });
  const { db } = server.app;
  const print = (): string =>
    JSON.stringify(
      db
        .prepare(
          'SELECT (SELECT count(*) FROM scene) AS s, (SELECT sum(seq) FROM scene) AS q, (SELECT count(*) FROM revision) AS r, (SELECT count(*) FROM entry) AS e, (SELECT count(*) FROM milestone) AS m, (SELECT count(*) FROM mesh) AS b, (SELECT group_concat(name) FROM scene) AS n',
        )
        .get(),
    );
  const { faults: found, ...figures } = await soakRoutes(server.url, 6000, seed, print);
  say('routes', { ...figures, faults: found.length }, found);
  await server.stop();
  rmSync(folder, { recursive: true });
}
if (wanted('readers'))
  for (const [name, make] of TEXTS) {
    const text = make(255 * 1024 * 1024);
    const cost = readCost(name, text);
    const peak = readPeak(text);
    const over = cost.seconds > 20 || peak > 5 ? [`over its bound: ${name}`] : [];
    say('reader', { ...cost, megabytes: Math.round(cost.megabytes), seconds: Number(cost.seconds.toFixed(1)), times: Number(cost.times.toFixed(1)), peak: Number(peak.toFixed(1)) }, over); // prettier-ignore
  }
if (wanted('kills')) {
  const figures = await soakKills(100, seed);
  const { lost, doubled, conflicts, changedAnswers } = figures;
  say('kills', figures, lost + doubled + conflicts + changedAnswers ? ['kills left something wrong'] : []);
}
console.log(faults ? `${faults} faults` : 'no faults');
process.exit(faults ? 1 : 0);
