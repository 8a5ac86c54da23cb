/** The contract of a question to the builder: one file each, with what is asked, and how it is answered. */
import type { Evaluator } from '@urnsmith/core/build/evaluate';
import type { Warning } from '@urnsmith/core/mesh/errors';
import type { PolyMesh } from '@urnsmith/core/mesh/PolyMesh';
import type { Counts, Limits } from '@urnsmith/core/ops/operation';
import type { Select } from '@urnsmith/core/select/rules';
import type { Selection } from '@urnsmith/core/select/selection';

/** The piece a question is about. */
export interface Asked {
  id: string;
  /** Its mesh where edits are made; the base for questions about that. */
  mesh: PolyMesh;
  /** Picks left by its last edit. */
  last: Selection | null;
  /** The mesh is one that steps have made, where picks are kept by birth. */
  built: boolean;
  evaluator: Evaluator;
  limits: Limits;
}

/** The answer of questions that end in a selection. @property select what was acted on, in a way that lasts */
export interface Selected {
  selection: Selection;
  counts?: Counts;
  warnings?: Warning[];
  lost?: number;
  select?: Select;
}

export interface QuestionDefinition<K extends string, Q extends object, R extends object> {
  kind: K;
  /** The question is about the base, wherever edits are made. */
  aboutBase: boolean;
  /** Changes nothing. @throws OperationError */
  answer(question: Q, of: Asked): R;
}

export const defineQuestion = <const K extends string, Q extends object, R extends object>(
  kind: K,
  answer: (question: Q, of: Asked) => R,
  { aboutBase = false } = {},
): QuestionDefinition<K, Q, R> => ({ kind, aboutBase, answer });
