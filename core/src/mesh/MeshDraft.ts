/**
 * A change in the making: faces of a mesh that go, faces and points that come. `finish` puts what stayed and
 * what came together in one linear copy, faces that stayed first and in their order, and carries every layer on
 * by the shared rules: copied where an element stayed, mixed where a new one stands between old ones.
 */
import { DIRECTIONS } from './layerKinds';
import { writeJoined, writeMade } from './lineage';
import type { Made } from './made';
import { faceCount, makeMesh, vertexCount, type LayerSet, type PolyMesh } from './PolyMesh';
import { copyLayers, hasLayers, writeElement, type Layer, type Mix } from './layers';
import { edgeBetween, topologyOf } from './Topology';
import { isRigid, turnHeld } from './turnHeld';
import type { Vec3 } from './vec3';

/** The source of a new corner's or point's layers: an old element, a mixture of some, or none (−1). */
export type Source = number | Mix;

export interface NewFace {
  /** Points in order: old ones by their index, new ones by what `addPoint` gave. */
  loop: ReadonlyArray<number>;
  /** The old face whose layers it takes; −1 for none. */
  face: number;
  /** Source per corner; by default the corner of `face` at the same point, or nothing. */
  corners?: ReadonlyArray<Source>;
  /**
   * Old edge whose marks the side leaving each corner takes, −1 for none. By default the old edge between its two
   * ends, if there was one.
   */
  edges?: ReadonlyArray<number>;
  /** The face lies in the surface of its source face, so held normals stay true on it. */
  inPlace?: boolean;
  /** Its role, when it is not its source face any more but was made beside it. */
  made?: Made;
  /** Further old faces it stands for. */
  also?: ReadonlyArray<number>;
}

export interface DraftResult {
  mesh: PolyMesh;
  /** New index per old vertex and per old face, −1 where it is gone. */
  vertexOf: Int32Array;
  faceOf: Int32Array;
  /** Old face each face stands for, −1 for none. */
  sourceFace: Int32Array;
  /** Index of the first face that came; the others follow in the order they were added. */
  firstNewFace: number;
  /** Index in the result of a point, old or added. */
  point(p: number): number;
}

export class MeshDraft {
  private readonly gone: Uint8Array;
  private readonly added: NewFace[] = [];
  private readonly newPositions: number[] = [];
  private readonly newSources: Source[] = [];
  private positions: Float64Array | null = null;
  private readonly met: Array<[number, number]> = [];
  private readonly stale: Set<number> = new Set();
  readonly vertexCount: number;

  constructor(readonly mesh: PolyMesh) {
    this.gone = new Uint8Array(faceCount(mesh));
    this.vertexCount = vertexCount(mesh);
  }

  /** Adds a point; its layers come from an old vertex or a mixture of some. */
  addPoint(at: Vec3, from: Source): number {
    this.newPositions.push(...at);
    this.newSources.push(from);
    return this.vertexCount + this.newSources.length - 1;
  }

  /** Moves an old point. Held normals of the faces around it turn with them. */
  movePoint(v: number, to: Vec3): void {
    this.positions ??= this.mesh.positions.slice();
    this.positions.set(to, 3 * v);
    this.stale.add(v);
  }

  /** The position of a point, old or added. */
  at(p: number): Vec3 {
    if (p >= this.vertexCount) {
      const i = 3 * (p - this.vertexCount);
      return [this.newPositions[i], this.newPositions[i + 1], this.newPositions[i + 2]];
    }
    const from = this.positions ?? this.mesh.positions;
    return [from[3 * p], from[3 * p + 1], from[3 * p + 2]];
  }

  dropFace(f: number): void {
    this.gone[f] = 1;
  }

  isGone(f: number): boolean {
    return this.gone[f] === 1;
  }

  addFace(face: NewFace): void {
    this.added.push(face);
  }

  /** Says that two old edges are one now, as when the face between them has closed up. */
  joinEdges(a: number, b: number): void {
    this.met.push([a, b]);
  }

  /** The result; the draft must not be used after. Points no face uses are left out. */
  finish(): DraftResult {
    const { mesh, gone, added } = this;
    const F = faceCount(mesh);
    const faceOf = new Int32Array(F).fill(-1);
    let kept = 0;
    let cornersKept = 0;
    for (let f = 0; f < F; f++) {
      if (gone[f]) continue;
      faceOf[f] = kept++;
      cornersKept += mesh.faceStart[f + 1] - mesh.faceStart[f];
    }
    const total = added.reduce((n, f) => n + f.loop.length, cornersKept);
    const faceStart = new Uint32Array(kept + added.length + 1);
    const corners = new Uint32Array(total);
    const cornerSource = new Int32Array(total).fill(-1);
    const faceSource = new Int32Array(kept + added.length);
    let at = 0;
    for (let f = 0; f < F; f++) {
      if (gone[f]) continue;
      const i = faceOf[f];
      faceSource[i] = f;
      for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) {
        cornerSource[at] = c;
        corners[at++] = mesh.corners[c];
      }
      faceStart[i + 1] = at;
    }
    added.forEach((f, i) => {
      faceSource[kept + i] = f.face;
      for (const p of f.loop) corners[at++] = p;
      faceStart[kept + i + 1] = at;
    });
    const points = this.compact(corners);
    const result = makeMesh(points.positions, faceStart, corners, {
      vertex: this.vertexLayers(points.source),
      face: this.faceLayers(faceSource, kept),
      corner: this.cornerLayers(corners.length, cornerSource, cornersKept, points.source, corners),
    });
    const edge = this.edgeLayers(result, cornerSource, cornersKept, points.source);
    const { index } = points;
    return {
      mesh: hasLayers(mesh.layers.edge) ? { ...result, layers: { ...result.layers, edge } } : result,
      vertexOf: index.slice(0, this.vertexCount),
      faceOf,
      sourceFace: faceSource,
      firstNewFace: kept,
      point: (p) => index[p],
    };
  }

  /** Numbers the points that are used, in order, and rewrites the corners. */
  private compact(corners: Uint32Array): { positions: Float64Array; source: Uint32Array; index: Int32Array } {
    const total = this.vertexCount + this.newSources.length;
    const index = new Int32Array(total).fill(-1);
    for (let c = 0; c < corners.length; c++) index[corners[c]] = 0;
    const source = new Uint32Array(total);
    let V = 0;
    for (let p = 0; p < total; p++)
      if (index[p] === 0) {
        source[V] = p;
        index[p] = V++;
      }
    for (let c = 0; c < corners.length; c++) corners[c] = index[corners[c]];
    const positions = new Float64Array(3 * V);
    const old = this.positions ?? this.mesh.positions;
    for (let v = 0; v < V; v++) {
      const p = source[v];
      const from = p < this.vertexCount ? old : this.newPositions;
      const i = 3 * (p < this.vertexCount ? p : p - this.vertexCount);
      positions[3 * v] = from[i];
      positions[3 * v + 1] = from[i + 1];
      positions[3 * v + 2] = from[i + 2];
    }
    return { positions, source: source.slice(0, V), index };
  }

  private faceLayers(source: Int32Array, firstNew: number): LayerSet {
    const { face } = this.mesh.layers;
    const out = copyLayers(face, source);
    this.added.forEach(({ face: from, made, also }, i) => {
      if (also) writeJoined(out, firstNew + i, face, [from, ...also]);
      if (made) writeMade(out, firstNew + i, this.mesh.layers, made);
    });
    return out;
  }

  private vertexLayers(source: Uint32Array): LayerSet {
    const { vertex } = this.mesh.layers;
    if (!hasLayers(vertex)) return vertex;
    const V = this.vertexCount;
    const old = new Int32Array(source.length);
    for (let v = 0; v < old.length; v++) old[v] = source[v] < V ? source[v] : -1;
    const out = copyLayers(vertex, old);
    // Points that came have higher numbers than those that were there.
    for (let v = old.length - 1; v >= 0 && old[v] < 0; v--)
      writeElement(out, v, vertex, this.newSources[source[v] - V]);
    return out;
  }

  private cornerLayers(
    n: number,
    cornerSource: Int32Array,
    firstNew: number,
    pointSource: Uint32Array,
    corners: Uint32Array,
  ): LayerSet {
    const { corner } = this.mesh.layers;
    if (!hasLayers(corner)) return corner;
    const out = copyLayers(corner, cornerSource);
    let at = firstNew;
    for (const f of this.added)
      f.loop.forEach((p, k) => {
        const from = f.corners ? f.corners[k] : this.cornerAt(f.face, p);
        writeElement(out, at++, corner, from, f.inPlace ? undefined : DIRECTIONS);
      });
    if (this.stale.size) this.dropHeld(out, n, corners, pointSource);
    return out;
  }

  /**
   * Held normals of a face that has a moved point turn with it, as those of its surface do where it keeps its shape; what
   * else is told of it is true no more.
   */
  private dropHeld(out: LayerSet, n: number, corners: Uint32Array, pointSource: Uint32Array): void {
    const held = DIRECTIONS.filter((name) => out[name]);
    if (!held.length) return;
    const { mesh, stale } = this;
    const t = topologyOf(mesh);
    const faces = new Set<number>();
    for (const v of stale)
      for (let i = t.vertexStart[v]; i < t.vertexStart[v + 1]; i++)
        faces.add(t.faceOfCorner[t.vertexCorners[i]]);
    let at = 0;
    for (let f = 0; f < faceCount(mesh); f++) {
      if (this.gone[f]) continue;
      const size = mesh.faceStart[f + 1] - mesh.faceStart[f];
      if (faces.has(f)) {
        const loop = mesh.corners.subarray(mesh.faceStart[f], mesh.faceStart[f + 1]);
        turnOrClear(out, held, at, loop, mesh.positions, this.positions ?? mesh.positions);
      }
      at += size;
    }
    for (; at < n; at++)
      if (stale.has(pointSource[corners[at]])) for (const name of held) clear(out[name], at, at + 1);
  }

  private cornerAt(face: number, p: number): number {
    if (face < 0 || p >= this.vertexCount) return -1;
    const { faceStart, corners } = this.mesh;
    for (let c = faceStart[face]; c < faceStart[face + 1]; c++) if (corners[c] === p) return c;
    return -1;
  }

  private edgeLayers(
    result: PolyMesh,
    cornerSource: Int32Array,
    firstNew: number,
    pointSource: Uint32Array,
  ): LayerSet {
    const { mesh } = this;
    if (!hasLayers(mesh.layers.edge)) return mesh.layers.edge;
    const before = topologyOf(mesh);
    const t = topologyOf(result);
    const source = new Int32Array(t.edgeCount).fill(-1);
    const [now, was] = [t.edgeOfCorner, before.edgeOfCorner];
    for (let c = 0; c < firstNew; c++) source[now[c]] = was[cornerSource[c]];
    let c = firstNew;
    /** Edges that several became one in. */
    const became = new Map<number, number[]>();
    for (const f of this.added) {
      const n = f.loop.length;
      for (let k = 0; k < n; k++, c++) {
        const e = t.edgeOfCorner[c];
        const [a, b] = [pointSource[t.edges[2 * e]], pointSource[t.edges[2 * e + 1]]];
        const own = f.edges
          ? f.edges[k]
          : a < this.vertexCount && b < this.vertexCount
            ? edgeBetween(mesh, before, a, b)
            : -1;
        if (source[e] < 0) source[e] = own;
        else if (own >= 0 && own !== source[e]) became.set(e, [...(became.get(e) ?? [source[e]]), own]);
      }
    }
    this.joinMet(source, became);
    const out = copyLayers(mesh.layers.edge, source);
    for (const [e, old] of became) writeJoined(out, e, mesh.layers.edge, old);
    return out;
  }

  /** Adds to what edges came from those that met them. */
  private joinMet(source: Int32Array, became: Map<number, number[]>): void {
    if (!this.met.length) return;
    const groups = groupsOf(this.met);
    source.forEach((s, e) => {
      const old = (became.get(e) ?? [s]).flatMap((x) => groups.get(x) ?? [x]);
      if (old.length > 1) became.set(e, old);
    });
  }
}

/** Groups that share a member are one. */
function groupsOf(pairs: ReadonlyArray<readonly [number, number]>): Map<number, number[]> {
  const group = new Map<number, number[]>();
  for (const [a, b] of pairs) {
    const [x, y] = [group.get(a) ?? [a], group.get(b) ?? [b]];
    const both = x === y ? x : [...x, ...y];
    for (const e of both) group.set(e, both);
  }
  return group;
}

function clear(layer: Layer, from: number, to: number): void {
  layer.data.fill(0, from * layer.size, to * layer.size);
}

function turnOrClear(
  out: LayerSet,
  held: ReadonlyArray<string>,
  at: number,
  loop: ArrayLike<number>,
  before: Float64Array,
  after: Float64Array,
): void {
  for (const name of held) {
    const turns = name === 'normal' || (name === 'surface' && isRigid(loop, before, after));
    if (!turns || !turnHeld(out[name].data, at, loop, before, after)) clear(out[name], at, at + loop.length);
  }
}

/** The mesh with moved points: same faces, held normals turned with those that moved. */
export function withPoints(mesh: PolyMesh, positions: Float64Array): PolyMesh {
  const held = DIRECTIONS.filter((name) => mesh.layers.corner[name]);
  if (!held.length) return { ...mesh, positions };
  const moved = new Uint8Array(vertexCount(mesh));
  for (let i = 0; i < positions.length; i++) if (positions[i] !== mesh.positions[i]) moved[(i / 3) | 0] = 1;
  const corner: Record<string, Layer> = { ...mesh.layers.corner };
  for (const name of held) corner[name] = { size: corner[name].size, data: corner[name].data.slice() };
  for (let f = 0; f < faceCount(mesh); f++) {
    const [s, e] = [mesh.faceStart[f], mesh.faceStart[f + 1]];
    let touched = false;
    for (let c = s; c < e; c++) touched ||= moved[mesh.corners[c]] === 1;
    if (touched) turnOrClear(corner, held, s, mesh.corners.subarray(s, e), mesh.positions, positions);
  }
  return { ...mesh, positions, layers: { ...mesh.layers, corner } };
}

/** A mixture of two elements: `s` of the second. */
export const between = (a: number, b: number, s: number): Mix => ({ of: [a, b], by: [1 - s, s] });
