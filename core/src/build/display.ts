/** A built piece as a viewer needs it: arrays for drawing, counts, shading figures. */
import { type PolyMesh, faceCount, vertexCount } from '../mesh/PolyMesh';
import { RANK } from '../mesh/layers';
import { boundsOf, faceKinds, shellCount, volume, type Bounds } from '../mesh/measure';
import { topologyOf } from '../mesh/Topology';
import { triangulate } from '../planar/triangulate';
import { drawableOf } from '../formats/drawable';
import { residual, type Residual } from '../shading/residual';
import type { Figures } from './verdict';
import { faceLeads, FACE_LEADS, type FaceLead } from '../shading/leads';
import { figuresOf } from './repair';
import { storiesOf, type Stories } from '../births/stories';
import type { BuildResult, StepReport } from './report';

export interface ShadingFigures extends Figures {
  /** Area by degrees it is off, one each, mm²; the last holds all above. */
  areas: number[];
  /** Where it is off the most, in the frame of the piece; null where nothing is. */
  place: [number, number, number] | null;
  /** How many faces are of each kind that may lead. */
  kinds: Record<FaceLead, number>;
  /** How many faces were marked to lead. */
  marked: number;
}

export interface Display {
  positions: Float32Array;
  normals: Float32Array;
  indices: Uint32Array;
  /** Openness per vertex, where it is kept. */
  openness: Float32Array | null;
  /** Face per triangle. */
  faceOfTriangle: Uint32Array;
  /** Line segments of real polygon edges (no triangulation lines, no bridges), 6 numbers each. */
  wire: Float32Array;
  /** How far the shading is off per triangle corner, degrees; empty where it is not judged. */
  drift: Float32Array;
  counts: { points: number; faces: number; triangles: number; quads: number; ngons: number; tris: number };
  bounds: Bounds;
  solid: { closed: boolean; openEdges: number; shells: number; volume: number | null };
  /** Null for a draft: what is not whole is not judged. */
  shading: ShadingFigures | null;
  /** The makers of each face. */
  stories: Stories;
  steps: StepReport[];
  /** Time of the whole evaluation, ms. */
  ms: number;
}

export function displayOf(
  { mesh, steps, makers, draft }: Pick<BuildResult, 'mesh' | 'steps' | 'makers' | 'draft'>,
  ms: number,
): Display {
  const d = drawableOf(mesh);
  const tri = triangulate(mesh);
  const figures = draft ? null : residual(mesh);
  const driftOfTriangles = new Float32Array(figures ? tri.corners.length : 0);
  if (figures)
    for (let i = 0; i < driftOfTriangles.length; i++) driftOfTriangles[i] = figures.ofCorner[tri.corners[i]];
  return {
    positions: d.positions,
    normals: d.normals,
    indices: d.indices,
    openness: d.openness,
    faceOfTriangle: tri.face.slice(),
    wire: wireOf(mesh),
    drift: driftOfTriangles,
    counts: countsOf(mesh, tri.face.length),
    bounds: boundsOf(mesh),
    solid: solidity(mesh),
    shading: figures && shadingOf(mesh, figures),
    stories: storiesOf(mesh, makers),
    steps,
    ms,
  };
}

/** All buffers of a display, for moving it between threads. */
export const buffersOf = (d: Display): ArrayBuffer[] =>
  [
    d.positions,
    d.normals,
    d.indices,
    d.faceOfTriangle,
    d.wire,
    d.drift,
    d.stories.ofFace,
    d.openness,
  ].flatMap((a) => (a?.buffer as ArrayBuffer) ?? []);

function wireOf(mesh: PolyMesh): Float32Array {
  const t = topologyOf(mesh);
  const bridge = mesh.layers.edge.bridge?.data;
  let n = 0;
  for (let e = 0; e < t.edgeCount; e++) if (!bridge?.[e]) n++;
  const out = new Float32Array(6 * n);
  let at = 0;
  for (let e = 0; e < t.edgeCount; e++) {
    if (bridge?.[e]) continue;
    for (let k = 0; k < 2; k++) {
      const v = 3 * t.edges[2 * e + k];
      for (let a = 0; a < 3; a++) out[at++] = mesh.positions[v + a];
    }
  }
  return out;
}

function countsOf(mesh: PolyMesh, triangles: number): Display['counts'] {
  const k = faceKinds(mesh);
  return {
    points: vertexCount(mesh),
    faces: faceCount(mesh),
    triangles,
    tris: k.triangles,
    quads: k.quads,
    ngons: k.ngons,
  };
}

function solidity(mesh: PolyMesh): Display['solid'] {
  const t = topologyOf(mesh);
  let openEdges = 0;
  for (let e = 0; e < t.edgeCount; e++) if (t.twin[t.cornerOfEdge[e]] < 0) openEdges++;
  const closed = openEdges === 0 && faceCount(mesh) > 0;
  return { closed, openEdges, shells: shellCount(mesh), volume: closed ? volume(mesh) : null };
}

function shadingOf(mesh: PolyMesh, figures: Residual): ShadingFigures {
  const kinds = { flat: 0, wall: 0, rounding: 0, corner: 0 };
  for (const lead of faceLeads(mesh)) kinds[FACE_LEADS[lead]]++;
  const ranks = mesh.layers.face.rank?.data ?? [];
  let marked = 0;
  for (let f = 0; f < ranks.length; f++) if (ranks[f] === RANK.lead) marked++;
  return { ...figuresOf(figures), areas: [...figures.areas], place: figures.place, kinds, marked };
}
