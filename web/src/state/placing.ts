/** Placing: grid and peg seated on a face, a selection or three points, the view square-on to it, pivots put elsewhere. */
import type { OpenScene } from './OpenScene';
import { Matrix4, Vector3 } from 'three';
import { pivotMoved } from '@urnsmith/core/document/arrangePieces';
import { worldMatrix } from '@urnsmith/core/document/placement';
import { applyMatrix, type Matrix } from '@urnsmith/core/mesh/transform';
import type { Vec3 } from '@urnsmith/core/mesh/vec3';
import { elementHandle } from './elementHandle';
import type { Stage } from '../viewport/Stage';
import { commit } from './actions';
import { viewActions } from './viewSlice';
import { panelActions } from './panelSlice';
import { piecesById } from './selectors';
import { isAlone } from './twins';
import { type RootState } from './store';

/** A frame with its Y along a direction; X as level as can be. */
function frameAt(at: Vector3, up: Vector3): Matrix {
  const y = up.clone().normalize();
  const x = new Vector3(0, 1, 0).cross(y);
  if (x.lengthSq() < 1e-8) x.set(1, 0, 0);
  x.normalize();
  const z = new Vector3().crossVectors(x, y);
  return new Matrix4().makeBasis(x, y, z).setPosition(at).toArray() as Matrix;
}

/** Three picked points: the plane through them, its X along the first two. */
function planeOfThree(scene: OpenScene, s: RootState): Matrix | null {
  const { level, picked, active } = s.hand;
  const cage = active ? scene.builds.get(active)?.cage : null;
  if (level !== 'point' || picked.length !== 3 || !cage) return null;
  const m = worldMatrix(piecesById(s), active!);
  const [a, b, c] = picked.map(
    (v) => new Vector3(...applyMatrix(m, Array.from(cage.positions.subarray(3 * v, 3 * v + 3)))),
  );
  const x = b.clone().sub(a).normalize();
  const y = new Vector3().crossVectors(x, c.clone().sub(a));
  if (y.lengthSq() < 1e-12) return null;
  y.normalize();
  // The side that looks up is the front.
  if (y.y < -1e-9) y.negate();
  const z = new Vector3().crossVectors(x, y);
  return new Matrix4().makeBasis(x, y, z).setPosition(a).toArray() as Matrix;
}

/** The plane to use: of the picked elements, else of the face under the pointer. */
function meant(scene: OpenScene, stage: Stage): Matrix | null {
  const s = scene.store.getState();
  if (s.hand.level !== 'piece' && s.hand.picked.length) {
    const elements = { ...s.settings.elements, frame: 'own' as const };
    const own = { ...s, settings: { ...s.settings, elements } };
    const place = elementHandle(own, scene.builds);
    const three = planeOfThree(scene, s);
    if (three) return three;
    if (place?.matrix)
      return new Matrix4()
        .fromArray(place.matrix)
        .setPosition(...place.at)
        .toArray() as Matrix;
  }
  const hit = stage.pick(stage.pointerAt.x, stage.pointerAt.y);
  return hit ? frameAt(hit.point, hit.normal) : null;
}

const nothing = (scene: OpenScene, what: string): void => {
  scene.store.dispatch(
    panelActions.noticed({ text: `Point at a face, or pick some, to ${what}.`, tone: 'problem' }),
  );
};

export function seatGrid(scene: OpenScene, stage: Stage): void {
  const frame = meant(scene, stage);
  if (!frame) return nothing(scene, 'seat the grid on');
  scene.store.dispatch(viewActions.gridSeated(frame));
  scene.store.dispatch(
    panelActions.noticed({ text: 'The grid is seated: new pieces and handles follow it.', tone: 'info' }),
  );
}

/** Puts the peg where something is picked or pointed at. */
export function seatPeg(scene: OpenScene, stage: Stage): void {
  const frame = meant(scene, stage);
  if (!frame) return nothing(scene, 'set the peg on');
  scene.store.dispatch(viewActions.pegSet(frame));
  scene.store.dispatch(
    panelActions.noticed({
      text: 'The peg is set: turns, snaps and new pieces go by it.',
      tone: 'info',
    }),
  );
}

export function takePegAway(scene: OpenScene): void {
  scene.store.dispatch(viewActions.pegSet(null));
}

/** Puts the pivot of the piece in hand at the middle of what is picked. */
export function pivotToPicked(scene: OpenScene): void {
  const s = scene.store.getState();
  const id = s.hand.active;
  const own = { ...s, hand: { ...s.hand, tool: 'move' as const } };
  const place = id ? elementHandle(own, scene.builds) : null;
  if (!id || !place) return nothing(scene, 'put the pivot at');
  commit(scene, `Pivot of ${nameOf(scene, id)}`, pivotMoved(s.document.pieces, id, place.at));
}

/** Puts the pivots of all selected pieces at the middle or the foot of their bounds, or at the peg. */
export function pivotsTo(scene: OpenScene, where: 'middle' | 'foot' | 'peg'): void {
  const { document, hand, view } = scene.store.getState();
  const { peg } = view;
  let pieces = document.pieces;
  let count = 0;
  for (const id of hand.selected) {
    const p = pieces.find((x) => x.id === id)!;
    const bounds = scene.builds.get(id)?.display?.bounds;
    if (p.locked || (where !== 'peg' && !bounds) || !isAlone(scene, id)) continue;
    const m = worldMatrix(new Map(pieces.map((x) => [x.id, x])), id);
    const at: Vec3 =
      where === 'peg'
        ? [peg![12], peg![13], peg![14]]
        : applyMatrix(
            m,
            bounds!.min.map((lo, k) => (where === 'foot' && k === 1 ? lo : (lo + bounds!.max[k]) / 2)),
          );
    pieces = pivotMoved(pieces, id, at);
    count++;
  }
  if (count)
    commit(scene, `Pivot of ${count === 1 ? nameOf(scene, hand.selected[0]) : `${count} pieces`}`, pieces);
}

const nameOf = (scene: OpenScene, id: string): string =>
  scene.store.getState().document.pieces.find((p) => p.id === id)?.name ?? id;

export function levelGrid(scene: OpenScene): void {
  scene.store.dispatch(viewActions.gridSeated(null));
}

/** Looks square-on at what is meant. */
export function lookSquareOn(scene: OpenScene, stage: Stage): void {
  const frame = meant(scene, stage);
  if (!frame) return nothing(scene, 'look at square-on');
  const m = new Matrix4().fromArray(frame);
  const up = new Vector3().setFromMatrixColumn(m, 1);
  stage.rig.lookAlong(up, new Vector3().setFromMatrixPosition(m));
  stage.redraw();
}
