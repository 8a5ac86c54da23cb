/** How far a change reaches: kept up to date piece by piece, so that asking costs what the change does. */
import { operandsOf, workedWith } from '@urnsmith/core/document/graph';
import type { Piece } from '@urnsmith/core/document/schema';
import { aboutPiece, heedsWorld, type Step } from '@urnsmith/core/steps/index';
import type { PiecesPatch } from './piecesPatch';

/** Sets of piece ids by the piece they are reached from. */
class Links {
  private readonly from = new Map<string, Set<string>>();

  add(from: string, to: string): void {
    const set = this.from.get(from);
    if (set) set.add(to);
    else this.from.set(from, new Set([to]));
  }

  remove(from: string, to: string): void {
    const set = this.from.get(from);
    if (set?.delete(to) && !set.size) this.from.delete(from);
  }

  /** Those one link away. */
  direct(from: string): Iterable<string> {
    return this.from.get(from) ?? [];
  }

  /** These and all that is reached from them. */
  reached(ids: Iterable<string>): Set<string> {
    const out = new Set(ids);
    const open = [...out];
    for (let id = open.pop(); id !== undefined; id = open.pop())
      for (const to of this.from.get(id) ?? [])
        if (!out.has(to)) {
          out.add(to);
          open.push(to);
        }
    return out;
  }
}

const activeSteps = (p: Piece): Step[] => (p.steps ?? []).filter((s) => !s.off);

/** The pieces whose place next to a piece its build depends on: those it works with or about. */
const placedBy = (p: Piece): string[] => [
  ...workedWith(p),
  ...activeSteps(p).flatMap((s) => aboutPiece(s) ?? []),
];
/** The pieces a build depends on in any way. A twin depends on the shape of its original, wherever that stands. */
const looksTo = (p: Piece): string[] => [...new Set([...operandsOf(p), ...placedBy(p)])];

export class Reach {
  readonly pieces = new Map<string, Piece>();
  private readonly users = new Links();
  /** By the pieces whose place they depend on. */
  private readonly placed = new Links();
  private readonly nested = new Links();

  take({ put, gone }: PiecesPatch): void {
    for (const id of gone) this.forget(id);
    for (const p of put) {
      const before = this.pieces.get(p.id);
      // A piece that only moved leads where it did.
      if (before && before.steps === p.steps && before.base === p.base && before.parent === p.parent) {
        this.pieces.set(p.id, p);
        continue;
      }
      this.forget(p.id);
      this.pieces.set(p.id, p);
      for (const id of looksTo(p)) this.users.add(id, p.id);
      for (const id of placedBy(p)) this.placed.add(id, p.id);
      if (p.parent !== undefined) this.nested.add(p.parent, p.id);
    }
  }

  /** The pieces and everything nested in them. */
  nestedIn = (ids: Iterable<string>): Set<string> => this.nested.reached(ids);

  /** The pieces and everything that, directly or not, is built from them or about them, or from a group they are in. */
  builtFrom = (ids: Iterable<string>): Set<string> => {
    let out = this.users.reached(ids);
    for (let size = 0; size < out.size;) {
      size = out.size;
      out = this.users.reached([...out, ...this.groupsAround(out)]);
    }
    return out;
  };

  /**
   * The pieces whose place next to one they work with or about changes when a piece moves with all that is nested in
   * it; and those in it that work about something fixed in the world. Linear in what is nested in it.
   */
  displacedBy(moved: string): Set<string> {
    const inside = this.nestedIn([moved]);
    const out = new Set<string>();
    for (const id of inside) {
      const piece = this.pieces.get(id);
      if (!piece) continue;
      if (activeSteps(piece).some(heedsWorld) || placedBy(piece).some((to) => !inside.has(to))) out.add(id);
      for (const user of this.placed.direct(id)) if (!inside.has(user)) out.add(user);
    }
    for (const user of this.usersOfGroupsAround(moved)) out.add(user);
    return out;
  }

  /** The pieces that work with any of these, or with a group they are in. */
  usersOf(ids: ReadonlyArray<string>): Set<string> {
    return new Set(ids.flatMap((id) => [...this.placed.direct(id), ...this.usersOfGroupsAround(id)]));
  }

  /** The pieces that work with a group a piece is in, so with the piece itself. */
  usersOfGroupsAround(id: string): string[] {
    return [...this.groupsAround([id])].flatMap((group) => [...this.placed.direct(group)]);
  }

  private groupsAround(ids: Iterable<string>): Set<string> {
    const out = new Set<string>();
    const seen = new Set<string>();
    for (const id of ids)
      for (let at = this.pieces.get(id)?.parent; at !== undefined && !seen.has(at);) {
        seen.add(at);
        const around = this.pieces.get(at);
        if (around && 'group' in around.base) out.add(at);
        at = around?.parent;
      }
    return out;
  }

  private forget(id: string): void {
    const before = this.pieces.get(id);
    if (!before) return;
    this.pieces.delete(id);
    for (const from of looksTo(before)) this.users.remove(from, id);
    for (const from of placedBy(before)) this.placed.remove(from, id);
    if (before.parent !== undefined) this.nested.remove(before.parent, id);
  }
}
