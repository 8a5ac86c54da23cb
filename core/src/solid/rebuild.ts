/** Puts the kernel's triangles back together into the polygons they came from. See boolean.ts. */
import type { PolyMesh } from '../mesh/PolyMesh';
import { faceCount, makeMesh, vertexCount } from '../mesh/PolyMesh';
import { separateFans } from '../mesh/separateFans';
import { topologyOf } from '../mesh/Topology';
import { areaVectors } from '../mesh/measure';
import { frameFrom } from '../planar/frame';
import { divideRegion } from '../planar/divideRegion';
import type { Vec3 } from '../mesh/vec3';
import type { Mesh } from './kernel';
import type { CutResult } from './boolean';
import { trianglePrint, type Solid } from './Solid';
import { cleanLoops } from './cleanLoops';
import { carryOverCut, type Draft } from './carryOverCut';
import { singleRim, withoutFlaps } from './rims';
import { sharpenPoints } from './sharpenPoints';

export interface Operand {
  solid: Solid;
  /** Rim code of the cutter; 0 for the host. */
  code: number;
}

export function rebuild(out: Mesh, operands: ReadonlyArray<Operand>): CutResult {
  const groups = new Groups(out, operands);
  const positions = restorePositions(out, operands, groups);
  const traced = traceLoops(groups, operands, positions);
  const cleaned = cleanLoops(traced, groups, positions, operands);
  return assemble(cleaned, positions, operands, groups);
}

/** One polygon of the result before assembly. */
export interface Loop {
  group: number;
  operand: number;
  /** The face it stands for. */
  face: number;
  /** Kernel output vertices. */
  points: number[];
  touched: boolean;
}

/** Triangles of the result sorted by the region of the operand they came from. */
export class Groups {
  readonly triVerts: Uint32Array;
  readonly pointCount: number;
  /** Group numbers of operand i start at base[i]; a group is base + region. */
  readonly base: number[] = [];
  readonly flipped: boolean[];
  /** Group per triangle. */
  readonly groupOf: Uint32Array;
  readonly count: Int32Array;
  readonly touched: Uint8Array;
  /** Operand and vertex each output point is, −1 where it is new. */
  readonly sourceOperand: Int32Array;
  readonly sourceVertex: Int32Array;
  /** Output point per operand vertex. */
  readonly pointOfVertex: Int32Array[];

  constructor(
    readonly out: Mesh,
    readonly operands: ReadonlyArray<Operand>,
  ) {
    let total = 0;
    for (const o of operands) {
      this.base.push(total);
      total += faceCount(o.solid.mesh);
    }
    this.triVerts = out.triVerts;
    const T = this.triVerts.length / 3;
    this.pointCount = out.vertProperties.length / out.numProp;
    this.groupOf = new Uint32Array(T);
    this.count = new Int32Array(total);
    this.touched = new Uint8Array(total);
    this.sourceOperand = new Int32Array(this.pointCount).fill(-1);
    this.sourceVertex = new Int32Array(this.pointCount).fill(-1);
    this.pointOfVertex = operands.map((o) => new Int32Array(vertexCount(o.solid.mesh)).fill(-1));
    this.flipped = operands.map(() => false);
    this.readRuns();
  }

  private readRuns(): void {
    const { out, operands, triVerts } = this;
    const byId = new Map(operands.map((o, i) => [o.solid.id, i]));
    const print = new Uint32Array(this.count.length);
    // Which operand's vertex table a point was last looked up in, and what it found.
    const asked = new Int32Array(this.pointCount).fill(-1);
    const found = new Int32Array(this.pointCount);
    const p = out.vertProperties;
    const stride = out.numProp;
    const doubled = operands.map(() => new Set<number>());
    for (let run = 0; run < out.runOriginalID.length; run++) {
      const o = byId.get(out.runOriginalID[run])!;
      const { solid } = operands[o];
      const lookUp = (v: number): number => {
        if (asked[v] === o) return found[v];
        asked[v] = o;
        const s = solid.find(p[stride * v], p[stride * v + 1], p[stride * v + 2]);
        found[v] = s;
        if (s >= 0) {
          // Where surfaces lie in one another the kernel may keep two points at one vertex's position:
          // the faces there must be traced, for only their triangles tell which point is meant.
          const other = this.pointOfVertex[o][s];
          if (other < 0) this.pointOfVertex[o][s] = v;
          else if (other !== v) doubled[o].add(s);
          if (this.sourceOperand[v] < 0 || this.sourceOperand[v] > o) {
            this.sourceOperand[v] = o;
            this.sourceVertex[v] = s;
          }
        }
        return s;
      };
      if (out.runFlags?.[run] & 1) this.flipped[o] = true;
      for (let t = out.runIndex[run] / 3; t < out.runIndex[run + 1] / 3; t++) {
        const g = this.base[o] + out.faceID[t];
        this.groupOf[t] = g;
        this.count[g]++;
        const a = lookUp(triVerts[3 * t]);
        const b = lookUp(triVerts[3 * t + 1]);
        const c = lookUp(triVerts[3 * t + 2]);
        if (a < 0 || b < 0 || c < 0) this.touched[g] = 1;
        else print[g] += trianglePrint(a, b, c);
      }
    }
    operands.forEach(({ solid }, o) => {
      for (let r = 0; r < solid.region.length; r++) {
        const g = this.base[o] + r;
        if (
          this.count[g] &&
          (this.count[g] !== solid.regionTriangles[r] || print[g] !== solid.regionPrint[r])
        )
          this.touched[g] = 1;
      }
      for (const v of doubled[o]) this.touchAround(o, v);
    });
  }

  private touchAround(o: number, v: number): void {
    const { mesh, region, canonical } = this.operands[o].solid;
    for (let c = 0; c < mesh.corners.length; c++) {
      const w = mesh.corners[c];
      if ((canonical ? canonical[w] : w) !== v) continue;
      this.touched[this.base[o] + region[topologyOf(mesh).faceOfCorner[c]]] = 1;
    }
  }

  operandOf(group: number): number {
    let o = this.base.length - 1;
    while (this.base[o] > group) o--;
    return o;
  }
}

function restorePositions(out: Mesh, operands: ReadonlyArray<Operand>, g: Groups): Float64Array {
  const positions = new Float64Array(3 * g.pointCount);
  const fresh: number[] = [];
  const sources = operands.map((o) => o.solid.mesh.positions);
  const { numProp, vertProperties } = out;
  for (let v = 0; v < g.pointCount; v++) {
    const o = g.sourceOperand[v];
    const from = o >= 0 ? sources[o] : vertProperties;
    const at = o >= 0 ? 3 * g.sourceVertex[v] : numProp * v;
    positions[3 * v] = from[at];
    positions[3 * v + 1] = from[at + 1];
    positions[3 * v + 2] = from[at + 2];
    if (o < 0) fresh.push(v);
  }
  sharpenPoints(positions, fresh, g);
  return positions;
}

/** What the triangles were traced to. */
export interface Traced {
  /** Faces that come back as they were: operand and face, in order of operands. */
  keptOperand: Uint16Array;
  keptFace: Uint32Array;
  /** Polygons of faces that were cut. */
  loops: Loop[];
}

/** Points of a face that was not cut, in the result's turning. */
export function keptPoints(g: Groups, o: number, f: number): number[] {
  const { mesh, canonical } = g.operands[o].solid;
  const points: number[] = [];
  for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) {
    const v = mesh.corners[c];
    points.push(g.pointOfVertex[o][canonical ? canonical[v] : v]);
  }
  return g.flipped[o] ? points.reverse() : points;
}

function traceLoops(g: Groups, operands: ReadonlyArray<Operand>, positions: Float64Array): Traced {
  const byGroup = new Map<number, number[]>();
  for (let t = 0; t < g.groupOf.length; t++) {
    const group = g.groupOf[t];
    if (!g.touched[group]) continue;
    const list = byGroup.get(group);
    if (list) list.push(t);
    else byGroup.set(group, [t]);
  }
  const total = operands.reduce((n, { solid }) => n + faceCount(solid.mesh), 0);
  const keptOperand = new Uint16Array(total);
  const keptFace = new Uint32Array(total);
  let kept = 0;
  const loops: Loop[] = [];
  operands.forEach(({ solid }, o) => {
    const { mesh, region } = solid;
    for (let f = 0; f < faceCount(mesh); f++) {
      const group = g.base[o] + region[f];
      if (!g.count[group]) continue;
      if (!g.touched[group]) {
        keptOperand[kept] = o;
        keptFace[kept++] = f;
      } else if (region[f] === f)
        for (const points of outlines(byGroup.get(group)!, g, positions, mesh, f, g.flipped[o]))
          loops.push({ group, operand: o, face: f, points, touched: true });
    }
  });
  return { keptOperand: keptOperand.subarray(0, kept), keptFace: keptFace.subarray(0, kept), loops };
}

/** The polygons one cut face is left as. */
function outlines(
  all: number[],
  g: Groups,
  positions: Float64Array,
  mesh: PolyMesh,
  face: number,
  flipped: boolean,
): number[][] {
  const triangles = withoutFlaps(all, g.triVerts);
  if (!triangles.length) return [];
  const single = singleRim(triangles, g.triVerts);
  if (single) return [single];
  const area = areaVectors(mesh);
  const s = flipped ? -1 : 1;
  const normal: Vec3 = [s * area[3 * face], s * area[3 * face + 1], s * area[3 * face + 2]];
  const local = new Map<number, number>();
  const ids: number[] = [];
  const tris = triangles.flatMap((t) =>
    [0, 1, 2].map((k) => {
      const v = g.triVerts[3 * t + k];
      let i = local.get(v);
      if (i === undefined) local.set(v, (i = ids.push(v) - 1));
      return i;
    }),
  );
  const frame = frameFrom([0, 0, 0], normal);
  const xy = new Float64Array(2 * ids.length);
  ids.forEach((v, i) => {
    const [x, y, z] = [positions[3 * v], positions[3 * v + 1], positions[3 * v + 2]];
    xy[2 * i] = x * frame.u[0] + y * frame.u[1] + z * frame.u[2];
    xy[2 * i + 1] = x * frame.v[0] + y * frame.v[1] + z * frame.v[2];
  });
  return divideRegion(xy, tris).map((loop) => loop.map((i) => ids[i]));
}

function assemble(
  { keptOperand, keptFace, loops }: Traced,
  points: Float64Array,
  operands: ReadonlyArray<Operand>,
  g: Groups,
): CutResult {
  const F = keptFace.length + loops.length;
  const faceStart = new Uint32Array(F + 1);
  const operandOfFace = new Uint32Array(F);
  const sourceFace = new Uint32Array(F);
  const loopOfFace = new Int32Array(F).fill(-1);
  // Faces in order of operands: those kept, then those cut.
  let f = 0;
  let k = 0;
  let l = 0;
  for (let o = 0; o < operands.length; o++) {
    const { faceStart: start } = operands[o].solid.mesh;
    for (; k < keptFace.length && keptOperand[k] === o; k++, f++) {
      operandOfFace[f] = o;
      sourceFace[f] = keptFace[k];
      faceStart[f + 1] = faceStart[f] + start[keptFace[k] + 1] - start[keptFace[k]];
    }
    for (; l < loops.length && loops[l].operand === o; l++, f++) {
      operandOfFace[f] = o;
      sourceFace[f] = loops[l].face;
      loopOfFace[f] = l;
      faceStart[f + 1] = faceStart[f] + loops[l].points.length;
    }
  }
  const pointOfCorner = new Uint32Array(faceStart[F]);
  for (f = 0; f < F; f++) {
    if (loopOfFace[f] >= 0) pointOfCorner.set(loops[loopOfFace[f]].points, faceStart[f]);
    else fillKept(pointOfCorner, faceStart[f], g, operandOfFace[f], sourceFace[f]);
  }
  const vertexOf = new Int32Array(g.pointCount).fill(-1);
  const used = new Uint32Array(g.pointCount);
  let V = 0;
  const corners = new Uint32Array(pointOfCorner.length);
  for (let c = 0; c < corners.length; c++) {
    const v = pointOfCorner[c];
    if (vertexOf[v] < 0) {
      used[V] = v;
      vertexOf[v] = V++;
    }
    corners[c] = vertexOf[v];
  }
  const pointOf = used.slice(0, V);
  const apart = separateFans(makeMesh(gather(points, pointOf), faceStart, corners));
  const finalPoints = apart ? apart.source.map((v) => pointOf[v]) : pointOf;
  const draft: Draft = {
    loops,
    loopOfFace,
    operandOfFace,
    sourceFace,
    pointOf: finalPoints,
    positions: gather(points, finalPoints),
    faceStart,
    corners: apart ? apart.corners : corners,
    operands,
    groups: g,
  };
  const { mesh, rimEdges } = carryOverCut(draft);
  return {
    mesh,
    operandOfFace,
    sourceFace,
    report: { cutFaces: loops.length, keptFaces: keptFace.length, rimEdges },
  };
}

/** As `keptPoints`, straight into an array. */
function fillKept(out: Uint32Array, at: number, g: Groups, o: number, f: number): void {
  const { mesh, canonical } = g.operands[o].solid;
  const points = g.pointOfVertex[o];
  const s = mesh.faceStart[f];
  const n = mesh.faceStart[f + 1] - s;
  for (let k = 0; k < n; k++) {
    const v = mesh.corners[g.flipped[o] ? s + n - 1 - k : s + k];
    out[at + k] = points[canonical ? canonical[v] : v];
  }
}

function gather(points: Float64Array, ids: Uint32Array): Float64Array {
  const out = new Float64Array(3 * ids.length);
  for (let i = 0; i < ids.length; i++) {
    const v = 3 * ids[i];
    out[3 * i] = points[v];
    out[3 * i + 1] = points[v + 1];
    out[3 * i + 2] = points[v + 2];
  }
  return out;
}
