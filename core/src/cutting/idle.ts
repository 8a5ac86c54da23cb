/** Cutters that do nothing, each with why, and those that leave what nobody sees. */
import { boundsOf, type Bounds } from '../mesh/measure';
import type { PolyMesh } from '../mesh/PolyMesh';
import { shellsOf } from '../mesh/shells';
import type { Vec3 } from '../mesh/vec3';
import type { Cutter } from '../solid/boolean';
import type { CutResult } from '../solid/cutResult';
import { windingNumber } from './winding';

export interface IdleCutter {
  operand: string;
  /**
   * Reasons: the cutter misses the host, lies inside another cutter, lies inside the host it is added to, or leaves a
   * closed hollow.
   */
  why: 'misses' | 'within' | 'hollow';
}

/**
 * @param host before the cut
 * @param manner whether it adds to the host, where what lies within changes nothing, or takes away and may leave hollows
 */
export function idleCutters(
  host: PolyMesh,
  cutters: ReadonlyArray<Cutter>,
  { mesh, operandOfFace }: CutResult,
  manner: { adds: boolean; takes: boolean },
): IdleCutter[] {
  const seen = new Set<number>(operandOfFace);
  const out: IdleCutter[] = [];
  const around = boundsOf(host);
  const boxes = cutters.map((c) => boundsOf(c.mesh));
  cutters.forEach(({ id }, k) => {
    if (seen.has(k + 1)) return;
    const middle = boxes[k].min.map((x, a) => (x + boxes[k].max[a]) / 2) as Vec3;
    const within = cutters.some(
      (other, j) => j !== k && holds(boxes[j], middle) && windingNumber(other.mesh, middle) > 0.5,
    );
    if (!meet(boxes[k], around)) out.push({ operand: id, why: 'misses' });
    else if (within || (manner.adds && windingNumber(host, middle) > 0.5))
      out.push({ operand: id, why: 'within' });
    else if (windingNumber(host, middle) < 0.5) out.push({ operand: id, why: 'misses' });
  });
  const closed = manner.takes ? hollows(mesh, operandOfFace) : [];
  return [...out, ...closed.map((k): IdleCutter => ({ operand: cutters[k - 1].id, why: 'hollow' }))];
}

const meet = (a: Bounds, b: Bounds): boolean =>
  [0, 1, 2].every((k) => a.min[k] <= b.max[k] && a.max[k] >= b.min[k]);
const holds = (b: Bounds, p: Vec3): boolean => p.every((x, k) => x >= b.min[k] && x <= b.max[k]);

/** Operands all of whose faces lie in shells that only operands made. */
function hollows(mesh: PolyMesh, operandOfFace: ArrayLike<number>): number[] {
  const { ofFace, count } = shellsOf(mesh);
  if (count < 2) return [];
  const outer = new Uint8Array(count);
  for (let f = 0; f < ofFace.length; f++) if (!operandOfFace[f]) outer[ofFace[f]] = 1;
  const [inside, open] = [new Set<number>(), new Set<number>()];
  for (let f = 0; f < ofFace.length; f++)
    if (operandOfFace[f]) (outer[ofFace[f]] ? open : inside).add(operandOfFace[f]);
  return [...inside].filter((k) => !open.has(k));
}
