/** Several pieces put in order: align, space, scatter; each one named action. */
import { GroupMembers } from '@urnsmith/core/document/groupMembers';
import {
  aligned,
  scattered,
  spaced,
  type AlignBy,
  type Extent,
  type Scatter,
} from '@urnsmith/core/document/lineUp';
import { worldMatrix } from '@urnsmith/core/document/placement';
import type { Piece } from '@urnsmith/core/document/schema';
import { counted } from '@urnsmith/core/ops/operation';
import { commit } from './actions';
import type { OpenScene } from './OpenScene';
import { panelActions } from './panelSlice';
import { settledPieces } from './selectors';

type Axis = 0 | 1 | 2;

const pieces = (scene: OpenScene): Piece[] => settledPieces(scene.store.getState());
const replaced = (scene: OpenScene, changed: ReadonlyMap<string, Piece>): Piece[] =>
  pieces(scene).map((p) => changed.get(p.id) ?? p);

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
  if (ids)
    commit(
      scene,
      `Scatter ${counted(ids.length, 'piece')}`,
      replaced(scene, scattered(pieces(scene), ids, s)),
    );
}

function chosen(scene: OpenScene, least: number, verb: string): string[] | null {
  const ids = scene.store
    .getState()
    .hand.selected.filter((id) => !pieces(scene).find((p) => p.id === id)?.locked);
  if (ids.length >= least) return ids;
  scene.store.dispatch(
    panelActions.noticed({
      text: `Select at least ${least} unlocked ${least === 1 ? 'piece' : 'pieces'} to ${verb}.`,
      tone: 'problem',
    }),
  );
  return null;
}
