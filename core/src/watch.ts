/** Long work says how far it has come, and can be stopped. */

/** Called inside long work with how far it is, 0 to 1; throws when the work is to stop. */
export type Watch = (share: number) => void;

/** What a watch throws where a person ended the work: no refusal, so nothing takes it for one. */
export class Stopped extends Error {}

export const UNWATCHED: Watch = () => {};

/** The watch over a part of the work, from one share of the whole to another. */
export const partOf =
  (watch: Watch, from: number, to: number): Watch =>
  (share) =>
    watch(from + share * (to - from));
