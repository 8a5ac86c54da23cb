/** A piece as the stage is told of it. */
import type { Matrix } from '@urnsmith/core/mesh/transform';
import type { Display } from '@urnsmith/core/build/display';
import type { Look } from './looks';
import type { SurfaceState } from './looks/define';

export interface PieceLook extends Omit<SurfaceState, 'coloured'> {
  look: Look;
  ghost: boolean;
  wire: boolean;
}

export interface StagePiece {
  id: string;
  matrix: Matrix;
  display: Display;
  visible: boolean;
  pickable: boolean;
  look: PieceLook;
  /** Faces made by this bead are lit. */
  made: string | null;
  /** Pieces of one shape have the same arrays; null where that is not known. */
  shape: string | null;
}
