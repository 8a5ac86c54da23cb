/** Words for how deep a cutter goes. */
export const REACH_LABELS = {
  blind: 'blind',
  through: 'through',
  next: 'first wall',
  both: 'both',
} as const;
