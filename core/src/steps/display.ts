/** What a viewer needs of a built piece: arrays for drawing, counts, shading figures. */
import { type PolyMesh, faceCount, vertexCount } from '../mesh/PolyMesh';
import { RANK } from '../mesh/layers';
import { areaVectors, boundsOf, faceKinds, shellCount, volume, type Bounds } from '../mesh/measure';
import { topologyOf, type Topology } from '../mesh/Topology';
import { triangulate } from '../planar/triangulate';
import { drawableOf } from '../formats/drawable';
import { NORMAL_DEFAULTS } from '../shading/cornerNormals';
import { drift } from '../shading/drift';
import { storiesOf, type Stories } from '../births/stories';
import type { BuildResult, StepReport } from './report';

export interface Display {
  positions: Float32Array;
  normals: Float32Array;
  indices: Uint32Array;
  /** Face per triangle. */
  faceOfTriangle: Uint32Array;
  /** Line segments of real polygon edges (no triangulation lines, no bridges), 6 numbers each. */
  wire: Float32Array;
  /** Drift per triangle corner, degrees. */
  drift: Float32Array;
  counts: { points: number; faces: number; triangles: number; quads: number; ngons: number; tris: number };
  bounds: Bounds;
  solid: { closed: boolean; openEdges: number; shells: number; volume: number | null };
  shading: {
    /** Corners of flat faces per degree of drift, 0…12 and above; strips and curved surfaces are left out. */
    histogram: number[];
    /** Flat faces whose corners drift more than 2°. */
    facesOver: number;
    worst: number;
    /** Flat faces that were counted, and faces left out as curved or as strips. */
    counted: number;
    leftOut: number;
  };
  /** What led to each face. */
  stories: Stories;
  steps: StepReport[];
  /** Time of the whole evaluation, ms. */
  ms: number;
}

export const DRIFT_LIMIT = 2;

export function displayOf(
  { mesh, steps, makers }: Pick<BuildResult, 'mesh' | 'steps' | 'makers'>,
  ms: number,
): Display {
  const d = drawableOf(mesh);
  const tri = triangulate(mesh);
  const perCorner = drift(mesh);
  const driftOfTriangles = new Float32Array(tri.corners.length);
  for (let i = 0; i < driftOfTriangles.length; i++) driftOfTriangles[i] = perCorner[tri.corners[i]];
  return {
    positions: d.positions,
    normals: d.normals,
    indices: d.indices,
    faceOfTriangle: tri.face.slice(),
    wire: wireOf(mesh),
    drift: driftOfTriangles,
    counts: countsOf(mesh, tri.face.length),
    bounds: boundsOf(mesh),
    solid: solidity(mesh),
    shading: shadingFigures(mesh, perCorner),
    stories: storiesOf(mesh, makers),
    steps,
    ms,
  };
}

/** All buffers of a display, for moving it between threads. */
export const buffersOf = (d: Display): ArrayBuffer[] =>
  [d.positions, d.normals, d.indices, d.faceOfTriangle, d.wire, d.drift, d.stories.ofFace].map(
    (a) => a.buffer as ArrayBuffer,
  );

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

function shadingFigures(mesh: PolyMesh, perCorner: Float32Array): Display['shading'] {
  const histogram = new Array<number>(13).fill(0);
  const rank = mesh.layers.face.rank?.data;
  const t = topologyOf(mesh);
  const normals = areaVectors(mesh);
  let facesOver = 0;
  let counted = 0;
  let worst = 0;
  for (let f = 0; f < faceCount(mesh); f++) {
    // Strips and patches are meant to bend the light, and so are the facets of a curved surface.
    if (rank?.[f] === RANK.follow) continue;
    if (isCurved(mesh, t, normals, f)) continue;
    counted++;
    let most = 0;
    for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) most = Math.max(most, perCorner[c]);
    for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++)
      histogram[Math.min(12, Math.floor(perCorner[c]))]++;
    worst = Math.max(worst, most);
    if (most > DRIFT_LIMIT) facesOver++;
  }
  return { histogram, facesOver, worst, counted, leftOut: faceCount(mesh) - counted };
}

/** Facets of a curved surface carry its normals, or run on smoothly into a face that is no strip. */
function isCurved(mesh: PolyMesh, t: Topology, n: Float64Array, f: number): boolean {
  const surface = mesh.layers.corner.surface?.data;
  const rank = mesh.layers.face.rank?.data;
  for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) {
    if (surface && (surface[3 * c] !== 0 || surface[3 * c + 1] !== 0 || surface[3 * c + 2] !== 0))
      return true;
    if (t.twin[c] < 0) continue;
    const g = t.faceOfCorner[t.twin[c]];
    if (rank?.[g] === RANK.follow) continue;
    const dot = n[3 * f] * n[3 * g] + n[3 * f + 1] * n[3 * g + 1] + n[3 * f + 2] * n[3 * g + 2];
    const a = Math.hypot(n[3 * f], n[3 * f + 1], n[3 * f + 2]);
    const b = Math.hypot(n[3 * g], n[3 * g + 1], n[3 * g + 2]);
    const cos = dot / (a * b || 1);
    if (cos < FLAT_COSINE && cos > SMOOTH_COSINE) return true;
  }
  return false;
}

/** Faces meeting at less than 0.2° are one plane; at less than 30° they are one smooth surface. */
const FLAT_COSINE = Math.cos((0.2 * Math.PI) / 180);
const SMOOTH_COSINE = Math.cos((NORMAL_DEFAULTS.hardAngle * Math.PI) / 180);
