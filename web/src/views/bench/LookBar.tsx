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
  const state = useApp((s) => s.bench);
  return (
    <>
      <Segmented
        label="Look"
        value={state.look}
        options={LOOKS.map((l) => ({ value: l, label: l[0].toUpperCase() + l.slice(1) }))}
        onChange={(l) => act(bench.lookChosen(l))}
      />
      <div className="seg small" role="group" aria-label="Drawn over the model">
        {TOGGLES.map(([key, label, cap]) => (
          <button
            key={key}
            aria-pressed={state[key]}
            className={clsx(state[key] && 'on')}
            title={`${label} (${cap})`}
            onClick={() => act(bench.toggled(key))}
          >
            {label}
          </button>
        ))}
      </div>
      {state.look === 'drift' && <DriftLegend />}
      {state.stage && <div className="stageNote">before {state.stage}</div>}
    </>
  );
}

function DriftLegend() {
  return (
    <div className="legend" aria-label="Drift in degrees">
      <span className="dim">drift</span>
      {DRIFT_STOPS.map(([deg, color]) => (
        <span key={deg}>
          <i style={{ background: color }} />
          {deg}°
        </span>
      ))}
    </div>
  );
}
