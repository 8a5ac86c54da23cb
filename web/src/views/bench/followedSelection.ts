/** After an action, its retuning or undoing, what the last action left picked is picked. */
import { useEffect } from 'react';
import { bench, type ElementLevel } from '../../state/benchSlice';
import { KIND } from '../../state/elements';
import { store, useApp } from '../../state/store';
import { builds, useBuilt } from '../../workers/builds';

export function useFollowedSelection(): void {
  const active = useApp((s) => s.bench.active);
  const level = useApp((s) => s.bench.level);
  const following = useApp((s) => s.bench.following);
  const built = useBuilt(active);
  // Level and piece say whose base the worker sends along.
  useEffect(() => builds.editElementsOf(level === 'piece' ? null : active), [active, level]);
  useEffect(() => {
    if (!following || level === 'piece' || !built?.cage || store.getState().document.preview) return;
    const picked = built.picked;
    const now = (Object.keys(KIND) as ElementLevel[]).find((l) => KIND[l] === picked?.kind);
    store.dispatch(
      bench.selectionFollowed({
        level: picked?.indices.length && now ? now : level,
        picked: picked?.indices ?? [],
      }),
    );
  }, [built, following, level]);
}
