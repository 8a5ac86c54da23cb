/**
 * Drawing a cut on a face: an outline is pulled open on the plane that touches there, then its depth; the cutter that
 * comes of it is a live piece, and the step that cuts with it too. Escape goes back by one stage.
 */
import { Matrix4, Vector3 } from 'three';
import { boxOfDrawn } from '@urnsmith/core/document/drawnCut';
import type { OpenScene } from '../state/OpenScene';
import { notice } from '../state/actions';
import { handActions } from '../state/handSlice';
import { activePiece } from '../state/selectors';
import { settingActions } from '../state/settingSlice';
import { entryKnown, findSides, lookForEntry, sizeOf, underFace } from './cutFace';
import { makeCut, outlineFault } from './cutMaking';
import { AIM, drawing, drawnNow, put, stateOf as state, take, type CutDrawing } from './cutState';
import { placeHeld, sameFace, type MetFace } from './faceKnown';
import { frameUnder, inFrame, stepAt, tidy } from './facePlane';
import type { Pointing } from './pointing';

/** Takes the tool in hand; taken again, it is put away. */
export function takeCutDrawing(scene: OpenScene): void {
  if (drawing(scene)) return putCutDrawingAway(scene);
  if (state(scene).hand.level !== 'piece') scene.store.dispatch(handActions.levelTaken('piece'));
  const active = activePiece(state(scene));
  take(scene, { ...AIM, only: active?.role === 'cutter' ? active.id : null });
}

export const putCutDrawingAway = (scene: OpenScene): void => {
  take(scene, null);
};

/** Goes back by one stage. */
export function backFromCut(scene: OpenScene): void {
  const { cut: cutSettings } = state(scene).settings;
  const d = drawing(scene);
  if (!d || d.stage === 'aim') return putCutDrawingAway(scene);
  const free = cutSettings.shape === 'free';
  if (d.stage === 'depth' && free) return put(scene, { stage: 'outline' });
  put(scene, { ...AIM, only: d.only });
}

/** Takes the last corner of a free outline back. */
export function undoCorner(scene: OpenScene): void {
  const d = drawing(scene);
  if (d?.stage === 'outline' && d.points.length > 1) put(scene, { points: d.points.slice(0, -1) });
}

/** Begins the outline where the pointer was, goes on to the depth, or makes the cut. */
export function goOnWithCut(scene: OpenScene): void {
  const d = drawing(scene);
  if (!d) return;
  if (d.stage === 'depth') return cutWhenKnown(scene);
  if (d.stage === 'outline') return toDepth(scene);
  if (!d.frame || !d.hover) return;
  beginAt(scene, d, d.hover);
  if (state(scene).settings.cut.shape !== 'free') put(scene, { asks: ASKS });
}

const ASKS = 'Type its size, or move the pointer and click.';

/** Makes the cut as soon as it is known what the cutter holds to. */
function cutWhenKnown(scene: OpenScene): void {
  void entryKnown(scene).then(() => makeCut(scene));
}

function beginAt(scene: OpenScene, frame: Pick<CutDrawing, 'host' | 'frame'>, at: [number, number]): void {
  const { host, frame: plane } = frame;
  put(scene, { host, frame: plane, stage: 'outline', from: at, to: at, points: [at], hover: at, fixed: [null, null] }); // prettier-ignore
}

/** The pointer moves; false when no cut is being drawn. */
export function hoverCut(scene: OpenScene, at: Pointing): boolean {
  const { stage, x, y } = at;
  const d = drawing(scene);
  if (!d) return false;
  if (d.stage === 'depth') {
    if (d.typed.depth === undefined) pullDepth(scene, at);
    return true;
  }
  if (d.stage === 'outline') {
    const to = placeHeld(scene, d, at, d.frame!);
    if (to) put(scene, { to, hover: to });
    return true;
  }
  const face = frameUnder(scene, stage, x, y, { only: d.only });
  if (!face) {
    stage.showSnap(null);
    if (d.frame) put(scene, { host: null, frame: null, sides: null, hover: null, fixed: [null, null] });
    return true;
  }
  const before = onFace(d, face);
  const on = { ...d.on, size: sizeOf(stage, face.host) };
  put(scene, { ...before, on, hover: placeHeld(scene, before, at, face.frame) });
  if (before !== d) void findSides(scene);
  return true;
}

/** The drawing on the face under the pointer: of another face nothing is known yet. */
const onFace = (d: CutDrawing, face: MetFace): CutDrawing =>
  sameFace(d, face) ? d : { ...d, ...face, sides: null, fixed: [null, null] };

/** A press: what it begins; null when no cut is being drawn. */
export function pressCut(scene: OpenScene, pointing: Pointing): 'click' | 'stroke' | null {
  const { stage, x, y } = pointing;
  const { shape } = state(scene).settings.cut;
  const d = drawing(scene);
  if (!d) return null;
  if (d.stage === 'depth') {
    cutWhenKnown(scene);
    return 'click';
  }
  if (d.stage === 'outline') {
    const at = placeHeld(scene, d, pointing, d.frame!);
    if (shape !== 'free') {
      if (at) put(scene, { to: at, hover: at });
      toDepth(scene);
      return 'click';
    }
    const first = d.points[0];
    const reach = 10 * stage.rig.pixelSize(inFrame(d.frame!, first[0], 0, first[1]));
    if (at && d.points.length > 2 && Math.hypot(at[0] - first[0], at[1] - first[1]) < reach) toDepth(scene);
    else if (at) put(scene, { points: [...d.points, at], to: at });
    return 'click';
  }
  const face = frameUnder(scene, stage, x, y, { only: d.only });
  if (!face) return 'click';
  const on = onFace(d, face);
  const at = placeHeld(scene, on, pointing, face.frame);
  if (!at) return 'click';
  if (on !== d) put(scene, on);
  beginAt(scene, face, at);
  if (!on.sides) void findSides(scene);
  return shape === 'free' ? 'click' : 'stroke';
}

/** The pointer while the outline is pulled open. */
export function strokeCut(scene: OpenScene, pointing: Pointing, done: boolean): boolean {
  const d = drawing(scene);
  if (!d) return false;
  const at = placeHeld(scene, d, pointing, d.frame!);
  if (at) put(scene, { to: at, hover: at });
  if (done) toDepth(scene);
  return true;
}

/** Moves the drawing along its face, as when a distance to a side is typed. @param axis of the face's frame */
export function shiftCut(scene: OpenScene, axis: 0 | 1, by: number): void {
  const d = drawing(scene);
  if (!d?.hover) return;
  const moved = (p: [number, number]): [number, number] =>
    p.map((x, k) => (k === axis ? tidy(x + by) : x)) as [number, number];
  const hover = moved(d.hover);
  if (d.stage === 'aim')
    return put(scene, {
      hover,
      fixed: d.fixed.map((x, k) => (k === axis ? hover[k] : x)) as CutDrawing['fixed'],
    });
  put(scene, { hover, from: moved(d.from), to: moved(d.to), points: d.points.map(moved) });
}

/** Sides of a regular outline, by the wheel; false when it means something else. */
export function wheelCut(scene: OpenScene, steps: number): boolean {
  const { cut: c } = state(scene).settings;
  const d = drawing(scene);
  if (!d || d.stage === 'aim' || c.shape !== 'regular') return false;
  const sides = Math.min(256, Math.max(3, c.sides - Math.sign(steps)));
  scene.store.dispatch(settingActions.cutSettings({ sides }));
  return true;
}

/** Numbers typed on the Card count instead of where the pointer is. */
export function typeCut(scene: OpenScene, typed: CutDrawing['typed']): void {
  const d = drawing(scene);
  if (!d) return;
  put(scene, { typed: { ...d.typed, ...typed } });
  if (typed.depth !== undefined) scene.store.dispatch(settingActions.cutSettings({ depth: typed.depth }));
}

function toDepth(scene: OpenScene): void {
  const { shape } = state(scene).settings.cut;
  const d = drawing(scene);
  const drawn = drawnNow(scene);
  if (!d || !drawn) return;
  const fault = outlineFault(drawn);
  if (fault) {
    notice(scene, fault, false, 'problem');
    if (shape !== 'free') put(scene, { asks: fault });
    return;
  }
  put(scene, { stage: 'depth', asks: null, on: underFace(scene, d, drawn), entry: null });
  lookForEntry(scene);
}

/** Depth by the pointer: where it passes nearest to the line through the middle, out of the face. */
function pullDepth(scene: OpenScene, { stage, x, y, free }: Pointing): void {
  const d = drawing(scene)!;
  const drawn = drawnNow(scene)!;
  const { middle } = boxOfDrawn(drawn);
  const back = new Matrix4().fromArray(d.frame!).invert();
  const ray = stage.rig.ray(stage.pointer(x, y)).applyMatrix4(back);
  const from = new Vector3(middle[0], 0, middle[1]);
  const w = from.clone().sub(ray.origin);
  const [b, dd, e] = [ray.direction.y, ray.direction.dot(w), w.y];
  const under = 1 - b * b;
  if (under < 1e-4) return;
  const up = (b * dd - e) / under;
  const step = stepAt(scene, stage, inFrame(d.frame!, middle[0], up, middle[1]), free);
  const depth = Math.max(0, Math.round((drawn.mode === 'union' ? up : -up) / step) * step);
  scene.store.dispatch(settingActions.cutSettings({ depth: tidy(depth) }));
}
