/** What beads are called: as makers of faces are, so that both can be matched. */
import { stepName } from '@urnsmith/core/steps/steps';

/** @param index of the step in its piece's list */
export const beadOf = (piece: string, step: { id?: string }, index: number): string =>
  `${piece}/${stepName(step, index)}`;
