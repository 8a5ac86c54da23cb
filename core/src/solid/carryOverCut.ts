/** Carries layers over a cut and marks the rims and bridges it made. */
import type { PolyMesh, LayerSet } from '../mesh/PolyMesh';
import { makeMesh } from '../mesh/PolyMesh';
import {
  blendLayers,
  concatLayers,
  copyLayers,
  hasLayers,
  makeBlend,
  scatterLayers,
  type Blend,
} from '../mesh/layers';
import { edgeBetween, nextCorner, topologyOf } from '../mesh/Topology';
import { surfaceNormals } from '../shading/surfaceNormals';
import { locateInFace } from '../planar/locateInFace';
import type { Groups, Loop, Operand } from './rebuild';

export interface Draft {
  /** Polygons of faces that were cut. */
  loops: Loop[];
  /** Loop per face, −1 for a face that came through as it was. */
  loopOfFace: Int32Array;
  /** Operand and source face per face; faces come in order of operands. */
  operandOfFace: Uint32Array;
  sourceFace: Uint32Array;
  /** Kernel point per result vertex. */
  pointOf: Uint32Array;
  positions: Float64Array;
  faceStart: Uint32Array;
  corners: Uint32Array;
  operands: ReadonlyArray<Operand>;
  groups: Groups;
}

export function carryOverCut(d: Draft): { mesh: PolyMesh; rimEdges: number } {
  const ranges = operandRanges(d);
  const corner = concatLayers(
    d.operands.map((_, o) => cornerLayers(d, o, ranges[o])),
    ranges.map((r) => d.faceStart[r.end] - d.faceStart[r.start]),
  );
  const face = concatLayers(
    d.operands.map(({ solid, code }, o) => faceLayers(d, solid.mesh, code, ranges[o])),
    ranges.map((r) => r.end - r.start),
  );
  const vertex = vertexLayers(d);
  const bare = makeMesh(d.positions, d.faceStart, d.corners);
  const { edge, rimEdges } = edgeLayers(d, bare);
  const mesh = makeMesh(d.positions, d.faceStart, d.corners, { vertex, edge, corner, face });
  return { mesh, rimEdges };
}

interface Range {
  start: number;
  end: number;
}

function operandRanges(d: Draft): Range[] {
  let at = 0;
  return d.operands.map((_, o) => {
    const start = at;
    while (at < d.operandOfFace.length && d.operandOfFace[at] === o) at++;
    return { start, end: at };
  });
}

function cornerLayers(d: Draft, o: number, range: Range): LayerSet {
  const { mesh } = d.operands[o].solid;
  const flipped = d.groups.flipped[o];
  const first = d.faceStart[range.start];
  const n = d.faceStart[range.end] - first;
  const source = new Int32Array(n);
  const cut: number[] = [];
  for (let i = range.start; i < range.end; i++) {
    let at = d.faceStart[i] - first;
    const end = d.faceStart[i + 1] - first;
    if (isCut(d, i)) {
      cut.push(i);
      source.fill(-1, at, end);
      continue;
    }
    const s = mesh.faceStart[d.sourceFace[i]];
    for (let k = flipped ? s + end - at - 1 : s; at < end; at++) source[at] = flipped ? k-- : k++;
  }
  const out: Record<string, LayerSet[string]> = { ...copyLayers(mesh.layers.corner, source) };
  const kept = (out.surface?.data as Float32Array) ?? new Float32Array(3 * n);
  out.surface = { size: 3, data: kept };
  const surface = surfaceNormals(mesh, verticesOf(mesh, cut, d, o));
  const set: LayerSet = { ...mesh.layers.corner, surface: { size: 3, data: surface } };
  // Whole faces beside a cut one keep the surface's normal at the points they share with it.
  for (let c = 0; c < n; c++) {
    const s = 3 * source[c];
    if (s < 0 || (surface[s] === 0 && surface[s + 1] === 0 && surface[s + 2] === 0)) continue;
    kept[3 * c] = surface[s];
    kept[3 * c + 1] = surface[s + 1];
    kept[3 * c + 2] = surface[s + 2];
  }
  const places = cut.flatMap((i) =>
    Array.from({ length: d.faceStart[i + 1] - d.faceStart[i] }, (_, k) => d.faceStart[i] - first + k),
  );
  const blend = makeBlend(places.length);
  let slot = 0;
  for (const i of cut) slot = blendCut(d, i, mesh, o, blend, slot);
  scatterLayers(out, blendLayers(set, blend), places);
  if (flipped)
    for (const name of ['normal', 'surface'])
      if (out[name]) for (let k = 0; k < out[name].data.length; k++) out[name].data[k] *= -1;
  return out;
}

/** Vertices of the operand's faces that were cut. */
function verticesOf(mesh: PolyMesh, cut: ReadonlyArray<number>, d: Draft, o: number): number[] {
  const seen = new Set<number>();
  const faces = new Set<number>();
  for (const i of cut)
    for (const f of regionFaces(d, d.sourceFace[i], o)) {
      if (faces.has(f)) continue;
      faces.add(f);
      for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) seen.add(mesh.corners[c]);
    }
  return [...seen];
}

/** Where the corners of a cut face lie in the face it came from, from slot `at` on; gives the slot after. */
function blendCut(d: Draft, i: number, mesh: PolyMesh, o: number, blend: Blend, at: number): number {
  const loop = d.loops[d.loopOfFace[i]];
  const faces = regionFaces(d, loop.face, o);
  loop.points.forEach((point, k) => {
    const slot = 3 * (at + k);
    const own = d.groups.sourceOperand[point] === o ? d.groups.sourceVertex[point] : -1;
    if (own >= 0)
      for (const f of faces)
        for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++)
          if (mesh.corners[c] === own) {
            blend.index[slot] = c;
            blend.weight[slot] = 1;
            return;
          }
    const v = 3 * d.corners[d.faceStart[i] + k];
    locateInFace(mesh, faces, [d.positions[v], d.positions[v + 1], d.positions[v + 2]], blend, at + k);
  });
  return at + loop.points.length;
}

const regionLists = new WeakMap<PolyMesh, Map<number, number[]>>();

const isCut = (d: Draft, f: number): boolean => d.loopOfFace[f] >= 0 && d.loops[d.loopOfFace[f]].touched;

/** All faces of the operand in the same region as one of them. */
function regionFaces(d: Draft, face: number, o: number): number[] {
  const { mesh, region, bridged } = d.operands[o].solid;
  if (!bridged) return [face];
  let lists = regionLists.get(mesh);
  if (!lists) {
    lists = new Map();
    for (let f = 0; f < region.length; f++) {
      const list = lists.get(region[f]);
      if (list) list.push(f);
      else lists.set(region[f], [f]);
    }
    regionLists.set(mesh, lists);
  }
  return lists.get(region[face])!;
}

function faceLayers(d: Draft, mesh: PolyMesh, code: number, range: Range): LayerSet {
  const source = Int32Array.from(d.sourceFace.subarray(range.start, range.end));
  const copied = copyLayers(mesh.layers.face, source);
  if (copied.origin && code === 0) return copied;
  const origin = new Int32Array(2 * source.length);
  source.forEach((f, i) => {
    origin[2 * i] = code;
    origin[2 * i + 1] = f;
  });
  return { ...copied, origin: { size: 2, data: origin } };
}

function vertexLayers(d: Draft): LayerSet {
  if (!d.operands.some(({ solid }) => hasLayers(solid.mesh.layers.vertex))) return {};
  const sets = d.operands.map(({ solid }, o) =>
    copyLayers(
      solid.mesh.layers.vertex,
      Int32Array.from(d.pointOf, (p: number) =>
        d.groups.sourceOperand[p] === o ? d.groups.sourceVertex[p] : -1,
      ),
    ),
  );
  // Each result vertex has one owner: adding the sets puts every owner's values in place.
  const out: Record<string, LayerSet[string]> = {};
  for (const set of sets)
    for (const name in set) {
      if (!out[name]) out[name] = { size: set[name].size, data: set[name].data.slice() };
      else for (let i = 0; i < set[name].data.length; i++) out[name].data[i] += set[name].data[i];
    }
  return out;
}

function edgeLayers(d: Draft, bare: PolyMesh): { edge: LayerSet; rimEdges: number } {
  const t = topologyOf(bare);
  const cutMark = new Int32Array(t.edgeCount);
  const bridge = new Uint8Array(t.edgeCount);
  const marked = d.operands.map(({ solid }) => hasLayers(solid.mesh.layers.edge));
  const sources = d.operands.map((_, o) => (marked[o] ? new Int32Array(t.edgeCount).fill(-1) : null));
  let rimEdges = 0;
  for (let e = 0; e < t.edgeCount; e++) {
    const c = t.cornerOfEdge[e];
    const tw = t.twin[c];
    if (tw < 0) continue;
    const a = t.faceOfCorner[c];
    const b = t.faceOfCorner[tw];
    const o = d.operandOfFace[a];
    const p = d.operandOfFace[b];
    if (o !== p) {
      cutMark[e] = d.operands[Math.max(o, p)].code;
      rimEdges++;
      continue;
    }
    const { region } = d.operands[o].solid;
    if (isCut(d, a) && region[d.sourceFace[a]] === region[d.sourceFace[b]]) bridge[e] = 1;
    else if (sources[o]) sources[o]![e] = sourceEdge(d, bare, a, b, c);
  }
  const edge: Record<string, LayerSet[string]> = {};
  d.operands.forEach(({ solid }, o) => {
    if (!sources[o]) return;
    const copied = copyLayers(solid.mesh.layers.edge, sources[o]!);
    for (const name in copied) {
      if (!edge[name]) edge[name] = copied[name];
      else for (let i = 0; i < copied[name].data.length; i++) edge[name].data[i] += copied[name].data[i];
    }
  });
  const mergeInto = (name: string, data: Int32Array | Uint8Array): void => {
    const before = edge[name]?.data;
    if (before) for (let i = 0; i < data.length; i++) data[i] = data[i] || before[i];
    edge[name] = { size: 1, data };
  };
  mergeInto('cut', cutMark);
  mergeInto('bridge', bridge);
  return { edge, rimEdges };
}

/** The operand's edge that a result edge between two of its faces runs along. */
function sourceEdge(d: Draft, bare: PolyMesh, a: number, b: number, c: number): number {
  const o = d.operandOfFace[a];
  const { mesh } = d.operands[o].solid;
  const { sourceOperand, sourceVertex } = d.groups;
  const t = topologyOf(bare);
  const p = d.pointOf[bare.corners[c]];
  const q = d.pointOf[bare.corners[nextCorner(bare, t, c)]];
  if (sourceOperand[p] === o && sourceOperand[q] === o) {
    const e = edgeBetween(mesh, topologyOf(mesh), sourceVertex[p], sourceVertex[q]);
    if (e >= 0) return e;
  }
  return edgeAlong(d, mesh, o, a, b, bare.corners[c], bare.corners[nextCorner(bare, t, c)]);
}

function edgeAlong(
  d: Draft,
  mesh: PolyMesh,
  o: number,
  a: number,
  b: number,
  va: number,
  vb: number,
): number {
  const t = topologyOf(mesh);
  const { region } = d.operands[o].solid;
  const mid = [0, 1, 2].map((k) => (d.positions[3 * va + k] + d.positions[3 * vb + k]) / 2);
  let best = -1;
  let nearest = Infinity;
  for (const f of regionFaces(d, d.sourceFace[a], o))
    for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) {
      if (t.twin[c] < 0 || region[t.faceOfCorner[t.twin[c]]] !== region[d.sourceFace[b]]) continue;
      const dist = distanceToSegment(
        mesh.positions,
        mesh.corners[c],
        mesh.corners[nextCorner(mesh, t, c)],
        mid,
      );
      if (dist < nearest) [best, nearest] = [t.edgeOfCorner[c], dist];
    }
  return best;
}

function distanceToSegment(p: Float64Array, a: number, b: number, q: number[]): number {
  let dd = 0;
  let dq = 0;
  for (let k = 0; k < 3; k++) {
    const d = p[3 * b + k] - p[3 * a + k];
    dd += d * d;
    dq += d * (q[k] - p[3 * a + k]);
  }
  const s = Math.min(1, Math.max(0, dd > 0 ? dq / dd : 0));
  let out = 0;
  for (let k = 0; k < 3; k++) {
    const r = q[k] - p[3 * a + k] - s * (p[3 * b + k] - p[3 * a + k]);
    out += r * r;
  }
  return Math.sqrt(out);
}
