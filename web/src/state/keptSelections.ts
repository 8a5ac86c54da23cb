/** Selections that are kept with a piece under a name. */
import type { Kept } from '@urnsmith/core/document/schema';
import { counted } from '@urnsmith/core/ops/operation';
import type { BornSelect } from '@urnsmith/core/select/born';
import { listed } from '@urnsmith/core/select/rules';
import type { OpenScene } from './OpenScene';
import { editPiece, notice } from './actions';
import { show } from './elements';
import { inHand } from './inHand';
import { underWay } from './underWay';

const problem = (scene: OpenScene, text: string): void => notice(scene, text, false, 'problem');

/** Keeps what is picked under a name, with the piece; it follows the actions that come after. */
export const nameSelection = (scene: OpenScene, name: string): Promise<void> =>
  underWay(scene, selectionNamed(scene, name));

async function selectionNamed(scene: OpenScene, name: string): Promise<void> {
  const hand = inHand(scene);
  if (!hand || !name.trim() || !hand.selection.indices.length) return;
  const listedNow = { ...listed(hand.selection), after: hand.piece.actions?.length ?? 0 } as Kept;
  const kept = hand.site ? await pickedByBirth(scene) : listedNow;
  if (!kept) return;
  editPiece(scene, hand.piece.id, `Keep the selection “${name}”`, (p) => ({
    ...p,
    selections: { ...p.selections, [name.trim()]: kept },
  }));
}

/** Picks on the built piece, by birth. */
export async function pickedByBirth(scene: OpenScene): Promise<BornSelect | null> {
  const hand = inHand(scene);
  if (!hand?.selection.indices.length) return null;
  const reply = await scene.builds.ask(hand.piece.id, { kind: 'born', selection: hand.selection });
  return reply && 'born' in reply ? reply.born : null;
}

/** Picks a kept selection again; what is left of it. */
export const recallSelection = (scene: OpenScene, name: string): Promise<void> =>
  underWay(scene, recalled(scene, name));

async function recalled(scene: OpenScene, name: string): Promise<void> {
  const hand = inHand(scene);
  const kept = hand?.piece.selections?.[name];
  if (!hand || !kept) return;
  const ofBuild = 'picks' in kept;
  if (ofBuild !== (hand.site !== null))
    return problem(
      scene,
      `“${name}” was kept ${ofBuild ? 'on the result' : 'on the base'}; edit that to pick it again.`,
    );
  const reply = await scene.builds.ask(hand.piece.id, { kind: 'recall', kept });
  if (!reply || !show(scene, hand.piece, reply) || !('selection' in reply)) return;
  if (reply.lost)
    problem(
      scene,
      `Nothing is left of ${counted(reply.lost, 'element')} of “${name}”; what is there is picked.`,
    );
}

export function forgetSelection(scene: OpenScene, name: string): void {
  const hand = inHand(scene);
  if (!hand) return;
  editPiece(scene, hand.piece.id, `Forget the selection “${name}”`, (p) => {
    const { [name]: _, ...selections } = p.selections ?? {};
    return { ...p, selections };
  });
}
