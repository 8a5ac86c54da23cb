import { loadKernel } from '/work/main/core/src/solid/kernel';
import { soakOperations } from '/work/main/soak/operations';
import { writeFileSync } from 'node:fs';
import { Worker, isMainThread } from 'node:worker_threads';
import { writeFileSync as wf } from 'node:fs';
await loadKernel();
const t = Date.now();
const r = soakOperations(Number(process.argv[2]), Number(process.argv[3] ?? 1));
console.log(r.ran, r.acted, r.refused, 'faults', r.faults.length, (Date.now() - t) / 1000, 's');
const by = new Map<string, number>();
for (const f of r.faults) {
  const k = `${f.op}: ${f.what.slice(0, 90)}`;
  by.set(k, (by.get(k) ?? 0) + 1);
}
for (const [k, n] of [...by].sort((a, b) => b[1] - a[1])) console.log(n, k);
writeFileSync('/tmp/faults.json', JSON.stringify(r.faults));
