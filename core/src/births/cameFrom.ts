/** The origin of faces and edges: the base a build begins with, work by hand on it, or cuts. */
import type { Layer } from '../mesh/layers';
import type { PolyMesh } from '../mesh/PolyMesh';
import type { Topology } from '../mesh/Topology';

export const CAME_FROM = 'cameFrom';
/** A face made from two others has the later origin. */
export const ORIGINS = ['base', 'hand', 'cuts'] as const;
export type Origin = (typeof ORIGINS)[number];
export const [BASE, HAND, CUTS] = [0, 1, 2];

export const cameFromLayer = (data: Uint8Array): Record<string, Layer> => ({
  [CAME_FROM]: { size: 1, data },
});

/** The origin of an edge, as a number of `ORIGINS`: the later one of its two faces, and cuts for an edge a cut made. */
export function edgeOrigin(mesh: PolyMesh, t: Topology, e: number): number {
  if (mesh.layers.edge.cut?.data[e]) return CUTS;
  const from = mesh.layers.face[CAME_FROM]?.data;
  if (!from) return BASE;
  const c = t.cornerOfEdge[e];
  const d = t.twin[c];
  return Math.max(from[t.faceOfCorner[c]], d < 0 ? BASE : from[t.faceOfCorner[d]]);
}
