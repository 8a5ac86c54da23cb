/** The contract of a question that is worked out aside, so that no hand waits for it: one file each. */
import type { Shaded } from '@urnsmith/core/build/repair';
import type { Watch } from '@urnsmith/core/watch';

/** A built piece, the piece before its cuts and roundings, and the steps that shade it. */
export type BuiltMeshes = Shaded;

export interface AsideDefinition<K extends string, Q extends object, R extends object> {
  kind: K;
  /** @throws Stopped when the watch does */
  answer(question: Q, of: BuiltMeshes, watch: Watch): R;
}

export const defineAside = <const K extends string, Q extends object, R extends object>(
  kind: K,
  answer: (question: Q, of: BuiltMeshes, watch: Watch) => R,
): AsideDefinition<K, Q, R> => ({ kind, answer });
