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
  type AlignBy,
  type Extent,
  type Scatter,
} from '@urnsmith/core/document/arrangePieces';
import { GroupMembers } from '@urnsmith/core/document/groupMembers';
import { worldMatrix } from '@urnsmith/core/document/placement';
import type { Piece } from '@urnsmith/core/document/schema';
import { multiply, type Matrix } from '@urnsmith/core/mesh/transform';
import { isAlone } from './twins';
import { commit, copiesOf, duplicatePieces } from './actions';
import { handActions } from './handSlice';
import { panelActions } from './panelSlice';
import { settledPieces } from './selectors';

type Axis = 0 | 1 | 2;

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
  commit(scene, `Settle ${parts.join(', ')} of ${named(scene, alone)}`, after);
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

export function align(scene: OpenScene, axis: Axis, by: AlignBy): void {
  const ids = chosen(scene, 2, 'align');
  if (ids)
    commit(
      scene,
      `Align ${ids.length} pieces along ${'XYZ'[axis]}`,
      replaced(scene, aligned(pieces(scene), ids, axis, by, extentAlong(scene, axis))),
    );
}

export function space(scene: OpenScene, axis: Axis, by: 'pivot' | 'gap'): void {
  const ids = chosen(scene, 3, 'space');
  if (ids)
    commit(
      scene,
      `Space ${ids.length} pieces along ${'XYZ'[axis]}`,
      replaced(scene, spaced(pieces(scene), ids, axis, by, extentAlong(scene, axis))),
    );
}

/** How far built pieces reach along an axis; groups with all that is in them. */
function extentAlong(scene: OpenScene, axis: Axis): Extent {
  const all = pieces(scene);
  const byId = new Map(all.map((p) => [p.id, p]));
  const members = new GroupMembers(all);
  return (id) => {
    let [low, high] = [Infinity, -Infinity];
    for (const part of 'group' in byId.get(id)!.base ? members.of(id) : [id]) {
      const points = scene.builds.get(part)?.display?.positions ?? [];
      const m = worldMatrix(byId, part);
      for (let i = 0; i < points.length; i += 3) {
        const at = m[axis] * points[i] + m[axis + 4] * points[i + 1] + m[axis + 8] * points[i + 2] + m[axis + 12]; // prettier-ignore
        low = Math.min(low, at);
        high = Math.max(high, at);
      }
    }
    return low <= high ? [low, high] : null;
  };
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
