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

export interface CarryOn {
  /** Elements left out between one repetition and the next; by default as between the first two picked. */
  gap?: number;
  /** How many repetitions; 0 goes to the end, or all the way round. */
  count?: number;
  /** Elements left out before the first repetition, beside the gap. */
  start?: number;
  /** The other way along the run. */
  back?: boolean;
  /** Along the run that crosses, where the picked elements lie on several. */
  across?: boolean;
}

/**
 * The picked pattern carried on along the ring, loop or strip all of it lies on.
 * @throws OperationError `nothing-picked`, `no-run`
 */
export function repeatAlong(mesh: PolyMesh, s: Selection, o: CarryOn = {}): Selection {
  if (s.indices.length < 1)
    throw new OperationError(
      'nothing-picked',
      'Nothing is picked to carry on from.',
      undefined,
      'Pick an element first.',
    );
  const { elements, closed } = runThrough(mesh, s, o);
  const n = elements.length;
  const place = new Map(elements.map((e, k) => [e, k]));
  const places = s.indices.map((i) => place.get(i)!).sort((a, b) => a - b);
  const stride = o.gap !== undefined ? o.gap + 1 : places.length > 1 ? places[1] - places[0] : 1;
  const pattern = shortestPattern(
    places.map((p) => p - places[0]),
    stride,
  );
  const period = pattern[pattern.length - 1] + stride;
  /** The way from each element of the pattern to the next. */
  const steps = pattern.map((p, k) => (k + 1 < pattern.length ? pattern[k + 1] : period) - p);
  const out = new Set(s.indices);
  // The picks are the first repetition.
  const picked = (places[places.length - 1] - places[0] + stride) / period;
  const count = o.count ? picked * (o.count + 1) - 1 : Infinity;
  for (let k = picked; k <= count; k++) {
    const from = places[0] + (o.start ?? 0) + k * period;
    // So many times is taken at its word, but not for ever round and round.
    if (closed && count < Infinity ? k * period > 2 * n : from - places[0] >= n) break;
    pattern.forEach((p, i) => {
      // All the way round, the last one keeps its distance from the first.
      const fits = closed ? count < Infinity || from + p - places[0] + steps[i] <= n : from + p < n;
      if (fits) out.add(elements[(from + p) % n]);
    });
  }
  return selectionOf(s.kind, out);
}

/** The shortest pattern that gives this one when it is repeated at a stride. */
function shortestPattern(pattern: number[], stride: number): number[] {
  const period = pattern[pattern.length - 1] + stride;
  const on = new Set(pattern);
  for (let n = 1; n < pattern.length; n++) {
    const short = pattern[n];
    if (period % short || pattern.length !== (period / short) * n) continue;
    if (pattern.every((p) => p + short >= period || on.has(p + short))) return pattern.slice(0, n);
  }
  return pattern;
}

interface Run {
  elements: number[];
  closed: boolean;
}

/** The run all picked elements lie on, in order; a closed one begins where the picked ones begin. */
function runThrough(mesh: PolyMesh, s: Selection, { back, across }: CarryOn): Run {
  const t = topologyOf(mesh);
  const seed = s.indices[0];
  const runs: Run[] = [];
  if (s.kind === 'edge')
    for (const { edges, closed } of [edgeLoop(mesh, seed), edgeRing(mesh, seed)])
      runs.push({ elements: edges, closed });
  else if (s.kind === 'face')
    for (let c = mesh.faceStart[seed]; c < mesh.faceStart[seed + 1]; c++)
      runs.push(orderedStrip(mesh, t.edgeOfCorner[c], seed));
  else
    for (let i = t.vertexStart[seed]; i < t.vertexStart[seed + 1]; i++)
      runs.push(orderedPoints(mesh, t.edgeOfCorner[t.vertexCorners[i]], seed));
  const fitting = runs.filter((r, k) => {
    const on = new Set(r.elements);
    const known = runs.findIndex((q) => q.elements.length === on.size && q.elements.every((e) => on.has(e)));
    return known === k && s.indices.every((i) => on.has(i));
  });
  if (!fitting.length)
    throw new OperationError(
      'no-run',
      'The picked elements do not lie on one ring, loop or strip.',
      { domain: s.kind, indices: [...s.indices] },
      'Pick elements along one run.',
    );
  // Where one element lies on several runs, around comes before along.
  fitting.sort(
    (a, b) =>
      spread(a, s.indices) - spread(b, s.indices) ||
      (s.kind === 'edge' ? 0 : Number(b.closed) - Number(a.closed)),
  );
  const run = fitting[across ? Math.min(1, fitting.length - 1) : 0];
  const elements = back ? [...run.elements].reverse() : run.elements;
  if (!run.closed) return { ...run, elements };
  const from = beginning(elements, s.indices);
  return { ...run, elements: [...elements.slice(from), ...elements.slice(0, from)] };
}

/** On a closed run: the picked place after the widest gap. */
function beginning(elements: number[], picked: ReadonlyArray<number>): number {
  const on = new Set(picked);
  const places = [...elements.keys()].filter((k) => on.has(elements[k]));
  let [best, widest] = [places[0], -1];
  places.forEach((p, i) => {
    const before = i ? places[i - 1] : places[places.length - 1] - elements.length;
    if (p - before > widest) [best, widest] = [p, p - before];
  });
  return best;
}

/** How far apart along a run the picked elements lie. */
function spread({ elements, closed }: Run, picked: ReadonlyArray<number>): number {
  const turned = closed ? beginning(elements, picked) : 0;
  const places = picked.map((i) => (elements.indexOf(i) - turned + elements.length) % elements.length);
  return Math.max(...places) - Math.min(...places);
}

function orderedStrip(mesh: PolyMesh, edge: number, seed: number): Run {
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
  return { elements: out.includes(seed) ? [...new Set(out)] : [], closed };
}

function orderedPoints(mesh: PolyMesh, edge: number, seed: number): Run {
  const t = topologyOf(mesh);
  const { edges, closed } = edgeLoop(mesh, edge);
  if (edges.length < 2) return { elements: [t.edges[2 * edge], t.edges[2 * edge + 1]], closed: false };
  const ends = (e: number): number[] => [t.edges[2 * e], t.edges[2 * e + 1]];
  let at = ends(edges[0]).find((v) => !ends(edges[1]).includes(v))!;
  const out = [at];
  for (const e of edges) {
    at = ends(e).find((v) => v !== at)!;
    if (!out.includes(at)) out.push(at);
  }
  return { elements: out.includes(seed) ? out : [], closed };
}
