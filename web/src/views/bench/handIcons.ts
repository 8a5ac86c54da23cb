/** Icons of the tools that move what is picked, which have buttons at every level. */
import { MousePointer2, Move, RotateCw, Scaling } from 'lucide-react';

export const HAND_ICONS = {
  'tool-select': MousePointer2,
  'tool-move': Move,
  'tool-turn': RotateCw,
  'tool-resize': Scaling,
} as const;
