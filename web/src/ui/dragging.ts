/**
 * Sensors for dragging list items: the pointer after a few pixels, or Shift+Space, the arrows, and Space again. Space
 * alone keeps its meaning.
 */
import {
  closestCenter,
  KeyboardSensor,
  PointerSensor,
  pointerWithin,
  useSensor,
  useSensors,
  type Announcements,
  type CollisionDetection,
  type KeyboardCoordinateGetter,
} from '@dnd-kit/core';

const SLACK_PX = 6;

/** @param coordinateGetter where the arrows lead */
export function useListSensors(coordinateGetter: KeyboardCoordinateGetter) {
  return useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: SLACK_PX } }),
    useSensor(KeyboardSensor, {
      coordinateGetter,
      keyboardCodes: { start: ['Space'], cancel: ['Escape'], end: ['Space', 'Enter'] },
    }),
  );
}

/** The item under the pointer; with the keyboard, the nearest one. */
export const underHand: CollisionDetection = (args) =>
  args.pointerCoordinates ? pointerWithin(args) : closestCenter(args);

/** Whether a key may pick a thing up. */
export const picksUp = (e: { shiftKey: boolean }): boolean => e.shiftKey;

export const HOW_TO_DRAG = {
  draggable: 'To move it, press Shift+Space and the arrow keys, then Space to drop it or Escape to cancel.',
};

/** Announcements of a drag for screen readers. @param nameOf names of items, by id */
export const announcing = (nameOf: (id: string) => string, verb: string): Announcements => ({
  onDragStart: ({ active }) => `${nameOf(String(active.id))} is held.`,
  onDragOver: ({ active, over }) =>
    over && over.id !== active.id ? `${verb} ${nameOf(String(over.id))}.` : undefined,
  onDragEnd: ({ active, over }) =>
    over && over.id !== active.id
      ? `${nameOf(String(active.id))} was put ${verb.toLowerCase()} ${nameOf(String(over.id))}.`
      : `${nameOf(String(active.id))} stays where it was.`,
  onDragCancel: ({ active }) => `${nameOf(String(active.id))} stays where it was.`,
});
