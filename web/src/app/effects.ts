/** Effects of changes in the store, apart from drawing. */
import { followMode } from '../modes';
import { handActions } from '../state/handSlice';
import { keepSelectionReal } from '../state/actions';
import { documentChanged, followSelection } from '../state/followedSelection';
import { anchorsFound, headOf, synced } from '../state/documentSlice';
import { livePieces, piecesById } from '../state/selectors';
import { notePicks } from '../state/pickTrail';
import { idsInHand, siteInHand } from '../state/inHand';
import { isTwin } from '../state/twins';
import type { RootState, SceneListeners } from '../state/store';
import type { Caged } from '../workers/builds';
import type { OpenScene } from '../state/OpenScene';

/** The meshes whose elements are in hand. */
function cagedIn(s: RootState): Caged[] {
  const byId = piecesById(s);
  return idsInHand(s).flatMap((id) => {
    const piece = byId.get(id);
    return piece ? [{ id, upTo: siteInHand(s.hand, piece)?.upTo ?? null }] : [];
  });
}
const twinInHand = (s: RootState): boolean =>
  s.hand.active !== null && isTwin(piecesById(s).get(s.hand.active));
const sameSites = (a: Caged[], b: Caged[]): boolean =>
  a.length === b.length && a.every((x) => b.some((y) => x.id === y.id && x.upTo === y.upTo));

/** Puts the placements of anchored pieces, as builds have found them, into the store. */
function tellAnchored(scene: OpenScene): void {
  const { pieces, anchored } = scene.store.getState().document;
  if (!pieces.some((p) => p.anchors ?? p.reach) && !Object.keys(anchored).length) return;
  const found = Object.fromEntries(
    [...scene.builds.all().values()].flatMap(
      ({ display }) => display?.steps.flatMap((s) => s.anchored ?? []).map((a) => [a.id, a] as const) ?? [],
    ),
  );
  if (JSON.stringify(found) !== JSON.stringify(anchored)) scene.store.dispatch(anchorsFound(found));
}

/** A selected piece is prepared after so long at rest, ms. While something is built, it is tried again so often. */
const MAKE_READY = 150;
const MOST_TRIES = 40;

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
    predicate: (_, a, b) => a.view.stage !== b.view.stage || a.hand.active !== b.hand.active,
    effect(_, { getState }) {
      const { stage } = getState().view;
      const { active } = getState().hand;
      builds.showStage(stage && active ? { id: active, lane: stage } : null);
    },
  });
  // The hand may drag the selected pieces next.
  let ready: ReturnType<typeof setTimeout> | undefined;
  const makeReady = (tries: number): void => {
    clearTimeout(ready);
    ready = setTimeout(() => {
      const { selected, level } = scene.store.getState().hand;
      if (level !== 'piece' || !selected.length) return;
      if (builds.idle) builds.prepareFor(selected);
      else if (tries) makeReady(tries - 1);
    }, MAKE_READY);
  };
  listeners.startListening({
    predicate: (_, now, before) =>
      now.hand.selected !== before.hand.selected || headOf(now.document) !== headOf(before.document),
    effect: () => makeReady(MOST_TRIES),
  });
  // At element level the meshes that are edited are sent along.
  listeners.startListening({
    predicate: (_, now, before) => !sameSites(cagedIn(now), cagedIn(before)),
    effect: (_, { getState }) => builds.editElementsOf(cagedIn(getState())),
  });
  // A piece that has become a twin is not edited without being asked.
  listeners.startListening({
    predicate: (_, now) => now.hand.level !== 'piece' && twinInHand(now),
    effect: () => void scene.store.dispatch(handActions.levelTaken('piece')),
  });
  // Keeps the current mode up to date, and ends it when it no longer applies.
  listeners.startListening({
    predicate: (_, now, before) => now.hand !== before.hand || now.settings !== before.settings,
    effect: (_, { getState, getOriginalState }) => followMode(scene, getState(), getOriginalState()),
  });
  listeners.startListening({
    predicate: (_, { document: a }, { document: b }) => headOf(a) !== headOf(b),
    effect: () => documentChanged(scene),
  });
  // Each pick is a step that can be taken back.
  listeners.startListening({
    predicate: (_, { hand: a }, { hand: b }) =>
      (a.picked !== b.picked || a.beside !== b.beside) && a.level !== 'piece',
    effect: () => notePicks(scene),
  });
  // Picks are made anew on a preview; what else is done to the piece ends that.
  listeners.startListening({
    predicate: (_, now, before) =>
      now.hand.anew !== null && before.document.preview !== null && !now.document.preview,
    effect: () => void scene.store.dispatch(handActions.pickingAnew(null)),
  });
  // Another window, or a step of the history, exchanged the document under the hands.
  listeners.startListening({ actionCreator: synced, effect: () => keepSelectionReal(scene) });
  listeners.startListening({
    predicate: (_, { hand: a }, { hand: b }) => a.following !== b.following || a.level !== b.level,
    effect: () => followSelection(scene),
  });
  const endFollowing = builds.subscribe(() => followSelection(scene));
  const endAnchored = builds.subscribe(() => tellAnchored(scene));
  return () => {
    clearTimeout(ready);
    endFollowing();
    endAnchored();
    listeners.clearListeners();
  };
}
