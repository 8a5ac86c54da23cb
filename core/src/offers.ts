/** How a thing is offered to a person, told where the thing itself is. */

/**
 * The selection where the ring opens or next moves are shown: nothing at Piece level (`add`) or below it (`bare`);
 * pieces; or picked faces, edges, points.
 */
export type Page = 'add' | 'piece' | 'bare' | 'face' | 'edge' | 'point';

export interface Offer {
  /** Its name where room is scarce. */
  short?: string;
  /** Other words people search for. */
  words?: string;
  /** Its seat in the ring, clockwise from the top, 0 to 7. */
  ring?: Partial<Record<Page, number>>;
  /** Its rank among the next moves, 0 first. */
  next?: Partial<Record<Page, number>>;
}
