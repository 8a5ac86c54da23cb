/** Cutters that do nothing, each with why, and those that leave what nobody sees; of patterns, how many of their parts. */
import { boundsOf, type Bounds } from '../mesh/measure';
import { faceCorners, faceCount, type PolyMesh } from '../mesh/PolyMesh';
import { shellsOf } from '../mesh/shells';
import { pointOf, type Vec3 } from '../mesh/vec3';
import type { Cutter } from '../solid/boolean';
import type { CutResult } from '../solid/cutResult';
import { treeOf } from '../spatial/TriangleTree';
import { windingNumber } from './winding';

export interface IdleCutter {
  operand: string;
  /**
   * Reasons: the cutter misses the host; lies inside another cutter or inside the host it is added to; leaves a closed
   * hollow; lies inside the host and does not reach the surface that it works on.
   */
  why: 'misses' | 'within' | 'hollow' | 'short';
  /** Where only some of its separate parts do: how many, and of how many. */
  parts?: { some: number; of: number };
}

/** The way a cut works, as far as it decides what an idle cutter is. */
export interface CutEffect {
  /** It adds to the host, where what lies within changes nothing. */
  adds: boolean;
  /** It takes away, and may leave hollows. */
  takes: boolean;
  /** It works on the host's surface, which a cutter has to reach. */
  onSurface: boolean;
}

/** @param host before the cut */
export function idleCutters(
  host: PolyMesh,
  cutters: ReadonlyArray<Cutter>,
  result: CutResult,
  effect: CutEffect,
): IdleCutter[] {
  const parts = new Parts(cutters, result);
  const out: IdleCutter[] = [];
  const around = boundsOf(host);
  const boxes = cutters.map((c) => boundsOf(c.mesh));
  const inHost = (p: Vec3): boolean => windingNumber(host, p) > 0.5;
  cutters.forEach(({ id }, k) => {
    const { unseen, of } = parts.unseen(k);
    const worked = result.worked?.[k];
    if (worked || unseen.length < of) {
      const apart = unseen.filter(
        ({ box, points }) => !meet(box, around) || !(worked || points.some(inHost)),
      );
      const some = apart.length;
      if (some) out.push({ operand: id, why: 'misses', parts: { some, of } });
      return;
    }
    const middle = middleOf(boxes[k]);
    const within = cutters.some(
      (other, j) => j !== k && holds(boxes[j], middle) && windingNumber(other.mesh, middle) > 0.5,
    );
    if (!meet(boxes[k], around)) out.push({ operand: id, why: 'misses' });
    else if (within || (effect.adds && inHost(middle))) out.push({ operand: id, why: 'within' });
    else if (!inHost(middle) || lies(around, boxes[k])) out.push({ operand: id, why: 'misses' });
    else if (effect.onSurface) out.push({ operand: id, why: 'short' });
  });
  if (!effect.takes) return out;
  const closed = parts.hollow();
  for (const [k, { some, of }] of closed)
    out.push({ operand: cutters[k].id, why: 'hollow', ...(some < of && { parts: { some, of } }) });
  return out;
}

/** Points of a part that are looked up in the host, at most. */
const TRIED = 16;

/** The separate parts of cutters, and the faces of a result that come from each. */
class Parts {
  /** Per face of the result: the number of its part among those of its cutter. */
  private readonly ofFace: Int32Array;
  private readonly shells: Array<{ ofFace: Int32Array; count: number } | null>;
  private readonly seen: Array<Set<number>>;

  constructor(
    private readonly cutters: ReadonlyArray<Cutter>,
    private readonly result: CutResult,
  ) {
    const { mesh, operandOfFace } = result;
    this.shells = cutters.map(({ mesh }) => {
      const shells = shellsOf(mesh);
      return shells.count > 1 ? shells : null;
    });
    this.seen = cutters.map(() => new Set());
    this.ofFace = new Int32Array(faceCount(mesh));
    for (let f = 0; f < this.ofFace.length; f++) {
      const k = operandOfFace[f] - 1;
      if (k < 0) continue;
      this.ofFace[f] = this.at(k, mesh.corners[mesh.faceStart[f]]);
      this.seen[k].add(this.ofFace[f]);
    }
    // A corner where two parts meet lies on both: before a part is called unseen, all corners are asked.
    for (let f = 0; f < this.ofFace.length; f++) {
      const k = operandOfFace[f] - 1;
      if (k < 0 || this.seen[k].size === this.count(k)) continue;
      for (const c of faceCorners(mesh, f)) this.seen[k].add(this.at(k, mesh.corners[c]));
    }
  }

  private count(k: number): number {
    return this.shells[k]?.count ?? 1;
  }

  /** The part of a cutter that a point of the result lies on. */
  private at(k: number, v: number): number {
    const shells = this.shells[k];
    if (!shells) return 0;
    const hit = treeOf(this.cutters[k].mesh).nearest(pointOf(this.result.mesh.positions, v));
    return hit ? shells.ofFace[hit.face] : 0;
  }

  /** The parts of a cutter that nothing of the result comes from. */
  unseen(k: number): { unseen: Array<{ box: Bounds; points: Vec3[] }>; of: number } {
    const of = this.count(k);
    const { mesh } = this.cutters[k];
    const shells = this.shells[k];
    const seen = this.seen[k];
    if (seen.size === of) return { unseen: [], of };
    const points = Array.from({ length: of }, () => new Set<number>());
    for (let f = 0; f < faceCount(mesh); f++)
      for (const c of faceCorners(mesh, f)) points[shells?.ofFace[f] ?? 0].add(mesh.corners[c]);
    const unseen = points
      .filter((_, part) => !seen.has(part))
      .map((ids) => [...ids].map((v) => pointOf(mesh.positions, v)))
      .map((all) => ({ box: boxOf(all), points: all.slice(0, TRIED) }));
    return { unseen, of };
  }

  /** Per cutter: how many of its parts have all their faces in shells that only cutters made. */
  hollow(): Map<number, { some: number; of: number }> {
    const { mesh, operandOfFace } = this.result;
    const out = new Map<number, { some: number; of: number }>();
    const { ofFace, count } = shellsOf(mesh);
    if (count < 2) return out;
    const outer = new Uint8Array(count);
    for (let f = 0; f < ofFace.length; f++) if (!operandOfFace[f]) outer[ofFace[f]] = 1;
    const [inside, open] = [0, 1].map(() => this.cutters.map(() => new Set<number>()));
    for (let f = 0; f < ofFace.length; f++)
      if (operandOfFace[f]) (outer[ofFace[f]] ? open : inside)[operandOfFace[f] - 1].add(this.ofFace[f]);
    inside.forEach((parts, k) => {
      const some = [...parts].filter((p) => !open[k].has(p)).length;
      if (some) out.set(k, { some, of: this.count(k) });
    });
    return out;
  }
}

function boxOf(points: Vec3[]): Bounds {
  const side = (of: (...x: number[]) => number): Vec3 =>
    [0, 1, 2].map((a) => points.reduce((x, p) => of(x, p[a]), points[0][a])) as Vec3;
  return { min: side(Math.min), max: side(Math.max) };
}
const middleOf = ({ min, max }: Bounds): Vec3 => min.map((x, a) => (x + max[a]) / 2) as Vec3;
const meet = (a: Bounds, b: Bounds): boolean =>
  [0, 1, 2].every((k) => a.min[k] <= b.max[k] && a.max[k] >= b.min[k]);
/** Whether a box lies within another. */
const lies = (a: Bounds, b: Bounds): boolean => holds(b, a.min) && holds(b, a.max);
const holds = (b: Bounds, p: Vec3): boolean => p.every((x, k) => x >= b.min[k] && x <= b.max[k]);
