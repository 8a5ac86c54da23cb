/** The steps that places and lines are held to, as fields. */
import { settingActions } from '../state/settingSlice';
import { useAct, useApp } from '../state/store';
import { NumberField } from '../ui/NumberField';

export function GridStep() {
  const act = useAct();
  const value = useApp((s) => s.settings.gridStep);
  const commit = (v: number): void => void act(settingActions.gridStepSet(v));
  return <NumberField label="Grid step" value={value} unit="mm" minimum={0.01} maximum={1000} onCommit={commit} />; // prettier-ignore
}

export function AngleStep() {
  const act = useAct();
  const value = useApp((s) => s.settings.angleStep);
  const commit = (v: number): void => void act(settingActions.angleStepSet(v));
  return <NumberField label="Angle step" value={value} unit="°" minimum={0.1} maximum={180} onCommit={commit} />; // prettier-ignore
}
