/** The box that is open over the scene, if any; its code is loaded when it is first opened. */
import { Suspense } from 'react';
import { BOXES } from '../../commands/dialogs';
import { panelActions } from '../../state/panelSlice';
import { useAct, useApp } from '../../state/store';

export function Dialogs() {
  const open = useApp((s) => s.panels.dialog);
  const act = useAct();
  if (!open) return null;
  const Open = BOXES[open];
  return (
    <Suspense>
      <Open onClose={() => act(panelActions.dialogOpened(null))} />
    </Suspense>
  );
}
