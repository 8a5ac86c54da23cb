/** The contract of a setting of the workshop: what it holds, what it is before anybody sets it, and its limits. */
import type { Static, TSchema } from 'typebox';

export interface SettingDefinition<N extends string, S extends TSchema, V> {
  /** Also the last part of its address: `/api/settings/name`. */
  name: N;
  schema: S;
  /** While nobody set it. */
  first: V;
  /** Larger ones are refused, bytes of JSON. */
  most: number;
  /** Faults of a value beyond what its schema can express, with their place. */
  faults?(value: Static<S>): Array<{ path: string; message: string }>;
}

/** @typeParam V what it is read as, where that is more than its schema says */
export const defineSetting = <const N extends string, S extends TSchema, V = Static<S>>(
  d: SettingDefinition<N, S, V>,
): Readonly<SettingDefinition<N, S, V>> => d;
