/** Names of beads, for the program and for people. */
import type { Piece } from '@urnsmith/core/document/schema';
import { stepName, STEPS, type Step } from '@urnsmith/core/steps/index';

/**
 * The same name as makers of faces have, so that both can be matched.
 * @param index of the step in its piece's list
 */
export const beadOf = (piece: string, step: { id?: string }, index: number): string =>
  `${piece}/${stepName(step, index)}`;

/** A step's own name, or what it does. */
export function stepTitle(step: Step, pieces: Piece[]): string {
  if (step.name) return step.name;
  const { label, title } = STEPS[step.kind];
  return label?.(step as never, (id) => pieces.find((p) => p.id === id)?.name ?? title) ?? title;
}
