/** The role of a new face made by an operation or a step. */
export const ROLES = [
  'kept',
  /** Beside a border that moved: extruded, inset or thickened. */
  'wall',
  /** Along an edge that was rounded. */
  'strip',
  /** At a point where rounded edges meet. */
  'corner',
  'copy',
  'image',
  /** The other side of a thickened face. */
  'back',
  /** Over an opening. */
  'lid',
  /** Of a cutter. */
  'cut',
] as const;
export type Role = (typeof ROLES)[number];

export interface Made {
  role: Role;
  /** Its number among several of that role from the same elements. */
  which?: number;
  /** The old face on the other side of what it was made from. */
  other?: number;
  /** The old edge it lies along. */
  edge?: number;
}

/** Numbers a face has in the layer that keeps it: role, which, family and maker of the other face, code of the edge. */
export const MADE_SIZE = 5;
