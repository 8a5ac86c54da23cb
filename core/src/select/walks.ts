/** Runs along a mesh: edge loops, edge rings, strips of faces, boundaries, shells, shortest ways. */
import { faceCount, vertexCount, type PolyMesh } from '../mesh/PolyMesh';
import { nextCorner, topologyOf, type Topology } from '../mesh/Topology';
import { faceNormal } from '../mesh/measure';
import { distance, dot, pointOf, type Vec3 } from '../mesh/vec3';
import { Heap } from '../spatial/Heap';

/** A run of edges, in order, and why each end of it stopped. */
export interface Run {
  edges: number[];
  /** The run came back to its start. */
  closed: boolean;
  /** Points (loops) or faces (rings) where it could not go on: poles and n-gons. */
  stops: number[];
}

const faceSize = (m: PolyMesh, f: number): number => m.faceStart[f + 1] - m.faceStart[f];

/**
 * The edge loop through an edge: straight on at points where four edges meet; along the rim where the edge is open, where
 * just two sharp edges meet, or where an n-gon (or a face with holes) borders on smaller faces. Edges that only join a
 * face to its holes do not count. It stops at poles. The edge order is along the run.
 */
export function edgeLoop(mesh: PolyMesh, edge: number): Run {
  const t = topologyOf(mesh);
  const start = t.cornerOfEdge[edge];
  const open = t.twin[start] < 0;
  const rims = new Rims(mesh, t);
  const ahead = walkLoop(rims, edge, mesh.corners[nextCorner(mesh, t, start)], open);
  if (ahead.closed) return { edges: [edge, ...ahead.edges], closed: true, stops: [] };
  const behind = walkLoop(rims, edge, mesh.corners[start], open);
  return {
    edges: [...behind.edges.reverse(), edge, ...ahead.edges],
    closed: false,
    stops: [...behind.stops, ...ahead.stops],
  };
}

function walkLoop(rims: Rims, edge: number, through: number, open: boolean): Run {
  const { mesh, t } = rims;
  const edges: number[] = [];
  const seen = new Set([edge]);
  let [e, v] = [edge, through];
  for (;;) {
    const next = open ? nextOpen(mesh, t, e, v) : rims.onFrom(e, v);
    if (next < 0) return { edges, closed: false, stops: [v] };
    if (next === edge) return { edges, closed: true, stops: [] };
    // A rim that touches itself.
    if (seen.has(next)) return { edges, closed: false, stops: [v] };
    seen.add(next);
    edges.push(next);
    v = t.edges[2 * next] === v ? t.edges[2 * next + 1] : t.edges[2 * next];
    e = next;
  }
}

/** Faces that meet at more than this, degrees, have a sharp edge. */
const SHARP = 30;

/** How an edge loop goes on at a point. */
class Rims {
  private readonly wide = new Map<number, boolean>();

  constructor(
    readonly mesh: PolyMesh,
    readonly t: Topology,
  ) {}

  /** The edge that goes on from another at a point; −1 at a pole or an open rim. It goes back the same way. */
  onFrom(e: number, v: number): number {
    const { mesh, t } = this;
    // The half-edge that arrives at v, its face on the left.
    let into = t.cornerOfEdge[e];
    if (mesh.corners[nextCorner(mesh, t, into)] !== v) into = t.twin[into];
    const others = into < 0 ? null : this.edgesFrom(into, e);
    if (!others) return -1;
    if (others.length === 3) return others[1];
    const sharp = others.filter((x) => this.isSharp(x));
    if (sharp.length === 1 && this.isSharp(e)) return sharp[0];
    if (!this.isRim(e)) return -1;
    const on = this.isWide(t.faceOfCorner[into]) ? others[0] : others[others.length - 1];
    return on !== undefined && this.isRim(on) ? on : -1;
  }

  /** The other edges at the point a half-edge arrives at, from its left on; null where one of them is open. */
  private edgesFrom(into: number, e: number): number[] | null {
    const { mesh, t } = this;
    const bridge = mesh.layers.edge.bridge?.data;
    const out: number[] = [];
    const most = t.vertexStart[mesh.corners[nextCorner(mesh, t, into)] + 1];
    for (let c = nextCorner(mesh, t, into), n = 0; n <= most; n++) {
      if (t.edgeOfCorner[c] === e) return out;
      if (!bridge?.[t.edgeOfCorner[c]]) out.push(t.edgeOfCorner[c]);
      if (t.twin[c] < 0) return null;
      c = nextCorner(mesh, t, t.twin[c]);
    }
    return null;
  }

  /** Between an n-gon and a smaller face. */
  private isRim(e: number): boolean {
    const { t } = this;
    const c = t.cornerOfEdge[e];
    return this.isWide(t.faceOfCorner[c]) !== this.isWide(t.faceOfCorner[t.twin[c]]);
  }

  /** A face with more than four corners, or with holes. */
  private isWide(f: number): boolean {
    const { mesh, t } = this;
    let known = this.wide.get(f);
    if (known === undefined) {
      known = faceSize(mesh, f) > 4;
      const bridge = mesh.layers.edge.bridge?.data;
      for (let c = mesh.faceStart[f]; bridge && !known && c < mesh.faceStart[f + 1]; c++)
        known = bridge[t.edgeOfCorner[c]] > 0;
      this.wide.set(f, known);
    }
    return known;
  }

  private isSharp(e: number): boolean {
    const { mesh, t } = this;
    const c = t.cornerOfEdge[e];
    if (t.twin[c] < 0) return false;
    const [a, b] = [c, t.twin[c]].map((k) => faceNormal(mesh, t.faceOfCorner[k]));
    return dot(a, b) < Math.cos((SHARP * Math.PI) / 180);
  }
}

/** The other open edge at v, if there is just one. */
function nextOpen(m: PolyMesh, t: Topology, e: number, v: number): number {
  const open = new Set<number>();
  for (let i = t.vertexStart[v]; i < t.vertexStart[v + 1]; i++) {
    const c = t.vertexCorners[i];
    const f = t.faceOfCorner[c];
    for (const d of [c, c === m.faceStart[f] ? m.faceStart[f + 1] - 1 : c - 1])
      if (t.twin[d] < 0) open.add(t.edgeOfCorner[d]);
  }
  open.delete(e);
  return open.size === 1 ? [...open][0] : -1;
}

/** The edge ring through an edge: across quads from side to opposite side. It stops at any other face. */
export function edgeRing(mesh: PolyMesh, edge: number): Run {
  const t = topologyOf(mesh);
  const start = t.cornerOfEdge[edge];
  const ahead = walkRing(mesh, t, edge, start);
  if (ahead.closed) return { edges: [edge, ...ahead.edges], closed: true, stops: [] };
  const behind = t.twin[start] < 0 ? { edges: [], stops: [] } : walkRing(mesh, t, edge, t.twin[start]);
  return {
    edges: [...behind.edges.reverse(), edge, ...ahead.edges],
    closed: false,
    stops: [...behind.stops, ...ahead.stops],
  };
}

function walkRing(m: PolyMesh, t: Topology, edge: number, corner: number): Run {
  const edges: number[] = [];
  for (let c = corner; ;) {
    const f = t.faceOfCorner[c];
    if (faceSize(m, f) !== 4) return { edges, closed: false, stops: [f] };
    const opposite = nextCorner(m, t, nextCorner(m, t, c));
    const e = t.edgeOfCorner[opposite];
    if (e === edge) return { edges, closed: true, stops: [] };
    if (edges.includes(e) && edges.length < 4) return { edges, closed: false, stops: [f] };
    edges.push(e);
    if (edges.length > t.edgeCount) return { edges, closed: false, stops: [f] };
    c = t.twin[opposite];
    if (c < 0) return { edges, closed: false, stops: [] };
  }
}

/** The strip of quads from a face across one of its edges, both ways; all quads the ring through the edge crosses. */
export function faceStrip(mesh: PolyMesh, edge: number): number[] {
  const t = topologyOf(mesh);
  const { edges } = edgeRing(mesh, edge);
  const on = new Set(edges);
  const out = new Set<number>();
  for (const e of edges)
    for (const c of [t.cornerOfEdge[e], t.twin[t.cornerOfEdge[e]]]) {
      if (c < 0) continue;
      const f = t.faceOfCorner[c];
      if (faceSize(mesh, f) === 4 && on.has(t.edgeOfCorner[nextCorner(mesh, t, nextCorner(mesh, t, c))]))
        out.add(f);
    }
  return [...out].sort((a, b) => a - b);
}

/** Edges between picked faces and others, or the open rim of picked faces. */
export function borderEdges(mesh: PolyMesh, faces: Iterable<number>): number[] {
  const t = topologyOf(mesh);
  const picked = new Set(faces);
  const out: number[] = [];
  for (const f of picked)
    for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++)
      if (t.twin[c] < 0 || !picked.has(t.faceOfCorner[t.twin[c]])) out.push(t.edgeOfCorner[c]);
  return out.sort((a, b) => a - b);
}

/** Every face that hangs together with one of these, by edges. */
export function shellFaces(mesh: PolyMesh, faces: Iterable<number>, stopAt?: ReadonlySet<number>): number[] {
  const t = topologyOf(mesh);
  const seen = new Uint8Array(faceCount(mesh));
  const waiting = [...faces];
  for (const f of waiting) seen[f] = 1;
  for (let f = waiting.pop(); f !== undefined; f = waiting.pop())
    for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) {
      if (t.twin[c] < 0 || stopAt?.has(t.edgeOfCorner[c])) continue;
      const g = t.faceOfCorner[t.twin[c]];
      if (!seen[g]) {
        seen[g] = 1;
        waiting.push(g);
      }
    }
  const out: number[] = [];
  for (let f = 0; f < seen.length; f++) if (seen[f]) out.push(f);
  return out;
}

/** Faces that lie in one plane with a face and hang together, each within an angle (degrees) of its neighbour. */
export function flatFaces(
  mesh: PolyMesh,
  faces: Iterable<number>,
  angle: number,
  normals: (f: number) => Vec3,
): number[] {
  const t = topologyOf(mesh);
  const limit = Math.cos((angle * Math.PI) / 180) - 1e-9;
  const stop = new Set<number>();
  for (let e = 0; e < t.edgeCount; e++) {
    const c = t.cornerOfEdge[e];
    if (t.twin[c] < 0) continue;
    const [a, b] = [normals(t.faceOfCorner[c]), normals(t.faceOfCorner[t.twin[c]])];
    if (a[0] * b[0] + a[1] * b[1] + a[2] * b[2] < limit) stop.add(e);
  }
  return shellFaces(mesh, faces, stop);
}

/** The shortest way along edges between two points, as points from the first to the last; null when there is none. */
export function shortestWay(mesh: PolyMesh, from: number, to: number): number[] | null {
  const t = topologyOf(mesh);
  return dijkstra(vertexCount(mesh), from, to, (v, each) => {
    for (let i = t.vertexStart[v]; i < t.vertexStart[v + 1]; i++) {
      const c = t.vertexCorners[i];
      const f = t.faceOfCorner[c];
      const before = c === mesh.faceStart[f] ? mesh.faceStart[f + 1] - 1 : c - 1;
      for (const w of [mesh.corners[nextCorner(mesh, t, c)], mesh.corners[before]])
        each(w, distance(pointOf(mesh.positions, v), pointOf(mesh.positions, w)));
    }
  });
}

/** The shortest way over shared edges between two faces, measured from middle to middle. */
export function shortestFaceWay(mesh: PolyMesh, from: number, to: number): number[] | null {
  const t = topologyOf(mesh);
  return dijkstra(faceCount(mesh), from, to, (f, each) => {
    const here = faceMiddle(mesh, f);
    for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) {
      if (t.twin[c] < 0) continue;
      const g = t.faceOfCorner[t.twin[c]];
      each(g, distance(here, faceMiddle(mesh, g)));
    }
  });
}

/** Mean of a face's corners. */
export function faceMiddle(mesh: PolyMesh, f: number): Vec3 {
  const out: Vec3 = [0, 0, 0];
  const n = faceSize(mesh, f);
  for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++)
    for (let k = 0; k < 3; k++) out[k] += mesh.positions[3 * mesh.corners[c] + k] / n;
  return out;
}

/** Dijkstra 1959 with a binary heap. */
function dijkstra(
  n: number,
  from: number,
  to: number,
  neighbours: (i: number, each: (j: number, far: number) => void) => void,
): number[] | null {
  const far = new Float64Array(n).fill(Infinity);
  const back = new Int32Array(n).fill(-1);
  const heap = new Heap<[number, number]>(([, d]) => d);
  far[from] = 0;
  heap.push([from, 0]);
  for (let top = heap.pop(); top; top = heap.pop()) {
    const [i, d] = top;
    if (i === to) break;
    if (d > far[i]) continue;
    neighbours(i, (j, step) => {
      if (d + step >= far[j]) return;
      far[j] = d + step;
      back[j] = i;
      heap.push([j, far[j]]);
    });
  }
  if (far[to] === Infinity) return null;
  const way = [to];
  while (way[way.length - 1] !== from) way.push(back[way[way.length - 1]]);
  return way.reverse();
}
