/** What drags snap to. */
import { clsx } from 'clsx';
import { bench } from '../../state/benchSlice';
import { SNAPS } from '../../state/elementSettings';
import { useAct, useApp } from '../../state/store';

export function SnapSettings() {
  const act = useAct();
  const { snap, snapTo } = useApp((s) => s.bench);
  return (
    <>
      <label className="check">
        <input type="checkbox" checked={snap} onChange={() => act(bench.toggled('snap'))} /> snap while
        dragging
        <kbd>S</kbd>
      </label>
      <div className="snaps" role="group" aria-label="Snap to">
        {SNAPS.map((k) => (
          <button
            key={k}
            aria-pressed={snapTo.includes(k)}
            className={clsx(snapTo.includes(k) && 'on')}
            onClick={() => act(bench.snapToggled(k))}
          >
            {k}
          </button>
        ))}
      </div>
    </>
  );
}
