/**
 * Adjacency derived from a mesh, computed once per mesh and cached by identity.
 *
 * A corner doubles as the half-edge that leaves it: corner c runs from corners[c] to the vertex of the next
 * corner of its face. Edges are numbered by first appearance, so edge layers are plain arrays.
 */
import type { PolyMesh } from './PolyMesh';
import { faceCount, vertexCount } from './PolyMesh';

export interface Topology {
  readonly edgeCount: number;
  /** Two vertices per edge, in the direction of the first corner that uses it. */
  readonly edges: Uint32Array;
  readonly edgeOfCorner: Uint32Array;
  readonly faceOfCorner: Uint32Array;
  /** The corner running the other way along the same edge; −1 at open, folded or non-manifold edges. */
  readonly twin: Int32Array;
  /** First corner on each edge. */
  readonly cornerOfEdge: Uint32Array;
  /** How many corners use each edge: 1 is open, 2 regular, more non-manifold. */
  readonly edgeUse: Uint32Array;
  /** Corners at vertex v: vertexCorners[vertexStart[v] … vertexStart[v+1]−1]. */
  readonly vertexStart: Uint32Array;
  readonly vertexCorners: Uint32Array;
}

/** By the corner array: moving points or changing layers keeps the adjacency. */
const cache = new WeakMap<Uint32Array, Topology>();

export function topologyOf(mesh: PolyMesh): Topology {
  let t = cache.get(mesh.corners);
  if (!t || t.faceOfCorner.length !== mesh.corners.length || t.vertexStart.length !== vertexCount(mesh) + 1)
    cache.set(mesh.corners, (t = buildTopology(mesh)));
  return t;
}

/** The next corner around the same face. */
export const nextCorner = (m: PolyMesh, t: Topology, c: number): number => {
  const f = t.faceOfCorner[c];
  return c + 1 === m.faceStart[f + 1] ? m.faceStart[f] : c + 1;
};

/** The previous corner around the same face. */
export const prevCorner = (m: PolyMesh, t: Topology, c: number): number => {
  const f = t.faceOfCorner[c];
  return c === m.faceStart[f] ? m.faceStart[f + 1] - 1 : c - 1;
};

/**
 * Builds the adjacency from the corners around each vertex: an edge's other half-edges are found in the list of
 * the end with fewer corners, so the cost is corners times the lesser valence at their edge, in practice linear.
 * A hash table over vertex pairs lost: its scattered reads cost three times as much on a million corners.
 */
export function buildTopology(mesh: PolyMesh): Topology {
  const { corners, faceStart } = mesh;
  const n = corners.length;
  const F = faceCount(mesh);
  const { vertexStart, vertexCorners } = vertexFans(corners, vertexCount(mesh));
  const faceOfCorner = new Uint32Array(n);
  const next = new Uint32Array(n);
  const before = new Uint32Array(n);
  for (let f = 0; f < F; f++) {
    const s = faceStart[f];
    const e = faceStart[f + 1];
    for (let c = s; c < e; c++) {
      faceOfCorner[c] = f;
      const d = c + 1 === e ? s : c + 1;
      next[c] = d;
      before[d] = c;
    }
  }
  const edges = new Uint32Array(2 * n);
  const edgeOfCorner = new Uint32Array(n).fill(NONE);
  const twin = new Int32Array(n).fill(-1);
  const cornerOfEdge = new Uint32Array(n);
  const edgeUse = new Uint32Array(n);
  let E = 0;
  for (let c = 0; c < n; c++) {
    if (edgeOfCorner[c] !== NONE) continue;
    const a = corners[c];
    const b = corners[next[c]];
    edges[2 * E] = a;
    edges[2 * E + 1] = b;
    cornerOfEdge[E] = c;
    const fewer = vertexStart[a + 1] - vertexStart[a] <= vertexStart[b + 1] - vertexStart[b] ? a : b;
    const other = fewer === a ? b : a;
    let use = 0;
    let back = -1;
    for (let i = vertexStart[fewer]; i < vertexStart[fewer + 1]; i++) {
      const out = vertexCorners[i];
      // The half-edge leaving this corner, and the one arriving at it.
      if (corners[next[out]] === other && edgeOfCorner[out] === NONE) {
        edgeOfCorner[out] = E;
        use++;
        if (fewer === b) back = out;
      }
      const into = before[out];
      if (corners[into] === other && edgeOfCorner[into] === NONE) {
        edgeOfCorner[into] = E;
        use++;
        if (fewer === a) back = into;
      }
    }
    edgeUse[E++] = use;
    if (use !== 2 || back < 0) continue;
    twin[c] = back;
    twin[back] = c;
  }
  return {
    edgeCount: E,
    edges: edges.slice(0, 2 * E),
    edgeOfCorner,
    faceOfCorner,
    twin,
    cornerOfEdge: cornerOfEdge.slice(0, E),
    edgeUse: edgeUse.slice(0, E),
    vertexStart,
    vertexCorners,
  };
}

const NONE = 0xffffffff;

function vertexFans(
  corners: Uint32Array,
  V: number,
): { vertexStart: Uint32Array; vertexCorners: Uint32Array } {
  const vertexStart = new Uint32Array(V + 1);
  for (let c = 0; c < corners.length; c++) vertexStart[corners[c] + 1]++;
  for (let v = 0; v < V; v++) vertexStart[v + 1] += vertexStart[v];
  const fill = vertexStart.slice(0, V);
  const vertexCorners = new Uint32Array(corners.length);
  for (let c = 0; c < corners.length; c++) vertexCorners[fill[corners[c]]++] = c;
  return { vertexStart, vertexCorners };
}

/** Looks up the edge between two vertices, or −1. Linear in the valence of `a`. */
export function edgeBetween(mesh: PolyMesh, t: Topology, a: number, b: number): number {
  for (let i = t.vertexStart[a]; i < t.vertexStart[a + 1]; i++) {
    const c = t.vertexCorners[i];
    if (mesh.corners[nextCorner(mesh, t, c)] === b) return t.edgeOfCorner[c];
    const p = prevCorner(mesh, t, c);
    if (mesh.corners[p] === b) return t.edgeOfCorner[p];
  }
  return -1;
}

/** True when every edge joins exactly two faces that run opposite ways along it. */
export function isClosed(mesh: PolyMesh): boolean {
  const t = topologyOf(mesh);
  for (let c = 0; c < t.twin.length; c++) if (t.twin[c] < 0) return false;
  return true;
}
