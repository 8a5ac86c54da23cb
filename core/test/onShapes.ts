/** Simple shapes, operations done to them, and what is looked for in what comes out. */
import { expect } from 'vitest';
import { OPERATIONS } from '../src/ops';
import { told, type Told } from './acting';
import { runOperation } from '../src/ops/operation';
import { buildPrimitive } from '../src/primitives';
import { checkMesh } from '../src/mesh/checkMesh';
import { faceCount, type PolyMesh } from '../src/mesh/PolyMesh';
import { topologyOf } from '../src/mesh/Topology';
import { resolveSelect, type Select } from '../src/select/rules';
export const act = (
  mesh: PolyMesh,
  op: string,
  select: Select,
  params: Record<string, unknown> = {},
): Told => {
  const out = runOperation(OPERATIONS[op], mesh, resolveSelect(mesh, select), params);
  expect(checkMesh(out.mesh).findings.filter((f) => f.code !== 'open-edge')).toEqual([]);
  return told(op, out, params);
};
export const closed = (m: PolyMesh): boolean => checkMesh(m).closed;
export const cube = buildPrimitive({ primitive: 'box', width: 10, height: 10, depth: 10 });
export const grid = buildPrimitive({ primitive: 'plane', width: 40, depth: 40, segments: [4, 4] });
export const top: Select = { rule: 'facing', direction: [0, 1, 0] };
export const edgeAlong = (m: PolyMesh, test: (a: number[], b: number[]) => boolean): number => {
  const t = topologyOf(m);
  const at = (v: number): number[] => Array.from(m.positions.subarray(3 * v, 3 * v + 3));
  for (let e = 0; e < t.edgeCount; e++) if (test(at(t.edges[2 * e]), at(t.edges[2 * e + 1]))) return e;
  throw new Error('no such edge');
};
export const upright = (m: PolyMesh): number => edgeAlong(m, (a, b) => a[0] === b[0] && a[2] === b[2]);
/** UV area of the last faces, which must lie right of the layout before and apart from one another. */
export function laidBeside(before: PolyMesh, after: PolyMesh, walls: number): number {
  const right = Math.max(...before.layers.corner.uv.data.filter((_, i) => i % 2 === 0));
  const uv = after.layers.corner.uv.data;
  const boxes = Array.from({ length: walls }, (_, k) => {
    const f = faceCount(after) - walls + k;
    const corners = after.faceStart[f + 1] - after.faceStart[f];
    const at = Array.from({ length: corners }, (__, i) =>
      [0, 1].map((x) => uv[2 * (after.faceStart[f] + i) + x]),
    );
    const [us, vs] = [at.map((p) => p[0]), at.map((p) => p[1])];
    return {
      l: Math.min(...us),
      r: Math.max(...us),
      b: Math.min(...vs),
      t: Math.max(...vs),
      area: Math.abs(shoelace(at)),
    };
  });
  const slack = 1e-9;
  boxes.forEach((a, i) => {
    expect(a.l).toBeGreaterThan(right);
    for (const b of boxes.slice(0, i))
      expect(a.l < b.r - slack && b.l < a.r - slack && a.b < b.t - slack && b.b < a.t - slack).toBe(false);
  });
  return boxes.reduce((sum, x) => sum + x.area, 0);
}

const shoelace = (p: number[][]): number =>
  p.reduce((s, a, k) => s + a[0] * p[(k + 1) % p.length][1] - p[(k + 1) % p.length][0] * a[1], 0) / 2;
