/** Every action of the scene, newest first; a click goes there. */
import { useScene } from '../../scene/useScene';
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
      <label className="searchBox wide">
        <Search size={14} aria-hidden />
        <input
          type="search"
          placeholder="Find an action"
          aria-label="Find an action"
          value={typed}
          onChange={(e) => setTyped(e.currentTarget.value)}
        />
      </label>
      <ol className="actionList" aria-label="Actions, newest first">
        {list.map((r) => (
          <li key={r.action}>
            <button
              aria-current={r.action === head ? 'step' : undefined}
              className={ahead.has(r.action) ? 'ahead' : ''}
              onClick={() => void attempt(() => scene.saver.goTo(r.action))}
            >
              <i>{r.number}</i>
              <span>{r.label}</span>
              <time dateTime={new Date(r.created).toISOString()}>{atTime(r.created)}</time>
            </button>
          </li>
        ))}
        {!more && !search && (
          <li>
            <button
              aria-current={head === START ? 'step' : undefined}
              onClick={() => void attempt(() => scene.saver.goTo(START))}
            >
              <i>0</i>
              <span>Start of the scene</span>
            </button>
          </li>
        )}
      </ol>
      {more && (
        <button className="quiet" onClick={() => void load(list.at(-1)!.number)}>
          Older actions
        </button>
      )}
      {search && !list.length && <p className="dim pad">No action is called that.</p>}
    </>
  );
}
