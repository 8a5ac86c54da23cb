/** What drags snap to. */
import { clsx } from 'clsx';
import { bench } from '../../state/benchSlice';
import { SNAPS } from '../../state/elementSettings';
import { useAct, useApp } from '../../state/store';
import { CheckField } from '../../ui/fields';
import { KeyCap } from '../../ui/KeyCap';

export function SnapSettings() {
  const act = useAct();
  const snap = useApp((s) => s.bench.snap);
  const snapTo = useApp((s) => s.bench.snapTo);
  return (
    <>
      <CheckField checked={snap} onChange={() => act(bench.toggled('snap'))}>
        snap while dragging <KeyCap of="snap" />
      </CheckField>
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
