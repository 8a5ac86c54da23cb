/** The interface between the gestures on the stage and the rest of the program. */
import type { Vector3 } from 'three';
import type { DragStart, DragValue } from './dragValue';
import type { OpenScene } from '../state/OpenScene';
import type { Outline, PointedAt, Pointing } from './pointing';
import type { Snap } from './snapping';
import type { Pick } from '../viewport/Stage';

/** An element of one of the pieces in hand. */
export type PointedIn = PointedAt & { piece: string };

/** How the current mode handles the pointer. */
export interface ModeDoing {
  /** A press on the stage: it was a click, or begins a stroke; null leaves it to selecting. */
  press?(scene: OpenScene, at: Pointing): 'click' | 'stroke' | null;
  /** The pointer goes on with a stroke, or ends it. @param from where it began, client pixels */
  stroke?(scene: OpenScene, at: Pointing, from: { x: number; y: number }, done: boolean): void;
  /** The pointer with nothing pressed; true where what is under it is not to light up. */
  hover?(scene: OpenScene, at: Pointing): boolean;
  /** The wheel; true where it meant something. */
  wheel?(scene: OpenScene, steps: number): boolean;
}

export type Modifiers = { shiftKey: boolean; ctrlKey: boolean; metaKey: boolean };

export interface HandsHost {
  tool(): 'select' | 'move' | 'turn' | 'resize';
  /** With what a drag snaps; grid 0 leaves moves free where nothing is met. */
  snap(): { on: boolean; grid: number; angle: number };
  /** The snap target under the pointer, in the world. */
  snapAt(x: number, y: number): Snap | null;
  /** The place of what is held that is to meet what is snapped to; the handles' own without. */
  heldAt(x: number, y: number): Vector3 | null;
  showSnap(s: Snap | null): void;
  /** The mode that is on takes a press: as a click, or as the beginning of a stroke; null leaves it to selecting. */
  modePress(x: number, y: number, e: Modifiers): 'click' | 'stroke' | null;
  modeStroke(from: { x: number; y: number }, to: { x: number; y: number }, done: boolean): void;
  /** The pointer with nothing pressed; true where what is under it is not to light up. */
  modeHover(x: number, y: number, e: Modifiers): boolean;
  /** The effect of scrolling on the view. */
  scrolls(): 'zoom' | 'turn';
  /** The wheel while dragging or in a mode; true where it meant something. */
  dragWheel(steps: number, drags: boolean): boolean;
  selected(): string[];
  click(piece: string | null, add: boolean): void;
  box(ids: string[], add: boolean): void;
  /** Elements instead of pieces are handled. */
  elements: ElementHost;
  hover(at: Pick | null): void;
  /** A piece's face was clicked twice. */
  twice(at: Pick | null): void;
  rubber(rect: { x: number; y: number; w: number; h: number } | null): void;
  dragStart(): DragStart['axes'] | null;
  dragged(v: DragValue): void;
  dropped(): void;
  aborted(): void;
  menu(x: number, y: number): void;
}

/** The same for elements of the pieces in hand. */
export interface ElementHost {
  active(): boolean;
  at(x: number, y: number): PointedIn | null;
  isPicked(at: PointedIn): boolean;
  point(at: PointedIn | null): void;
  /** @param x, y where, client pixels: another piece there is gone over to */
  click(at: PointedIn | null, add: boolean, x: number, y: number): void;
  twice(at: PointedIn | null, add: boolean, across: boolean): void;
  inside(outline: Outline, add: boolean): Promise<void>;
  paint(at: PointedIn): void;
  lasso(outline: Outline | null): void;
}
