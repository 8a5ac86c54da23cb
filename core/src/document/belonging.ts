/** Cutters that belong to what they cut: nested in its frame, so they move, turn, hide, duplicate and go with it. */
import { invert, isAlike, multiply, transformMatrix, transformOf } from '../mesh/transform';
import { namedOperands } from './graph';
import { GroupMembers } from './groupMembers';
import { worldMatrix } from './placement';
import type { Piece } from './schema';

/** The pieces that work with each piece, in the order they are listed. */
export function hostsByOperand(pieces: ReadonlyArray<Piece>): Map<string, string[]> {
  const out = new Map<string, string[]>();
  for (const p of pieces)
    for (const o of new Set(namedOperands(p))) {
      const list = out.get(o);
      if (list) list.push(p.id);
      else out.set(o, [p.id]);
    }
  return out;
}

/**
 * Nests cutters in the first piece they cut; none of them moves in the world. Left where they are: cutters that belong
 * to a host already, that are to stay in the world, that were nested elsewhere on purpose (only when looking at all),
 * whose host is nested in them, and those whose place in the host's frame would be sheared.
 * @param only look at these; at all cutters when left out
 */
export function withCuttersNested(pieces: ReadonlyArray<Piece>, only?: ReadonlySet<string>): Piece[] {
  const hosts = hostsByOperand(pieces);
  const before = new Map(pieces.map((p) => [p.id, p]));
  const now = new Map(before);
  for (const p of pieces) {
    const mine = hosts.get(p.id) ?? [];
    if (p.role !== 'cutter' || p.staysInWorld || !mine.length || (only && !only.has(p.id))) continue;
    const host = before.get(mine[0])!;
    if (p.parent !== undefined && mine.includes(p.parent)) continue;
    if (!only && p.parent !== undefined && p.parent !== host.parent) continue;
    if (isAround(now, p.id, host.id)) continue;
    const placed = movedInto(before, p, host.id);
    if (placed) now.set(p.id, placed);
  }
  return pieces.map((p) => now.get(p.id)!);
}

/** Whether a piece lies, however deep, in another. */
function isAround(byId: ReadonlyMap<string, Piece>, outer: string, inner: string): boolean {
  for (let at: string | undefined = inner; at !== undefined; at = byId.get(at)?.parent)
    if (at === outer) return true;
  return false;
}

/**
 * A piece nested in another (or in none) where it stands in the world.
 * @returns null where the new frame would shear it: a placement has no numbers for that
 */
export function movedInto(
  byId: ReadonlyMap<string, Piece>,
  p: Piece,
  parent: string | undefined,
): Piece | null {
  const world = worldMatrix(byId, p.id);
  const local = parent === undefined ? world : multiply(invert(worldMatrix(byId, parent)), world);
  const transform = transformOf(local);
  if (!isAlike(transformMatrix(transform), local)) return null;
  const { parent: before, anchors, ...rest } = p;
  // Elsewhere there is nothing of what it was anchored to.
  const kept = anchors && before === parent ? { anchors } : {};
  return { ...rest, ...kept, ...(parent !== undefined && { parent }), transform };
}

/** Pieces that are to cut become cutters; of groups among them, the pieces in them too. */
export function withCutters(pieces: ReadonlyArray<Piece>, ids: Iterable<string>): Piece[] {
  const chosen = new Set(ids);
  const members = new GroupMembers(pieces);
  for (const p of pieces)
    if (chosen.has(p.id) && 'group' in p.base) for (const id of members.of(p.id)) chosen.add(id);
  return pieces.map((p): Piece => (chosen.has(p.id) ? { ...p, role: 'cutter' } : p));
}

/** The cutters among these that no piece works with, alone or in a group: they are left out of exports. */
export function idleCutters(pieces: ReadonlyArray<Piece>, among?: ReadonlySet<string>): Piece[] {
  const working = new Set(hostsByOperand(pieces).keys());
  const members = new GroupMembers(pieces);
  for (const p of pieces)
    if (working.has(p.id) && 'group' in p.base) for (const m of members.of(p.id)) working.add(m);
  return pieces.filter((p) => p.role === 'cutter' && !working.has(p.id) && (!among || among.has(p.id)));
}

/**
 * Handles nested cutters when their host is deleted: those that another piece works with stay, nested in that one.
 * @param gone the pieces that go, with all that is nested in them
 * @param asked the pieces a person asked to delete; these go in any case
 */
export function survivors(
  pieces: ReadonlyArray<Piece>,
  gone: ReadonlySet<string>,
  asked: ReadonlySet<string>,
): Map<string, Piece> {
  const hosts = hostsByOperand(pieces);
  const byId = new Map(pieces.map((p) => [p.id, p]));
  const out = new Map<string, Piece>();
  for (const id of gone) {
    const p = byId.get(id)!;
    const other = hosts.get(id)?.find((h) => !gone.has(h));
    if (asked.has(id) || other === undefined) continue;
    const placed = movedInto(byId, p, other) ?? movedInto(byId, p, undefined);
    if (placed) out.set(id, placed);
  }
  return out;
}
