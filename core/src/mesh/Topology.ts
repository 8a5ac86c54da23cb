/**
 * Adjacency derived from a mesh, computed once per mesh and cached by identity.
 *
 * A corner doubles as the half-edge that leaves it: corner c runs from corners[c] to the vertex of the next
 * corner of its face. Edges are numbered by first appearance, so edge layers are plain arrays.
 */
import { type PolyMesh, faceCount, vertexCount } from './PolyMesh';

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

/** Cached by the corner array: moving points or changing layers keeps the adjacency. */
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
 * Builds the adjacency in one walk over the corners: every edge hangs in a list at the one of its ends where fewer
 * corners meet, so the cost is corners times the lesser valence at their edge, in practice linear.
 * Ways that lost: a hash table over vertex pairs (scattered reads, three times slower on a million corners);
 * searching the corners around the lesser end (twice as slow: each edge looked at all its neighbours).
 */
export function buildTopology(mesh: PolyMesh): Topology {
  const { corners, faceStart } = mesh;
  const n = corners.length;
  const F = faceCount(mesh);
  const V = vertexCount(mesh);
  const { vertexStart, vertexCorners } = vertexFans(corners, V);
  const faceOfCorner = new Uint32Array(n);
  const edges = new Uint32Array(2 * n);
  const edgeOfCorner = new Uint32Array(n);
  const twin = new Int32Array(n).fill(-1);
  const cornerOfEdge = new Uint32Array(n);
  const edgeUse = new Uint32Array(n);
  const newest = new Int32Array(V).fill(-1);
  const older = new Int32Array(n);
  let E = 0;
  for (let f = 0; f < F; f++) {
    const end = faceStart[f + 1];
    const last = end - 1;
    let a = corners[faceStart[f]];
    const first = a;
    let rarityOfA = vertexStart[a + 1] - vertexStart[a];
    for (let c = faceStart[f]; c < end; c++) {
      const b = c === last ? first : corners[c + 1];
      const rarityOfB = vertexStart[b + 1] - vertexStart[b];
      const atA = rarityOfA < rarityOfB || (rarityOfA === rarityOfB && a < b);
      const at = atA ? a : b;
      let e = newest[at];
      while (
        e >= 0 &&
        !(edges[2 * e] === a && edges[2 * e + 1] === b) &&
        !(edges[2 * e] === b && edges[2 * e + 1] === a)
      )
        // prettier-ignore
        e = older[e];
      faceOfCorner[c] = f;
      if (e < 0) {
        edges[2 * E] = a;
        edges[2 * E + 1] = b;
        cornerOfEdge[E] = c;
        edgeUse[E] = 1;
        older[E] = newest[at];
        newest[at] = E;
        edgeOfCorner[c] = E++;
      } else {
        edgeOfCorner[c] = e;
        const back = cornerOfEdge[e];
        if (++edgeUse[e] === 2) {
          if (edges[2 * e] === b) {
            twin[c] = back;
            twin[back] = c;
          }
        } else if (twin[back] >= 0) {
          twin[twin[back]] = -1;
          twin[back] = -1;
        }
      }
      a = b;
      rarityOfA = rarityOfB;
    }
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

/** All edges that end in a point. */
export function edgesAt(mesh: PolyMesh, v: number): number[] {
  const t = topologyOf(mesh);
  const out = new Set<number>();
  for (let i = t.vertexStart[v]; i < t.vertexStart[v + 1]; i++)
    out.add(t.edgeOfCorner[t.vertexCorners[i]]).add(t.edgeOfCorner[prevCorner(mesh, t, t.vertexCorners[i])]);
  return [...out];
}
