/** Arranging whole pieces: settle, repeat, align, space, scatter; each one named action. */
import type { OpenScene } from './OpenScene';
import { perScene } from './perScene';
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
import { isAlone } from './twins';
import { commit, copiesOf, duplicatePieces } from './actions';
import { handActions } from './handSlice';
import { panelActions } from './panelSlice';
import { settledPieces } from './selectors';

const pieces = (scene: OpenScene): Piece[] => settledPieces(scene.store.getState());
const problem = (scene: OpenScene, text: string): void => {
  scene.store.dispatch(panelActions.noticed({ text, tone: 'problem' }));
};
const replaced = (scene: OpenScene, changed: ReadonlyMap<string, Piece>): Piece[] =>
  pieces(scene).map((p) => changed.get(p.id) ?? p);

/** Turns the piece's size (and, unless it is to stay, its turn and move) into its mesh. */
export function settle(scene: OpenScene, id: string, parts: ReadonlyArray<'move' | 'turn' | 'size'>): void {
  const p = pieces(scene).find((x) => x.id === id);
  if (!p || 'group' in p.base) return problem(scene, 'Select a piece with faces first.');
  if (!isAlone(scene, id)) return;
  commit(scene, `Settle ${parts.join(', ')} of ${p.name ?? id}`, settlePlacement(pieces(scene), id, parts));
}

/** Placements that were reset, to be put back. */
const resetFrom = perScene(() => new Map<string, Piece['transform']>());

/** Puts the piece back to where its frame is its parent's; what it stood at before can be restored. */
export function resetPlacement(scene: OpenScene, id: string): void {
  const p = pieces(scene).find((x) => x.id === id);
  if (!p?.transform) return;
  resetFrom(scene).set(id, p.transform);
  const { transform: _, ...bare } = p;
  commit(scene, `Reset placement of ${p.name ?? id}`, replaced(scene, new Map([[id, bare]])));
}

/** Whether a reset placement can be restored. */
export const canRestore = (scene: OpenScene, id: string): boolean => resetFrom(scene).has(id);

export function restorePlacement(scene: OpenScene, id: string): void {
  const p = pieces(scene).find((x) => x.id === id);
  const transform = resetFrom(scene).get(id);
  if (!p || !transform) return;
  resetFrom(scene).delete(id);
  commit(
    scene,
    `Restore placement of ${p.name ?? id}`,
    replaced(scene, new Map([[id, { ...p, transform }]])),
  );
}

/** Ids the last duplicate was made from and of. */
const last = perScene((): { copy: { from: string; to: string } | null } => ({ copy: null }));

export function duplicateAndRemember(scene: OpenScene): void {
  const from = scene.store.getState().hand.selected.at(-1);
  duplicatePieces(scene, scene.store.getState().hand.selected);
  const to = scene.store.getState().hand.selected.at(-1);
  last(scene).copy = from && to && from !== to ? { from, to } : null;
}

/** Duplicates once more, by the offset the last duplicate was moved by. */
export function repeatDuplicate(scene: OpenScene): void {
  const byId = new Map(pieces(scene).map((p) => [p.id, p]));
  const lastCopy = last(scene).copy;
  if (!lastCopy || !byId.has(lastCopy.from) || !byId.has(lastCopy.to))
    return problem(scene, 'Duplicate a piece and move the copy first; then the offset can be repeated.');
  const offset: Matrix = offsetBetween(byId, lastCopy.from, lastCopy.to);
  const { selected } = scene.store.getState().hand;
  const { copies, tops, hosts } = copiesOf(scene, selected);
  if (!copies.length) return problem(scene, 'Select the pieces to duplicate first.');
  const now = new Map([...hosts, ...copies].map((p) => [p.id, p]));
  const set = new Set(copies.map((p) => p.id));
  const moved = copies.map((p) =>
    set.has(p.parent ?? '') ? p : placedAt(now, p, multiply(offset, worldMatrix(now, p.id))),
  );
  commit(scene, 'Place another like the last duplicate', [...hosts, ...moved]);
  scene.store.dispatch(handActions.selected({ ids: tops }));
  last(scene).copy = { from: selected.at(-1)!, to: tops.at(-1)! };
}

export function align(scene: OpenScene, axis: 0 | 1 | 2): void {
  const ids = chosen(scene, 2, 'align');
  if (ids)
    commit(
      scene,
      `Align ${ids.length} pieces along ${'XYZ'[axis]}`,
      replaced(scene, aligned(pieces(scene), ids, axis)),
    );
}

export function space(scene: OpenScene, axis: 0 | 1 | 2): void {
  const ids = chosen(scene, 3, 'space');
  if (ids)
    commit(
      scene,
      `Space ${ids.length} pieces along ${'XYZ'[axis]}`,
      replaced(scene, spaced(pieces(scene), ids, axis)),
    );
}

export function scatter(scene: OpenScene, s: Scatter): void {
  const ids = chosen(scene, 1, 'scatter');
  if (ids) commit(scene, `Scatter ${ids.length} pieces`, replaced(scene, scattered(pieces(scene), ids, s)));
}

function chosen(scene: OpenScene, least: number, verb: string): string[] | null {
  const ids = scene.store
    .getState()
    .hand.selected.filter((id) => !pieces(scene).find((p) => p.id === id)?.locked);
  if (ids.length >= least) return ids;
  problem(scene, `Select at least ${least} unlocked ${least === 1 ? 'piece' : 'pieces'} to ${verb}.`);
  return null;
}
