/** A group that another piece works with stands for the pieces in it, each in its own place. */
import type { Piece } from './schema';
import { referencesOf } from './sections';

export class GroupMembers {
  private inside: Map<string, Piece[]> | null = null;

  constructor(private readonly pieces: { values(): Iterable<Piece> }) {}

  /**
   * The pieces a group stands for, groups in it included: those with a shape of their own, but for guides and what
   * others of them work with. Linear in what is nested in the group, once the nesting is known.
   */
  of(group: string): string[] {
    const all: Piece[] = [];
    const seen = new Set([group]);
    const open = [group];
    for (let at = open.pop(); at !== undefined; at = open.pop())
      for (const p of this.nesting().get(at) ?? []) {
        if (seen.has(p.id)) continue;
        seen.add(p.id);
        all.push(p);
        open.push(p.id);
      }
    const used = new Set(all.flatMap((p) => referencesOf('pieces', p).flatMap((r) => (r.role === 'operand' ? [r.id] : [])))); // prettier-ignore
    return all.filter((p) => !('group' in p.base) && p.role !== 'guide' && !used.has(p.id)).map((p) => p.id);
  }

  /** Ids with every group among them replaced by the pieces it stands for, each once. */
  expanded(ids: ReadonlyArray<string>, get: (id: string) => Piece | undefined): string[] {
    const isGroup = (id: string): boolean => 'group' in (get(id)?.base ?? {});
    if (!ids.some(isGroup)) return [...ids];
    return [...new Set(ids.flatMap((id) => (isGroup(id) ? this.of(id) : [id])))];
  }

  /** A step whose scopes name groups of cutters, with the pieces these stand for. */
  inScopes<S extends object>(step: S, get: (id: string) => Piece | undefined): S {
    const named = (v: unknown): v is { cutters: string[] } =>
      typeof v === 'object' && v !== null && Array.isArray((v as { cutters?: unknown }).cutters);
    if (!Object.values(step).some(named)) return step;
    return Object.fromEntries(
      Object.entries(step).map(([k, v]) => [
        k,
        named(v) ? { ...v, cutters: this.expanded(v.cutters, get) } : v,
      ]),
    ) as S;
  }

  private nesting(): Map<string, Piece[]> {
    if (!this.inside) {
      this.inside = new Map();
      for (const p of this.pieces.values()) {
        if (p.parent === undefined) continue;
        const list = this.inside.get(p.parent);
        if (list) list.push(p);
        else this.inside.set(p.parent, [p]);
      }
    }
    return this.inside;
  }
}
