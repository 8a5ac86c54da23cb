/** The box that is open over the scene, if any. */
import { bench } from '../../state/benchSlice';
import { useAct, useApp } from '../../state/store';
import { AboutBox } from './AboutBox';
import { OutlineBox } from './OutlineBox';
import { AsideBox } from './AsideBox';
import { InterfaceBox } from './InterfaceBox';
import { HistoryBox } from './HistoryBox';
import { KeysBox } from './KeysBox';
import { PresetsBox } from './PresetsBox';

const BOXES = {
  history: HistoryBox,
  aside: AsideBox,
  about: AboutBox,
  keys: KeysBox,
  interface: InterfaceBox,
  outline: OutlineBox,
  presets: PresetsBox,
};

export function Dialogs() {
  const open = useApp((s) => s.bench.dialog);
  const act = useAct();
  if (!open) return null;
  const Open = BOXES[open];
  return <Open onClose={() => act(bench.dialogOpened(null))} />;
}
