/** Edges over which shading does not run on. */
import type { PolyMesh } from '../mesh/PolyMesh';
import { nextCorner, topologyOf, type Topology } from '../mesh/Topology';
import { unitFaceNormals } from './cornerWeights';

/** Edges that are hard whatever their angle. */
export interface Borders {
  /** Where the UVs part, or that are marked as seams. */
  hardSeams: boolean;
  /** Between two materials. */
  hardMaterials: boolean;
}

/** 1 per corner over whose outgoing edge the shading runs on: neither open, nor marked hard, nor sharper than the angle. */
export function softCorners(mesh: PolyMesh, hardAngle: number): Uint8Array {
  const t = topologyOf(mesh);
  const hard = hardCorners(mesh, t, unitFaceNormals(mesh).normals, hardAngle);
  return hard.map((x, c) => Number(!x && t.twin[c] >= 0));
}

/** 1 per corner whose outgoing edge is hard. Bridge edges never are. */
export function hardCorners(mesh: PolyMesh, t: Topology, n: Float64Array, hardAngle: number): Uint8Array {
  const out = new Uint8Array(mesh.corners.length);
  const marked = mesh.layers.edge.hard?.data;
  const bridge = mesh.layers.edge.bridge?.data;
  const limit = Math.cos((hardAngle * Math.PI) / 180) - 1e-9;
  for (let c = 0; c < out.length; c++) {
    const tw = t.twin[c];
    if (tw < c) continue;
    const f = 3 * t.faceOfCorner[c];
    const g = 3 * t.faceOfCorner[tw];
    const e = t.edgeOfCorner[c];
    if (bridge && bridge[e]) continue;
    const cos = n[f] * n[g] + n[f + 1] * n[g + 1] + n[f + 2] * n[g + 2];
    if (cos < limit || (marked && marked[e])) out[c] = out[tw] = 1;
  }
  return out;
}

/** Marks corners over whose outgoing edge the UVs or the material change. */
export function addBorders(
  mesh: PolyMesh,
  t: Topology,
  hard: Uint8Array,
  { hardSeams, hardMaterials }: Borders,
): void {
  const seam = hardSeams ? mesh.layers.edge.seam?.data : undefined;
  const uv = hardSeams ? mesh.layers.corner.uv?.data : undefined;
  const material = hardMaterials ? mesh.layers.face.material?.data : undefined;
  const apart = (a: number, b: number): boolean =>
    Math.abs(uv![2 * a] - uv![2 * b]) > SAME_UV || Math.abs(uv![2 * a + 1] - uv![2 * b + 1]) > SAME_UV;
  for (let c = 0; c < hard.length; c++) {
    const tw = t.twin[c];
    if (tw < c || hard[c]) continue;
    const parts =
      (seam && seam[t.edgeOfCorner[c]] > 0) ||
      (material && material[t.faceOfCorner[c]] !== material[t.faceOfCorner[tw]]) ||
      (uv && (apart(c, nextCorner(mesh, t, tw)) || apart(nextCorner(mesh, t, c), tw)));
    if (parts) hard[c] = hard[tw] = 1;
  }
}

/** UVs nearer to each other are one. */
const SAME_UV = 1e-6;
