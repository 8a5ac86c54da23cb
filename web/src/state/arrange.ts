/** Placing whole pieces: settle, reset, repeat an offset; each one named action. */
import type { OpenScene } from './OpenScene';
import { perScene } from './perScene';
import { offsetBetween, placedAt, settlePlacement } from '@urnsmith/core/document/arrangePieces';
import { completeTransform, worldMatrix } from '@urnsmith/core/document/placement';
import type { Piece } from '@urnsmith/core/document/schema';
import { multiply, type Matrix } from '@urnsmith/core/mesh/transform';
import type { Vec3 } from '@urnsmith/core/mesh/vec3';
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

/** Turns the pieces' sizes (and, unless they are to stay, turns and moves) into their meshes. */
export function settle(
  scene: OpenScene,
  ids: ReadonlyArray<string>,
  parts: ReadonlyArray<'move' | 'turn' | 'size'>,
): void {
  const before = pieces(scene);
  const byId = new Map(before.map((p) => [p.id, p]));
  const solid = ids.filter((id) => byId.has(id) && !('group' in byId.get(id)!.base));
  if (!solid.length) return problem(scene, 'Select a piece with faces first.');
  const alone = solid.filter((id) => isAlone(scene, id));
  const after = alone.reduce((list, id) => settlePlacement(list, id, parts), before);
  commit(scene, `Apply ${parts.join(', ')} of ${named(scene, alone)}`, after);
}

/** A piece by its name, several by their number. */
const named = (scene: OpenScene, ids: ReadonlyArray<string>): string =>
  ids.length === 1 ? (pieces(scene).find((p) => p.id === ids[0])?.name ?? ids[0]) : `${ids.length} pieces`;

/** Placements that were reset, to be put back. */
const resetFrom = perScene(() => new Map<string, Piece['transform']>());

/** Puts pieces back to where their frame is their parent's; what they stood at before can be restored. */
export function resetPlacement(scene: OpenScene, ids: ReadonlyArray<string>): void {
  const placed = pieces(scene).filter((p) => ids.includes(p.id) && p.transform);
  if (!placed.length) return;
  for (const p of placed) resetFrom(scene).set(p.id, p.transform);
  const bare = placed.map(({ transform: _, ...p }): [string, Piece] => [p.id, p]);
  commit(scene, `Reset placement of ${named(scene, placed.map((p) => p.id))}`, replaced(scene, new Map(bare))); // prettier-ignore
}

/** Mirrors groups where they are, each across a plane of its own through its pivot. @param axis across that plane */
export function mirrorGroups(scene: OpenScene, ids: ReadonlyArray<string>, axis: 0 | 1 | 2): void {
  const groups = pieces(scene).filter((p) => ids.includes(p.id) && 'group' in p.base);
  if (!groups.length) return problem(scene, 'Select a group first.');
  const mirrored = groups.map((p): [string, Piece] => {
    const transform = completeTransform(p.transform);
    const size = transform.size.map((x, k) => (k === axis ? -x : x)) as Vec3;
    return [p.id, { ...p, transform: { ...transform, size } }];
  });
  commit(scene, `Mirror ${named(scene, groups.map((p) => p.id))}`, replaced(scene, new Map(mirrored))); // prettier-ignore
}

/** Whether the reset placement of one of these can be restored. */
export const canRestore = (scene: OpenScene, ids: ReadonlyArray<string>): boolean =>
  ids.some((id) => resetFrom(scene).has(id));

export function restorePlacement(scene: OpenScene, ids: ReadonlyArray<string>): void {
  const back = pieces(scene).flatMap((p): Array<[string, Piece]> => {
    const transform = ids.includes(p.id) && resetFrom(scene).get(p.id);
    return transform ? [[p.id, { ...p, transform }]] : [];
  });
  if (!back.length) return;
  for (const [id] of back) resetFrom(scene).delete(id);
  commit(scene, `Restore placement of ${named(scene, back.map(([id]) => id))}`, replaced(scene, new Map(back))); // prettier-ignore
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
