/** Every action of the scene, newest first; a click goes there. */
import { clsx } from 'clsx';
import { useScene } from '../../state/useScene';
import { useDeferredValue, useCallback, useEffect, useState } from 'react';
import { Search } from 'lucide-react';
import { START, type Revision } from '@urnsmith/core/document/scene';
import { fetchHistory } from '../../api/http';
import { headOf } from '../../state/documentSlice';
import { useApp } from '../../state/store';
import { atTime } from '../../ui/times';
import type { Attempt } from './attempt';

export function ActionList({ attempt }: { attempt: Attempt }) {
  const scene = useScene();
  const id = useApp((s) => s.document.id);
  const head = useApp((s) => headOf(s.document));
  const redo = useApp((s) => s.document.redo);
  const [typed, setTyped] = useState('');
  const search = useDeferredValue(typed.trim());
  const [list, setList] = useState<Revision[]>([]);
  const [more, setMore] = useState(false);
  const load = useCallback(
    (below?: number): Promise<void> =>
      attempt(async () => {
        await scene.saver.settled();
        const page = await fetchHistory(id, { below, search });
        setList((l) => (below === undefined ? page.revisions : [...l, ...page.revisions]));
        setMore(page.more);
      }),
    [attempt, scene, id, search],
  );
  useEffect(() => void load(), [load]);
  const ahead = new Set(redo.map((r) => r.action));
  return (
    <>
      <label className="searchBox mx-3 mb-2">
        <Search size={14} aria-hidden />
        <input
          type="search"
          placeholder="Find an action"
          aria-label="Find an action"
          value={typed}
          onChange={(e) => setTyped(e.currentTarget.value)}
        />
      </label>
      <ol className="actionList max-h-105 overflow-auto px-2" aria-label="Actions, newest first">
        {list.map((r) => (
          <li key={r.action}>
            <Line
              number={r.number}
              label={r.label}
              time={r.created}
              current={r.action === head}
              ahead={ahead.has(r.action)}
              onClick={() => void attempt(() => scene.saver.goTo(r.action))}
            />
          </li>
        ))}
        {!more && !search && (
          <li>
            <Line
              number={0}
              label="Start of the scene"
              current={head === START}
              onClick={() => void attempt(() => scene.saver.goTo(START))}
            />
          </li>
        )}
      </ol>
      {more && (
        <button className="quiet" onClick={() => void load(list.at(-1)!.number)}>
          Older actions
        </button>
      )}
      {search && !list.length && <p className="dim pad">No action matches.</p>}
    </>
  );
}

interface LineProps {
  number: number;
  label: string;
  /** When it was done, milliseconds since 1970. */
  time?: number;
  current: boolean;
  /** The action was undone and can be redone. */
  ahead?: boolean;
  onClick: () => void;
}

const Line = ({ number, label, time, current, ahead, onClick }: LineProps) => (
  <button
    aria-current={current ? 'step' : undefined}
    className="w-full gap-2.5 px-2 py-1 aria-[current]:bg-glaze/18 aria-[current]:shadow-[inset_3px_0_0_var(--color-glaze)]"
    onClick={onClick}
  >
    <i className="min-w-8.5 text-right text-ash not-italic">{number}</i>
    <span
      className={clsx(
        'flex-1 overflow-hidden text-left text-ellipsis whitespace-nowrap',
        ahead && 'text-ash italic',
      )}
    >
      {label}
    </span>
    {time !== undefined && (
      <time className="whitespace-nowrap text-ash" dateTime={new Date(time).toISOString()}>
        {atTime(time)}
      </time>
    )}
  </button>
);
