/** After an action, its retuning or undoing, what the last action left picked is picked. */
import { bench, type ElementLevel } from './benchSlice';
import { KIND } from './elements';
import { store } from './store';
import { builds } from '../workers/builds';

export function followSelection(): void {
  const { bench: b, document } = store.getState();
  if (!b.following || b.level === 'piece' || document.preview || !b.active) return;
  const built = builds.get(b.active);
  if (!built?.cage) return;
  const { picked } = built;
  const now = (Object.keys(KIND) as ElementLevel[]).find((l) => KIND[l] === picked?.kind);
  store.dispatch(
    bench.selectionFollowed({
      level: picked?.indices.length && now ? now : b.level,
      picked: picked?.indices ?? [],
    }),
  );
}
