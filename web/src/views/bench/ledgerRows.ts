/** Lays the pieces out as rows: children under parents, cutters under the hosts they cut, filtered. */
import type { Piece } from '@urnsmith/core/document/schema';
import type { LedgerFilter } from '../../state/panelSlice';
import { roleOf } from '../../state/selectors';

export interface LedgerRow {
  key: string;
  piece: Piece;
  depth: number;
  hasChildren: boolean;
  open: boolean;
}

export interface LedgerOptions {
  filter: LedgerFilter;
  search: string;
  collapsed: string[];
}

export function ledgerRows(
  pieces: Piece[],
  hosts: ReadonlyMap<string, string[]>,
  o: LedgerOptions,
): LedgerRow[] {
  const needle = o.search.trim().toLowerCase();
  if (needle || o.filter !== 'all')
    return pieces
      .filter((p) => fits(p, o.filter) && (p.name ?? p.id).toLowerCase().includes(needle))
      .map((piece) => ({ key: piece.id, piece, depth: 0, hasChildren: false, open: false }));
  const ids = new Set(pieces.map((p) => p.id));
  const children = new Map<string, Piece[]>();
  const roots: Piece[] = [];
  const under = (id: string, p: Piece): void => {
    const list = children.get(id);
    if (list) list.push(p);
    else children.set(id, [p]);
  };
  for (const p of pieces) {
    const host = roleOf(p) === 'cutter' ? hosts.get(p.id)?.[0] : undefined;
    // A cutter hangs under its host unless it was nested somewhere on purpose.
    if (
      host &&
      ids.has(host) &&
      (p.parent === undefined || p.parent === pieces.find((x) => x.id === host)?.parent)
    )
      under(host, p);
    else if (p.parent && ids.has(p.parent)) under(p.parent, p);
    else roots.push(p);
  }
  const rows: LedgerRow[] = [];
  const added = new Set<string>();
  const add = (piece: Piece, depth: number): void => {
    if (added.has(piece.id)) return;
    added.add(piece.id);
    const own = children.get(piece.id) ?? [];
    const open = !o.collapsed.includes(piece.id);
    rows.push({ key: piece.id, piece, depth, hasChildren: own.length > 0, open });
    if (open) for (const c of own) add(c, depth + 1);
  };
  for (const r of roots) add(r, 0);
  // A host nested in its own cutter hangs under nothing that is a root.
  const shown = (p: Piece): boolean =>
    added.has(p.id) || [...children].some(([id, c]) => c.includes(p) && o.collapsed.includes(id));
  for (const p of pieces) if (!shown(p) && !o.collapsed.length) add(p, 0);
  return rows;
}

function fits(p: Piece, filter: LedgerFilter): boolean {
  if (filter === 'all') return true;
  if (filter === 'hidden') return p.hidden === true;
  return `${roleOf(p)}s` === filter;
}
