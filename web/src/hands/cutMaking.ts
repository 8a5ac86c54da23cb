/** From a drawing to the cutter and the step that cuts with it: shown while its depth is pulled, then made. */
import { Matrix4 } from 'three';
import { withCuttersNested } from '@urnsmith/core/document/belonging';
import { cutterOfDrawn, drawnFault, repeatOfDrawn, type DrawnCut } from '@urnsmith/core/document/drawnCut';
import type { Piece } from '@urnsmith/core/document/schema';
import { transformOf, type Matrix } from '@urnsmith/core/mesh/transform';
import { primitiveFault } from '@urnsmith/core/primitives/index';
import { needsThickness, type CutStep } from '@urnsmith/core/steps/index';
import type { OpenScene } from '../state/OpenScene';
import { commit, newId, newName, notice, preview } from '../state/actions';
import { handActions } from '../state/handSlice';
import { AIM, drawing, drawnNow, put, stateOf, type CutDrawing } from './cutState';
import { anchorsTo } from './faceKnown';
import { withCutter } from './withCutter';

/** Modes whose depth is that of the cutter. */
const MAKES_HOLES = new Set<CutStep['mode']>(['subtract', 'split', 'sleeve']);

/**
 * Keeps a cutter on the face it was drawn on: it is anchored to it, and goes and turns with it. One that goes right
 * through goes on doing so.
 */
function held(
  { entry, host }: CutDrawing,
  { mode, reach }: DrawnCut,
  parent: string | undefined,
): Pick<Piece, 'reach' | 'anchors'> {
  if (!entry || parent !== host) return {};
  const anchors = anchorsTo(entry);
  return MAKES_HOLES.has(mode) && (reach === 'through' || reach === 'next')
    ? { reach, anchors }
    : { anchors };
}

const NAMES = { rectangle: 'Pocket', round: 'Hole', regular: 'Socket', slot: 'Slot', free: 'Cutout' };

/** Why a drawn outline cannot be cut with, in a sentence; null when it can. */
export function outlineFault(drawn: DrawnCut): string | null {
  const d = { ...drawn, depth: 1, reach: 'blind' as const };
  return drawnFault(d) ?? primitiveFault(cutterOfDrawn(d, AIM.on).base);
}

/** The pieces as they are with the cut, or why there is none. */
function planned(
  scene: OpenScene,
): { after: Piece[]; cutter: Piece; host: Piece } | { fault: string } | null {
  const { cut: c } = stateOf(scene).settings;
  const d = drawing(scene);
  const drawn = drawnNow(scene);
  const { pieces } = stateOf(scene).document;
  const host = pieces.find((p) => p.id === d?.host);
  if (!d?.frame || !drawn || !host) return null;
  const { base, at, turned } = cutterOfDrawn(drawn, d.on);
  const fault = drawnFault(drawn) ?? primitiveFault(base);
  if (fault) return { fault };
  const place = new Matrix4().fromArray(d.frame).multiply(new Matrix4().makeTranslation(...at));
  place.multiply(new Matrix4().makeRotationY((turned * Math.PI) / 180));
  const { move, turn } = transformOf(place.toArray() as Matrix);
  const id = newId(scene);
  const name = newName(scene, drawn.mode === 'union' ? 'Boss' : NAMES[drawn.shape]);
  const thickness = needsThickness(drawn.mode) ? { thickness: c.thickness } : {};
  const wanted = { mode: drawn.mode, ...thickness };
  const steps = repeatOfDrawn(c.repeat, turned);
  const cutter: Piece = {
    id,
    name,
    role: 'cutter',
    base,
    transform: { move, turn },
    ...(steps.length && { steps }),
  };
  const withIt = (p: Piece): Piece => withCutter(p, wanted, id, d.entry?.apart);
  const after = pieces.flatMap((p) => (p.id === host.id ? [withIt(p), cutter] : [p]));
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
  const held = after.find((p) => p.id === cutter.id)!.anchors !== undefined;
  if (!commit(scene, `Draw ${cutter.name} on ${host.name ?? host.id}`, after)) return;
  put(scene, { ...AIM, only: drawing(scene)?.only ?? null });
  scene.store.dispatch(handActions.selected({ ids: [cutter.id] }));
  if (!held)
    notice(scene, `${cutter.name} is not held to its face, which is not there before the cuts. Anchor it to another face.`, false, 'problem'); // prettier-ignore
}
