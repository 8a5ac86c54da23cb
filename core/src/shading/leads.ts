/** The order in which surfaces lead the shading where they meet at a corner with different normals. */
import { RANK } from '../mesh/layers';
import { faceCount, type PolyMesh } from '../mesh/PolyMesh';

/** Flat faces; faces of curved walls; strips of roundings; the corners where roundings meet. */
export const FACE_LEADS = ['flat', 'wall', 'rounding', 'corner'] as const;
export type FaceLead = (typeof FACE_LEADS)[number];

/** The kind of each face, as an index into `FACE_LEADS`. Linear in corners. */
export function faceLeads(mesh: PolyMesh): Uint8Array {
  const out = new Uint8Array(faceCount(mesh));
  const surface = mesh.layers.corner.surface?.data;
  const ranks = mesh.layers.face.rank?.data;
  for (let f = 0; f < out.length; f++) {
    if (ranks?.[f] === RANK.corner) out[f] = 3;
    else if (ranks?.[f] === RANK.follow) out[f] = 2;
    else if (surface)
      for (let k = 3 * mesh.faceStart[f]; out[f] === 0 && k < 3 * mesh.faceStart[f + 1]; k++)
        if (surface[k] !== 0) out[f] = 1;
  }
  return out;
}

/** Per face its place, the lowest the strongest: what was marked to lead by hand, then as the order says. */
export function leadingOrder(mesh: PolyMesh, order: ReadonlyArray<FaceLead> = FACE_LEADS): Uint8Array {
  const rest = FACE_LEADS.filter((x) => !order.includes(x));
  const places = FACE_LEADS.map((x) => 1 + [...order, ...rest].indexOf(x));
  const ranks = mesh.layers.face.rank?.data;
  return faceLeads(mesh).map((lead, f) => (ranks?.[f] === RANK.lead ? 0 : places[lead]));
}
