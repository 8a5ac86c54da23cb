/** What follows from changes of the store, apart from what is drawn of it. */
import { keepSelectionReal } from '../state/actions';
import { followSelection } from '../state/followedSelection';
import { synced } from '../state/documentSlice';
import { livePieces } from '../state/selectors';
import type { SceneListeners } from '../state/store';
import type { OpenScene } from './OpenScene';

export function startEffects(scene: OpenScene, listeners: SceneListeners): () => void {
  const { builds } = scene;
  // At once with every change, so that whoever asks the worker next asks about what is there now.
  listeners.startListening({
    predicate: (_, now, before) =>
      now.document.status === 'ready' &&
      (livePieces(now) !== livePieces(before) ||
        now.document.preview !== before.document.preview ||
        before.document.status !== 'ready'),
    effect: (_, { getState }) => builds.show(livePieces(getState()), getState().document.preview !== null),
  });
  // A stage that is held shows the piece before a lane; at element level the base is sent along.
  listeners.startListening({
    predicate: (_, { bench: a }, { bench: b }) =>
      a.stage !== b.stage || a.active !== b.active || a.level !== b.level,
    effect(_, { getState }) {
      const { stage, active, level } = getState().bench;
      builds.showStage(stage && active ? { id: active, lane: stage } : null);
      builds.editElementsOf(level === 'piece' ? null : active);
    },
  });
  // Another window, or a step of the history, exchanged the document under the hands.
  listeners.startListening({ actionCreator: synced, effect: () => keepSelectionReal(scene) });
  listeners.startListening({
    predicate: (_, { bench: a }, { bench: b }) => a.following !== b.following || a.level !== b.level,
    effect: () => followSelection(scene),
  });
  const endFollowing = builds.subscribe(() => followSelection(scene));
  return () => {
    endFollowing();
    listeners.clearListeners();
  };
}
