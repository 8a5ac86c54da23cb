/** Commands that add live steps, from what the kinds of step state. */
import type { OpenScene } from '../state/OpenScene';
import type { Adds, Seen } from '@urnsmith/core/steps/define';
import { LANES, STEPS, type Step, type StepKind } from '@urnsmith/core/steps/index';
import type { Piece } from '@urnsmith/core/document/schema';
import { originalOf } from '@urnsmith/core/document/twins';
import { addCutting, addStep, commit, editStep, newStepId, notice } from '../state/actions';
import { handActions } from '../state/handSlice';
import { inHand } from '../state/inHand';
import { pickedByBirth } from '../state/keptSelections';
import { editHere, isTwin } from '../state/twins';
import { piecesById } from '../state/selectors';
import type { Command } from '../state/command';

/** The chosen piece, as far as that decides what is added. */
export function seenNow(scene: OpenScene): { piece: Piece; seen: Seen } | null {
  const { active } = scene.store.getState().hand;
  return active === null ? null : seenOf(scene, active);
}

function seenOf(scene: OpenScene, id: string): { piece: Piece; seen: Seen } | null {
  const s = scene.store.getState();
  const piece = piecesById(s).get(id);
  if (!piece || 'group' in piece.base) return null;
  const steps = originalOf(piecesById(s), piece).steps ?? [];
  const shading = scene.builds.get(piece.id)?.display?.shading;
  return {
    piece,
    seen: {
      name: piece.name ?? piece.id,
      steps,
      hasRims: steps.some((x) => STEPS[x.kind].makesRims),
      others: s.hand.selected.filter((id) => id !== piece.id),
      nameOf: (id) => s.document.pieces.find((p) => p.id === id)?.name ?? id,
      drift: { faces: shading?.facesOver ?? 0, worst: shading?.worst ?? 0 },
    },
  };
}

function run(scene: OpenScene, kind: StepKind, adds: Adds<Step>): void {
  const alone = !adds.consumes && !adds.switches && !STEPS[kind].operands;
  if (alone && addToAll(scene, adds)) return;
  const now = seenNow(scene);
  if (!now) {
    notice(scene, 'Select a piece with faces first.', false, 'problem');
    return;
  }
  if (isTwin(now.piece)) {
    // A step added to a twin goes to the piece it shares.
    if (editHere(scene, now.piece.id)) run(scene, kind, adds);
    return;
  }
  const { piece, seen } = now;
  const step = typeof adds.step === 'function' ? adds.step(seen) : adds.step;
  const label = adds.label?.(seen) ?? adds.title;
  if (adds.consumes) {
    addCutting(scene, piece.id, step, seen.others, label);
    return;
  }
  const there = adds.switches ? seen.steps.findIndex((x) => x.kind === kind) : -1;
  if (there < 0) addStep(scene, piece.id, step, label);
  else {
    const off = piece.steps![there].off;
    editStep(
      scene,
      piece.id,
      there,
      `Switch ${STEPS[kind].title.toLowerCase()} ${off ? 'on' : 'off'}`,
      (x) => ({
        ...x,
        off: !off,
      }),
    );
  }
  // At element level the hands stay on the cage.
  if (scene.store.getState().hand.level !== 'piece') scene.store.dispatch(handActions.stepChosen(null));
}

/** Several pieces that are selected get a step each that works with no other, as one action; false for only one. */
function addToAll(scene: OpenScene, adds: Adds<Step>): boolean {
  const { selected } = scene.store.getState().hand;
  const seen = new Map(
    selected.flatMap((id) => {
      const s = seenOf(scene, id);
      return s && !s.piece.locked && !isTwin(s.piece) ? [[id, s.seen] as const] : [];
    }),
  );
  if (seen.size < 2) return false;
  const stepFor = (id: string): Step =>
    typeof adds.step === 'function' ? adds.step({ ...seen.get(id)!, others: [] }) : adds.step;
  commit(
    scene,
    `${adds.title}: ${seen.size} pieces`,
    scene.store
      .getState()
      .document.pieces.map((p) =>
        seen.has(p.id) ? { ...p, steps: [...(p.steps ?? []), { ...stepFor(p.id), id: newStepId(p) }] } : p,
      ),
  );
  const { active } = scene.store.getState().hand;
  const piece = scene.store.getState().document.pieces.find((p) => p.id === active);
  scene.store.dispatch(handActions.stepChosen((piece?.steps?.length ?? 1) - 1));
  return true;
}

/** Adds a step that acts on what is picked, wherever that comes to be. */
async function addOnPicked(scene: OpenScene, adds: Adds<Step>): Promise<void> {
  const now = seenNow(scene);
  const born = await pickedByBirth(scene);
  if (!now || !born) return;
  const { piece, seen } = now;
  const step = typeof adds.step === 'function' ? adds.step(seen) : adds.step;
  const site = inHand(scene)?.site;
  // Faces made by later lanes can only be edited there.
  const later = site && LANES.indexOf(site.lane) > LANES.indexOf(STEPS[step.kind].lane);
  const scoped = { ...step, scope: { rule: 'picked', ...born }, ...(later && { pin: site.lane }) } as Step;
  addStep(scene, piece.id, scoped, `${adds.title}, where picked`);
  scene.store.dispatch(handActions.stepChosen(null));
}

export const addsId = (kind: string, adds: { id?: string }): string => adds.id ?? `add-step-${kind}`;

export const STEP_COMMANDS: Command[] = Object.values(STEPS).flatMap(({ kind, adds = [] }) =>
  adds.map((a): Command => ({
    id: addsId(kind, a),
    title: a.title,
    short: a.short,
    words: a.words,
    ring: a.ring,
    // A preview is switched at any level.
    group: a.switches ? 'Look' : 'Build',
    enabled: (scene) => scene.store.getState().hand.selected.length > 0,
    run: (scene) => run(scene, kind, a),
  })),
);

/** Steps that act in a scope, added to what is picked at element level. */
export const STEPS_ON_PICKED: Command[] = Object.values(STEPS).flatMap(({ kind, adds = [], schema }) =>
  'scope' in schema.properties
    ? adds
        .filter((a) => !a.scoped)
        .map((a): Command => ({
          id: `${addsId(kind, a)}-picked`,
          title: `${a.title}, where picked`,
          words: a.words,
          group: 'Edit',
          when: 'elements',
          enabled: (scene) => scene.store.getState().hand.picked.length > 0,
          run: (scene) => void addOnPicked(scene, a),
        }))
    : [],
);

/** Next moves for the chosen piece, from the step kinds. */
export function stepMoves(seen: Seen): Array<{ id: string; text: string; value?: string }> {
  return Object.values(STEPS).flatMap(({ kind, adds = [] }) =>
    adds.flatMap((a) => {
      const offer = a.offers?.(seen);
      return offer ? [{ id: addsId(kind, a), ...offer }] : [];
    }),
  );
}
