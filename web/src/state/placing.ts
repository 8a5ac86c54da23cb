/** Placing: the working grid seated on a face or a selection, the view square-on to it. */
import { Matrix4, Vector3 } from 'three';
import type { Matrix } from '@urnsmith/core/mesh/transform';
import { elementHandle } from '../views/bench/stageContents';
import { builds } from '../workers/builds';
import type { Stage } from '../viewport/Stage';
import { bench } from './benchSlice';
import { store } from './store';

/** A frame with its Y along a direction; X as level as can be. */
function frameAt(at: Vector3, up: Vector3): Matrix {
  const y = up.clone().normalize();
  const x = new Vector3(0, 1, 0).cross(y);
  if (x.lengthSq() < 1e-8) x.set(1, 0, 0);
  x.normalize();
  const z = new Vector3().crossVectors(x, y);
  return new Matrix4().makeBasis(x, y, z).setPosition(at).toArray() as Matrix;
}

/** What is meant: the picked elements, else the face under the pointer. */
function meant(stage: Stage): Matrix | null {
  const s = store.getState();
  if (s.bench.level !== 'piece' && s.bench.picked.length) {
    const own = { ...s, bench: { ...s.bench, elements: { ...s.bench.elements, frame: 'own' as const } } };
    const place = elementHandle(own, builds.get(s.bench.active!));
    if (place)
      return new Matrix4()
        .fromArray(place.matrix)
        .setPosition(...place.at)
        .toArray() as Matrix;
  }
  const hit = stage.pick(stage.pointerAt.x, stage.pointerAt.y);
  return hit ? frameAt(hit.point, hit.normal) : null;
}

const nothing = (what: string): void => {
  store.dispatch(bench.noticed({ text: `Point at a face, or pick some, to ${what}.`, tone: 'problem' }));
};

export function seatGrid(stage: Stage): void {
  const frame = meant(stage);
  if (!frame) return nothing('seat the grid on');
  store.dispatch(bench.gridSeated(frame));
  store.dispatch(
    bench.noticed({ text: 'The grid is seated: new pieces and handles follow it.', tone: 'info' }),
  );
}

export function levelGrid(): void {
  store.dispatch(bench.gridSeated(null));
}

/** Looks square-on at what is meant. */
export function lookSquareOn(stage: Stage): void {
  const frame = meant(stage);
  if (!frame) return nothing('look at square-on');
  const m = new Matrix4().fromArray(frame);
  const up = new Vector3().setFromMatrixColumn(m, 1);
  stage.rig.lookAlong(up, new Vector3().setFromMatrixPosition(m));
  stage.redraw();
}
