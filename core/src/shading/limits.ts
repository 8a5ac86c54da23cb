/** When shading counts as wrong. */

/** Degrees over which it is wrong, and plain to see. */
export const [OFF, FAR_OFF] = [2, 10];
/** A smaller share of the area than this is nothing. */
export const NOTHING = 0.001;
