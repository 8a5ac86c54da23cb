/** Carries layers over a cut and marks the rims and bridges it made. */
import { DIRECTIONS } from '../mesh/layerKinds';
import { type PolyMesh, type LayerSet, makeMesh } from '../mesh/PolyMesh';
import {
  blendLayers,
  concatLayers,
  copyLayers,
  hasLayers,
  makeBlend,
  scatterLayers,
  type Blend,
  type LayerArray,
} from '../mesh/layers';
import { edgeBetween, nextCorner, topologyOf } from '../mesh/Topology';
import { singularCorners } from '../shading/singularCorners';
import { surfaceNormals } from '../shading/surfaceNormals';
import { extendFace, locateInFace } from '../planar/locateInFace';
import type { Groups, Operand } from './Groups';
import { edgeUnder, markedSides, middle } from './edgeUnder';
import type { Loop } from './outlines';
import { facesOfRegion } from './Solid';

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
  /** Points nearer than this are in the same place. */
  reach: number;
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
  const places: number[] = [];
  for (const i of cut) for (let c = d.faceStart[i]; c < d.faceStart[i + 1]; c++) places.push(c - first);
  const blend = makeBlend(places.length);
  let slot = 0;
  for (const i of cut) slot = blendCut(d, i, mesh, o, blend, slot);
  const mixed = blendLayers(set, blend);
  withoutSingular(mesh, blend, surface, mixed.surface.data);
  scatterLayers(out, mixed, places);
  extendUvs(d, mesh, cut, out, first);
  if (flipped)
    for (const name of DIRECTIONS)
      if (out[name]) for (let k = 0; k < out[name].data.length; k++) out[name].data[k] *= -1;
  return out;
}

/** Near a point where the surface has no one normal, what lies between takes it from the other corners alone. */
function withoutSingular(
  mesh: PolyMesh,
  { index, weight }: Blend,
  surface: Float32Array,
  out: LayerArray,
): void {
  const singular = singularCorners(mesh);
  if (!singular) return;
  for (let i = 0; i < index.length; i += 3) {
    if (![0, 1, 2].some((k) => index[i + k] >= 0 && singular[index[i + k]])) continue;
    const sum = [0, 0, 0];
    for (let k = i; k < i + 3 && index[k] >= 0; k++)
      if (!singular[index[k]]) for (let a = 0; a < 3; a++) sum[a] += weight[k] * surface[3 * index[k] + a];
    const l = Math.hypot(sum[0], sum[1], sum[2]);
    if (l > 1e-9) for (let a = 0; a < 3; a++) out[i + a] = sum[a] / l;
  }
}

/** Where faces joined, the UVs of the face they joined go on over the others. */
function extendUvs(d: Draft, mesh: PolyMesh, cut: ReadonlyArray<number>, out: LayerSet, first: number): void {
  const { uv } = mesh.layers.corner;
  if (!uv) return;
  for (const i of cut) {
    const loop = d.loops[d.loopOfFace[i]];
    if (!loop.sides) continue;
    const blend = makeBlend(loop.points.length);
    const places = loop.points.map((_, k) => {
      const v = 3 * d.corners[d.faceStart[i] + k];
      extendFace(mesh, loop.face, [d.positions[v], d.positions[v + 1], d.positions[v + 2]], blend, k);
      return d.faceStart[i] - first + k;
    });
    scatterLayers(out, blendLayers({ uv }, blend), places);
  }
}

/** Vertices of the operand's faces that were cut. */
function verticesOf(mesh: PolyMesh, cut: ReadonlyArray<number>, d: Draft, o: number): number[] {
  const seen = new Set<number>();
  const faces = new Set<number>();
  for (const i of cut)
    for (const f of facesOfRegion(d.operands[o].solid, d.operands[o].solid.region[d.sourceFace[i]])) {
      if (faces.has(f)) continue;
      faces.add(f);
      for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) seen.add(mesh.corners[c]);
    }
  return [...seen];
}

/** Writes the place of a cut face's corners in its source face, from slot `at` on; returns the slot after. */
function blendCut(d: Draft, i: number, mesh: PolyMesh, o: number, blend: Blend, at: number): number {
  const loop = d.loops[d.loopOfFace[i]];
  const faces = facesOfRegion(d.operands[o].solid, d.operands[o].solid.region[loop.face]);
  const cornerOf = new Map<number, number>();
  for (const f of [...faces].reverse())
    for (let c = mesh.faceStart[f + 1] - 1; c >= mesh.faceStart[f]; c--) cornerOf.set(mesh.corners[c], c);
  loop.points.forEach((point, k) => {
    const slot = 3 * (at + k);
    const own = d.groups.sourceOperand[point] === o ? d.groups.sourceVertex[point] : -1;
    const corner = own < 0 ? undefined : cornerOf.get(own);
    if (corner !== undefined) {
      blend.index[slot] = corner;
      blend.weight[slot] = 1;
      return;
    }
    const v = 3 * d.corners[d.faceStart[i] + k];
    locateInFace(mesh, faces, [d.positions[v], d.positions[v + 1], d.positions[v + 2]], blend, at + k);
  });
  return at + loop.points.length;
}

const isCut = (d: Draft, f: number): boolean => d.loopOfFace[f] >= 0 && d.loops[d.loopOfFace[f]].touched;

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
    if (isCut(d, a) && faceGroup(d, a) === faceGroup(d, b)) {
      bridge[e] = 1;
      continue;
    }
    const ga = sideGroup(d, a, c);
    const gb = sideGroup(d, b, tw);
    const o = d.groups.operandOf(ga);
    const p = d.groups.operandOf(gb);
    if (o !== p) {
      cutMark[e] = d.operands[Math.max(o, p)].code;
      rimEdges++;
      // A mark stays where an operand's edge became a rim.
      for (const [i, group] of [
        [o, ga],
        [p, gb],
      ]) {
        // prettier-ignore
        const source = sources[i] ? markedEdge(d, bare, i, group - d.groups.base[i], c) : -1;
        if (source < 0) continue;
        sources[i]![e] = source;
        break;
      }
    } else if (sources[o])
      sources[o]![e] = sourceEdge(d, bare, o, ga - d.groups.base[o], gb - d.groups.base[o], c);
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

/** The group a face of the result stands for, after joining. */
const faceGroup = (d: Draft, f: number): number =>
  d.loopOfFace[f] >= 0
    ? d.loops[d.loopOfFace[f]].group
    : d.groups.base[d.operandOfFace[f]] + d.operands[d.operandOfFace[f]].solid.region[d.sourceFace[f]];

/** The group of the operand that the face's side starting at corner c was cut from. */
function sideGroup(d: Draft, f: number, c: number): number {
  const side = d.loopOfFace[f] < 0 ? -1 : (d.loops[d.loopOfFace[f]].sides?.[c - d.faceStart[f]] ?? -1);
  return side >= 0 ? side : faceGroup(d, f);
}

/** The edge of operand o that a result edge between its regions a and b runs along. */
function sourceEdge(d: Draft, bare: PolyMesh, o: number, a: number, b: number, c: number): number {
  const { solid } = d.operands[o];
  const { sourceOperand, sourceVertex } = d.groups;
  const to = bare.corners[nextCorner(bare, topologyOf(bare), c)];
  const [p, q] = [d.pointOf[bare.corners[c]], d.pointOf[to]];
  const t = topologyOf(solid.mesh);
  if (sourceOperand[p] === o && sourceOperand[q] === o) {
    const e = edgeBetween(solid.mesh, t, sourceVertex[p], sourceVertex[q]);
    if (e >= 0) return e;
  }
  const at = middle(bare.positions, bare.corners[c], to);
  const parts = (k: number): boolean => t.twin[k] >= 0 && solid.region[t.faceOfCorner[t.twin[k]]] === b;
  return edgeUnder(solid, a, at, Infinity, parts);
}

/** The marked edge of operand o that a result edge beside its region runs along, −1 for none. */
function markedEdge(d: Draft, bare: PolyMesh, o: number, region: number, c: number): number {
  const marked = markedSides(d.operands[o].solid.mesh);
  if (!marked) return -1;
  const at = middle(bare.positions, bare.corners[c], bare.corners[nextCorner(bare, topologyOf(bare), c)]);
  return edgeUnder(d.operands[o].solid, region, at, d.reach, marked);
}
