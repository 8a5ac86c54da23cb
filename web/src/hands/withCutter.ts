/** A piece with one more cutter. */
import type { Piece } from '@urnsmith/core/document/schema';
import { cutBy, inLaneOrder, laneOf, withOneMoreCutter } from '@urnsmith/core/steps/index';
import type { CutWish } from '@urnsmith/core/steps/cut';
import { newStepId } from '../state/actions';

/**
 * One more cutter in the last cut, when that cuts alike and nothing of its lane comes after; else in its own.
 * @param apart in a step of its own
 */
export function withCutter(p: Piece, wish: CutWish, cutter: string, apart = false): Piece {
  const steps = p.steps ?? [];
  const last = inLaneOrder(steps)
    .filter((s) => laneOf(s) === 'Cut')
    .at(-1);
  const joined = !apart && last && withOneMoreCutter(last, wish, cutter);
  if (joined) return { ...p, steps: steps.map((s) => (s === last ? joined : s)) };
  return { ...p, steps: [...steps, { id: newStepId(p), ...cutBy([cutter], wish) }] };
}
