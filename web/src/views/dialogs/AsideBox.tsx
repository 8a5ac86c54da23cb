/** Actions the server refused: what they were, why, and the choice to discard them. */
import { useCallback, useEffect, useState } from 'react';
import { outbox, type Aside } from '../../api/outbox';
import { asideCounted } from '../../state/documentSlice';
import { useAct, useApp } from '../../state/store';
import { Box } from '../../ui/Box';
import { atTime } from '../../ui/times';

export function AsideBox({ onClose }: { onClose: () => void }) {
  const id = useApp((s) => s.document.id);
  const act = useAct();
  const [list, setList] = useState<Aside[] | null>(null);
  const load = useCallback(async (): Promise<void> => {
    const found = await outbox.asides(id);
    setList(found);
    act(asideCounted(found.length));
  }, [id, act]);
  useEffect(() => {
    // IndexedDB is read when the box opens.
    // eslint-disable-next-line react-hooks/set-state-in-effect
    void load();
  }, [load]);
  const drop = async (items: Aside[]): Promise<void> => {
    for (const a of items) await outbox.dropAside(a.id);
    await load();
  };
  return (
    <Box title="Set aside" onClose={onClose}>
      <p className="dim pad">
        The server did not take these actions. They changed nothing; everything after them was kept.
      </p>
      <ul className="max-h-105 overflow-auto px-2" aria-label="Actions set aside">
        {list?.map((a) => (
          <li key={a.id} className="border-t border-t-line p-2">
            <b>{a.label}</b>
            <time className="ml-2.5 whitespace-nowrap text-ash" dateTime={new Date(a.when).toISOString()}>
              {atTime(a.when)}
            </time>
            <p className="my-0.75 text-mist">{a.reason}</p>
            <details>
              <summary>What it would have changed</summary>
              <pre className="max-h-45 overflow-auto bg-ink-0 p-2 text-[11px]">
                {JSON.stringify(a.action, null, 1)}
              </pre>
            </details>
            <button className="mt-1.25 border-line" onClick={() => void drop([a])}>
              Discard
            </button>
          </li>
        ))}
      </ul>
      {list?.length === 0 && <p className="dim pad">Nothing is set aside.</p>}
    </Box>
  );
}
