/** Modifiers during a drag: hold to the axis nearest to the pointer's movement, or to the plane in view. */
import type { Vector3 } from 'three';
import type { DragStart } from './dragValue';

export type Hold = 'axis' | 'plane' | null;

/** How the screen lies in the world: unit vectors to the right, up, and toward the eye. */
export type ScreenAxes = readonly [right: Vector3, up: Vector3, back: Vector3];

export const holdOf = (e: { shiftKey: boolean; altKey: boolean }): Hold =>
  e.shiftKey ? 'axis' : e.altKey ? 'plane' : null;

/**
 * The axes of the handles a drag goes along.
 * @param way of the pointer since the drag began, pixels, y down
 */
export function heldAxes(
  { grip, axes }: DragStart,
  hold: Hold,
  way: { x: number; y: number },
  [right, up, back]: ScreenAxes,
): number[] {
  // An arm or a ring of the handles has its axis already.
  if (!hold || grip.tool === 'turn' || grip.axes.length < 2) return grip.axes;
  const best = (of: ReadonlyArray<number>, score: (a: Vector3) => number): number =>
    of.reduce((b, k) => (score(axes[k]) > score(axes[b]) ? k : b));
  if (hold === 'plane') {
    const across = best([0, 1, 2], (a) => Math.abs(a.dot(back)));
    return [0, 1, 2].filter((k) => k !== across);
  }
  const along = (a: Vector3): number => {
    const [x, y] = [a.dot(right), -a.dot(up)];
    // One that is seen end-on cannot be followed.
    return Math.abs(x * way.x + y * way.y) / Math.max(Math.hypot(x, y), 0.2);
  };
  return [best(grip.axes, along)];
}
