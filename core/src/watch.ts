/** Long work says how far it has come, and can be stopped. */

/** Called inside long work with how far it is, 0 to 1; throws when the work is to stop. */
export type Watch = (share: number) => void;

/** Thrown by a watch when a person ends the work. It is not a refusal, so nothing treats it as one. */
export class Stopped extends Error {}

export const UNWATCHED: Watch = () => {};

/** The watch over a part of the work, from one share of the whole to another. */
export const partOf =
  (watch: Watch, from: number, to: number): Watch =>
  (share) =>
    watch(from + share * (to - from));
