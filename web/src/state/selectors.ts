/** Values derived from the store. */
import { createSelector } from '@reduxjs/toolkit';
import { anchorKey } from '@urnsmith/core/document/anchors';
import type { AnchoredPiece } from '@urnsmith/core/select/anchor';
import { GroupMembers } from '@urnsmith/core/document/groupMembers';
import { hostsByOperand } from '@urnsmith/core/document/belonging';
import type { Piece } from '@urnsmith/core/document/schema';
import type { CutStep } from '@urnsmith/core/steps/index';

import type { RootState } from './store';

/** Pieces as they are to be drawn: the document with a drag's preview laid over it. */
export const livePieces = createSelector(
  [(s: RootState) => s.document.pieces, (s: RootState) => s.document.preview],
  (pieces, preview): Piece[] => {
    if (!preview) return pieces;
    const left = new Set(Object.keys(preview));
    const shown = pieces.map((p) => (left.delete(p.id) ? preview[p.id] : p));
    // A cutter that is being drawn is not in the document yet.
    return left.size ? [...shown, ...[...left].map((id) => preview[id])] : shown;
  },
);

const anchoredPieces = (s: RootState) => s.document.anchored;

/** Pieces with those that are anchored where that has brought them; those that stay as they are stay the same objects. */
function whereAnchored(pieces: Piece[], anchored: Record<string, AnchoredPiece>): Piece[] {
  if (!Object.keys(anchored).length) return pieces;
  return pieces.map((p) => {
    const now = anchored[p.id];
    if (!now || now.from !== anchorKey(p)) return p;
    return { ...p, transform: now.transform, ...(now.anchors && { anchors: now.anchors }) };
  });
}

/** The document's pieces, the anchored ones where they stand now: what the next action goes on from. */
export const settledPieces = createSelector(
  [(s: RootState) => s.document.pieces, anchoredPieces],
  whereAnchored,
);

export const piecesById = createSelector(
  [livePieces, anchoredPieces],
  (pieces, anchored) => new Map(whereAnchored(pieces, anchored).map((p) => [p.id, p])),
);

export const activePiece = createSelector([piecesById, (s: RootState) => s.hand.active], (byId, id) =>
  id ? (byId.get(id) ?? null) : null,
);

/**
 * The piece in hand for views that do not show where it stands: while a hand moves it, it stays the same object, so
 * nothing of them is rendered again.
 */
export function activeWherever(s: RootState): Piece | null {
  const now = activePiece(s);
  if (!s.document.preview || !now || !wherever || !onlyMoved(wherever, now)) wherever = now;
  return wherever;
}
let wherever: Piece | null = null;

function onlyMoved(a: Piece, b: Piece): boolean {
  const keys = new Set([...Object.keys(a), ...Object.keys(b)]) as Set<keyof Piece>;
  return [...keys].every((k) => k === 'transform' || k === 'anchors' || a[k] === b[k]);
}

export const roleOf = (p: Piece): 'solid' | 'cutter' | 'guide' | 'group' =>
  'group' in p.base ? 'group' : (p.role ?? 'solid');

const groupMembers = createSelector(
  [(s: RootState) => s.document.pieces],
  (pieces) => new GroupMembers(pieces),
);

/** Ids of the pieces a group stands for; the id itself of a piece that is none. */
export const membersOf = (s: RootState, id: string): string[] =>
  'group' in (piecesById(s).get(id)?.base ?? {}) ? groupMembers(s).of(id) : [id];

/** Ids of the selected pieces, each once. Groups are replaced by the pieces they stand for. */
export const selectedMembers = createSelector(
  [(s: RootState) => s.hand.selected, (s: RootState) => s.document.pieces, groupMembers],
  (selected, pieces, members) => {
    const byId = new Map(pieces.map((p) => [p.id, p]));
    return members.expanded(selected, (id) => byId.get(id));
  },
);

/** Hosts per cutter: which pieces work with it, or with a group it is in. A drag changes numbers, not that. */
export const hostsOfCutter = createSelector(
  [(s: RootState) => s.document.pieces, groupMembers],
  (pieces, members) => {
    const out = hostsByOperand(pieces);
    for (const p of pieces) {
      const of = 'group' in p.base ? out.get(p.id) : undefined;
      for (const m of of ? members.of(p.id) : []) out.set(m, [...(out.get(m) ?? []), ...of!]);
    }
    return out;
  },
);

/** The mode of the first cut that works with a cutter, or with a group it is in; `off` where all its cuts are off. */
export const modeOfCutter = createSelector(
  [(s: RootState) => s.document.pieces, groupMembers],
  (pieces, members) => {
    const out = new Map<string, CutStep['mode'] | 'off'>();
    const groups = new Set(pieces.filter((p) => 'group' in p.base).map((p) => p.id));
    for (const { steps = [] } of pieces)
      for (const step of steps)
        if (step.kind === 'cut')
          for (const id of step.cutters)
            for (const c of groups.has(id) ? members.of(id) : [id])
              if ((out.get(c) ?? 'off') === 'off') out.set(c, step.off ? 'off' : step.mode);
    return out;
  },
);

/** How many cutters each host works with. */
export const cuttersPerHost = createSelector([hostsOfCutter], (hosts) => {
  const out = new Map<string, number>();
  for (const of of hosts.values()) for (const h of of) out.set(h, (out.get(h) ?? 0) + 1);
  return out;
});

/** Pieces hidden themselves or inside a hidden parent. A drag hides nothing. */
export const hiddenPieces = createSelector([(s: RootState) => s.document.pieces], (pieces) => {
  const hidden = new Set<string>();
  if (!pieces.some((p) => p.hidden)) return hidden;
  const byId = new Map(pieces.map((p) => [p.id, p]));
  for (const p of pieces) {
    for (let at: Piece | undefined = p; at; at = at.parent ? byId.get(at.parent) : undefined)
      if (at.hidden) hidden.add(p.id);
  }
  return hidden;
});
