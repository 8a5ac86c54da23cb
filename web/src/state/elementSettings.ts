/** How tools at element level behave, and what drags snap to. */
import type { Way } from '@urnsmith/core/ops/layOnto';
import type { Falloff } from '@urnsmith/core/select/soft';

export interface ElementSettings {
  /** Pick through the whole depth, not only what is seen. */
  through: boolean;
  /** The frame whose axes the handles follow. */
  frame: 'world' | 'piece' | 'grid' | 'view' | 'own';
  /** The fixed point of turning and resizing. */
  about: 'middle' | 'each' | 'peg' | 'pivot';
  /** Moves are mirrored across the piece's own middle plane. */
  symmetry: 'none' | 'x' | 'y' | 'z';
  /** Whether the handles turn the elements or their shading. */
  turns: 'elements' | 'shading';
  /** Shading normals are drawn as lines, so many millimetres long. */
  normals: boolean;
  /** Faces that lead shading, and those that follow, are tinted. */
  ranks: boolean;
  normalLength: number;
  soft: boolean;
  /** mm; while `brush` is on, what the brush spans where it is used. */
  reach: number;
  /** Reach as a size on the screen, whatever the zoom. */
  brush: boolean;
  /** Pixels. */
  brushSize: number;
  falloff: Falloff;
  along: 'straight' | 'surface';
  /** Dropped points weld to those they meet. */
  weld: boolean;
  /** The piece whose surface moved points are drawn onto, and by which way. */
  onto: string | null;
  lay: Way;
  /** Pixels. */
  pointSize: number;
  pickRadius: number;
}

export const ELEMENT_SETTINGS: ElementSettings = {
  through: false,
  frame: 'world',
  about: 'middle',
  symmetry: 'none',
  turns: 'elements',
  normals: false,
  ranks: false,
  normalLength: 5,
  soft: false,
  reach: 20,
  brush: false,
  brushSize: 80,
  falloff: 'smooth',
  along: 'straight',
  weld: false,
  onto: null,
  lay: 'nearest',
  pointSize: 7,
  pickRadius: 12,
};

/** mm: nearer than this, a dropped point meets another. */
export const CONTACT = 0.01;

export const SNAPS = ['grid', 'point', 'middle', 'edge', 'face', 'peg'] as const;
export type SnapKind = (typeof SNAPS)[number];
