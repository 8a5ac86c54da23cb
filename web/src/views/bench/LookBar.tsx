/** How the surface looks, and what is drawn over it. */
import { clsx } from 'clsx';
import { bench, LOOKS } from '../../state/benchSlice';
import { useAct, useApp } from '../../state/store';
import { Segmented } from '../../ui/Segmented';
import { DRIFT_STOPS } from '../../viewport/looks';

const TOGGLES = [
  ['wire', 'wire', 'W'],
  ['xray', 'x-ray', 'V'],
  ['grid', 'grid', 'G'],
  ['snap', 'snap', 'S'],
  ['parallel', 'parallel', 'P'],
] as const;

export function LookBar() {
  const act = useAct();
  const look = useApp((s) => s.bench.look);
  const stage = useApp((s) => s.bench.stage);
  return (
    <>
      <Segmented
        label="Look"
        value={look}
        options={LOOKS.map((l) => ({ value: l, label: l[0].toUpperCase() + l.slice(1) }))}
        onChange={(l) => act(bench.lookChosen(l))}
      />
      <div className="seg small" role="group" aria-label="Drawn over the model">
        {TOGGLES.map(([key, label, cap]) => (
          <Toggle key={key} name={key} label={label} cap={cap} />
        ))}
      </div>
      {look === 'drift' && <DriftLegend />}
      {stage && (
        <div className="stageNote rounded-[20px] bg-cream px-2.5 py-0.5 font-semibold text-[#2a2410]">
          before {stage}
        </div>
      )}
    </>
  );
}

function Toggle({ name, label, cap }: { name: (typeof TOGGLES)[number][0]; label: string; cap: string }) {
  const act = useAct();
  const on = useApp((s) => s.bench[name]);
  return (
    <button
      aria-pressed={on}
      className={clsx(on && 'on')}
      title={`${label} (${cap})`}
      onClick={() => act(bench.toggled(name))}
    >
      {label}
    </button>
  );
}

function DriftLegend() {
  return (
    <div
      className="legend flex gap-2.25 rounded-[9px] bg-ink-0/82 px-2.5 py-1.25 text-[11.5px]"
      aria-label="Drift in degrees"
    >
      <span className="dim">drift</span>
      {DRIFT_STOPS.map(([deg, color]) => (
        <span key={deg}>
          <i
            className="mr-1 inline-block size-3 rounded-[3px] border border-[#ffffff30] align-[-1px]"
            style={{ background: color }}
          />
          {deg}°
        </span>
      ))}
    </div>
  );
}
