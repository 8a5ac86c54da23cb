/** Cost of storing an action in scenes of growing size. */
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { diffDocuments } from '../core/src/document/patch';
import type { Piece } from '../core/src/document/schema';
import { documentOf, withPieces } from '../core/src/document/sections';
import { start } from '../server/src/start';
import { ms, ratio, row } from './report';

const folder = mkdtempSync(join(tmpdir(), 'urnsmith-bench-'));
const server = await start({ database: join(folder, 'b.sqlite') });
const { journal, scenes } = server.app;
const piece = (k: number): Piece => ({
  id: `p${k}`,
  name: `Piece ${k}`,
  base: { primitive: 'box', width: 10, height: 10, depth: 10 },
  transform: { move: [k, 0, 0] },
});

console.log('\nOne action posted to a scene, median of 150 (bound: the same whatever the size)');
row('pieces', ['median', '95th', '÷ smallest']);
let smallest = 0;
for (const n of [5, 500, 5000]) {
  const id = scenes.create(`Scene of ${n}`, documentOf(Array.from({ length: n }, (_, k) => piece(k))));
  const times: number[] = [];
  let document = journal.document(id);
  for (let k = 0; k < 160; k++) {
    const p = document.pieces[`p${k % n}`];
    const after = withPieces(
      document,
      Object.values(document.pieces).map((x) => (x === p ? { ...x, transform: { move: [k, 1, 2] } } : x)),
    );
    const change = diffDocuments(document, after)!;
    const body = JSON.stringify({ id: `${n}-${k}`, window: 'w', base: 0, kind: 'revision', label: 'Move', ...change }); // prettier-ignore
    const before = performance.now();
    const r = await fetch(`${server.url}/api/scenes/${id}/actions`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body,
    });
    await r.arrayBuffer();
    if (k >= 10) times.push(performance.now() - before);
    if (!r.ok) throw new Error(`refused with ${r.status}`);
    document = journal.document(id);
  }
  times.sort((a, b) => a - b);
  const median = times[times.length >> 1];
  smallest ||= median;
  row(String(n), [ms(median), ms(times[Math.floor(times.length * 0.95)]), ratio(median, smallest)]);
}

await server.stop();
rmSync(folder, { recursive: true });
