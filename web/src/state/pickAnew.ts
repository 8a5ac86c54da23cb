/** Picks of an edit by hand made anew: the piece is shown as it is just before that edit until they are taken. */
import type { Select } from '@urnsmith/core/select/rules';
import { KIND_OF, type Kinds } from '@urnsmith/core/select/selection';
import type { OpenScene } from './OpenScene';
import { preview } from './actions';
import { handActions, type ElementLevel } from './handSlice';
import { editsIn, redoEdits, withEdits, withOne, type EditsOf } from './edits';
import { KIND } from './inHand';
import { pickedByBirth } from './keptSelections';
import { takeLevel } from './elements';

const state = (scene: OpenScene) => scene.store.getState();

/** The element kind of an action, from its selection. */
const kindsOf = (s: Select): Kinds => ('rule' in s ? (('of' in s && s.of) || 'faces') : (Object.keys(s)[0] as Kinds)); // prettier-ignore

/** @param index of the edit among its like */
export async function pickAnew(scene: OpenScene, of: EditsOf, index: number): Promise<void> {
  const { piece, step } = of;
  const actions = editsIn(of);
  const kind = KIND_OF[kindsOf(actions[index].select)];
  const level = (Object.keys(KIND) as ElementLevel[]).find((l) => KIND[l] === kind)!;
  await takeLevel(scene, level);
  scene.store.dispatch(handActions.siteTaken({ onResult: step !== null, step }));
  preview(scene, { [piece.id]: withEdits(of, { actions: actions.slice(0, index) }) });
  scene.store.dispatch(handActions.pickingAnew({ step, action: index }));
}

export async function takePicksAnew(scene: OpenScene): Promise<void> {
  const { anew, active } = state(scene).hand;
  const born = await pickedByBirth(scene);
  const piece = state(scene).document.pieces.find((p) => p.id === active);
  if (!anew || !piece || !born) return;
  endPickingAnew(scene);
  const of = { piece, step: anew.step };
  const change = { select: { rule: 'picked', ...born } };
  await redoEdits(scene, of, withOne(editsIn(of), anew.action, change), 'Pick anew for an edit by hand');
}

export function endPickingAnew(scene: OpenScene): void {
  preview(scene, null);
  scene.store.dispatch(handActions.pickingAnew(null));
}
