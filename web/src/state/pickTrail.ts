/**
 * The trail of picks: each is a step that can be taken back and brought again, as long as the mesh is the one it was made
 * on; and a change of the mesh that is taken back brings back what was picked before it.
 */
import type { OpenScene } from './OpenScene';
import { perScene } from './perScene';
import { handActions, picksOf, type ElementLevel, type Picks } from './handSlice';
import { panelActions } from './panelSlice';
import { headOf } from './documentSlice';

interface Step {
  /** Identifies the meshes the picks are on: document state, pieces, and sites. */
  of: string;
  level: ElementLevel;
  picks: Picks;
  /** The piece that leads. */
  active: string;
}

const count = ({ picks }: Step): number => Object.values(picks).reduce((n, p) => n + p.length, 0);

/** Steps that are kept, and how many elements they may name together. */
const LONG = 300;
const LARGE = 2_000_000;

/** While a step is brought back, the changes that takes are no steps of their own. */
const trail = perScene((): { steps: Step[]; at: number; comesBack: boolean } => ({ steps: [], at: -1, comesBack: false })); // prettier-ignore

function now(scene: OpenScene): Step | null {
  const { hand: b, document } = scene.store.getState();
  if (b.level === 'piece' || !b.active || document.preview) return null;
  const of = JSON.stringify([headOf(document), [...b.selected].sort(), b.onResult, b.step]);
  return { of, level: b.level, picks: picksOf(b), active: b.active };
}

const same = (a: Step, b: Step): boolean =>
  a.of === b.of &&
  a.level === b.level &&
  [...Object.keys(a.picks), ...Object.keys(b.picks)].every((id) =>
    sameList(a.picks[id] ?? [], b.picks[id] ?? []),
  );

const sameList = (a: ReadonlyArray<number>, b: ReadonlyArray<number>): boolean =>
  a === b || (a.length === b.length && a.every((x, i) => x === b[i]));

/** Notes what is picked now as the newest step. */
export function notePicks(scene: OpenScene): void {
  const own = trail(scene);
  if (own.comesBack) return;
  const step = now(scene);
  const last = own.steps[own.at];
  if (!step || (last && same(last, step))) return;
  // Nothing is picked yet at another level, or of another mesh: no step of the hand.
  if (!count(step) && (!last || last.of !== step.of || last.level !== step.level)) return;
  own.steps.splice(own.at + 1, Infinity, step);
  let named = own.steps.reduce((sum, s) => sum + count(s), 0);
  while (own.steps.length > LONG || (named > LARGE && own.steps.length > 1))
    named -= count(own.steps.shift()!);
  own.at = own.steps.length - 1;
}

/** The next step on the trail for the meshes in hand. @param by −1 back, 1 on */
function next(scene: OpenScene, by: -1 | 1): number {
  const { steps, at } = trail(scene);
  const here = now(scene);
  if (!here) return -1;
  // The current picks may not be on the trail: then the step it stands at comes next.
  const first = by < 0 && steps[at] && !same(steps[at], here) ? at : at + by;
  for (let i = first; i >= 0 && i < steps.length; i += by)
    if (steps[i].of === here.of && !same(steps[i], here)) return i;
  return -1;
}

export const canStepPicks = (scene: OpenScene, by: -1 | 1): boolean => next(scene, by) >= 0;

/** Takes the last pick back, or brings the next one again. */
export function stepPicks(scene: OpenScene, by: -1 | 1): void {
  const i = next(scene, by);
  if (i < 0) {
    const text = by < 0 ? 'There is no earlier pick on this mesh.' : 'There is no later pick on this mesh.';
    scene.store.dispatch(panelActions.noticed({ text, tone: 'info' }));
    return;
  }
  const own = trail(scene);
  own.at = i;
  const { level, picks, active } = own.steps[i];
  own.comesBack = true;
  if (level !== scene.store.getState().hand.level) scene.store.dispatch(handActions.levelTaken(level));
  scene.store.dispatch(handActions.piecesPicked({ picks, lead: active }));
  own.comesBack = false;
}

/** The last picks on the mesh that has come back; null when none are known. */
export function picksOfMesh(scene: OpenScene): Pick<Step, 'level' | 'picks'> | null {
  const here = now(scene);
  return here && (trail(scene).steps.findLast((s) => s.of === here.of) ?? null);
}
