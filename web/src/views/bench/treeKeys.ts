/** The keys of a tree (ARIA Authoring Practices Guide, tree view pattern): going, folding, selecting, first letters. */
import { useRef, useState } from 'react';
import { useDndContext } from '@dnd-kit/core';
import { handActions } from '../../state/handSlice';
import { panelActions } from '../../state/panelSlice';
import { useApp } from '../../state/store';
import { useScene } from '../../state/useScene';
import type { LedgerRow } from './ledgerRows';

type Row = Pick<LedgerRow, 'depth' | 'hasChildren' | 'open'>;

/** The effect of a key on a row: go to another one, or fold or unfold it; null where it has none. */
export function treeStep(rows: ReadonlyArray<Row>, at: number, key: string): number | 'fold' | null {
  const row = rows[at];
  const last = rows.length - 1;
  switch (key) {
    case 'ArrowDown':
      return Math.min(last, at + 1);
    case 'ArrowUp':
      return Math.max(0, at - 1);
    case 'Home':
      return 0;
    case 'End':
      return last;
    case 'ArrowRight':
      if (!row.hasChildren) return null;
      return row.open ? at + 1 : 'fold';
    case 'ArrowLeft': {
      if (row.hasChildren && row.open) return 'fold';
      for (let k = at - 1; k >= 0; k--) if (rows[k].depth < row.depth) return k;
      return null;
    }
    default:
      return null;
  }
}

/** The next row whose name begins with what was typed, going round; one letter again leads to the next one. */
export function treeLetters(names: ReadonlyArray<string>, at: number, typed: string): number | null {
  const same = [...typed].every((c) => c === typed[0]);
  const [start, from] = same ? [typed[0], at + 1] : [typed, at];
  for (let k = 0; k < names.length; k++) {
    const i = (from + k) % names.length;
    if (names[i].toLowerCase().startsWith(start)) return i;
  }
  return null;
}

/** Letters that come sooner than this belong to one word, ms. */
const ONE_WORD = 700;

export function useTreeKeys(rows: LedgerRow[]) {
  const scene = useScene();
  const active = useApp((s) => s.hand.active);
  const { active: held } = useDndContext();
  const [at, setAt] = useState<{ key: string; reached: number } | null>(null);
  // A range of rows begins at its anchor. Letters are names while the arrows lead, and commands otherwise.
  const hand = useRef({ anchor: '', browsing: false, typed: '', since: 0 });
  // A piece selected elsewhere, such as a new one, gets the focus too.
  const [was, setWas] = useState(active);
  if (was !== active) {
    setWas(active);
    const row = rows.find((r) => r.piece.id === active);
    if (at && row && row.key !== at.key) setAt({ key: row.key, reached: at.reached + 1 });
  }
  const known = rows.findIndex((r) => r.key === at?.key);
  const home = Math.max(0, known >= 0 ? known : rows.findIndex((r) => r.piece.id === active));
  const select = (ids: string[], mode: 'set' | 'toggle' | 'add' = 'set'): void => {
    scene.store.dispatch(handActions.selected({ ids, mode }));
    setWas(scene.store.getState().hand.active);
  };
  const reach = (index: number): void => {
    setAt((was) => ({ key: rows[index].key, reached: (was?.reached ?? 0) + 1 }));
  };
  const rowOf = (e: React.SyntheticEvent): number => {
    const { key } = (e.target as HTMLElement).dataset;
    return key === undefined ? -1 : rows.findIndex((r) => r.key === key);
  };
  const chosen = (): string[] => scene.store.getState().hand.selected;

  /** Enter makes a selected row the host, and selects one that is not selected. */
  const enter = (id: string): boolean => {
    const { active: last } = scene.store.getState().hand;
    if (last === id) return false;
    if (chosen().includes(id)) select([id], 'add');
    else select([id]);
    return true;
  };
  const range = (to: number): string[] => {
    const from = Math.max(
      0,
      rows.findIndex((r) => r.key === hand.current.anchor),
    );
    const [a, b] = from < to ? [from, to] : [to, from];
    const ids = rows.slice(a, b + 1).map((r) => r.piece.id);
    return from < to ? ids : ids.reverse();
  };
  const letter = (e: React.KeyboardEvent, from: number): boolean => {
    const own = hand.current;
    if (!own.browsing || e.key.length !== 1 || e.key === ' ' || e.ctrlKey || e.altKey || e.metaKey)
      return false;
    own.typed = (e.timeStamp - own.since < ONE_WORD ? own.typed : '') + e.key.toLowerCase();
    own.since = e.timeStamp;
    const to = treeLetters(
      rows.map((r) => r.piece.name ?? r.piece.id),
      from,
      own.typed,
    );
    if (to === null) return false;
    reach(to);
    select([rows[to].piece.id]);
    own.anchor = rows[to].key;
    return true;
  };
  const onKeyDown = (e: React.KeyboardEvent): void => {
    const from = rowOf(e);
    // A held row moves by the same keys.
    if (e.defaultPrevented || held || from < 0) return;
    const own = hand.current;
    const taken = ((): boolean => {
      if (e.key === 'Enter') return enter(rows[from].piece.id);
      if (e.key === ' ' && e.ctrlKey) {
        select([rows[from].piece.id], 'toggle');
        own.anchor = rows[from].key;
        return true;
      }
      if (e.key === 'Escape' && own.browsing) {
        own.browsing = false;
        return true;
      }
      const upOrDown = e.key === 'ArrowDown' || e.key === 'ArrowUp';
      // With a modifier the arrows to the sides are the view's.
      const to = e.altKey || ((e.ctrlKey || e.shiftKey) && !upOrDown) ? null : treeStep(rows, from, e.key);
      if (to === null) return letter(e, from);
      own.browsing = true;
      if (to === 'fold') {
        scene.store.dispatch(panelActions.collapseToggled(rows[from].piece.id));
        return true;
      }
      reach(to);
      if (e.ctrlKey) return true;
      if (e.shiftKey) {
        own.anchor ||= rows[from].key;
        select(range(to));
      } else {
        own.anchor = rows[to].key;
        select([rows[to].piece.id]);
      }
      return true;
    })();
    if (taken) e.preventDefault();
  };
  const onFocus = (e: React.FocusEvent): void => {
    const to = rowOf(e);
    if (to < 0 || rows[to].key === at?.key) return;
    hand.current.anchor = rows[to].key;
    setAt((was) => ({ key: rows[to].key, reached: was?.reached ?? 0 }));
  };
  const onBlur = (e: React.FocusEvent): void => {
    if (e.currentTarget.contains(e.relatedTarget)) return;
    hand.current.browsing = false;
    setAt(null);
  };
  return { home, reached: at?.reached ?? 0, handlers: { onKeyDown, onFocus, onBlur } };
}
