/** Frame of an open scene: loads it, shows the top bar, keeps builds up to date, listens to keys. */
import { useEffect } from 'react';
import { Link, Outlet, useNavigate, useParams } from 'react-router';
import { loadKeys } from '../commands/keys';
import { noteGesture, releaseKey, runKey, setGoTo } from '../commands/commands';
import { bench } from '../state/benchSlice';
import { saver } from '../state/saving';
import { livePieces } from '../state/selectors';
import { store, useAct, useApp } from '../state/store';
import { Mark } from '../ui/Mark';
import { builds } from '../workers/builds';
import { CommandSearch } from './CommandSearch';
import { Dialogs } from './dialogs/Dialogs';
import { Notices } from './Notices';
import { TopBar } from './TopBar';

export function SceneShell() {
  const { id } = useParams();
  const act = useAct();
  const status = useApp((s) => s.document.status);
  const failure = useApp((s) => s.document.failure);
  const ready = useApp((s) => s.document.status === 'ready' && s.document.id === id);
  const stage = useApp((s) => s.bench.stage);
  const active = useApp((s) => s.bench.active);
  const navigate = useNavigate();
  useEffect(() => {
    builds.clear();
    act(bench.benchCleared());
    void saver.open(id!);
    return () => builds.clear();
  }, [id, act]);
  useEffect(() => {
    if (!ready) return;
    // At once with every change, so that whoever asks the worker next asks about what is there now.
    const show = (): void => {
      const s = store.getState();
      builds.show(livePieces(s), s.document.preview !== null);
    };
    show();
    return store.subscribe(show);
  }, [ready]);
  useEffect(() => builds.showStage(stage && active ? { id: active, lane: stage } : null), [stage, active]);
  useEffect(() => {
    const onKey = (e: KeyboardEvent): void => {
      if (e.defaultPrevented) return;
      const t = e.target as HTMLElement;
      if (
        t.closest(
          'input:not([type=checkbox]), select, textarea, [role=dialog], [role=menu], [contenteditable]',
        )
      )
        return;
      // Space and Enter belong to the button or box that has the focus.
      if ((e.key === ' ' || e.key === 'Enter') && t.closest('button, a, [role=radio], [type=checkbox]'))
        return;
      if (store.getState().document.status === 'ready' && runKey(e)) e.preventDefault();
    };
    loadKeys();
    setGoTo((path) => void navigate(path));
    window.addEventListener('keydown', onKey);
    window.addEventListener('keyup', releaseKey);
    window.addEventListener('pointerdown', noteGesture, { capture: true });
    return () => {
      setGoTo(null);
      window.removeEventListener('keydown', onKey);
      window.removeEventListener('keyup', releaseKey);
      window.removeEventListener('pointerdown', noteGesture, { capture: true });
    };
  }, [navigate]);
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
    <div className="shell">
      <TopBar />
      {ready ? (
        <Outlet />
      ) : (
        <main className="lost" aria-busy>
          <p>Opening…</p>
        </main>
      )}
      <CommandSearch />
      <Dialogs />
      <Notices />
    </div>
  );
}
