/**
 * Twins: pieces that share the base and build of another, their original, and have their own place. The original is a
 * piece like any other; which of them is the original only decides where base and build are kept.
 */
import { worksAbout } from '../steps';
import { leansOn, namedOperands, nestedIn, type PieceLookup } from './graph';
import type { Piece } from './schema';

/** The piece whose base and build a piece shows: itself, or the original it is a twin of. */
export function originalOf(byId: PieceLookup, piece: Piece): Piece {
  let at = piece;
  while ('twin' in at.base) {
    const next = byId.get(at.base.twin);
    if (!next) return at;
    at = next;
  }
  return at;
}

/** The twins there are of a piece, or of the original it is a twin of; the original is not among them. */
export function twinsOf(pieces: ReadonlyArray<Piece>, piece: Piece): Piece[] {
  const byId = new Map(pieces.map((p) => [p.id, p]));
  const original = originalOf(byId, piece);
  return pieces.filter((p) => 'twin' in p.base && originalOf(byId, p).id === original.id);
}

/**
 * Twins of pieces and of what is nested in them. What a piece works with is not copied: the twin has its result.
 * @param ids of all pieces that were chosen, however deep
 * @param fresh names and ids for the new pieces, by the piece each is a twin of
 */
export function twinned(
  pieces: ReadonlyArray<Piece>,
  ids: Iterable<string>,
  fresh: (p: Piece) => { id: string; name: string },
): { made: Piece[]; of: Map<string, string> } {
  const byId = new Map(pieces.map((p) => [p.id, p]));
  const asked = new Set(ids);
  const whole = nestedIn(pieces, asked);
  const built = new Set<string>();
  for (const p of pieces)
    if (whole.has(p.id)) for (const o of namedOperands(p)) if (!asked.has(o)) built.add(o);
  const left = nestedIn(pieces, built);
  const chosen = pieces.filter((p) => whole.has(p.id) && !left.has(p.id));
  const names = new Map(chosen.map((p) => [p.id, fresh(p)]));
  const made = chosen.map((p): Piece => {
    const { actions: _a, steps: _s, selections: _k, ...rest } = p;
    const parent = p.parent === undefined ? undefined : (names.get(p.parent)?.id ?? p.parent);
    return {
      ...rest,
      ...names.get(p.id)!,
      ...(parent !== undefined && { parent }),
      base: 'group' in p.base ? p.base : { twin: originalOf(byId, p).id },
    };
  });
  return { made, of: new Map([...names].map(([id, n]) => [id, n.id])) };
}

/**
 * Base and build go over to a twin, and its original becomes a twin of it: nothing changes in the world but the cutters,
 * which go along and stand at the twin's place. The same pieces when it is no twin.
 * @returns null when the build looks to pieces that would then stand elsewhere to it
 */
export function takenOver(pieces: ReadonlyArray<Piece>, id: string): Piece[] | null {
  const byId = new Map(pieces.map((p) => [p.id, p]));
  const twin = byId.get(id)!;
  const original = originalOf(byId, twin);
  if (original.id === id) return [...pieces];
  const nested = new Set(namedOperands(original).filter((o) => byId.get(o)?.parent === original.id));
  if (!namedOperands(original).every((o) => nested.has(o))) return null;
  if (original.steps?.some(worksAbout)) return null;
  // A cutter that other pieces work with too must not move.
  if (pieces.some((p) => p.id !== original.id && namedOperands(p).some((o) => nested.has(o)))) return null;
  const { base, actions, steps, selections } = original;
  const build = {
    base,
    ...(actions && { actions }),
    ...(steps && { steps }),
    ...(selections && { selections }),
  };
  return pieces.map((p) => {
    if (p.id === id) return { ...p, ...build };
    if (p.id === original.id) {
      const { actions: _a, steps: _s, selections: _k, ...rest } = p;
      return { ...rest, base: { twin: id } };
    }
    if (nested.has(p.id)) return { ...p, parent: id };
    if ('twin' in p.base && originalOf(byId, p).id === original.id) return { ...p, base: { twin: id } };
    if ('taken' in p.base && p.base.taken === original.id) return { ...p, base: { ...p.base, taken: id } };
    return p;
  });
}

/**
 * Edits that were put on twins go to what they share: the twin takes base and build over, and they come after these.
 * @returns the name of a twin whose original keeps its build, as `takenOver` has it, in place of the pieces
 */
export function withTwinsEdited(pieces: ReadonlyArray<Piece>): Piece[] | string {
  let list = [...pieces];
  for (const { id, base, actions, steps, selections } of pieces) {
    if (!('twin' in base) || !(actions?.length || steps?.length)) continue;
    const bare = list.map((p): Piece => {
      if (p.id !== id) return p;
      const { actions: _a, steps: _s, selections: _k, ...rest } = p;
      return rest;
    });
    const after = takenOver(bare, id);
    if (!after) return list.find((p) => p.id === id)!.name ?? id;
    list = after.map((p): Piece => {
      if (p.id !== id) return p;
      const used = new Set(p.steps?.map((s) => s.id));
      const fresh = (k: number): string => (used.has(`s${k}`) ? fresh(k + 1) : (used.add(`s${k}`), `s${k}`));
      return {
        ...p,
        ...(actions?.length && { actions: [...(p.actions ?? []), ...actions] }),
        ...(steps?.length && { steps: [...(p.steps ?? []), ...steps.map((s) => ({ ...s, id: fresh(1) }))] }),
        ...(selections && { selections: { ...p.selections, ...selections } }),
      };
    });
  }
  return list;
}

/**
 * Before pieces go: a twin that stays takes over from each original that goes, so that no twin is left without one.
 * @returns the pieces, and those that must go too because what they are made of goes
 */
export function withTwinsKept(
  pieces: ReadonlyArray<Piece>,
  gone: ReadonlySet<string>,
): { pieces: Piece[]; along: string[] } {
  let list = [...pieces];
  for (const p of pieces) {
    if (!('twin' in p.base) || gone.has(p.id)) continue;
    const byId = new Map(list.map((x) => [x.id, x]));
    if (gone.has(originalOf(byId, byId.get(p.id)!).id)) list = takenOver(list, p.id) ?? list;
  }
  const along = new Set<string>();
  for (let more = true; more;) {
    more = false;
    for (const p of list) {
      if (gone.has(p.id) || along.has(p.id)) continue;
      const sources = leansOn(p).filter((o) => !namedOperands(p).includes(o));
      if (!sources.some((o) => gone.has(o) || along.has(o))) continue;
      along.add(p.id);
      more = true;
    }
  }
  return { pieces: list, along: [...along] };
}
