/**
 * Makes a mesh manifold where parts of it only touch: at an edge shared by four or more faces each
 * wedge of material gets its two faces to itself, and every separate fan of faces at a vertex its own vertex
 * (Guéziec, Taubin, Lazarus, Horn 2001, "cutting and stitching"). Positions do not change.
 */
import { type PolyMesh, vertexCount } from './PolyMesh';
import { faceNormal } from './measure';
import { nextCorner, prevCorner, topologyOf, type Topology } from './Topology';
import { cross, dot, pointOf, sub, unit } from './vec3';

export interface Separation {
  /** Vertex per corner after separation. */
  corners: Uint32Array;
  /** The old vertex each new one stands for. */
  source: Uint32Array;
}

/** The separation, or null when the mesh is manifold as it is. Linear in corners. */
export function separateFans(mesh: PolyMesh): Separation | null {
  const t = topologyOf(mesh);
  if (isManifold(mesh, t)) return null;
  const mate = Int32Array.from(t.twin);
  pairCrowdedEdges(mesh, t, mate);
  const fan = Int32Array.from({ length: mesh.corners.length }, (_, c) => c);
  const find = (c: number): number => {
    while (fan[c] !== c) c = fan[c] = fan[fan[c]];
    return c;
  };
  const join = (a: number, b: number): void => {
    const [x, y] = [find(a), find(b)];
    if (x !== y) fan[Math.max(x, y)] = Math.min(x, y);
  };
  for (let c = 0; c < mate.length; c++) if (mate[c] >= 0) join(c, nextCorner(mesh, t, mate[c]));
  const corners = new Uint32Array(mesh.corners.length);
  const source: number[] = [];
  for (let v = 0; v < vertexCount(mesh); v++) source.push(v);
  const taken = new Int32Array(source.length).fill(-1);
  const vertexOfFan = new Map<number, number>();
  for (let c = 0; c < corners.length; c++) {
    const root = find(c);
    const v = mesh.corners[c];
    let to = vertexOfFan.get(root);
    if (to === undefined) {
      if (taken[v] < 0) taken[v] = to = v;
      else to = source.push(v) - 1;
      vertexOfFan.set(root, to);
    }
    corners[c] = to;
  }
  return { corners, source: Uint32Array.from(source) };
}

/** No edge with more than two faces, no point whose faces fall into several fans. */
export function isManifold(mesh: PolyMesh, t: Topology = topologyOf(mesh)): boolean {
  for (let e = 0; e < t.edgeCount; e++) if (t.edgeUse[e] > 2) return false;
  for (let v = 0; v < vertexCount(mesh); v++) {
    const n = t.vertexStart[v + 1] - t.vertexStart[v];
    if (!n) continue;
    const start = t.vertexCorners[t.vertexStart[v]];
    let c = start;
    let walked = 0;
    do {
      walked++;
      c = t.twin[prevCorner(mesh, t, c)];
    } while (c >= 0 && c !== start && walked < n);
    // An open fan goes on the other way from where it was begun.
    if (c < 0) for (c = start; t.twin[c] >= 0 && walked < n; walked++) c = nextCorner(mesh, t, t.twin[c]);
    if (walked < n) return false;
  }
  return true;
}

/** Pairs the half-edges of edges with more than two faces, each with the other side of its wedge of material. */
export function pairCrowdedEdges(mesh: PolyMesh, t: Topology, mate: Int32Array): void {
  const crowded = new Map<number, number[]>();
  for (let c = 0; c < mesh.corners.length; c++) {
    const e = t.edgeOfCorner[c];
    if (t.edgeUse[e] <= 2) continue;
    const list = crowded.get(e);
    if (list) list.push(c);
    else crowded.set(e, [c]);
  }
  for (const [e, list] of crowded) {
    const a = pointOf(mesh.positions, t.edges[2 * e]);
    const axis = unit(sub(pointOf(mesh.positions, t.edges[2 * e + 1]), a));
    const forward = (c: number): boolean => mesh.corners[c] === t.edges[2 * e];
    const inFace = (c: number) => {
      const w = cross(faceNormal(mesh, t.faceOfCorner[c]), axis);
      return forward(c) ? w : ([-w[0], -w[1], -w[2]] as [number, number, number]);
    };
    const x = inFace(list[0]);
    const y = cross(axis, x);
    const sorted = list
      .map((c) => ({ c, at: Math.atan2(dot(inFace(c), y), dot(inFace(c), x)) }))
      .sort((p, q) => p.at - q.at || p.c - q.c);
    // Material lies, turning about the axis, from a backward face to the next forward one.
    const waiting: number[] = [];
    for (let round = 0; round < 2; round++)
      for (const { c } of sorted) {
        if (mate[c] >= 0) continue;
        if (!forward(c)) {
          if (!waiting.includes(c)) waiting.push(c);
        } else if (waiting.length) {
          const b = waiting.pop()!;
          mate[c] = b;
          mate[b] = c;
        }
      }
  }
}
