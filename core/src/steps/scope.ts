/** Scope rules: which edges a step acts on, said in a way that survives changes upstream. */
import { Type, type Static } from 'typebox';
import { carryingList } from '../document/references';
import type { PolyMesh } from '../mesh/PolyMesh';
import { faceNormal } from '../mesh/measure';
import { topologyOf } from '../mesh/Topology';
import { cutterCode } from '../solid/boolean';

export const ScopeSchema = Type.Union([
  Type.Object({ rule: Type.Literal('all') }, { additionalProperties: false, title: 'All edges' }),
  Type.Object(
    {
      rule: Type.Literal('rims'),
      cutters: Type.Optional(carryingList('pieces', 'mention', { maxItems: 1000 })),
    },
    { additionalProperties: false, title: 'Rims of cuts' },
  ),
  Type.Object(
    {
      rule: Type.Literal('sharp'),
      angle: Type.Number({ minimum: 0, maximum: 180, default: 30, unit: '°', title: 'Sharper than' }),
    },
    { additionalProperties: false, title: 'Sharp edges' },
  ),
]);
export type Scope = Static<typeof ScopeSchema>;

/** The edges in scope, ascending. */
export function edgesInScope(mesh: PolyMesh, scope: Scope): number[] {
  switch (scope.rule) {
    case 'all':
      return Array.from({ length: topologyOf(mesh).edgeCount }, (_, e) => e);
    case 'sharp':
      return sharpEdges(mesh, scope.angle);
    case 'rims':
      return rimEdges(mesh, scope.cutters);
  }
}

/** Edges made by cuts; of the named cutters only, if any are named. */
export function rimEdges(mesh: PolyMesh, cutters?: string[]): number[] {
  const marks = mesh.layers.edge.cut?.data;
  if (!marks) return [];
  const codes = cutters?.length ? new Set(cutters.map(cutterCode)) : null;
  const out: number[] = [];
  for (let e = 0; e < marks.length; e++) if (marks[e] && (!codes || codes.has(marks[e]))) out.push(e);
  return out;
}

/** Edges whose faces' normals differ by more than an angle (degrees). */
export function sharpEdges(mesh: PolyMesh, angle: number): number[] {
  const t = topologyOf(mesh);
  const limit = Math.cos((angle * Math.PI) / 180) - 1e-9;
  const out: number[] = [];
  for (let e = 0; e < t.edgeCount; e++) {
    const c = t.cornerOfEdge[e];
    if (t.twin[c] < 0) continue;
    const a = faceNormal(mesh, t.faceOfCorner[c]);
    const b = faceNormal(mesh, t.faceOfCorner[t.twin[c]]);
    if (a[0] * b[0] + a[1] * b[1] + a[2] * b[2] < limit) out.push(e);
  }
  return out;
}
