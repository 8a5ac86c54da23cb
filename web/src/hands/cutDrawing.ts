/**
 * Drawing a cut on a face: an outline is pulled open on the plane that touches there, then its depth; the cutter that
 * comes of it is a live piece, and the step that cuts with it too. Escape goes back by one stage.
 */
import type { OpenScene } from '../state/OpenScene';
import { Matrix4, Vector3 } from 'three';
import { withCuttersNested } from '@urnsmith/core/document/belonging';
import {
  boxOfDrawn,
  cutterOfDrawn,
  drawnFault,
  withDrawnSize,
  type DrawnCut,
  type DrawnOn,
  repeatOfDrawn,
} from '@urnsmith/core/document/drawnCut';
import type { Piece } from '@urnsmith/core/document/schema';
import { worldMatrix } from '@urnsmith/core/document/placement';
import { applyMatrix, invert, transformOf, type Matrix } from '@urnsmith/core/mesh/transform';
import { dot, sub, type Vec3 } from '@urnsmith/core/mesh/vec3';
import { primitiveFault } from '@urnsmith/core/primitives/index';
import {
  cutBy,
  inLaneOrder,
  laneOf,
  needsThickness,
  STEPS,
  withOneMoreCutter,
  type CutStep,
} from '@urnsmith/core/steps/index';
import type { CutWish } from '@urnsmith/core/steps/cut';
import { commit, newId, newName, newStepId, notice, preview } from '../state/actions';
import { targetOn } from '../state/anchors';
import { handActions } from '../state/handSlice';
import { settingActions } from '../state/settingSlice';
import { piecesById } from '../state/selectors';
import type { Stage } from '../viewport/Stage';
import { frameUnder, inFrame, placeOn, stepAt, tidy } from './facePlane';
import type { AnchorTarget } from '@urnsmith/core/select/anchor';
import { modeIn, type ModeOf } from '../state/mode';
import type { Pointing } from './pointing';

const state = (scene: OpenScene) => scene.store.getState();
const drawing = (scene: OpenScene) => modeIn(state(scene), 'cut');
const take = (scene: OpenScene, d: ModeOf<'cut'> | null): void => {
  scene.store.dispatch(handActions.modeTaken(d));
};
const put = (scene: OpenScene, change: Partial<CutDrawing>): void => {
  const d = drawing(scene);
  if (d) take(scene, { ...d, ...change });
};

/** A cut that is being drawn on a face. */
export interface CutDrawing {
  /** Looking for a face, pulling the outline open, pulling the depth. */
  stage: 'aim' | 'outline' | 'depth';
  host: string | null;
  /** Of the face, in the world: Y out of it. */
  frame: Matrix | null;
  /** The pointer in X and Z of the frame, mm. */
  hover: [number, number] | null;
  from: [number, number];
  to: [number, number];
  points: Array<[number, number]>;
  /** Numbers that were typed count instead of the pointer's. */
  typed: { width?: number; length?: number; depth?: number };
  on: DrawnOn;
  /** The face that is drawn on, for a cutter that follows it; null while it is not known. */
  entry: { target: AnchorTarget; facing: Vec3 } | null;
}

declare module '../state/mode' {
  interface ModeStates {
    cut: CutDrawing;
  }
}

const AIM: ModeOf<'cut'> = {
  is: 'cut',
  stage: 'aim',
  host: null,
  frame: null,
  hover: null,
  from: [0, 0],
  to: [0, 0],
  points: [],
  typed: {},
  on: { size: 0, next: 0, gap: 0 },
  entry: null,
};

/** Takes the tool in hand; taken again, it is put away. */
export function takeCutDrawing(scene: OpenScene): void {
  if (drawing(scene)) return putCutDrawingAway(scene);
  if (state(scene).hand.level !== 'piece') scene.store.dispatch(handActions.levelTaken('piece'));
  take(scene, AIM);
}

export const putCutDrawingAway = (scene: OpenScene): void => {
  take(scene, null);
};

/** The cut as it is drawn so far, with what was typed. */
export function drawnNow(scene: OpenScene): DrawnCut | null {
  const { cut: cutSettings } = state(scene).settings;
  const d = drawing(scene);
  return d && composed(d, cutSettings);
}

export function composed(d: CutDrawing, settings: Omit<DrawnCut, 'from' | 'to' | 'points'>): DrawnCut {
  const drawn = { ...settings, from: d.from, to: d.to, points: d.points };
  const { width, length } = d.typed;
  if (settings.shape === 'free' || (width === undefined && length === undefined)) return drawn;
  const now = boxOfDrawn(drawn);
  return withDrawnSize(drawn, width ?? now.width, length ?? now.length);
}

/** Goes back by one stage. */
export function backFromCut(scene: OpenScene): void {
  const { cut: cutSettings } = state(scene).settings;
  const d = drawing(scene);
  if (!d || d.stage === 'aim') return putCutDrawingAway(scene);
  const free = cutSettings.shape === 'free';
  if (d.stage === 'depth' && free) return put(scene, { stage: 'outline' });
  take(scene, AIM);
}

/** Takes the last corner of a free outline back. */
export function undoCorner(scene: OpenScene): void {
  const d = drawing(scene);
  if (d?.stage === 'outline' && d.points.length > 1) put(scene, { points: d.points.slice(0, -1) });
}

/** Goes on to the depth, or makes the cut. */
export function goOnWithCut(scene: OpenScene): void {
  const { cut: cutSettings } = state(scene).settings;
  const d = drawing(scene);
  if (!d || d.stage === 'aim') return;
  if (d.stage === 'outline' && cutSettings.shape === 'free') return toDepth(scene);
  makeCut(scene);
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
    const to = placeOn(scene, at, d.frame!);
    if (to) put(scene, { to, hover: to });
    return true;
  }
  const frame = frameUnder(scene, stage, x, y);
  if (!frame) {
    stage.showSnap(null);
    if (d.frame) put(scene, { host: null, frame: null, hover: null });
    return true;
  }
  const on = { ...d.on, size: sizeOf(stage, frame.host) };
  put(scene, { ...frame, on, hover: placeOn(scene, at, frame.frame) });
  return true;
}

/** A press: what it begins; null when no cut is being drawn. */
export function pressCut(scene: OpenScene, pointing: Pointing): 'click' | 'stroke' | null {
  const { stage, x, y } = pointing;
  const { cut: cutSettings } = state(scene).settings;
  const d = drawing(scene);
  if (!d) return null;
  if (d.stage === 'depth') {
    makeCut(scene);
    return 'click';
  }
  if (d.stage === 'outline') {
    const at = placeOn(scene, pointing, d.frame!);
    const first = d.points[0];
    const reach = 10 * stage.rig.pixelSize(inFrame(d.frame!, first[0], 0, first[1]));
    if (at && d.points.length > 2 && Math.hypot(at[0] - first[0], at[1] - first[1]) < reach) toDepth(scene);
    else if (at) put(scene, { points: [...d.points, at], to: at });
    return 'click';
  }
  const frame = frameUnder(scene, stage, x, y);
  const at = frame && placeOn(scene, pointing, frame.frame);
  if (!frame || !at) return 'click';
  put(scene, { ...frame, stage: 'outline', from: at, to: at, points: [at], hover: at });
  return cutSettings.shape === 'free' ? 'click' : 'stroke';
}

/** The pointer while the outline is pulled open. */
export function strokeCut(scene: OpenScene, pointing: Pointing, done: boolean): boolean {
  const d = drawing(scene);
  if (!d) return false;
  const at = placeOn(scene, pointing, d.frame!);
  if (at) put(scene, { to: at, hover: at });
  if (done) toDepth(scene);
  return true;
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
  const { cut: c } = state(scene).settings;
  const d = drawing(scene);
  const drawn = drawnNow(scene);
  if (!d || !drawn) return;
  const fault = drawnFault({ ...drawn, depth: 1 });
  if (fault) {
    notice(scene, fault, false, 'problem');
    if (c.shape !== 'free') take(scene, AIM);
    return;
  }
  put(scene, { stage: 'depth', on: underFace(scene, d, drawn), entry: null });
  void findEntry(scene);
}

/** Further than from any place of a piece to any other, mm. */
const sizeOf = (stage: Stage, id: string): number => 1.2 * stage.bounds([id]).getSize(new Vector3()).length();

/** How thick the material is under the middle of the outline, and how far it is from there to the next. */
function underFace(scene: OpenScene, d: CutDrawing, drawn: DrawnCut): CutDrawing['on'] {
  const { stage } = scene;
  const size = stage ? sizeOf(stage, d.host!) : d.on.size;
  const { middle } = boxOfDrawn(drawn);
  const from = inFrame(d.frame!, middle[0], size * 1e-4, middle[1]);
  const into = new Vector3().setFromMatrixColumn(new Matrix4().fromArray(d.frame!), 1).negate();
  const [, next = size, beyond = Infinity] = stage?.along(d.host!, from, into) ?? [];
  return { size, next, gap: beyond - next };
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

/**
 * Keeps a cutter on the face it was drawn on: it is anchored to it, and goes with it. One that goes right through goes on
 * doing so.
 */
function held(
  { entry, host }: CutDrawing,
  { mode, reach }: DrawnCut,
  parent: string | undefined,
): Pick<Piece, 'reach' | 'anchors'> {
  if (!entry || parent !== host) return {};
  const { target, facing } = entry;
  const distance = { hold: 'distance' as const, to: [target], facing };
  if (MAKES_HOLES.has(mode) && (reach === 'through' || reach === 'next'))
    return { reach, anchors: [distance] };
  return { anchors: [distance, { hold: 'centre', to: [target], facing }] };
}

/** Modes whose depth is that of the cutter. */
const MAKES_HOLES = new Set<CutStep['mode']>(['subtract', 'split', 'sleeve']);

/** Finds the face that is drawn on, on the host as it is before the cut. */
async function findEntry(scene: OpenScene): Promise<void> {
  const d = drawing(scene);
  const byId = piecesById(state(scene));
  const host = d?.host ? byId.get(d.host) : undefined;
  if (!d?.frame || !host) return;
  const { mode } = state(scene).settings.cut;
  const steps = inLaneOrder(withCutter(host, { mode }, 'drawn').steps!);
  const upTo = steps.findIndex((s) => STEPS[s.kind].operands?.(s as never).includes('drawn'));
  const own = invert(worldMatrix(byId, host.id));
  const place = applyMatrix(own, inFrame(d.frame, d.from[0], 0, d.from[1]).toArray());
  const found = await targetOn(scene, host, upTo, place);
  const now = drawing(scene);
  if (!found || typeof found === 'string' || now?.frame !== d.frame) return;
  const up = new Vector3().setFromMatrixColumn(new Matrix4().fromArray(own).multiply(new Matrix4().fromArray(d.frame)), 1).normalize(); // prettier-ignore
  // A face that another cutter of the same step makes is not there before it.
  const same = up.dot(new Vector3(...found.facing)) > 0.99 && Math.abs(dot(found.facing, sub(found.target.at, place))) < 1e-3; // prettier-ignore
  if (same) put(scene, { entry: { target: found.target, facing: found.facing } });
}

const NAMES = { rectangle: 'Pocket', round: 'Hole', regular: 'Socket', slot: 'Slot', free: 'Cutout' };

/** The pieces as they are with the cut, or why there is none. */
function planned(
  scene: OpenScene,
): { after: Piece[]; cutter: Piece; host: Piece } | { fault: string } | null {
  const { cut: c } = state(scene).settings;
  const d = drawing(scene);
  const drawn = drawnNow(scene);
  const { pieces } = state(scene).document;
  const host = pieces.find((p) => p.id === d?.host);
  if (!d?.frame || !drawn || !host) return null;
  const { base, at } = cutterOfDrawn(drawn, d.on);
  const fault = drawnFault(drawn) ?? primitiveFault(base);
  if (fault) return { fault };
  const face = new Matrix4().fromArray(d.frame);
  const { move, turn } = transformOf(face.multiply(new Matrix4().makeTranslation(...at)).toArray() as Matrix);
  const id = newId(scene);
  const name = newName(scene, drawn.mode === 'union' ? 'Boss' : NAMES[drawn.shape]);
  const thickness = needsThickness(drawn.mode) ? { thickness: c.thickness } : {};
  const wanted = { mode: drawn.mode, ...thickness };
  const steps = repeatOfDrawn(c.repeat);
  const cutter: Piece = {
    id,
    name,
    role: 'cutter',
    base,
    transform: { move, turn },
    ...(steps.length && { steps }),
  };
  const after = pieces.flatMap((p) => (p.id === host.id ? [withCutter(p, wanted, id), cutter] : [p]));
  const nested = withCuttersNested(after, new Set([id]));
  return {
    after: nested.map((p) => (p.id === id ? { ...p, ...held(d, drawn, p.parent) } : p)),
    cutter,
    host,
  };
}

/** Shows the cut as it would be, while its depth is pulled. */
export function showCut(scene: OpenScene): void {
  const plan = drawing(scene)?.stage === 'depth' ? planned(scene) : null;
  if (!plan || 'fault' in plan) return preview(scene, null);
  const { after, cutter, host } = plan;
  const of = (id: string): Piece => after.find((p) => p.id === id)!;
  preview(scene, { [host.id]: of(host.id), [cutter.id]: of(cutter.id) });
}

/** Makes the cutter and cuts with it: in the last step of that kind, or in a new one. */
export function makeCut(scene: OpenScene): void {
  const plan = planned(scene);
  if (!plan) return;
  if ('fault' in plan) return notice(scene, plan.fault, false, 'problem');
  const { after, cutter, host } = plan;
  if (!commit(scene, `Draw ${cutter.name} on ${host.name ?? host.id}`, after)) return;
  take(scene, AIM);
  scene.store.dispatch(handActions.selected({ ids: [cutter.id] }));
}

/** One more cutter in the last cut, when that cuts alike and nothing of its lane comes after; else in its own. */
export function withCutter(p: Piece, wish: CutWish, cutter: string): Piece {
  const steps = p.steps ?? [];
  const last = inLaneOrder(steps)
    .filter((s) => laneOf(s) === 'Cut')
    .at(-1);
  const joined = last && withOneMoreCutter(last, wish, cutter);
  if (joined) return { ...p, steps: steps.map((s) => (s === last ? joined : s)) };
  return { ...p, steps: [...steps, { id: newStepId(p), ...cutBy([cutter], wish) }] };
}
