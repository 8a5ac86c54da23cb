/** Snap targets of drags. */
import { clsx } from 'clsx';
import { settingActions } from '../../state/settingSlice';
import { SNAPS } from '../../state/elementSettings';
import { useAct, useApp } from '../../state/store';
import { CheckField } from '../../ui/fields';
import { KeyCap } from '../KeyCap';

export function SnapSettings() {
  const act = useAct();
  const snap = useApp((s) => s.settings.snap);
  const snapTo = useApp((s) => s.settings.snapTo);
  return (
    <>
      <CheckField checked={snap} onChange={() => act(settingActions.snapSwitched())}>
        snap while dragging <KeyCap of="snap" />
      </CheckField>
      <div className="snaps flex flex-wrap gap-1 px-3 pb-1.5" role="group" aria-label="Snap to">
        {SNAPS.map((k) => (
          <button
            key={k}
            aria-pressed={snapTo.includes(k)}
            className={clsx(
              'rounded-[9px] px-2 py-0.25 text-[11.5px]',
              snapTo.includes(k) ? 'border-glaze text-porcelain' : 'border-edge text-mist',
            )}
            onClick={() => act(settingActions.snapToggled(k))}
          >
            {k}
          </button>
        ))}
      </div>
    </>
  );
}
