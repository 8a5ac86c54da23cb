/** The triangles of a cut's result, sorted by the region of the operand they came from. */
import { faceCount, vertexCount } from '../mesh/PolyMesh';
import { topologyOf } from '../mesh/Topology';
import type { Mesh } from './kernel';
import type { PositionIndex } from './PositionIndex';
import { regionOfId, trianglePrint, type Solid } from './Solid';

export interface Operand {
  solid: Solid;
  /** Rim code of the cutter; 0 for the host. */
  code: number;
  /** The positions of its points in the result, 3 numbers per vertex. */
  positions: Float64Array;
  /** Finds a vertex by the position the kernel was given. */
  index: PositionIndex;
}

/** Triangles of one operand that follow each other. */
interface Run {
  operand: number;
  /** They are the other way out. */
  flipped: boolean;
  from: number;
  to: number;
}

/**
 * The kernel's runs in the order of the operands. It gives them in the order in which bodies were made, which is another
 * one when some were kept from before.
 */
function runsInOrder(
  out: Mesh,
  operands: ReadonlyArray<Operand>,
): { runs: Run[]; triVerts: Uint32Array; faceID: Uint32Array } {
  const byId = new Map(operands.map((o, i) => [o.solid.id, i]));
  const given = Array.from(out.runOriginalID, (id, i) => ({
    operand: byId.get(id)!,
    flipped: (out.runFlags?.[i] & 1) === 1,
    from: out.runIndex[i] / 3,
    to: out.runIndex[i + 1] / 3,
  }));
  const sorted = [...given].sort((a, b) => a.operand - b.operand);
  if (sorted.every((r, i) => r === given[i]))
    return { runs: given, triVerts: out.triVerts, faceID: out.faceID };
  const triVerts = new Uint32Array(out.triVerts.length);
  const faceID = new Uint32Array(out.faceID.length);
  let at = 0;
  const runs = sorted.map(({ from, to, ...run }) => {
    triVerts.set(out.triVerts.subarray(3 * from, 3 * to), 3 * at);
    faceID.set(out.faceID.subarray(from, to), at);
    at += to - from;
    return { ...run, from: at - (to - from), to: at };
  });
  return { runs, triVerts, faceID };
}

export class Groups {
  readonly triVerts: Uint32Array;
  readonly pointCount: number;
  /** Group numbers of operand i start at base[i]; a group is base + region. */
  readonly base: number[] = [];
  private readonly operandOfGroup: Uint16Array;
  readonly flipped: boolean[];
  /** Group per triangle. */
  readonly groupOf: Uint32Array;
  /** The face id the kernel carried over, per triangle: see Solid. */
  readonly idOf: Uint32Array;
  readonly count: Int32Array;
  readonly touched: Uint8Array;
  /** The group a group has joined, itself if none. */
  readonly joined: Uint32Array;
  /** Operand and vertex each output point is, −1 where it is new. */
  readonly sourceOperand: Int32Array;
  readonly sourceVertex: Int32Array;
  /** Output point per operand vertex. */
  readonly pointOfVertex: Int32Array[];

  constructor(
    out: Mesh,
    /** The result's points, 3 numbers each. */
    readonly points: Float64Array,
    readonly operands: ReadonlyArray<Operand>,
  ) {
    let total = 0;
    for (const o of operands) {
      this.base.push(total);
      total += faceCount(o.solid.mesh);
    }
    this.joined = Uint32Array.from({ length: total }, (_, i) => i);
    const { runs, triVerts, faceID } = runsInOrder(out, operands);
    this.triVerts = triVerts;
    const T = this.triVerts.length / 3;
    this.pointCount = points.length / 3;
    this.operandOfGroup = new Uint16Array(total);
    for (let o = 1; o < operands.length; o++) this.operandOfGroup.fill(o, this.base[o]);
    this.groupOf = new Uint32Array(T);
    this.idOf = faceID;
    this.count = new Int32Array(total);
    this.touched = new Uint8Array(total);
    this.sourceOperand = new Int32Array(this.pointCount).fill(-1);
    this.sourceVertex = new Int32Array(this.pointCount).fill(-1);
    this.pointOfVertex = operands.map((o) => new Int32Array(vertexCount(o.solid.mesh)).fill(-1));
    this.flipped = operands.map(() => false);
    this.readRuns(runs);
  }

  private readRuns(runs: ReadonlyArray<Run>): void {
    const { operands, triVerts, idOf } = this;
    const print = new Uint32Array(this.count.length);
    // Caches the last lookup in an operand's vertex table.
    const asked = new Int32Array(this.pointCount).fill(-1);
    const found = new Int32Array(this.pointCount);
    const p = this.points;
    const doubled = operands.map(() => new Set<number>());
    for (const { operand: o, flipped, from, to } of runs) {
      const operand = operands[o];
      const lookUp = (v: number): number => {
        if (asked[v] === o) return found[v];
        asked[v] = o;
        const s = operand.index.find(p[3 * v], p[3 * v + 1], p[3 * v + 2]);
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
      if (flipped) this.flipped[o] = true;
      for (let t = from; t < to; t++) {
        const g = this.base[o] + regionOfId(operand.solid, idOf[t]);
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

  /**
   * Whether the operands met: a face was cut, or went.
   * @param all without contact the cutters are in the result too
   */
  changesAnything(all: boolean): boolean {
    const whole = (o: number): boolean =>
      this.operands[o].solid.region.every((r) => this.count[this.base[o] + r] > 0);
    return this.touched.includes(1) || this.operands.some((_, o) => (o === 0 || all) && !whole(o));
  }

  operandOf(group: number): number {
    return this.operandOfGroup[group];
  }
}
