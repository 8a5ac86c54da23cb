/** The box that is open over the scene, if any; its code is loaded when it is first opened. */
import { lazy, Suspense, type ComponentType, type LazyExoticComponent } from 'react';
import { panelActions, type BenchDialog } from '../../state/panelSlice';
import { useAct, useApp } from '../../state/store';

type DialogView = ComponentType<{ onClose: () => void }>;

const BOXES: Record<BenchDialog, LazyExoticComponent<DialogView>> = {
  history: lazy(async () => ({ default: (await import('./HistoryBox')).HistoryBox })),
  aside: lazy(async () => ({ default: (await import('./AsideBox')).AsideBox })),
  about: lazy(async () => ({ default: (await import('./AboutBox')).AboutBox })),
  keys: lazy(async () => ({ default: (await import('./KeysBox')).KeysBox })),
  interface: lazy(async () => ({ default: (await import('./InterfaceBox')).InterfaceBox })),
  outline: lazy(async () => ({ default: (await import('./OutlineBox')).OutlineBox })),
  presets: lazy(async () => ({ default: (await import('./PresetsBox')).PresetsBox })),
};

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
