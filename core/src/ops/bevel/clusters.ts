/**
 * Rounded edges that can get in each other's way, and the outlines a rounding of them can change. Edges of different
 * clusters are rounded each by themselves.
 */
import type { PolyMesh } from '../../mesh/PolyMesh';
import { prevCorner, type Topology } from '../../mesh/Topology';
import { areaVectors } from '../../mesh/measure';
import { BoxTree } from '../../spatial/BoxTree';
import type { DisjointSets } from '../../mesh/DisjointSets';
import { edgesOf } from './layOut';
import type { Outlines } from './outlines';

/** A rail's corner seldom is further from its edge, in widths. */
const REACH = 3;
/** Sides that move towards each other meet within so many widths, with a little to spare. */
export const APART = 2.1;

export interface Cluster {
  edges: number[];
  /** Outlines it can change, and those beside them. */
  outlines: number[];
  /** Regions that are in its way in space: nothing of them is left out. */
  obstacles: number[];
}

interface Ground {
  mesh: PolyMesh;
  t: Topology;
  outlines: Outlines;
  rounded: Uint8Array;
  /** 1 per edge that does not end a sheet. */
  soft: Uint8Array;
  /** The greatest width anywhere, mm. */
  width: number;
}

/** Joins edges that are connected, lie on one outline, or come near each other. */
export function joinNear({ mesh, t, outlines, rounded, width }: Ground, sets: DisjointSets): void {
  const edges = [...edgesOf(rounded)];
  const first = new Map<number, number>();
  const meet = (key: number, e: number): void => {
    const other = first.get(key);
    if (other === undefined) first.set(key, e);
    else sets.join(e, other);
  };
  for (const e of edges) {
    meet(t.edges[2 * e], e);
    meet(t.edges[2 * e + 1], e);
  }
  first.clear();
  for (const e of edges)
    for (const c of [t.cornerOfEdge[e], t.twin[t.cornerOfEdge[e]]]) meet(outlines.at(c), e);
  joinWithin(mesh, t, edges, () => APART * width, sets);
}

/**
 * Joins edges whose boxes come within a distance of each other. Sets that are far from all others are told by their own
 * boxes: only edges of those that are near are looked at.
 * @param reach of an edge, mm
 */
export function joinWithin(
  mesh: PolyMesh,
  t: Topology,
  edges: ReadonlyArray<number>,
  reach: (e: number) => number,
  sets: DisjointSets,
): void {
  const boxes = boxesOf(mesh, t, edges);
  const lists = [...bySet(edges, sets).values()];
  const bounds = new Float64Array(6 * lists.length);
  const reaches = lists.map((list) => list.reduce((most, i) => Math.max(most, reach(edges[i])), 0));
  lists.forEach((list, s) => enclose(boxes, list, bounds, s));
  const around = new BoxTree(bounds);
  let all: BoxTree | null = null;
  lists.forEach((list, s) => {
    if (!around.eachIn(...grown(bounds, s, reaches[s]), (o) => o !== s)) return;
    all ??= new BoxTree(boxes);
    for (const i of list) {
      const e = edges[i];
      all.eachIn(...grown(boxes, i, reach(e)), (k) => sets.join(e, edges[k]));
    }
  });
}

/** Places in a list of edges, by the set of each. */
function bySet(edges: ReadonlyArray<number>, sets: DisjointSets): Map<number, number[]> {
  const out = new Map<number, number[]>();
  edges.forEach((e, i) => {
    const root = sets.find(e);
    const list = out.get(root);
    if (list) list.push(i);
    else out.set(root, [i]);
  });
  return out;
}

/** The box around some boxes, written as number `at` of a list. */
function enclose(boxes: Float64Array, list: ReadonlyArray<number>, into: Float64Array, at: number): void {
  into.fill(Infinity, 6 * at, 6 * at + 3).fill(-Infinity, 6 * at + 3, 6 * at + 6);
  for (const i of list)
    for (let k = 0; k < 3; k++) {
      into[6 * at + k] = Math.min(into[6 * at + k], boxes[6 * i + k]);
      into[6 * at + 3 + k] = Math.max(into[6 * at + 3 + k], boxes[6 * i + 3 + k]);
    }
}

export function clustersOf(g: Ground, sets: DisjointSets): Cluster[] {
  const { rounded } = g;
  const edges = [...edgesOf(rounded)];
  const faces = facesInSpace(g.mesh);
  return [...bySet(edges, sets).values()].map((list) =>
    clusterOf(
      g,
      list.map((i) => edges[i]),
      faces,
    ),
  );
}

function clusterOf(g: Ground, edges: number[], inSpace: FacesInSpace): Cluster {
  const { mesh, t, outlines, soft, width } = g;
  const boxes = boxesOf(mesh, t, edges);
  const tree = new BoxTree(boxes);
  const p = mesh.positions;
  const [low, high] = [
    [0, 0, 0],
    [0, 0, 0],
  ];
  const isNear = (e: number): boolean => {
    const [a, b] = [3 * t.edges[2 * e], 3 * t.edges[2 * e + 1]];
    for (let k = 0; k < 3; k++) {
      low[k] = Math.min(p[a + k], p[b + k]) - REACH * width;
      high[k] = Math.max(p[a + k], p[b + k]) + REACH * width;
    }
    return tree.someIn(low, high);
  };
  const around = grown(tree.bounds, 0, REACH * width);
  const taken = new Set<number>();
  const stack: number[] = [];
  const push = (o: number): void => {
    if (o < 0 || taken.has(o)) return;
    taken.add(o);
    stack.push(o);
  };
  for (const e of edges)
    for (const v of [t.edges[2 * e], t.edges[2 * e + 1]])
      for (let i = t.vertexStart[v]; i < t.vertexStart[v + 1]; i++) {
        const c = t.vertexCorners[i];
        push(outlines.at(c));
        push(outlines.at(prevCorner(mesh, t, c)));
      }
  const seen = new Set<number>();
  while (stack.length) {
    const { region, corners } = outlines.all[stack.pop()!];
    for (const c of corners) {
      const e = t.edgeOfCorner[c];
      if (t.twin[c] >= 0 && soft[e] && isNear(e)) push(outlines.at(t.twin[c]));
    }
    if (seen.has(region)) continue;
    seen.add(region);
    if (outlines.of(region).length < 2) continue;
    for (const o of outlines.within(region, ...around))
      if (!taken.has(o) && outlines.all[o].corners.some((c) => isNear(t.edgeOfCorner[c]))) push(o);
  }
  // Neighbours take over points of a face that is used up, and points put into a line between two of them.
  const beside = new Set(taken);
  for (const o of taken)
    for (const c of outlines.all[o].corners) if (t.twin[c] >= 0) beside.add(outlines.at(t.twin[c]));
  return { edges, outlines: [...beside], obstacles: obstaclesOf(g, edges, boxes, inSpace, seen) };
}

interface FacesInSpace {
  tree: BoxTree;
  normals: Float64Array;
}

function facesInSpace(mesh: PolyMesh): FacesInSpace {
  const F = mesh.faceStart.length - 1;
  const p = mesh.positions;
  const boxes = new Float64Array(6 * F);
  for (let f = 0; f < F; f++)
    for (let k = 0; k < 3; k++) {
      let [lo, hi] = [Infinity, -Infinity];
      for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) {
        const x = p[3 * mesh.corners[c] + k];
        if (x < lo) lo = x;
        if (x > hi) hi = x;
      }
      boxes[6 * f + k] = lo;
      boxes[6 * f + 3 + k] = hi;
    }
  return { tree: new BoxTree(boxes), normals: areaVectors(mesh) };
}

/** Regions, not reached over the surface, that a strip could run into. */
function obstaclesOf(
  { mesh, t, outlines, width }: Ground,
  edges: number[],
  boxes: Float64Array,
  { tree, normals }: FacesInSpace,
  reached: ReadonlySet<number>,
): number[] {
  const out = new Set<number>();
  const p = mesh.positions;
  edges.forEach((e, i) => {
    const [lo, hi] = grown(boxes, i, width);
    tree.eachIn(lo, hi, (f) => {
      const r = outlines.region[f];
      if (reached.has(r) || out.has(r)) return;
      const o = 3 * mesh.corners[mesh.faceStart[f]];
      const [x, y, z] = [normals[3 * f], normals[3 * f + 1], normals[3 * f + 2]];
      const size = Math.hypot(x, y, z) || 1;
      const height = (v: number): number =>
        (x * (p[3 * v] - p[o]) + y * (p[3 * v + 1] - p[o + 1]) + z * (p[3 * v + 2] - p[o + 2])) / size;
      const [a, b] = [height(t.edges[2 * e]), height(t.edges[2 * e + 1])];
      if (Math.min(Math.abs(a), Math.abs(b)) <= width || a * b < 0) out.add(r);
    });
  });
  return [...out];
}

/** 6 numbers per edge, as a tree of boxes takes them. */
export function boxesOf(mesh: PolyMesh, t: Topology, edges: ReadonlyArray<number>): Float64Array {
  const p = mesh.positions;
  const boxes = new Float64Array(6 * edges.length);
  edges.forEach((e, i) => {
    const [a, b] = [3 * t.edges[2 * e], 3 * t.edges[2 * e + 1]];
    for (let k = 0; k < 3; k++) {
      boxes[6 * i + k] = Math.min(p[a + k], p[b + k]);
      boxes[6 * i + 3 + k] = Math.max(p[a + k], p[b + k]);
    }
  });
  return boxes;
}

const grown = (boxes: Float64Array, i: number, by: number): [number[], number[]] => [
  [boxes[6 * i] - by, boxes[6 * i + 1] - by, boxes[6 * i + 2] - by],
  [boxes[6 * i + 3] + by, boxes[6 * i + 4] + by, boxes[6 * i + 5] + by],
];
