/** Making a selection larger, smaller, or the opposite; everything enclosed by it; its pattern carried on. */
import { faceCount, type PolyMesh } from '../mesh/PolyMesh';
import { faceArea } from '../mesh/measure';
import { nextCorner, topologyOf } from '../mesh/Topology';
import { OperationError } from '../mesh/errors';
import { convertSelection, elementCount, islandsOf, maskOf, selectionOf, type Selection } from './selection';
import { edgeLoop, edgeRing, shellFaces } from './walks';

/** Elements of the same kind that share a point with a picked one, the picked ones included. */
export function grow(mesh: PolyMesh, s: Selection): Selection {
  const t = topologyOf(mesh);
  if (s.kind === 'vertex') {
    const on = maskOf(mesh, s);
    const out = new Set(s.indices);
    for (let e = 0; e < t.edgeCount; e++) {
      const [a, b] = [t.edges[2 * e], t.edges[2 * e + 1]];
      if (on[a]) out.add(b);
      if (on[b]) out.add(a);
    }
    return selectionOf('vertex', out);
  }
  return convertSelection(mesh, convertSelection(mesh, s, 'vertex'), s.kind, false);
}

/** Picked elements that touch no element left out. */
export function shrink(mesh: PolyMesh, s: Selection): Selection {
  return invert(mesh, grow(mesh, invert(mesh, s)));
}

export function invert(mesh: PolyMesh, s: Selection): Selection {
  const on = maskOf(mesh, s);
  return selectionOf(
    s.kind,
    Array.from(on.keys()).filter((i) => !on[i]),
  );
}

export const everything = (mesh: PolyMesh, kind: Selection['kind']): Selection =>
  selectionOf(
    kind,
    Array.from({ length: elementCount(mesh, kind) }, (_, i) => i),
  );

/**
 * The faces enclosed: between closed runs of picked edges, or between islands of picked faces (which are kept in
 * the selection). Of the parts the picked elements divide the surface into, those that touch every island of them
 * lie in between; where there is no telling, the part with the least area is meant.
 */
export function enclose(mesh: PolyMesh, s: Selection): Selection {
  const t = topologyOf(mesh);
  const islands = islandsOf(mesh, s);
  const walls = new Map<number, number>();
  const inIsland = new Map<number, number>();
  islands.forEach((list, i) => list.forEach((x) => (s.kind === 'edge' ? walls : inIsland).set(x, i)));
  if (s.kind === 'vertex')
    throw new OperationError('enclose-points', 'Points enclose nothing: pick edges or faces.');
  const stop = new Set(walls.keys());
  const done = new Uint8Array(faceCount(mesh));
  for (const f of inIsland.keys()) {
    done[f] = 1;
    for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) stop.add(t.edgeOfCorner[c]);
  }
  const parts: Array<{ faces: number[]; touches: Set<number>; area: number }> = [];
  for (let f = 0; f < done.length; f++) {
    if (done[f]) continue;
    const faces = shellFaces(mesh, [f], stop);
    const touches = new Set<number>();
    for (const g of faces) {
      done[g] = 1;
      for (let c = mesh.faceStart[g]; c < mesh.faceStart[g + 1]; c++) {
        const wall = walls.get(t.edgeOfCorner[c]);
        if (wall !== undefined) touches.add(wall);
        const beyond = t.twin[c] < 0 ? undefined : inIsland.get(t.faceOfCorner[t.twin[c]]);
        if (beyond !== undefined) touches.add(beyond);
      }
    }
    parts.push({ faces, touches, area: faces.reduce((a, g) => a + faceArea(mesh, g), 0) });
  }
  const candidates = parts.filter((p) => p.touches.size === islands.length && islands.length > 0);
  if (!candidates.length || (parts.length < 2 && (s.kind === 'edge' || islands.length < 2)))
    throw new OperationError(
      'not-enclosing',
      'The picked elements do not enclose anything.',
      { domain: s.kind, indices: [...s.indices] },
      'Close the runs of edges, or pick faces on either side.',
    );
  const least = candidates.reduce((a, b) => (b.area < a.area ? b : a));
  return selectionOf('face', [...least.faces, ...inIsland.keys()]);
}

/**
 * The picked pattern carried on along its ring or loop: the run through the first and last picked element is taken
 * as the direction, the distance between the two as the stride, unless a gap is given.
 * @param gap elements left out between two picked ones; by default as between the first two picked
 * @param count how many more to pick; 0 goes all the way round
 */
export function repeatAlong(
  mesh: PolyMesh,
  s: Selection,
  { gap, count = 0, start = 0 }: { gap?: number; count?: number; start?: number } = {},
): Selection {
  if (s.indices.length < 1)
    throw new OperationError(
      'nothing-picked',
      'Nothing is picked to carry on from.',
      undefined,
      'Pick an element first.',
    );
  const run = runThrough(mesh, s);
  const places = s.indices.map((i) => run.indexOf(i)).sort((a, b) => a - b);
  const stride = gap !== undefined ? gap + 1 : places.length > 1 ? places[1] - places[0] : 1;
  const span = places[places.length - 1] - places[0] + stride;
  const out = new Set(s.indices);
  const pattern = places.map((p) => p - places[0]);
  const first = places[0] + start;
  const limit = count > 0 ? count : Math.ceil(run.length / Math.max(1, span));
  for (let k = 1; k <= limit; k++)
    for (const p of pattern) {
      const at = first + k * (gap !== undefined ? stride + pattern[pattern.length - 1] : span) + p;
      if (at < run.length) out.add(run[at]);
    }
  return selectionOf(s.kind, out);
}

/** The ring, loop or strip all picked elements lie on, in order and starting at the first of them. */
function runThrough(mesh: PolyMesh, s: Selection): number[] {
  const t = topologyOf(mesh);
  const seed = s.indices[0];
  const runs: number[][] = [];
  if (s.kind === 'edge') {
    runs.push(edgeLoop(mesh, seed).edges, edgeRing(mesh, seed).edges);
  } else if (s.kind === 'face') {
    for (let c = mesh.faceStart[seed]; c < mesh.faceStart[seed + 1]; c++)
      runs.push(orderedStrip(mesh, t.edgeOfCorner[c], seed));
  } else
    for (let i = t.vertexStart[seed]; i < t.vertexStart[seed + 1]; i++)
      runs.push(orderedPoints(mesh, t.edgeOfCorner[t.vertexCorners[i]], seed));
  const fitting = runs.filter((r) => s.indices.every((i) => r.includes(i)));
  if (!fitting.length)
    throw new OperationError(
      'no-run',
      'The picked elements do not lie on one ring, loop or strip.',
      { domain: s.kind, indices: [...s.indices] },
      'Pick elements along one run.',
    );
  const run = fitting.reduce((a, b) => (spread(b, s.indices) < spread(a, s.indices) ? b : a));
  const at = run.indexOf(seed);
  return [...run.slice(at), ...run.slice(0, at)];
}

const spread = (run: number[], picked: ReadonlyArray<number>): number =>
  Math.max(...picked.map((i) => run.indexOf(i))) - Math.min(...picked.map((i) => run.indexOf(i)));

function orderedStrip(mesh: PolyMesh, edge: number, seed: number): number[] {
  const t = topologyOf(mesh);
  const { edges, closed } = edgeRing(mesh, edge);
  const out: number[] = [];
  for (let k = 0; k + (closed ? 0 : 1) < edges.length; k++) {
    const [a, b] = [edges[k], edges[(k + 1) % edges.length]];
    for (const c of [t.cornerOfEdge[a], t.twin[t.cornerOfEdge[a]]])
      if (c >= 0 && t.edgeOfCorner[nextCorner(mesh, t, nextCorner(mesh, t, c))] === b) {
        const f = t.faceOfCorner[c];
        if (out[out.length - 1] !== f) out.push(f);
      }
  }
  return out.includes(seed) ? [...new Set(out)] : [];
}

function orderedPoints(mesh: PolyMesh, edge: number, seed: number): number[] {
  const t = topologyOf(mesh);
  const { edges } = edgeLoop(mesh, edge);
  if (edges.length < 2) return [t.edges[2 * edge], t.edges[2 * edge + 1]];
  const ends = (e: number): number[] => [t.edges[2 * e], t.edges[2 * e + 1]];
  let at = ends(edges[0]).find((v) => !ends(edges[1]).includes(v))!;
  const out = [at];
  for (const e of edges) {
    at = ends(e).find((v) => v !== at)!;
    if (!out.includes(at)) out.push(at);
  }
  return out.includes(seed) ? out : [];
}
