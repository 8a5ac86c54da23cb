/** A dot at what the view turns about, shown while it is turned. */
import { useEffect, useRef } from 'react';
import type { Stage } from '../../viewport/Stage';

/** How long it stays after the last turn, ms. */
const STAYS = 500;

export function TurnsAbout({ stage }: { stage: Stage }) {
  const dot = useRef<HTMLElement>(null);
  useEffect(() => {
    let { yaw, pitch } = stage.rig;
    let gone = 0;
    // Set directly and not through state: it follows every frame of a turn.
    const stop = stage.onFrame(() => {
      const { style, dataset } = dot.current!;
      const [x, y] = stage.rig.seenAt;
      style.left = `calc(50% + ${x}px)`;
      style.top = `calc(50% + ${y}px)`;
      if (stage.rig.yaw === yaw && stage.rig.pitch === pitch) return;
      ({ yaw, pitch } = stage.rig);
      dataset.turning = '';
      clearTimeout(gone);
      gone = window.setTimeout(() => delete dataset.turning, STAYS);
    });
    return () => {
      stop();
      clearTimeout(gone);
    };
  }, [stage]);
  return (
    <i
      className="turnsAbout pointer-events-none absolute top-1/2 left-1/2 size-2 -translate-1/2 rounded-full border border-ink-0 bg-cream opacity-0 data-turning:opacity-100"
      ref={dot}
      aria-hidden
    />
  );
}
