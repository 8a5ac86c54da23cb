/** Elements that are alike: in area, length, angle, direction, number of neighbours. */
import type { PolyMesh } from '../mesh/PolyMesh';
import { faceArea, faceNormal } from '../mesh/measure';
import { nextCorner, topologyOf } from '../mesh/Topology';
import { distance, dot, pointOf, unit, type Vec3 } from '../mesh/vec3';
import { valences } from './measure';
import { elementCount, filtered, type ElementKind, type Selection } from './selection';

/** In what elements can be alike. */
export const ALIKE = {
  face: ['area', 'perimeter', 'facing', 'corners', 'material'],
  edge: ['length', 'direction', 'angle', 'faces'],
  vertex: ['valence', 'faces'],
} as const;
export type Trait = (typeof ALIKE)[ElementKind][number];

/**
 * All elements alike to any of the picked ones.
 * @param tolerance share for lengths and areas, degrees for directions and angles
 */
export function alike(mesh: PolyMesh, s: Selection, trait: Trait, tolerance: number): Selection {
  const measure = traitOf(mesh, s.kind, trait);
  const models = s.indices.map(measure);
  return filtered(s.kind, elementCount(mesh, s.kind), (i) => {
    const x = measure(i);
    return models.some((m) => near(m, x, trait, tolerance));
  });
}

type Measured = number | Vec3;

function near(a: Measured, b: Measured, trait: Trait, tolerance: number): boolean {
  if (typeof a !== 'number' || typeof b !== 'number') {
    const cos = dot(a as Vec3, b as Vec3);
    // Edges have no sense of direction; faces do.
    return (trait === 'direction' ? Math.abs(cos) : cos) >= Math.cos((tolerance * Math.PI) / 180) - 1e-9;
  }
  if (trait === 'area' || trait === 'perimeter' || trait === 'length')
    return Math.abs(a - b) <= (tolerance + 1e-9) * Math.max(Math.abs(a), Math.abs(b));
  return Math.abs(a - b) <= (trait === 'angle' ? tolerance + 1e-6 : 0);
}

function traitOf(mesh: PolyMesh, k: ElementKind, trait: Trait): (i: number) => Measured {
  const t = topologyOf(mesh);
  const p = mesh.positions;
  switch (trait) {
    case 'area':
      return (f) => faceArea(mesh, f);
    case 'perimeter':
      return (f) => {
        let sum = 0;
        for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++)
          sum += distance(pointOf(p, mesh.corners[c]), pointOf(p, mesh.corners[nextCorner(mesh, t, c)]));
        return sum;
      };
    case 'facing':
      return (f) => faceNormal(mesh, f);
    case 'corners':
      return (f) => mesh.faceStart[f + 1] - mesh.faceStart[f];
    case 'material':
      return (f) => mesh.layers.face.material?.data[f] ?? 0;
    case 'length':
      return (e) => distance(pointOf(p, t.edges[2 * e]), pointOf(p, t.edges[2 * e + 1]));
    case 'direction':
      return (e) => {
        const [a, b] = [pointOf(p, t.edges[2 * e]), pointOf(p, t.edges[2 * e + 1])];
        return unit([b[0] - a[0], b[1] - a[1], b[2] - a[2]]);
      };
    case 'angle':
      return (e) => {
        const c = t.cornerOfEdge[e];
        if (t.twin[c] < 0) return 180;
        const cos = dot(faceNormal(mesh, t.faceOfCorner[c]), faceNormal(mesh, t.faceOfCorner[t.twin[c]]));
        return (Math.acos(Math.max(-1, Math.min(1, cos))) * 180) / Math.PI;
      };
    case 'valence': {
      const n = valences(mesh);
      return (v) => n[v];
    }
    case 'faces':
      return k === 'edge' ? (e) => t.edgeUse[e] : (v) => t.vertexStart[v + 1] - t.vertexStart[v];
  }
}
