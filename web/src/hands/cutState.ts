/** A cut that is being drawn on a face: what is known of it so far, and the outline that comes of it with typed numbers. */
import type { OpenScene } from '../state/OpenScene';
import {
  boxOfDrawn,
  isWhole,
  withDrawnSize,
  type DrawnCut,
  type DrawnOn,
} from '@urnsmith/core/document/drawnCut';
import { clearanceAt, type FlatLoops } from '@urnsmith/core/select/faceSides';
import type { Matrix } from '@urnsmith/core/mesh/transform';
import { handActions } from '../state/handSlice';
import { modeIn, type ModeOf } from '../state/mode';
import type { Entry, Fixed } from './faceKnown';

export interface CutDrawing {
  /** Looking for a face, pulling the outline open, pulling the depth. */
  stage: 'aim' | 'outline' | 'depth';
  host: string | null;
  /** Of the face, in the world: Y out of it. */
  frame: Matrix | null;
  /** The outlines around the face, in X and Z of the frame; null while they are not known. */
  sides: Array<Array<[number, number]>> | null;
  /** The pointer in X and Z of the frame, mm. */
  hover: [number, number] | null;
  /** Coordinates that were typed, until the outline is begun. */
  fixed: Fixed;
  from: [number, number];
  to: [number, number];
  points: Array<[number, number]>;
  /** Numbers that were typed count instead of the pointer's. */
  typed: { width?: number; length?: number; depth?: number };
  /** Why the outline cannot be taken as it was dragged, in a sentence: its sizes are asked for. */
  asks: string | null;
  on: DrawnOn;
  /** The face that is drawn on, for a cutter that follows it; null while it is not known. */
  entry: Entry | null;
  /** The one piece it is drawn on: a cutter that was selected; null for any that is not a cutter. */
  only: string | null;
}

declare module '../state/mode' {
  interface ModeStates {
    cut: CutDrawing;
  }
}

export const AIM: ModeOf<'cut'> = {
  is: 'cut',
  stage: 'aim',
  host: null,
  frame: null,
  sides: null,
  hover: null,
  fixed: [null, null],
  from: [0, 0],
  to: [0, 0],
  points: [],
  typed: {},
  asks: null,
  on: { size: 0, next: 0, gap: 0 },
  entry: null,
  only: null,
};

export const stateOf = (scene: OpenScene) => scene.store.getState();
export const drawing = (scene: OpenScene) => modeIn(stateOf(scene), 'cut');
export const take = (scene: OpenScene, d: ModeOf<'cut'> | null): void => {
  scene.store.dispatch(handActions.modeTaken(d));
};
export const put = (scene: OpenScene, change: Partial<CutDrawing>): void => {
  const d = drawing(scene);
  if (d) take(scene, { ...d, ...change });
};

/** The cut as it is drawn so far, with what was typed. */
export function drawnNow(scene: OpenScene): DrawnCut | null {
  const { cut: cutSettings } = stateOf(scene).settings;
  const d = drawing(scene);
  return d && composed(d, cutSettings);
}

export function composed(d: CutDrawing, settings: Omit<DrawnCut, 'from' | 'to' | 'points'>): DrawnCut {
  const drawn = { ...settings, from: d.from, to: d.to, points: d.points };
  const { width, length } = d.typed;
  if (settings.shape === 'free' || (width === undefined && length === undefined)) return drawn;
  return withDrawnSize(drawn, d.typed);
}

/** A distance on the face, from the drawing to a side of the face. */
export interface SideDistance {
  axis: 0 | 1;
  /** Along the axis or against it. */
  way: 1 | -1;
  value: number;
  /** The two ends of the distance, in X and Z of the frame. */
  from: [number, number];
  to: [number, number];
}

/**
 * Distances from the drawing to the sides of its face: of the pointer before it is begun, of the centre of what is round,
 * else of the outline's own sides.
 */
export function distancesOnFace(
  d: CutDrawing,
  settings: Omit<DrawnCut, 'from' | 'to' | 'points'>,
): SideDistance[] {
  if (!d.sides || !d.hover) return [];
  const box =
    d.stage === 'aim' ? { middle: d.hover, width: 0, length: 0 } : boxOfDrawn(composed(d, settings));
  const half = isWhole(settings.shape) ? [0, 0] : [box.width / 2, box.length / 2];
  return sideDistances(d.sides, box.middle, half as [number, number]);
}

export function sideDistances(
  sides: FlatLoops,
  middle: readonly [number, number],
  half: readonly [number, number],
): SideDistance[] {
  const { low, high } = clearanceAt(sides, middle);
  return ([0, 1] as const).flatMap((axis) =>
    ([-1, 1] as const).flatMap((way): SideDistance[] => {
      const clear = (way < 0 ? low : high)[axis];
      if (!Number.isFinite(clear)) return [];
      const at = (far: number): [number, number] =>
        axis === 0 ? [middle[0] + way * far, middle[1]] : [middle[0], middle[1] + way * far];
      return [{ axis, way, value: clear - half[axis], from: at(half[axis]), to: at(clear) }];
    }),
  );
}
