/** A built piece as a viewer needs it: arrays for drawing, counts, shading figures. */
import { type PolyMesh, faceCount, vertexCount } from '../mesh/PolyMesh';
import { boundsOf, faceKinds, shellCount, volume, type Bounds } from '../mesh/measure';
import { topologyOf } from '../mesh/Topology';
import { triangulate } from '../planar/triangulate';
import { drawableOf } from '../formats/drawable';
import { shadingFigures, type ShadingFigures } from '../shading/figures';
import { FLAT_FACE } from '../shading/faceRoles';
import { storiesOf, type Stories } from '../births/stories';
import type { BuildResult, StepReport } from './report';

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
  /** Drift per triangle corner beyond what its face may, degrees; empty where the shading is not judged. */
  drift: Float32Array;
  counts: { points: number; faces: number; triangles: number; quads: number; ngons: number; tris: number };
  bounds: Bounds;
  solid: { closed: boolean; openEdges: number; shells: number; volume: number | null };
  /** Null for a draft: what is not whole is not judged. */
  shading: {
    /** Corners of flat faces per degree of drift, 0…12 and above. */
    histogram: number[];
    /** Share of the area that is shaded wrong, 0…1, and in how many faces. */
    share: number;
    facesOver: number;
    /** The most any corner drifts beyond what its face may, degrees. */
    worst: number;
    /** Faces that should look flat; facets of curved surfaces and strips, which may turn as far as these do. */
    counted: number;
    leftOut: number;
  } | null;
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
  const figures = draft ? null : shadingFigures(mesh);
  const driftOfTriangles = new Float32Array(figures ? tri.corners.length : 0);
  if (figures)
    for (let i = 0; i < driftOfTriangles.length; i++) driftOfTriangles[i] = figures.excess[tri.corners[i]];
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

function shadingOf(
  mesh: PolyMesh,
  { share, wrong, flat, roles, excess, worst }: ShadingFigures,
): NonNullable<Display['shading']> {
  const histogram = new Array<number>(13).fill(0);
  for (let f = 0; f < roles.length; f++)
    if (roles[f] === FLAT_FACE)
      for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++)
        histogram[Math.min(12, Math.floor(excess[c]))]++;
  return { histogram, share, facesOver: wrong.length, worst, counted: flat, leftOut: roles.length - flat };
}
