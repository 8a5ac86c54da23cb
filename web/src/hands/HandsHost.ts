/** What the hands on the stage need of the program around it. */
import type { Vector3 } from 'three';
import type { DragStart, DragValue } from './dragValue';
import type { Outline, PointedAt } from './pointing';
import type { Snap } from './snapping';
import type { Pick } from '../viewport/Stage';

/** An element of one of the pieces in hand. */
export type PointedIn = PointedAt & { piece: string };

export interface HandsHost {
  tool(): 'select' | 'move' | 'turn' | 'resize';
  /** With what a drag snaps; grid 0 leaves moves free where nothing is met. */
  snap(): { on: boolean; grid: number; angle: number };
  /** What is snapped to under the pointer, in the world. */
  snapAt(x: number, y: number): Snap | null;
  /** The place of what is held that is to meet what is snapped to; the handles' own without. */
  heldAt(x: number, y: number): Vector3 | null;
  showSnap(s: Snap | null): void;
  /** A drawing tool takes a press: as a click, or as the beginning of a stroke; null when none is in hand. */
  drawPress(x: number, y: number, e: PointerEvent): 'click' | 'stroke' | null;
  drawStroke(from: { x: number; y: number }, to: { x: number; y: number }, done: boolean): void;
  /** The pointer with nothing pressed; true when a drawing tool follows it. */
  drawHover(x: number, y: number, e: { ctrlKey: boolean; metaKey: boolean }): boolean;
  /** What scrolling does to the view. */
  scrolls(): 'zoom' | 'turn';
  /** The wheel while dragging or drawing; true when it meant something. */
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
  toolMove(x: number, y: number, e: { shiftKey: boolean }): void;
}
