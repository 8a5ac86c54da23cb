/** The outlines of a mesh's faces, joined across bridge edges into regions, as loops of half-edges. */
import { type PolyMesh, faceCount } from '../../mesh/PolyMesh';
import { nextCorner, type Topology } from '../../mesh/Topology';
import { bridgedRegions } from '../../solid/Solid';

export interface Region {
  /** The faces joined in it; more than one only where bridges were laid. */
  faces: number[];
  /** Loops of outlines: half-edges (corner indices) that are not bridges. */
  loops: number[][];
}

export function outlinesOf(mesh: PolyMesh, t: Topology): Region[] {
  const bridge = mesh.layers.edge.bridge?.data;
  if (!bridge)
    return Array.from({ length: faceCount(mesh) }, (_, f) => ({
      faces: [f],
      loops: [range(mesh.faceStart[f], mesh.faceStart[f + 1])],
    }));
  const root = bridgedRegions(mesh);
  const regions: Region[] = [];
  const slot = new Int32Array(faceCount(mesh)).fill(-1);
  for (let f = 0; f < slot.length; f++) {
    const r = root[f];
    if (slot[r] < 0) slot[r] = regions.push({ faces: [], loops: [] }) - 1;
    regions[slot[r]].faces.push(f);
  }
  const seen = new Uint8Array(mesh.corners.length);
  for (let c = 0; c < seen.length; c++) {
    if (seen[c] || bridge[t.edgeOfCorner[c]]) continue;
    const loop: number[] = [];
    for (let h = c; !seen[h]; h = cornersBetween(mesh, t, bridge, h).at(-1)!) {
      seen[h] = 1;
      loop.push(h);
    }
    regions[slot[root[t.faceOfCorner[c]]]].loops.push(loop);
  }
  return regions;
}

/**
 * The face corners passed at the end of half-edge h, from its own face across bridges to the half-edge that
 * goes on along the outline, which is the last entry.
 */
export function cornersBetween(
  mesh: PolyMesh,
  t: Topology,
  bridge: ArrayLike<number> | undefined,
  h: number,
): number[] {
  const out = [nextCorner(mesh, t, h)];
  while (bridge?.[t.edgeOfCorner[out[out.length - 1]]])
    out.push(nextCorner(mesh, t, t.twin[out[out.length - 1]]));
  return out;
}

const range = (from: number, to: number): number[] => Array.from({ length: to - from }, (_, i) => from + i);
