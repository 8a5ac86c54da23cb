/** How the surface looks, and what is drawn over it. */
import { clsx } from 'clsx';
import { useKeyLabel } from '../../commands/keys';
import { settingActions } from '../../state/settingSlice';
import { viewActions } from '../../state/viewSlice';
import { useAct, useApp } from '../../state/store';
import { Segmented } from '../../ui/Segmented';
import { LOOK_NAMES, LOOKS, type Look } from '../../viewport/looks';

const TOGGLES = [
  ['wire', 'wire'],
  ['xray', 'x-ray'],
  ['grid', 'grid'],
  ['snap', 'snap'],
  ['parallel', 'parallel'],
] as const;
const titled = (l: Look): string => l[0].toUpperCase() + l.slice(1);

export function LookBar() {
  const act = useAct();
  const look = useApp((s) => s.view.look);
  const stage = useApp((s) => s.view.stage);
  const { legend } = LOOKS[look];
  return (
    <>
      <Segmented
        className="@max-[700px]:hidden"
        label="Look"
        value={look}
        options={LOOK_NAMES.map((l) => ({ value: l, label: titled(l) }))}
        onChange={(l) => act(viewActions.lookChosen(l))}
      />
      <select
        className="rounded-[9px] bg-ink-0/84 px-2 py-1 @min-[700px]:hidden"
        aria-label="Look, as a list"
        value={look}
        onChange={(e) => act(viewActions.lookChosen(e.currentTarget.value as Look))}
      >
        {LOOK_NAMES.map((l) => (
          <option key={l} value={l}>
            {titled(l)}
          </option>
        ))}
      </select>
      <div className="seg small @max-[460px]:hidden" role="group" aria-label="Drawn over the model">
        {TOGGLES.map(([key, label]) => (
          <Toggle key={key} name={key} label={label} />
        ))}
      </div>
      {legend && <Legend {...legend} />}
      {stage && (
        <div className="stageNote rounded-[20px] bg-cream px-2.5 py-0.5 font-semibold text-[#2a2410]">
          before {stage}
        </div>
      )}
    </>
  );
}

function Toggle({ name, label }: { name: (typeof TOGGLES)[number][0]; label: string }) {
  const act = useAct();
  const on = useApp((s) => (name === 'snap' ? s.settings.snap : s.view[name]));
  const key = useKeyLabel(name);
  return (
    <button
      aria-pressed={on}
      className={clsx(on && 'on')}
      title={key ? `${label} (${key})` : label}
      onClick={() => act(name === 'snap' ? settingActions.snapSwitched() : viewActions.switched(name))}
    >
      {label}
    </button>
  );
}

function Legend({ of, unit, stops, hatchedOver }: NonNullable<(typeof LOOKS)[Look]['legend']>) {
  return (
    <div
      className="legend flex gap-2.25 rounded-[9px] bg-ink-0/82 px-2.5 py-1.25 text-[11.5px]"
      aria-label={`Colours of ${of}`}
    >
      <span className="dim">{of}</span>
      {stops.map(([value, color]) => (
        <span key={value}>
          <i
            className="mr-1 inline-block size-3 rounded-[3px] border border-[#ffffff30] align-[-1px]"
            style={{ background: color }}
          />
          {value}
          {unit}
        </span>
      ))}
      {hatchedOver !== undefined && (
        <span className="dim">
          over {hatchedOver}
          {unit} hatched
        </span>
      )}
    </div>
  );
}
