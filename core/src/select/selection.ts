/** Selections of elements, and conversion from one kind of element to another. */
import { faceCount, vertexCount, type PolyMesh } from '../mesh/PolyMesh';
import { topologyOf } from '../mesh/Topology';
import type { ElementKind } from '../mesh/elements';

export type { ElementKind };

/** Element indices, ascending and without repeats. */
export interface Selection {
  readonly kind: ElementKind;
  readonly indices: ReadonlyArray<number>;
}

export const selectionOf = (kind: ElementKind, indices: Iterable<number>): Selection => ({
  kind,
  indices: [...new Set(indices)].sort((a, b) => a - b),
});

/** Kinds of element as recipes name them. */
export type Kinds = 'faces' | 'edges' | 'points';
export const KIND_OF: Record<Kinds, ElementKind> = { faces: 'face', edges: 'edge', points: 'vertex' };
export const WORD_OF: Record<ElementKind, Kinds> = { face: 'faces', edge: 'edges', vertex: 'points' };

/** Elements that pass a test, out of so many. */
export function filtered(kind: ElementKind, n: number, test: (i: number) => boolean): Selection {
  const indices: number[] = [];
  for (let i = 0; i < n; i++) if (test(i)) indices.push(i);
  return { kind, indices };
}

export const NOTHING: Selection = { kind: 'face', indices: [] };

/** How many elements of a kind a mesh has. */
export function elementCount(mesh: PolyMesh, kind: ElementKind): number {
  if (kind === 'face') return faceCount(mesh);
  return kind === 'vertex' ? vertexCount(mesh) : topologyOf(mesh).edgeCount;
}

/** A mask over all elements of the selection's kind. */
export function maskOf(mesh: PolyMesh, s: Selection): Uint8Array {
  const mask = new Uint8Array(elementCount(mesh, s.kind));
  for (const i of s.indices) mask[i] = 1;
  return mask;
}

const fromMask = (kind: ElementKind, mask: Uint8Array): Selection =>
  filtered(kind, mask.length, (i) => mask[i] > 0);

/** The points of a selection, ascending. */
export function pointsOf(mesh: PolyMesh, s: Selection): number[] {
  if (s.kind === 'vertex') return [...s.indices];
  const mask = new Uint8Array(vertexCount(mesh));
  if (s.kind === 'face')
    for (const f of s.indices)
      for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) mask[mesh.corners[c]] = 1;
  else {
    const { edges } = topologyOf(mesh);
    for (const e of s.indices) mask[edges[2 * e]] = mask[edges[2 * e + 1]] = 1;
  }
  return [...fromMask('vertex', mask).indices];
}

/**
 * The same place in another kind of element.
 * @param whole towards larger elements, take only those whose points are all picked; else any that is touched
 */
export function convertSelection(mesh: PolyMesh, s: Selection, kind: ElementKind, whole = true): Selection {
  if (s.kind === kind) return s;
  const points = new Uint8Array(vertexCount(mesh));
  for (const v of pointsOf(mesh, s)) points[v] = 1;
  if (kind === 'vertex') return fromMask('vertex', points);
  const t = topologyOf(mesh);
  if (kind === 'edge') {
    const mask = new Uint8Array(t.edgeCount);
    if (s.kind === 'face')
      for (const f of s.indices)
        for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) mask[t.edgeOfCorner[c]] = 1;
    else
      for (let e = 0; e < t.edgeCount; e++) {
        const n = points[t.edges[2 * e]] + points[t.edges[2 * e + 1]];
        if (n === 2 || (n === 1 && !whole)) mask[e] = 1;
      }
    return fromMask('edge', mask);
  }
  const mask = new Uint8Array(faceCount(mesh));
  const edges = s.kind === 'edge' ? maskOf(mesh, s) : null;
  for (let f = 0; f < mask.length; f++) {
    let all = true;
    let any = false;
    for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) {
      const on = edges && !whole ? edges[t.edgeOfCorner[c]] : points[mesh.corners[c]];
      all &&= on === 1;
      any ||= on === 1;
    }
    if (whole ? all : any) mask[f] = 1;
  }
  return fromMask('face', mask);
}

/** Groups of picked elements that hang together: faces by shared edges, edges by shared points, points by edges. */
export function islandsOf(mesh: PolyMesh, s: Selection): number[][] {
  const t = topologyOf(mesh);
  const parent = new Map<number, number>(s.indices.map((i) => [i, i]));
  const find = (i: number): number => {
    while (parent.get(i) !== i) i = parent.get(i)!;
    return i;
  };
  const join = (a: number, b: number): void => {
    const [x, y] = [find(a), find(b)];
    if (x !== y) parent.set(Math.max(x, y), Math.min(x, y));
  };
  if (s.kind === 'face') {
    for (const f of s.indices)
      for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) {
        const tw = t.twin[c];
        if (tw >= 0 && parent.has(t.faceOfCorner[tw])) join(f, t.faceOfCorner[tw]);
      }
  } else if (s.kind === 'edge') {
    const first = new Map<number, number>();
    for (const e of s.indices)
      for (const v of [t.edges[2 * e], t.edges[2 * e + 1]]) {
        const other = first.get(v);
        if (other === undefined) first.set(v, e);
        else join(e, other);
      }
  } else
    for (let e = 0; e < t.edgeCount; e++) {
      const [a, b] = [t.edges[2 * e], t.edges[2 * e + 1]];
      if (parent.has(a) && parent.has(b)) join(a, b);
    }
  const groups = new Map<number, number[]>();
  for (const i of s.indices) {
    const root = find(i);
    const list = groups.get(root);
    if (list) list.push(i);
    else groups.set(root, [i]);
  }
  return [...groups.values()];
}
