/** The bar over every view of a scene. */
import { useEffect, useState } from 'react';
import { NavLink, Link } from 'react-router';
import { Redo2, Undo2 } from 'lucide-react';
import { redo, undo } from '../state/actions';
import { bench } from '../state/benchSlice';
import { useAct, useApp } from '../state/store';
import { Mark } from '../ui/Mark';

const VIEWS = [
  ['bench', 'Bench'],
  ['crate', 'Crate'],
] as const;

export function TopBar() {
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
          onClick={undo}
          disabled={!last}
          aria-label={last ? `Undo ${last.label}` : 'Undo'}
          title={last && `Undo “${last.label}”`}
        >
          <Undo2 size={14} aria-hidden /> <span>{last?.label}</span>
        </button>
        <button
          onClick={redo}
          disabled={!next}
          aria-label={next ? `Redo ${next.label}` : 'Redo'}
          title={next && `Redo “${next.label}”`}
        >
          <Redo2 size={14} aria-hidden /> <span>{next?.label}</span>
        </button>
        <button className="search" onClick={() => act(bench.toggled('searchOpen'))}>
          <span>Find a command</span>
          <kbd>Space</kbd>
        </button>
      </div>
    </header>
  );
}

function SaveStateLine() {
  const save = useApp((s) => s.document.save);
  const savedAt = useApp((s) => s.document.savedAt);
  const [now, setNow] = useState(Date.now());
  useEffect(() => {
    const t = setInterval(() => setNow(Date.now()), 5000);
    return () => clearInterval(t);
  }, []);
  if (save === 'conflict')
    return (
      <span className="saved bad" role="alert">
        changed in another window
        <button onClick={() => location.reload()}>load that version</button>
      </span>
    );
  const text =
    save === 'saved'
      ? `saved ${ago(Math.max(now, savedAt) - savedAt)}`
      : save === 'saving'
        ? 'saving…'
        : 'server away, kept here';
  return (
    <span className="saved" data-save={save}>
      <i className={`pip ${save}`} />
      {text}
    </span>
  );
}

function ago(ms: number): string {
  const s = Math.round(ms / 1000);
  if (s < 3) return 'just now';
  if (s < 90) return `${s} s ago`;
  return `${Math.round(s / 60)} min ago`;
}
