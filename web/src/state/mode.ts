/**
 * What the next clicks and keys on the stage are for, where that is not selecting: at most one mode at a time. What a
 * mode does is said in its file under `modes/`; here is what it keeps meanwhile.
 */
import type { HandState } from './handSlice';

/** What each mode keeps, by its name. A mode adds its own line, by declaring it where its state is described. */
// eslint-disable-next-line @typescript-eslint/no-empty-object-type
export interface ModeStates {}

export type ModeName = keyof ModeStates;
export type ModeOf<N extends ModeName> = { is: N } & ModeStates[N];
export type Mode = { [N in ModeName]: ModeOf<N> }[ModeName];

/** The state of a mode while it is on; null else. */
export const modeIn = <N extends ModeName>({ hand }: { hand: HandState }, is: N): ModeOf<N> | null =>
  hand.mode?.is === is ? (hand.mode as unknown as ModeOf<N>) : null;
