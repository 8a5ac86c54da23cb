/** Keys of pieces: two states of a piece with the same key are alike in what the key is of. */
import { keptForSteps } from '@urnsmith/core/build/ofPiece';
import { anchorKey } from '@urnsmith/core/document/anchors';
import type { Piece } from '@urnsmith/core/document/schema';
import { keptName } from '@urnsmith/core/select/kept';

/** Everything of a piece that its own mesh depends on, apart from other pieces. */
export function shapeKey(p: Piece | undefined): string {
  if (!p) return '';
  let key = keys.get(p);
  if (key === undefined) {
    const inSteps = keptForSteps(p).map((name) => p.selections?.[name]);
    const inActions = p.actions?.some((a) => keptName(a.select)) ? p.selections : null;
    keys.set(p, (key = JSON.stringify([p.base, p.actions, p.steps, inSteps, inActions])));
  }
  return key;
}
const keys = new WeakMap<Piece, string>();

/** The groups a piece counts among, and its part in them. */
export const groupingKey = (p: Piece | undefined): string => JSON.stringify([p?.parent, p?.role]);
/** Everything that decides where a piece stands to those that work with it. */
export const placeKey = (p: Piece): string => JSON.stringify([groupingKey(p), anchorKey(p)]);
