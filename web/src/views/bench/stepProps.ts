/** Where a step stands that is shown or edited. */
import type { Piece } from '@urnsmith/core/document/schema';
import type { Step } from '@urnsmith/core/steps/index';

export interface StepProps<S extends Step = Step> {
  piece: Piece;
  index: number;
  step: S;
}
