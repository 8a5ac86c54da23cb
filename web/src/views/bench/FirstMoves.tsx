/** For the first time at the Bench: three moves to try, each ticked off when it was made; put away, it stays away. */
import { useEffect, useState } from 'react';
import { Check, X } from 'lucide-react';
import { useApp } from '../../state/store';
import { remembered } from '../../ui/remembered';
import type { Stage } from '../../viewport/Stage';
import { showsHandles } from '../../modes';

const KEY = 'urnsmith-first-moves';

/** Moves done so far, as far as they were noticed. */
interface Made {
  turn: boolean;
  pick: boolean;
  pull: boolean;
}

const MOVES: ReadonlyArray<{ move: keyof Made; name: string; how: string }> = [
  { move: 'turn', name: 'Turn', how: 'drag with the right button' },
  { move: 'pick', name: 'Pick', how: 'click a piece' },
  { move: 'pull', name: 'Pull', how: 'drag one of its diamonds' },
];

export function FirstMoves({ stage }: { stage: Stage }) {
  const [away, setAway] = useState(() => remembered.getItem(KEY) !== null);
  const [turned, setTurned] = useState(false);
  const [done, setDone] = useState({ pick: false, pull: false });
  const picked = useApp((s) => s.hand.selected.length > 0);
  const pulls = useApp((s) => s.document.preview !== null);
  // The first pick and pull count, whatever comes after.
  if ((picked && !done.pick) || (pulls && !done.pull))
    setDone({ pick: done.pick || picked, pull: done.pull || pulls });
  const pieces = useApp((s) => s.document.pieces.length > 0);
  const idle = useApp((s) => s.hand.level === 'piece' && showsHandles(s));
  useEffect(() => {
    if (away) return;
    const { yaw, pitch } = stage.rig;
    return stage.onFrame(() => {
      if (stage.rig.yaw !== yaw || stage.rig.pitch !== pitch) setTurned(true);
    });
  }, [away, stage]);
  const made: Made = { turn: turned, ...done };
  const all = made.turn && made.pick && made.pull;
  useEffect(() => {
    if (all) remembered.setItem(KEY, 'made');
  }, [all]);
  if (away || !pieces || !idle) return null;
  const putAway = (): void => {
    remembered.setItem(KEY, 'away');
    setAway(true);
  };
  return (
    <section
      className="firstMoves w-66 rounded-[10px] bg-ink-0/84 px-2.5 pt-1 pb-2 text-[11.5px] [@container(height<24rem)]:hidden @max-[640px]:hidden"
      aria-label="First moves"
    >
      <div className="flex items-center justify-between">
        <b>{all ? 'That is how everything here is done' : 'Three moves to start with'}</b>
        <button className="quiet" aria-label="Put the first moves away" onClick={putAway}>
          <X size={12} aria-hidden />
        </button>
      </div>
      <ol className="grid gap-0.5">
        {MOVES.map(({ move, name, how }) => (
          <li key={move} className="flex items-center gap-1.5 text-mist">
            <span className="grid size-3.5 place-items-center text-glaze">
              {made[move] ? (
                <Check size={12} aria-label="done" />
              ) : (
                <i className="size-1.25 rounded-full bg-ash" />
              )}
            </span>
            <b className="w-8.5 font-semibold text-porcelain">{name}</b> {how}
          </li>
        ))}
      </ol>
    </section>
  );
}
