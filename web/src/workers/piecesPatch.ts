/** The update of the document sent to a worker: pieces that differ from its own. Pieces are compared by identity. */
import type { Piece } from '@urnsmith/core/document/schema';

export interface PiecesPatch {
  put: Piece[];
  gone: string[];
}

/** @returns what has changed since `given`; null when nothing has. Linear in pieces, without looking into them */
export function patchOf(given: ReadonlyArray<Piece> | null, now: ReadonlyArray<Piece>): PiecesPatch | null {
  if (given === now) return null;
  if (!given) return { put: [...now], gone: [] };
  const put: Piece[] = [];
  const moved: Piece[] = [];
  // Most often all are in their places and one of them is another.
  for (let i = 0; i < now.length; i++)
    if (given[i]?.id !== now[i].id) moved.push(now[i]);
    else if (given[i] !== now[i]) put.push(now[i]);
  if (!moved.length && given.length === now.length) return put.length ? { put, gone: [] } : null;
  const before = new Map(given.map((p) => [p.id, p]));
  for (const p of moved) if (before.get(p.id) !== p) put.push(p);
  const there = new Set(now.map((p) => p.id));
  const gone = given.filter((p) => !there.has(p.id)).map((p) => p.id);
  return put.length || gone.length ? { put, gone } : null;
}

export function applyPatch(pieces: Map<string, Piece>, { put, gone }: PiecesPatch): void {
  for (const id of gone) pieces.delete(id);
  for (const p of put) pieces.set(p.id, p);
}
