/**
 * Catmull–Clark subdivision of any mesh of n-gons (Catmull & Clark 1978), with boundary and semi-sharp crease rules
 * (DeRose, Kass, Truong 1998, §3): an edge of crease s is sharp for s levels, a fraction of a level blends the two
 * rules. Open edges are infinitely sharp, corners of an open rim with one face stay where they are.
 */
import { UNWATCHED, type Watch } from '../watch';
import { copyLayers, evenly, writeElement, type Layer, type LayerSet } from '../mesh/layers';
import { hashOf } from '../births/hash';
import { numberParts } from '../mesh/lineage';
import { faceCorners, faceCount, makeMesh, vertexCount, type PolyMesh } from '../mesh/PolyMesh';
import { topologyOf, type Topology } from '../mesh/Topology';

/** One level: every face becomes quads, one per corner. Linear in corners. @param again the mesh is a level already */
export function subdivideOnce(mesh: PolyMesh, again = false): PolyMesh {
  const t = topologyOf(mesh);
  const [V, E, F] = [vertexCount(mesh), t.edgeCount, faceCount(mesh)];
  const sharp = sharpness(mesh, t);
  // Points: old vertices, then one per edge, then one per face.
  const positions = new Float64Array(3 * (V + E + F));
  facePoints(mesh, positions, V + E);
  edgePoints(mesh, t, sharp, positions, V, V + E);
  vertexPoints(mesh, t, sharp, positions, V + E);
  const n = mesh.corners.length;
  const corners = new Uint32Array(4 * n);
  const faceStart = new Uint32Array(n + 1);
  const before = new Uint32Array(n);
  for (let f = 0; f < F; f++)
    for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++)
      before[c] = c === mesh.faceStart[f] ? mesh.faceStart[f + 1] - 1 : c - 1;
  for (let c = 0; c < n; c++) {
    corners[4 * c] = mesh.corners[c];
    corners[4 * c + 1] = V + t.edgeOfCorner[c];
    corners[4 * c + 2] = V + E + t.faceOfCorner[c];
    corners[4 * c + 3] = V + t.edgeOfCorner[before[c]];
    faceStart[c + 1] = 4 * (c + 1);
  }
  const bare = makeMesh(positions, faceStart, corners);
  return {
    ...bare,
    layers: {
      vertex: vertexLayers(mesh, t),
      face: faceLayers(mesh, t, again),
      corner: cornerLayers(mesh, before),
      edge: edgeLayers(mesh, t, bare),
    },
  };
}

/** Several levels. */
export function subdivide(mesh: PolyMesh, levels: number, watch: Watch = UNWATCHED): PolyMesh {
  let out = mesh;
  for (let k = 0; k < levels; k++) {
    watch(4 ** (k - levels));
    out = subdivideOnce(out, k > 0);
  }
  return out;
}

/** Crease per edge; open and non-manifold edges are sharp for good. */
function sharpness(mesh: PolyMesh, t: Topology): Float64Array {
  const crease = mesh.layers.edge.crease?.data;
  const out = new Float64Array(t.edgeCount);
  for (let e = 0; e < out.length; e++) out[e] = t.twin[t.cornerOfEdge[e]] < 0 ? Infinity : (crease?.[e] ?? 0);
  return out;
}

function facePoints(mesh: PolyMesh, out: Float64Array, at: number): void {
  const { positions: p, corners, faceStart } = mesh;
  for (let f = 0; f < faceCount(mesh); f++) {
    const n = faceStart[f + 1] - faceStart[f];
    let [x, y, z] = [0, 0, 0];
    for (let c = faceStart[f]; c < faceStart[f + 1]; c++) {
      const v = 3 * corners[c];
      x += p[v];
      y += p[v + 1];
      z += p[v + 2];
    }
    const i = 3 * (at + f);
    out[i] = x / n;
    out[i + 1] = y / n;
    out[i + 2] = z / n;
  }
}

function edgePoints(
  mesh: PolyMesh,
  t: Topology,
  sharp: Float64Array,
  out: Float64Array,
  at: number,
  faces: number,
): void {
  const p = mesh.positions;
  for (let e = 0; e < t.edgeCount; e++) {
    const [a, b] = [3 * t.edges[2 * e], 3 * t.edges[2 * e + 1]];
    const c = t.cornerOfEdge[e];
    const i = 3 * (at + e);
    // Share of the sharp rule.
    const s = Math.min(1, sharp[e]);
    const f = s < 1 ? 3 * (faces + t.faceOfCorner[c]) : 0;
    const g = s < 1 ? 3 * (faces + t.faceOfCorner[t.twin[c]]) : 0;
    for (let k = 0; k < 3; k++) {
      const middle = (p[a + k] + p[b + k]) / 2;
      out[i + k] =
        s >= 1 ? middle : s * middle + (1 - s) * ((p[a + k] + p[b + k] + out[f + k] + out[g + k]) / 4);
    }
  }
}

function vertexPoints(
  mesh: PolyMesh,
  t: Topology,
  sharp: Float64Array,
  out: Float64Array,
  faces: number,
): void {
  const p = mesh.positions;
  const V = vertexCount(mesh);
  // Gathered around each point: sum of far ends over edges, sum of face points, and of its sharp edges.
  const far = new Float64Array(3 * V);
  const middle = new Float64Array(3 * V);
  const sharpFar = new Float64Array(3 * V);
  const valence = new Uint32Array(V);
  const sharpCount = new Uint32Array(V);
  const sharpSum = new Float64Array(V);
  const faceTally = new Uint32Array(V);
  for (let e = 0; e < t.edgeCount; e++)
    for (const [v, w] of [
      [t.edges[2 * e], t.edges[2 * e + 1]],
      [t.edges[2 * e + 1], t.edges[2 * e]],
    ]) {
      valence[v]++;
      for (let k = 0; k < 3; k++) far[3 * v + k] += p[3 * w + k];
      if (!(sharp[e] > 0)) continue;
      sharpCount[v]++;
      sharpSum[v] += Math.min(sharp[e], 1e6);
      for (let k = 0; k < 3; k++) sharpFar[3 * v + k] += p[3 * w + k];
    }
  for (let c = 0; c < mesh.corners.length; c++) {
    const v = mesh.corners[c];
    faceTally[v]++;
    for (let k = 0; k < 3; k++) middle[3 * v + k] += out[3 * (faces + t.faceOfCorner[c]) + k];
  }
  for (let v = 0; v < V; v++) {
    const n = valence[v];
    const count = sharpCount[v];
    const corner = count > 2 || (count === 2 && faceTally[v] === 1);
    const s = count < 2 ? 0 : Math.min(1, sharpSum[v] / count);
    for (let k = 0; k < 3; k++) {
      const i = 3 * v + k;
      const smooth = n ? (middle[i] / faceTally[v] + far[i] / n + (n - 2) * p[i]) / n : p[i];
      const hard = corner || count < 2 ? p[i] : (6 * p[i] + sharpFar[i]) / 8;
      out[i] = s === 0 ? smooth : s * hard + (1 - s) * smooth;
    }
  }
}

/** Each face hands its layers on to its quads; which of them one is goes by the face's corners. */
function faceLayers(mesh: PolyMesh, t: Topology, again: boolean): LayerSet {
  const out = copyLayers(mesh.layers.face, t.faceOfCorner);
  // The quads of a first level begin where their face happens to; from then on a quad begins at the corner it is at.
  if (again) numberParts(out, (c, before) => hashOf(before, c - mesh.faceStart[t.faceOfCorner[c]]));
  return out;
}

function vertexLayers(mesh: PolyMesh, t: Topology): LayerSet {
  const { vertex } = mesh.layers;
  const [V, E, F] = [vertexCount(mesh), t.edgeCount, faceCount(mesh)];
  const source = new Int32Array(V + E + F).fill(-1);
  for (let v = 0; v < V; v++) source[v] = v;
  const out = copyLayers(vertex, source);
  for (const _ in vertex) {
    for (let e = 0; e < E; e++)
      writeElement(out, V + e, vertex, { of: [t.edges[2 * e], t.edges[2 * e + 1]], by: [0.5, 0.5] });
    for (let f = 0; f < F; f++)
      writeElement(
        out,
        V + E + f,
        vertex,
        evenly(Array.from(mesh.corners.subarray(mesh.faceStart[f], mesh.faceStart[f + 1]))),
      );
    break;
  }
  return out;
}

/** UVs and the like are divided linearly; normals no longer hold and are left out. */
function cornerLayers(mesh: PolyMesh, before: Uint32Array): LayerSet {
  const { normal: _, surface: __, ...kept } = mesh.layers.corner;
  const out: Record<string, Layer> = copyLayers(kept, new Int32Array(4 * mesh.corners.length).fill(-1));
  if (!Object.keys(kept).length) return out;
  for (let f = 0; f < faceCount(mesh); f++) {
    const all = faceCorners(mesh, f);
    const middle = evenly(all);
    for (const c of all) {
      const next = c + 1 === mesh.faceStart[f + 1] ? mesh.faceStart[f] : c + 1;
      writeElement(out, 4 * c, kept, c);
      writeElement(out, 4 * c + 1, kept, { of: [c, next], by: [0.5, 0.5] });
      writeElement(out, 4 * c + 2, kept, middle);
      writeElement(out, 4 * c + 3, kept, { of: [before[c], c], by: [0.5, 0.5] });
    }
  }
  return out;
}

/** Halves of an edge keep its marks; a crease loses a level. */
function edgeLayers(mesh: PolyMesh, t: Topology, result: PolyMesh): LayerSet {
  const { edge } = mesh.layers;
  const names = Object.keys(edge);
  if (!names.length) return edge;
  const after = topologyOf(result);
  const source = new Int32Array(after.edgeCount).fill(-1);
  for (let c = 0; c < mesh.corners.length; c++) {
    source[after.edgeOfCorner[4 * c]] = t.edgeOfCorner[c];
    const arriving = after.edgeOfCorner[4 * c + 3];
    const f = t.faceOfCorner[c];
    source[arriving] = t.edgeOfCorner[c === mesh.faceStart[f] ? mesh.faceStart[f + 1] - 1 : c - 1];
  }
  const out: Record<string, Layer> = copyLayers(edge, source);
  if (out.crease) {
    const { data } = out.crease;
    for (let e = 0; e < data.length; e++) data[e] = Math.max(0, data[e] - 1);
  }
  return out;
}
