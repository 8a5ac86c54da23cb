/** Pieces as a graph: which piece needs which other's result, and which one carries which. */
import type { Piece } from './schema';
import { STEPS } from '../steps';
import { GroupMembers } from './groupMembers';
import type { Role } from '../schema/references';
import { referencesOf } from './sections';

/** Pieces looked up by id. */
export interface PieceLookup {
  has(id: string): boolean;
  get(id: string): Piece | undefined;
  values(): Iterable<Piece>;
}

const idsOf = (piece: Piece, ...roles: Role[]): string[] =>
  referencesOf('pieces', piece).flatMap((r) => (roles.includes(r.role) ? [r.id] : []));

/** Ids of the pieces a piece's active steps work with, each once. */
export const workedWith = (piece: Piece): string[] => [
  ...new Set((piece.steps ?? []).flatMap((s) => (s.off ? [] : (STEPS[s.kind].operands?.(s as never) ?? [])))),
];

/** Ids of the pieces whose results a piece is made of, or its active steps use, each once. */
export const operandsOf = (piece: Piece): string[] => [
  ...new Set([...idsOf(piece, 'source'), ...workedWith(piece)]),
];

/** All pieces a piece's steps work with, also the ones switched off. */
export const namedOperands = (piece: Piece): string[] => idsOf(piece, 'operand');

/** All pieces a piece cannot be built without, also for steps that are switched off. */
export const leansOn = (piece: Piece): string[] => idsOf(piece, 'operand', 'source');

/** A circle along one kind of reference, first and last the same; null when there is none. Each piece is looked at once. */
function circle(byId: PieceLookup, from: Iterable<string>, next: (p: Piece) => string[]): string[] | null {
  const done = new Set<string>();
  for (const start of from) {
    const path: Array<{ id: string; left: string[] }> = [];
    const open = new Map<string, number>();
    const enter = (id: string): string[] | null => {
      if (done.has(id) || !byId.has(id)) return null;
      const at = open.get(id);
      if (at !== undefined) return [...path.slice(at).map((p) => p.id), id];
      open.set(id, path.length);
      path.push({ id, left: [...next(byId.get(id)!)].reverse() });
      return null;
    };
    let found = enter(start);
    while (path.length && !found) {
      const top = path[path.length - 1];
      const child = top.left.pop();
      if (child !== undefined) found = enter(child);
      else {
        done.add(top.id);
        open.delete(top.id);
        path.pop();
      }
    }
    if (found) return found;
  }
  return null;
}

const mapOf = (pieces: Iterable<Piece>): Map<string, Piece> => new Map([...pieces].map((p) => [p.id, p]));
const named = (byId: PieceLookup, ids: string[] | null): string[] | null =>
  ids && ids.map((id) => byId.get(id)!.name ?? id);

/** A circle of cutters as piece names, first and last the same; null when there is none. */
export function cutterCycle(pieces: ReadonlyArray<Piece>): string[] | null;
/** @param from look only at what these pieces need */
export function cutterCycle(pieces: PieceLookup, from: Iterable<string>): string[] | null;
export function cutterCycle(
  pieces: ReadonlyArray<Piece> | PieceLookup,
  from?: Iterable<string>,
): string[] | null {
  const byId = 'get' in pieces ? pieces : mapOf(pieces);
  const members = new GroupMembers(byId);
  const next = (p: Piece): string[] => ('group' in p.base ? members.of(p.id) : leansOn(p));
  return named(byId, circle(byId, from ?? (byId as Map<string, Piece>).keys(), next));
}

/** A piece nested inside itself, by way of the others; null when there is none. */
export function parentCycle(byId: PieceLookup, from: Iterable<string>): string[] | null {
  return named(
    byId,
    circle(byId, from, (p) => idsOf(p, 'parent')),
  );
}

/**
 * A piece and all that its result needs, those it needs first.
 * @param next what a piece needs
 */
export function needed(id: string, next: (id: string) => string[]): string[] {
  const out: string[] = [];
  const state = new Set<string>([id]);
  const path = [{ id, left: next(id) }];
  while (path.length) {
    const top = path[path.length - 1];
    const child = top.left.pop();
    if (child === undefined) {
      out.push(top.id);
      path.pop();
    } else if (!state.has(child)) {
      state.add(child);
      path.push({ id: child, left: next(child) });
    }
  }
  return out;
}

/** The pieces and everything nested in them. */
export function nestedIn(pieces: ReadonlyArray<Piece>, ids: Iterable<string>): Set<string> {
  const inside = new Map<string, string[]>();
  for (const p of pieces) {
    if (p.parent === undefined) continue;
    const list = inside.get(p.parent);
    if (list) list.push(p.id);
    else inside.set(p.parent, [p.id]);
  }
  const out = new Set<string>(ids);
  const stack = [...out];
  while (stack.length)
    for (const child of inside.get(stack.pop()!) ?? [])
      if (!out.has(child)) {
        out.add(child);
        stack.push(child);
      }
  return out;
}
