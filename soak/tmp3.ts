import { readFileSync } from 'node:fs';
import { buildPrimitive } from '../core/src/primitives';
import { ActionRun } from '../core/src/document/actions';
import { topologyOf } from '../core/src/mesh/Topology';
import { KnifeCut } from '../core/src/ops/knifeCut';
const r = JSON.parse(readFileSync(process.argv[2], 'utf8'));
const p = r.pieces[0];
const m = buildPrimitive(p.base);
const run = new ActionRun();
const before = run.run(m, p.actions.slice(0, -1));
const out = run.run(m, p.actions);
console.log(
  out.reports.map((x) => [x.op, x.report, x.warning, x.fault?.message]),
  before.mesh.faceStart.length - 1,
  out.mesh.faceStart.length - 1,
);
const a = p.actions.at(-1);
const cut = new KnifeCut(before.mesh, [...Array(before.mesh.faceStart.length - 1).keys()], a.lines[0], {
  ...a,
  through: false,
}) as any;
for (const f of cut.reached())
  console.log(
    'face',
    f,
    cut
      .outlineOf(f)
      .map((q: number[]) => q.map((x) => x.toFixed(2)).join(','))
      .join(' '),
    'hits',
    cut
      .hitsOf(f)
      .map((h: any) => [h.at.toFixed(3), h.point])
      .join(' | '),
  );
console.log(cut.line.map((q: number[]) => q.map((x) => x.toFixed(2)).join(',')).join('  '));
