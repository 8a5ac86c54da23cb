import { loadKernel } from '../core/src/solid/kernel';
import { buildPrimitive } from '../core/src/primitives';
import { OPERATIONS } from '../core/src/ops';
import { runOperation } from '../core/src/ops/operation';
import { bevel } from '../core/src/ops/bevel/bevel';
import { selectionOf } from '../core/src/select/selection';
import { topologyOf } from '../core/src/mesh/Topology';
import { facesWithoutArea } from '../core/src/mesh/measure';
await loadKernel();
const m = buildPrimitive({ primitive: 'torus', radius: 12, tubeRadius: 4, sides: 3, tubeSides: 5 } as never);
const E = topologyOf(m).edgeCount;
const by = new Map<string, number>();
for (let e = 0; e < E; e++)
  for (const d of [0.2, 1, 2])
    for (const sides of ['both', 'left', 'right']) {
      let k = 'ok';
      try {
        runOperation(OPERATIONS.supportLoops, m, selectionOf('edge', [e]), { distance: d, sides });
      } catch (x) {
        k = (x as Error).message;
      }
      by.set(sides + ': ' + k, (by.get(sides + ': ' + k) ?? 0) + 1);
    }
console.log([...by]);
for (const e of [1, 5, 19, 26]) {
  const r = bevel(m, [e], { width: 1, segments: 2, profile: 2 });
  const z = facesWithoutArea(r.mesh);
  console.log(
    e,
    r.report,
    z,
    z.map((f) =>
      [...r.mesh.corners.subarray(r.mesh.faceStart[f], r.mesh.faceStart[f + 1])].map((v) =>
        [...r.mesh.positions.subarray(3 * v, 3 * v + 3)].map((x) => x.toFixed(4)).join(','),
      ),
    ),
  );
}
