/** The bar over every view of a scene. */
import { useScene } from '../scene/useScene';
import { useEffect, useState } from 'react';
import { shallowEqual } from 'react-redux';
import { NavLink, Link } from 'react-router';
import { History, Redo2, Undo2 } from 'lucide-react';
import { redo, undo } from '../state/actions';
import { bench } from '../state/benchSlice';
import { recoveredSeen } from '../state/documentSlice';
import { useAct, useApp, type RootState } from '../state/store';
import { ago } from '../ui/times';
import { Mark } from '../ui/Mark';
import { KeyCap } from '../ui/KeyCap';

const VIEWS = [
  ['bench', 'Bench'],
  ['crate', 'Crate'],
] as const;

export function TopBar() {
  const scene = useScene();
  const act = useAct();
  const id = useApp((s) => s.document.id);
  const name = useApp((s) => s.document.name);
  const last = useApp((s) => s.document.undo.at(-1));
  const next = useApp((s) => s.document.redo[0]);
  return (
    <header className="top">
      <Link to="/" className="mark" aria-label="Scenes" title="All scenes">
        <Mark />
      </Link>
      <nav className="views" aria-label="Views">
        {VIEWS.map(([path, title]) => (
          <NavLink key={path} to={`/scene/${id}/${path}`}>
            {title}
          </NavLink>
        ))}
      </nav>
      <div className="scene">
        <b>{name}</b>
        <SaveStateLine />
      </div>
      <div className="right">
        <button
          onClick={() => undo(scene)}
          disabled={!last}
          aria-label={last ? `Undo ${last.label}` : 'Undo'}
          title={last && `Undo “${last.label}”`}
        >
          <Undo2 size={14} aria-hidden /> <span>{last?.label}</span>
        </button>
        <button
          onClick={() => redo(scene)}
          disabled={!next}
          aria-label={next ? `Redo ${next.label}` : 'Redo'}
          title={next && `Redo “${next.label}”`}
        >
          <Redo2 size={14} aria-hidden /> <span>{next?.label}</span>
        </button>
        <button aria-label="History" title="History" onClick={() => act(bench.dialogOpened('history'))}>
          <History size={14} aria-hidden />
        </button>
        <button className="search" onClick={() => act(bench.toggled('searchOpen'))}>
          <span>Find a command</span>
          <KeyCap of="search" />
        </button>
      </div>
    </header>
  );
}

/** What has become of the work, in words that are true. */
function SaveStateLine() {
  const act = useAct();
  const { save, savedAt, waiting, held, trouble, aside, damage } = useApp(savingOf, shallowEqual);
  const recovered = useApp((s) => s.document.recovered);
  const [now, setNow] = useState(() => Date.now());
  useEffect(() => {
    const t = setInterval(() => setNow(Date.now()), 5000);
    return () => clearInterval(t);
  }, []);
  const actions = (n: number): string => `${n} ${n === 1 ? 'action' : 'actions'}`;
  const kept = held === waiting ? `${actions(waiting)} kept here` : `${actions(waiting - held)} not kept yet`;
  const text = damage
    ? 'damaged, for looking at only'
    : save === 'saved'
      ? `saved ${ago(Math.max(now, savedAt) - savedAt)}`
      : save === 'saving'
        ? 'saving…'
        : save === 'offline'
          ? `server away; ${kept}`
          : `${trouble} ${kept}.`;
  return (
    <>
      <span
        className={save === 'trouble' || damage ? 'saved bad' : 'saved'}
        data-save={save}
        title={damage ?? text}
      >
        <i className={`pip ${damage ? 'offline' : save}`} />
        {text}
      </span>
      {aside > 0 && (
        <button className="saveNote" onClick={() => act(bench.dialogOpened('aside'))}>
          {actions(aside)} set aside
        </button>
      )}
      {recovered.map((r) => (
        <span key={r.id} className="saveNote" role="alert">
          Changed elsewhere too; your work is in{' '}
          <a
            href={`/scene/${r.id}/bench`}
            title={`Another window changed the same things. What you did is kept as ${r.name}.`}
          >
            {r.name}
          </a>
          <button aria-label="Close message" onClick={() => act(recoveredSeen(r.id))}>
            ✕
          </button>
        </span>
      ))}
    </>
  );
}

const savingOf = ({ document: d }: RootState) => ({
  save: d.save,
  savedAt: d.savedAt,
  waiting: d.waiting,
  held: d.held,
  trouble: d.trouble,
  aside: d.aside,
  damage: d.damage,
});
