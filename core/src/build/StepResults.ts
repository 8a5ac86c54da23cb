/**
 * Results of steps with what they were made of. The last states that were settled on are kept, so that undo and redo
 * build nothing; what was made under a dragging hand is replaced by the next.
 */
import { bytesOf, type PolyMesh } from '../mesh/PolyMesh';
import { Recent } from '../Recent';
import type { StepReport } from './report';

export interface StepResult {
  input: PolyMesh;
  key: string;
  operands: PolyMesh[];
  matrices: string;
  mesh: PolyMesh;
  report: Omit<StepReport, 'index' | 'ms'>;
  draft: boolean;
}

/** The states kept per step. */
export const STATES = 20;
/** The meshes kept for older states take no more than this, bytes. */
const MOST_BYTES = 128 << 20;

interface Slot {
  settled: Recent<StepResult>;
  inHand: StepResult | null;
  current: StepResult | null;
}

export class StepResults {
  private readonly slots = new Map<string, Slot>();
  /** Settled results, the oldest first. */
  private readonly order = new Map<StepResult, { slot: Slot; bytes: number }>();
  private bytes = 0;

  /** @param mostBytes of the meshes kept for older states */
  constructor(private readonly mostBytes = MOST_BYTES) {}

  /** The result last used for a step. */
  current(name: string): StepResult | null {
    return this.slots.get(name)?.current ?? null;
  }

  /** @param dragging a hand is at it, so a draft will do, and nothing is settled yet */
  find(
    name: string,
    made: Omit<StepResult, 'mesh' | 'report' | 'draft'>,
    dragging: boolean,
  ): StepResult | null {
    const slot = this.slots.get(name);
    if (!slot) return null;
    const { inHand } = slot;
    const held = inHand && (dragging || !inHand.draft) && isFrom(inHand, made) ? inHand : null;
    if (held && !dragging) this.settle(slot, held);
    const found = held ?? slot.settled.find((r) => isFrom(r, made)) ?? null;
    if (found) slot.current = found;
    return found;
  }

  keep(name: string, result: StepResult, dragging: boolean): void {
    let slot = this.slots.get(name);
    if (!slot)
      this.slots.set(name, (slot = { settled: new Recent<StepResult>(STATES), inHand: null, current: null }));
    slot.current = result;
    if (dragging) slot.inHand = result;
    else this.settle(slot, result);
  }

  /** Drops the results of all steps but those that are named. */
  retain(isNamed: (name: string) => boolean): void {
    for (const [name, slot] of this.slots) {
      if (isNamed(name)) continue;
      this.slots.delete(name);
      for (const r of slot.settled.all()) this.forget(r);
    }
  }

  private settle(slot: Slot, result: StepResult): void {
    if (slot.inHand === result) slot.inHand = null;
    const before = slot.settled.all();
    slot.settled.add(result);
    const after = new Set(slot.settled.all());
    for (const r of before) if (!after.has(r)) this.forget(r);
    const bytes = bytesOf(result.mesh);
    this.order.set(result, { slot, bytes });
    this.bytes += bytes;
    for (const [old, { slot: of }] of this.order) {
      if (this.bytes <= this.mostBytes) break;
      if (of.current === old) continue;
      of.settled.drop(old);
      this.forget(old);
    }
  }

  private forget(result: StepResult): void {
    this.bytes -= this.order.get(result)?.bytes ?? 0;
    this.order.delete(result);
  }
}

const isFrom = (r: StepResult, made: Omit<StepResult, 'mesh' | 'report' | 'draft'>): boolean =>
  r.input === made.input &&
  r.key === made.key &&
  r.matrices === made.matrices &&
  r.operands.length === made.operands.length &&
  r.operands.every((m, i) => m === made.operands[i]);
