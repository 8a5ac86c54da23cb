/** The lanes of a build, in the order they are worked. */
export const LANES = ['Form', 'Cut', 'Edge', 'Repeat', 'Bend', 'Smooth', 'Shade'] as const;
export type Lane = (typeof LANES)[number];
