/** A kept selection as it is now. */
import type { Kept } from '@urnsmith/core/document/schema';
import { recalled } from '@urnsmith/core/select/kept';
import { defineQuestion, type Selected } from './define';

export const recall = defineQuestion(
  'recall',
  ({ kept }: { kept: Kept }, { id, mesh, evaluator }): Selected =>
    'picks' in kept ? recalled(kept, mesh, []) : evaluator.recall(id, kept),
);
