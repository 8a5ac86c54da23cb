/** The edits of the base with some of them done over. */
import type { Redone } from '@urnsmith/core/actions/revise';
import { defineQuestion } from './define';

export const revise = defineQuestion(
  'revise',
  ({ order }: { order: ReadonlyArray<Redone> }, { id, evaluator }) => ({
    edits: evaluator.revisedEdits(id, order),
  }),
  { aboutBase: true },
);
