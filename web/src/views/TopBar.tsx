/** The bar over every view of a scene. */
import { clsx } from 'clsx';
import { useScene } from '../state/useScene';
import { useEffect, useState } from 'react';
import { shallowEqual } from 'react-redux';
import { NavLink, Link } from 'react-router';
import { History, Redo2, Undo2 } from 'lucide-react';
import { redo, undo } from '../state/actions';
import { panelActions } from '../state/panelSlice';
import { recoveredSeen } from '../state/documentSlice';
import { useAct, useApp, type RootState } from '../state/store';
import { ago } from '../ui/times';
import { Mark } from '../ui/Mark';
import { KeyCap } from './KeyCap';

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
    <header className="scaled flex h-10 min-w-0 items-center gap-3.5 border-b border-b-line bg-ink-1 px-3">
      <Link to="/" className="flex p-1 text-glaze" aria-label="Scenes" title="All scenes">
        <Mark />
      </Link>
      <nav className="flex gap-0.5" aria-label="Views">
        {VIEWS.map(([path, title]) => (
          <NavLink
            key={path}
            to={`/scene/${id}/${path}`}
            className="rounded-ui px-2.75 py-1.25 text-ash hover:text-porcelain aria-[current]:bg-ink-3 aria-[current]:text-porcelain"
          >
            {title}
          </NavLink>
        ))}
      </nav>
      <div className="scene ml-2 flex min-w-0 items-center overflow-hidden gap-3 whitespace-nowrap">
        <h1 className="max-w-47.5 flex-none overflow-hidden font-bold text-ellipsis">{name}</h1>
        <SaveStateLine />
      </div>
      <div className="ml-auto flex min-w-0 flex-none items-center gap-1.5">
        <button
          onClick={() => undo(scene)}
          disabled={!last}
          aria-label={last ? `Undo ${last.label}` : 'Undo'}
          title={last && `Undo “${last.label}”`}
        >
          <Undo2 size={14} aria-hidden /> {last && <span className={DONE}>{last.label}</span>}
        </button>
        <button
          onClick={() => redo(scene)}
          disabled={!next}
          aria-label={next ? `Redo ${next.label}` : 'Redo'}
          title={next && `Redo “${next.label}”`}
        >
          <Redo2 size={14} aria-hidden /> {next && <span className={DONE}>{next.label}</span>}
        </button>
        <button
          aria-label="History"
          title="History"
          onClick={() => act(panelActions.dialogOpened('history'))}
        >
          <History size={14} aria-hidden />
        </button>
        <button
          className="w-45 narrow:w-auto justify-between border-line px-2 py-1.25"
          onClick={() => act(panelActions.searchToggled())}
        >
          <span className="text-ash narrow:sr-only">Find a command</span>
          <KeyCap of="search" />
        </button>
      </div>
    </header>
  );
}

/** Labels of the actions that *undo* and *redo* would change. */
const DONE = 'max-w-32.5 overflow-hidden text-ash text-ellipsis whitespace-nowrap';

const PIPS = {
  saved: 'rounded-full bg-glaze',
  saving: 'rounded-full bg-cream',
  offline: 'rounded-[1px] bg-ember',
  trouble: 'rounded-[1px] bg-ember',
};

/** The state of saving, in words. */
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
        className={clsx(
          'saved text-[11.5px]',
          save === 'trouble' || damage
            ? // A sentence with what to do: two lines of it fit.
              'max-h-[2.5em] overflow-hidden leading-[1.25] whitespace-normal text-ember'
            : 'text-ash',
        )}
        data-save={save}
        title={damage ?? text}
      >
        <i className={clsx('mr-1.5 inline-block size-1.75', PIPS[damage ? 'offline' : save])} />
        {text}
      </span>
      {aside > 0 && (
        <button
          className="saveNote px-1.5 py-0.5 text-[11.5px] text-ember"
          onClick={() => act(panelActions.dialogOpened('aside'))}
        >
          {actions(aside)} set aside
        </button>
      )}
      {recovered.map((r) => (
        <span key={r.id} className="saveNote px-1.5 py-0.5 text-[11.5px] text-ember" role="alert">
          Changed elsewhere too; your work is in{' '}
          <a
            className="inline-block max-w-35 overflow-hidden align-[-3px] text-ellipsis text-glaze underline"
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
