/** After an action, its retuning or undoing, what the last action left picked is picked. */
import type { OpenScene } from '../scene/OpenScene';
import { perScene } from '../scene/perScene';
import type { Built } from '../workers/builds';
import { bench, type ElementLevel, type Level } from './benchSlice';
import { KIND } from './elements';
import { picksOfMesh } from './pickTrail';

/** Whose last pick was taken up. */
const last = perScene((): { built?: Built; level?: Level; before?: Built } => ({}));

/** The document has changed: what is built of the piece in hand is of a state before, until it is built again. */
export function documentChanged(scene: OpenScene): void {
  const { active } = scene.store.getState().bench;
  last(scene).before = active ? scene.builds.get(active) : undefined;
}

export function followSelection(scene: OpenScene): void {
  const { bench: b, document } = scene.store.getState();
  if (!b.following || b.level === 'piece' || document.preview || !b.active) return;
  const built = scene.builds.get(b.active);
  const own = last(scene);
  if (!built?.cage || built === own.before || (own.built === built && own.level === b.level)) return;
  Object.assign(own, { built, level: b.level });
  // A state that has come back has what was picked in it; a new one what its last action left.
  const known = picksOfMesh(scene);
  if (known) {
    scene.store.dispatch(bench.selectionFollowed(known));
    return;
  }
  const { picked } = built;
  const now = (Object.keys(KIND) as ElementLevel[]).find((l) => KIND[l] === picked?.kind);
  scene.store.dispatch(
    bench.selectionFollowed({
      level: picked?.indices.length && now ? now : b.level,
      picked: picked?.indices ?? [],
    }),
  );
}
