/** Finds the borders of each kind of face that may lead the shading. */
import { edgeLines } from '@urnsmith/core/inspect/edgeLines';
import { topologyOf } from '@urnsmith/core/mesh/Topology';
import { FACE_LEADS, faceLeads, type FaceLead } from '@urnsmith/core/shading/leads';
import { defineAside } from './define';

/** The borders of each kind, 6 numbers a line, in the frame of the piece. */
export type LeadLines = Record<FaceLead, Float64Array>;

export const leads = defineAside('leads', (_: object, { mesh }, watch): { leads: LeadLines } => {
  watch(0);
  const t = topologyOf(mesh);
  const kinds = faceLeads(mesh);
  const edges = FACE_LEADS.map((): number[] => []);
  for (let e = 0; e < t.edgeCount; e++) {
    const c = t.cornerOfEdge[e];
    const d = t.twin[c];
    const [a, b] = [kinds[t.faceOfCorner[c]], d < 0 ? -1 : kinds[t.faceOfCorner[d]]];
    if (a === b) continue;
    edges[a].push(e);
    if (b >= 0) edges[b].push(e);
  }
  return {
    leads: Object.fromEntries(FACE_LEADS.map((x, i) => [x, edgeLines(mesh, edges[i])])) as LeadLines,
  };
});
