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

const cache = new WeakMap<PolyMesh, Topology>();

export function topologyOf(mesh: PolyMesh): Topology {
  let t = cache.get(mesh);
  if (!t) cache.set(mesh, (t = buildTopology(mesh)));
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

/** Builds the adjacency in one hashed pass over the corners: expected time linear in corners. */
export function buildTopology(mesh: PolyMesh): Topology {
  const { corners, faceStart } = mesh;
  const n = corners.length;
  const F = faceCount(mesh);
  let bits = 4;
  while (1 << bits < n * 1.5) bits++;
  const mask = (1 << bits) - 1;
  const table = new Int32Array(1 << bits).fill(-1);
  const edges = new Uint32Array(2 * n);
  const edgeOfCorner = new Uint32Array(n);
  const faceOfCorner = new Uint32Array(n);
  const twin = new Int32Array(n).fill(-1);
  const cornerOfEdge = new Uint32Array(n);
  const edgeUse = new Uint32Array(n);
  let E = 0;
  for (let f = 0; f < F; f++) {
    const s = faceStart[f];
    const e = faceStart[f + 1];
    for (let c = s; c < e; c++) {
      faceOfCorner[c] = f;
      const a = corners[c];
      const b = corners[c + 1 === e ? s : c + 1];
      const lo = a < b ? a : b;
      const hi = a < b ? b : a;
      let h = (Math.imul(lo, 0x9e3779b1) ^ Math.imul(hi, 0x85ebca77)) >>> (32 - bits);
      let id = table[h];
      while (id >= 0) {
        const ea = edges[2 * id];
        const eb = edges[2 * id + 1];
        if ((ea === a && eb === b) || (ea === b && eb === a)) break;
        h = (h + 1) & mask;
        id = table[h];
      }
      if (id < 0) {
        id = E++;
        table[h] = id;
        edges[2 * id] = a;
        edges[2 * id + 1] = b;
        cornerOfEdge[id] = c;
      } else if (edgeUse[id] === 1 && edges[2 * id] === b) {
        const first = cornerOfEdge[id];
        twin[first] = c;
        twin[c] = first;
      } else unlink(twin, cornerOfEdge[id]);
      edgeOfCorner[c] = id;
      edgeUse[id]++;
    }
  }
  const { vertexStart, vertexCorners } = vertexFans(corners, vertexCount(mesh));
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

function unlink(twin: Int32Array, c: number): void {
  if (twin[c] >= 0) twin[twin[c]] = -1;
  twin[c] = -1;
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
