/** Runs an action on a mesh and checks that what comes out is sound, but for edges that are open. */
import { expect } from 'vitest';
import { applyAction, type Action } from '../src/actions/actions';
import { checkMesh } from '../src/mesh/checkMesh';
import { vertexCount, type PolyMesh } from '../src/mesh/PolyMesh';
import { topologyOf } from '../src/mesh/Topology';
import { pointOf, type Vec3 } from '../src/mesh/vec3';
import { OPERATIONS } from '../src/ops';
import { sentenceOf, type OperationResult } from '../src/ops/operation';

/** A result with what is said of it. */
export interface Told extends OperationResult {
  report: string;
  warning: string | undefined;
}

export const told = (op: string, out: OperationResult, params: Record<string, unknown> = {}): Told => ({
  ...out,
  report: sentenceOf(OPERATIONS[op], out.counts, params),
  warning: out.warnings?.map((w) => w.message).join(' ') || undefined,
});

export function act(mesh: PolyMesh, action: Record<string, unknown>): Told {
  const out = applyAction(mesh, action as Action);
  expect(checkMesh(out.mesh).findings.filter((f) => f.code !== 'open-edge')).toEqual([]);
  return told(action.op as string, out, action);
}

export const points = (m: PolyMesh): Vec3[] =>
  Array.from({ length: vertexCount(m) }, (_, v) => pointOf(m.positions, v));

/** The first edge whose ends fit. */
export function edgeWhere(m: PolyMesh, fits: (a: Vec3, b: Vec3) => boolean): number {
  const { edges, edgeCount } = topologyOf(m);
  for (let e = 0; e < edgeCount; e++)
    if (fits(pointOf(m.positions, edges[2 * e]), pointOf(m.positions, edges[2 * e + 1]))) return e;
  throw new Error('no such edge');
}
