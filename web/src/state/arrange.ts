/** Arranging whole pieces: settle, repeat, align, space, scatter; each one named action. */
import {
  aligned,
  offsetBetween,
  placedAt,
  scattered,
  settlePlacement,
  spaced,
  type Scatter,
} from '@urnsmith/core/document/arrangePieces';
import { worldMatrix } from '@urnsmith/core/document/placement';
import type { Piece } from '@urnsmith/core/document/schema';
import { multiply, type Matrix } from '@urnsmith/core/mesh/transform';
import { commit, copiesOf, duplicatePieces } from './actions';
import { bench } from './benchSlice';
import { store } from './store';

const pieces = (): Piece[] => store.getState().document.pieces;
const problem = (text: string): void => {
  store.dispatch(bench.noticed({ text, tone: 'problem' }));
};
const replaced = (changed: ReadonlyMap<string, Piece>): Piece[] =>
  pieces().map((p) => changed.get(p.id) ?? p);

/** Turns the piece's size (and, unless it is to stay, its turn and move) into its mesh. */
export function settle(id: string, parts: ReadonlyArray<'move' | 'turn' | 'size'>): void {
  const p = pieces().find((x) => x.id === id);
  if (!p || 'group' in p.base) return problem('Select a piece with faces first.');
  commit(`Settle ${parts.join(', ')} of ${p.name ?? id}`, settlePlacement(pieces(), id, parts));
}

/** Placements that were reset, to be put back. */
const resetFrom = new Map<string, Piece['transform']>();

/** Puts the piece back to where its frame is its parent's; what it stood at before can be restored. */
export function resetPlacement(id: string): void {
  const p = pieces().find((x) => x.id === id);
  if (!p?.transform) return;
  resetFrom.set(id, p.transform);
  const { transform: _, ...bare } = p;
  commit(`Reset placement of ${p.name ?? id}`, replaced(new Map([[id, bare]])));
}

/** Whether a reset placement can be restored. */
export const canRestore = (id: string): boolean => resetFrom.has(id);

export function restorePlacement(id: string): void {
  const p = pieces().find((x) => x.id === id);
  const transform = resetFrom.get(id);
  if (!p || !transform) return;
  resetFrom.delete(id);
  commit(`Restore placement of ${p.name ?? id}`, replaced(new Map([[id, { ...p, transform }]])));
}

/** Ids the last duplicate was made from and of. */
let lastCopy: { from: string; to: string } | null = null;

export function duplicateAndRemember(): void {
  const from = store.getState().bench.selected.at(-1);
  duplicatePieces(store.getState().bench.selected);
  const to = store.getState().bench.selected.at(-1);
  lastCopy = from && to && from !== to ? { from, to } : null;
}

/** Duplicates once more, by the offset the last duplicate was moved by. */
export function repeatDuplicate(): void {
  const byId = new Map(pieces().map((p) => [p.id, p]));
  if (!lastCopy || !byId.has(lastCopy.from) || !byId.has(lastCopy.to))
    return problem('Duplicate a piece and move the copy first; then the offset can be repeated.');
  const offset: Matrix = offsetBetween(byId, lastCopy.from, lastCopy.to);
  const { selected } = store.getState().bench;
  const { copies, tops, hosts } = copiesOf(selected);
  if (!copies.length) return problem('Select the pieces to duplicate first.');
  const now = new Map([...hosts, ...copies].map((p) => [p.id, p]));
  const set = new Set(copies.map((p) => p.id));
  const moved = copies.map((p) =>
    set.has(p.parent ?? '') ? p : placedAt(now, p, multiply(offset, worldMatrix(now, p.id))),
  );
  commit('Place another like the last duplicate', [...hosts, ...moved]);
  store.dispatch(bench.selected({ ids: tops }));
  lastCopy = { from: selected.at(-1)!, to: tops.at(-1)! };
}

export function align(axis: 0 | 1 | 2): void {
  const ids = chosen(2, 'align');
  if (ids) commit(`Align ${ids.length} pieces along ${'XYZ'[axis]}`, replaced(aligned(pieces(), ids, axis)));
}

export function space(axis: 0 | 1 | 2): void {
  const ids = chosen(3, 'space');
  if (ids) commit(`Space ${ids.length} pieces along ${'XYZ'[axis]}`, replaced(spaced(pieces(), ids, axis)));
}

export function scatter(s: Scatter): void {
  const ids = chosen(1, 'scatter');
  if (ids) commit(`Scatter ${ids.length} pieces`, replaced(scattered(pieces(), ids, s)));
}

function chosen(least: number, verb: string): string[] | null {
  const ids = store.getState().bench.selected.filter((id) => !pieces().find((p) => p.id === id)?.locked);
  if (ids.length >= least) return ids;
  problem(`Select at least ${least} unlocked ${least === 1 ? 'piece' : 'pieces'} to ${verb}.`);
  return null;
}
