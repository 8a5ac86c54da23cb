/** The pieces whose elements are edited: where on them, and what is picked there. */
import type { Piece } from '@urnsmith/core/document/schema';
import type { ElementKind, Selection } from '@urnsmith/core/select/selection';
import type { OpenScene } from './OpenScene';
import { picksOf, type HandState, type ElementLevel } from './handSlice';
import { piecesById } from './selectors';
import { siteOf, type Site } from './site';
import type { RootState } from './store';
import { isTwin } from './twins';

export const KIND: Record<ElementLevel, ElementKind> = { face: 'face', edge: 'edge', point: 'vertex' };

export interface Hand {
  piece: Piece;
  /** Null for its base. */
  site: Site | null;
  selection: Selection;
}

/** Pieces whose elements are edited at once; of more, those that were selected last. */
export const HANDS_AT_MOST = 24;

/** A piece whose elements can be edited. */
export const isEditable = (p: Piece | undefined): p is Piece =>
  p !== undefined && !('group' in p.base) && !isTwin(p);

/** The site where a piece is edited; the chosen step belongs to the leading piece. */
export const siteInHand = (b: HandState, piece: Piece): Site | null =>
  siteOf(piece.id === b.active ? b : { onResult: b.onResult, step: null }, piece);

/** Ids of the pieces in hand, the one that leads last. */
export function idsInHand(s: RootState): string[] {
  if (s.hand.level === 'piece') return [];
  const byId = piecesById(s);
  return s.hand.selected
    .filter((id) => id === s.hand.active || (isEditable(byId.get(id)) && !byId.get(id)!.locked))
    .slice(-HANDS_AT_MOST);
}

function handOf(s: RootState, id: string): Hand | null {
  const { level } = s.hand;
  // The stored piece: a drag's preview is not stored yet.
  const piece = s.document.pieces.find((p) => p.id === id);
  if (level === 'piece' || !isEditable(piece)) return null;
  const indices = (picksOf(s.hand)[id] ?? []) as number[];
  return { piece, site: siteInHand(s.hand, piece), selection: { kind: KIND[level], indices } };
}

/** The piece that leads. */
export function inHand(scene: OpenScene): Hand | null {
  const s = scene.store.getState();
  return s.hand.active === null ? null : handOf(s, s.hand.active);
}

/** All pieces in hand, the one that leads last. */
export function allInHand(scene: OpenScene): Hand[] {
  const s = scene.store.getState();
  return idsInHand(s).flatMap((id) => handOf(s, id) ?? []);
}
