/** Pieces as a graph: which piece needs which other's result. */
import type { Piece } from './schema';

/** Ids of the pieces whose results a piece's active steps use. */
export function operandsOf(piece: Piece): string[] {
  return (piece.steps ?? []).flatMap((s) =>
    s.kind === 'cut' && !s.off ? s.cutters.filter((c) => !s.resting?.includes(c)) : [],
  );
}

/** All pieces a piece's steps name, also the ones switched off. */
export function namedOperands(piece: Piece): string[] {
  return (piece.steps ?? []).flatMap((s) => (s.kind === 'cut' ? s.cutters : []));
}

/** A circle of cutters as piece names, first and last the same; null when there is none. */
export function cutterCycle(pieces: ReadonlyArray<Piece>): string[] | null {
  const byId = new Map(pieces.map((p) => [p.id, p]));
  const state = new Map<string, 'open' | 'done'>();
  const path: string[] = [];
  const visit = (id: string): string[] | null => {
    if (state.get(id) === 'done') return null;
    if (state.get(id) === 'open') return [...path.slice(path.indexOf(id)), id];
    state.set(id, 'open');
    path.push(id);
    for (const next of namedOperands(byId.get(id)!)) {
      if (!byId.has(next)) continue;
      const found = visit(next);
      if (found) return found;
    }
    path.pop();
    state.set(id, 'done');
    return null;
  };
  for (const p of pieces) {
    const found = visit(p.id);
    if (found) return found.map((id) => byId.get(id)!.name ?? id);
  }
  return null;
}

/** The piece and everything that, directly or not, is built from it. */
export function dependents(pieces: ReadonlyArray<Piece>, ids: Iterable<string>): Set<string> {
  const users = new Map<string, string[]>();
  for (const p of pieces)
    for (const c of namedOperands(p)) {
      const list = users.get(c);
      if (list) list.push(p.id);
      else users.set(c, [p.id]);
    }
  const out = new Set<string>(ids);
  const stack = [...out];
  while (stack.length)
    for (const u of users.get(stack.pop()!) ?? [])
      if (!out.has(u)) {
        out.add(u);
        stack.push(u);
      }
  return out;
}
