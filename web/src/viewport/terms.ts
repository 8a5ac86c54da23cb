/** The words in which the stage is told what to show. */

export type Tool = 'select' | 'move' | 'turn' | 'resize';

/** The level a person works at: pieces, or elements of the active piece. */
export const LEVELS = ['piece', 'face', 'edge', 'point'] as const;
export type Level = (typeof LEVELS)[number];
export type ElementLevel = Exclude<Level, 'piece'>;
