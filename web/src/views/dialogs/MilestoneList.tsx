/** Named states of the scene: set one, see what changed since, go back to it. */
import { useScene } from '../../scene/useScene';
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
        className="rowForm"
        onSubmit={(e) => {
          e.preventDefault();
          if (name.trim()) void set();
        }}
      >
        <input
          placeholder="Name the state as it is now"
          aria-label="Name of a new milestone"
          maxLength={120}
          value={name}
          onChange={(e) => setName(e.currentTarget.value)}
        />
        <button className="btn" disabled={!name.trim()}>
          <Flag size={13} aria-hidden /> Set milestone
        </button>
      </form>
      <ul className="milestones" aria-label="Milestones">
        {list.map((m) => (
          <li key={m.id} className={m.automatic ? 'automatic' : ''}>
            <span>{m.name}</span>
            <time dateTime={new Date(m.created).toISOString()}>{atTime(m.created)}</time>
            <button
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
      {!list.length && <p className="dim pad">None yet. A state you name here stays for good.</p>}
    </>
  );
}

function Differences({ what: { added, removed, changed } }: { what: Comparison }) {
  if (!added.length && !removed.length && !changed.length) return <p>Nothing has changed since.</p>;
  return (
    <dl>
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
    <dt>{title}</dt>
    <dd>{text}</dd>
  </>
);
