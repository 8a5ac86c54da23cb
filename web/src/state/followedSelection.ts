/** After an action, its retuning or undoing, what the last action left picked is picked. */
import type { OpenScene } from './OpenScene';
import { perScene } from './perScene';
import type { Built } from '../workers/builds';
import { handActions, picksOf, type ElementLevel, type Level, type Picks } from './handSlice';
import { idsInHand, KIND } from './inHand';
import { picksOfMesh } from './pickTrail';

/** Per piece: the build whose picks were taken up, and the one of a state before. */
const last = perScene(() => ({
  taken: new Map<string, { built: Built; level: Level }>(),
  before: new Map<string, Built | undefined>(),
}));

/** The document has changed: what is built of the pieces in hand is of a state before, until it is built again. */
export function documentChanged(scene: OpenScene): void {
  last(scene).before = new Map(
    idsInHand(scene.store.getState()).map((id) => [id, scene.builds.get(id)] as const),
  );
}

export function followSelection(scene: OpenScene): void {
  const s = scene.store.getState();
  const { hand: b, document } = s;
  if (!b.following || b.level === 'piece' || document.preview || !b.active) return;
  const own = last(scene);
  const fresh = idsInHand(s).flatMap((id): Array<[string, Built]> => {
    const built = scene.builds.get(id);
    const taken = own.taken.get(id);
    if (!built?.cage || built === own.before.get(id)) return [];
    return taken?.built === built && taken.level === b.level ? [] : [[id, built]];
  });
  if (!fresh.length) return;
  for (const [id, built] of fresh) own.taken.set(id, { built, level: b.level });
  // A state that has come back has what was picked in it; a new one what its last action left.
  const known = picksOfMesh(scene);
  scene.store.dispatch(handActions.selectionFollowed(known ?? left(b, new Map(fresh))));
}

type Followed = { level: ElementLevel; picks: Picks };

/** Picks left by the last actions, at the level of the leading piece. */
function left(b: Parameters<typeof picksOf>[0] & { level: Level }, fresh: Map<string, Built>): Followed {
  const ofLead = fresh.get(b.active ?? '')?.picked;
  const now = (Object.keys(KIND) as ElementLevel[]).find((l) => KIND[l] === ofLead?.kind);
  const level = ofLead?.indices.length && now ? now : (b.level as ElementLevel);
  const picks: Record<string, ReadonlyArray<number>> = { ...picksOf(b) };
  for (const [id, { picked }] of fresh)
    picks[id] = picked && (id === b.active || picked.kind === KIND[level]) ? picked.indices : [];
  return { level, picks };
}
