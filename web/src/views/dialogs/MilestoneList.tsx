/** Named states of the scene: set one, see what changed since, go back to it. */
import { clsx } from 'clsx';
import { useScene } from '../../state/useScene';
import { useCallback, useEffect, useState } from 'react';
import { Flag } from 'lucide-react';
import type { Comparison, Milestone } from '@urnsmith/core/document/scene';
import { compareMilestone, fetchMilestones, postMilestone, restoreMilestone } from '../../api/http';
import { useApp } from '../../state/store';
import { atTime } from '../../ui/times';
import type { Attempt } from './attempt';

export function MilestoneList({ attempt }: { attempt: Attempt }) {
  const scene = useScene();
  const id = useApp((s) => s.document.id);
  const [list, setList] = useState<Milestone[]>([]);
  const [name, setName] = useState('');
  const [shown, setShown] = useState<{ id: number; what: Comparison } | null>(null);
  const load = useCallback(async (): Promise<void> => setList(await fetchMilestones(id)), [id]);
  useEffect(() => void attempt(load), [attempt, load]);
  const set = (): Promise<void> =>
    attempt(async () => {
      await scene.saver.settled();
      await postMilestone(id, name.trim());
      setName('');
      await load();
    });
  return (
    <>
      <form
        className="flex gap-2 px-3 pb-2.5"
        onSubmit={(e) => {
          e.preventDefault();
          if (name.trim()) void set();
        }}
      >
        <input
          className="flex-1 rounded-ui border border-line bg-ink-0 px-2.25 py-1"
          placeholder="Name the current state"
          aria-label="Name of a new milestone"
          maxLength={120}
          value={name}
          onChange={(e) => setName(e.currentTarget.value)}
        />
        <button className="btn" disabled={!name.trim()}>
          <Flag size={13} aria-hidden /> Set milestone
        </button>
      </form>
      <ul className="milestones max-h-105 overflow-auto px-2" aria-label="Milestones">
        {list.map((m) => (
          <li
            key={m.id}
            className="grid grid-cols-[1fr_auto_auto_auto] items-center gap-x-2 gap-y-0.5 rounded-[6px] px-2 py-0.75"
          >
            <span
              className={clsx(
                'overflow-hidden text-ellipsis whitespace-nowrap',
                m.automatic ? 'text-mist' : 'font-semibold',
              )}
            >
              {m.name}
            </span>
            <time className="whitespace-nowrap text-ash" dateTime={new Date(m.created).toISOString()}>
              {atTime(m.created)}
            </time>
            <button
              className="border-line px-2 py-0.5"
              aria-expanded={shown?.id === m.id}
              onClick={() =>
                void attempt(async () =>
                  setShown(shown?.id === m.id ? null : { id: m.id, what: await compareMilestone(id, m.id) }),
                )
              }
            >
              Compare
            </button>
            <button
              className="border-line px-2 py-0.5"
              onClick={() =>
                void attempt(() => scene.saver.atServer((scene, from) => restoreMilestone(scene, m.id, from)))
              }
            >
              Go back to it
            </button>
            {shown?.id === m.id && <Differences what={shown.what} />}
          </li>
        ))}
      </ul>
      {!list.length && <p className="dim pad">None yet. A named state is kept for good.</p>}
    </>
  );
}

const DIFFERENCES = 'col-span-full mt-1 mb-2 ml-3 grid grid-cols-[max-content_1fr] gap-x-3 gap-y-0.5';

function Differences({ what: { added, removed, changed } }: { what: Comparison }) {
  if (!added.length && !removed.length && !changed.length)
    return <p className={DIFFERENCES}>Nothing has changed since.</p>;
  return (
    <dl className={DIFFERENCES}>
      {added.length > 0 && <Line title="Added since" text={added.join(', ')} />}
      {removed.length > 0 && <Line title="Gone since" text={removed.join(', ')} />}
      {changed.map((c) => (
        <Line key={c.name} title={c.name} text={c.what.join(', ')} />
      ))}
    </dl>
  );
}

const Line = ({ title, text }: { title: string; text: string }) => (
  <>
    <dt className="text-ash">{title}</dt>
    <dd>{text}</dd>
  </>
);
