/**
 * The mode of the stage: what clicks and keys do instead of selecting. There is at most one at a time. Its file under
 * `modes/` says how it behaves; its state is kept here.
 */
import type { HandState } from './handSlice';

/** The state of each mode, by name. A mode adds its own line by declaration merging. */
// eslint-disable-next-line @typescript-eslint/no-empty-object-type
export interface ModeStates {}

export type ModeName = keyof ModeStates;
export type ModeOf<N extends ModeName> = { is: N } & ModeStates[N];
export type Mode = { [N in ModeName]: ModeOf<N> }[ModeName];

/** The state of a mode while it is on; null else. */
export const modeIn = <N extends ModeName>({ hand }: { hand: HandState }, is: N): ModeOf<N> | null =>
  hand.mode?.is === is ? (hand.mode as unknown as ModeOf<N>) : null;
