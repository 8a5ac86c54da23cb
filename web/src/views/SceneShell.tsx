/** Frame of an open scene: opens it, shows the top bar, listens to keys. */
import { lazy, Suspense, useEffect, useState } from 'react';
import { Provider } from 'react-redux';
import { Link, Outlet, useNavigate, useParams } from 'react-router';
import { loadKeys } from '../commands/keys';
import { noteGesture, releaseKey, runKey } from '../commands/commands';
import { focusHome } from '../commands/regions';
import type { App } from '../app/App';
import { closeScene, openScene } from '../app/openedScene';
import type { Scene } from '../app/Scene';
import { SceneContext, useScene } from '../state/useScene';
import { useApp } from '../state/store';
import { Mark } from '../ui/Mark';
import { installMeasure } from '../app/measure';
import { Dialogs } from './dialogs/Dialogs';
import { Notices } from './Notices';
import { Opening } from './Opening';
import { Spoken } from './Spoken';
import { TopBar } from './TopBar';

const loadSearch = () => import('./CommandSearch');
const CommandSearch = lazy(async () => ({ default: (await loadSearch()).CommandSearch }));

/** Opens the scene of the address, and closes it when it is left. */
export function SceneShell({ app }: { app: App }) {
  const { id } = useParams();
  const [scene, setScene] = useState<Scene | null>(null);
  useEffect(() => {
    const opened = openScene(app, id!);
    // A scene is a resource: it is opened by the effect that closes it.
    // eslint-disable-next-line react-hooks/set-state-in-effect
    setScene(opened);
    return () => closeScene(app, opened);
  }, [app, id]);
  if (!scene || scene.id !== id) return <Opening />;
  return (
    <Provider store={scene.store}>
      <SceneContext value={scene}>
        <Shell />
      </SceneContext>
    </Provider>
  );
}

/** In a field in which nothing was typed there is nothing else to take back than the last action. */
const isUndoing = (e: KeyboardEvent, field: HTMLElement): boolean =>
  (e.ctrlKey || e.metaKey) && /^[zy]$/i.test(e.key) && field.dataset.untouched !== undefined;

const FIELDS = 'input:not([type=checkbox]), select, textarea, [contenteditable]';

function Shell() {
  const scene = useScene();
  const status = useApp((s) => s.document.status);
  const failure = useApp((s) => s.document.failure);
  const navigate = useNavigate();
  useEffect(() => installMeasure(scene), [scene]);
  const searching = useApp((s) => s.panels.search);
  // The search is there before it is asked for; only text needs the letters, so nothing waits for them.
  useEffect(() => {
    void loadSearch();
    void import('@urnsmith/core/primitives/letters/withFont');
    void import('@urnsmith/core/planar/withClipper');
  }, []);
  useEffect(() => {
    const onKey = (e: KeyboardEvent): void => {
      if (e.defaultPrevented) return;
      const t = e.target as HTMLElement;
      // A field has its letters and arrows, and no use for function keys.
      const typing = !/^F\d/.test(e.key) && t.closest(FIELDS) && !isUndoing(e, t);
      if (typing || t.closest('[role=dialog], [role=menu]')) return;
      // Space and Enter belong to the button or box that has the focus.
      if ((e.key === ' ' || e.key === 'Enter') && t.closest('button, a, [role=radio], [type=checkbox]'))
        return;
      if (scene.store.getState().document.status === 'ready' && runKey(scene, e)) e.preventDefault();
    };
    const release = (e: KeyboardEvent): void => {
      releaseKey(scene, e);
      focusHome(scene);
      // A box that a key closes may take a moment to go.
      setTimeout(() => focusHome(scene), 0);
    };
    const gesture = (): void => noteGesture(scene);
    loadKeys(scene);
    scene.goesBy((path) => void navigate(path));
    window.addEventListener('keydown', onKey);
    window.addEventListener('keyup', release);
    window.addEventListener('pointerdown', gesture, { capture: true });
    return () => {
      window.removeEventListener('keydown', onKey);
      window.removeEventListener('keyup', release);
      window.removeEventListener('pointerdown', gesture, { capture: true });
    };
  }, [scene, navigate]);
  if (status === 'failed')
    return (
      <main className="lost">
        <Mark />
        <h1>This scene cannot be opened</h1>
        <p>{failure}</p>
        <Link to="/" className="btn">
          Back to the scenes
        </Link>
      </main>
    );
  return (
    <div className="grid h-full min-h-0 grid-rows-[auto_minmax(0,1fr)]">
      <TopBar />
      {status === 'ready' ? <Outlet /> : <Opening />}
      {searching && (
        <Suspense>
          <CommandSearch />
        </Suspense>
      )}
      <Dialogs />
      <Notices />
      <Spoken />
    </div>
  );
}
