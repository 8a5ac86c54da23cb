/** The Card while a cut is drawn: its shape, size, depth and what it does; every number can be typed at any time. */
import { useScene } from '../state/useScene';
import {
  DRAWN_PATTERNS,
  DRAWN_REACHES,
  DRAWN_SHAPES,
  isWhole,
  outlinesOfDrawn,
  sizesOfDrawn,
  type DrawnRepeat,
} from '@urnsmith/core/document/drawnCut';
import { liesWithin } from '@urnsmith/core/select/faceSides';
import { needsThickness, type CutStep } from '@urnsmith/core/steps/index';
import { backFromCut, goOnWithCut, typeCut } from '../hands/cutDrawing';
import { composed } from '../hands/cutState';
import { settingActions, type CutSettings } from '../state/settingSlice';
import type { ModeOf } from '../state/mode';
import { useAct, useApp } from '../state/store';
import { CheckField } from '../ui/fields';
import { NumberField } from '../ui/NumberField';
import { REACH_LABELS } from '../ui/reachLabels';
import { OnFace } from './OnFace';
import { Segmented } from '../ui/Segmented';

const MODES = ['subtract', 'union', 'intersect', 'split', 'recess', 'raise', 'sleeve', 'imprint'] as const satisfies ReadonlyArray<CutStep['mode']>; // prettier-ignore
const SAYS = {
  aim: 'Press on a face and drag the outline open. Distances can be typed before.',
  outline: 'Let go when it is large enough, or type its size.',
  free: 'Set the corners; the first one again closes the outline.',
  depth: 'Move to pull the depth, click to cut.',
};

export function CutCard({ mode: d }: { mode: ModeOf<'cut'> }) {
  const scene = useScene();
  const act = useAct();
  const c = useApp((s) => s.settings.cut);
  const set = (change: Partial<CutSettings>): void => {
    act(settingActions.cutSettings(change));
  };
  const repeat = (change: Partial<DrawnRepeat>): void => set({ repeat: { ...c.repeat, ...change } });
  const open = d.stage !== 'aim';
  const { width, length } = open ? sizesOfDrawn(composed(d, c)) : { width: 0, length: 0 };
  const whole = isWhole(c.shape);
  const length_ = { unit: 'mm', minimum: 0.001, maximum: 100000 };
  const often = { integer: true, minimum: 1, maximum: 1000, step: 0.1 };
  return (
    <section aria-label="Draw a cut">
      <div className="head">
        <b>Draw a cut</b>
        <span className="tag">tool</span>
      </div>
      <p className="dim pad" role="status">
        {d.asks ?? SAYS[d.stage === 'outline' && c.shape === 'free' ? 'free' : d.stage]}
      </p>
      <RunsOff mode={d} />
      <Segmented
        label="Shape"
        className="wide"
        value={c.shape}
        options={DRAWN_SHAPES.map((value) => ({ value, label: value }))}
        onChange={(shape) => set({ shape })}
      />
      {open && c.shape !== 'free' && (
        <div ref={(box) => asked(box, d.asks)}>
          <NumberField
            label={whole ? 'Across' : 'Width'}
            value={round(width)}
            {...length_}
            onCommit={(v) => typeCut(scene, { width: v })}
          />
          {!whole && (
            <NumberField
              label="Length"
              value={round(length)}
              {...length_}
              onCommit={(v) => typeCut(scene, { length: v })}
            />
          )}
        </div>
      )}
      {c.shape === 'regular' && (
        <NumberField
          label="Sides"
          value={c.sides}
          integer
          minimum={3}
          maximum={256}
          step={0.1}
          onCommit={(sides) => set({ sides })}
        />
      )}
      {(c.shape === 'rectangle' || c.shape === 'regular' || c.shape === 'free') && (
        <NumberField
          label="Corner radius"
          value={c.corner}
          unit="mm"
          minimum={0}
          maximum={100000}
          onCommit={(corner) => set({ corner })}
        />
      )}
      <OnFace mode={d} />
      <CheckField checked={c.fromCentre} onChange={(fromCentre) => set({ fromCentre })}>
        from its middle
      </CheckField>
      <Segmented
        label="Mode"
        className="wide"
        value={c.mode}
        options={MODES.map((value) => ({ value, label: value }))}
        onChange={(mode) => set({ mode })}
      />
      <Segmented
        label="Reach"
        className="wide"
        value={c.reach}
        options={DRAWN_REACHES.map((value) => ({ value, label: REACH_LABELS[value], hint: HINTS[value] }))}
        onChange={(reach) => set({ reach })}
      />
      {(c.reach === 'blind' || c.reach === 'both' || c.mode === 'union') && (
        <NumberField
          label="Depth"
          value={c.depth}
          {...length_}
          onCommit={(depth) => typeCut(scene, { depth })}
        />
      )}
      {needsThickness(c.mode) && (
        <NumberField
          label="Thickness"
          value={c.thickness}
          {...length_}
          onCommit={(thickness) => set({ thickness })}
        />
      )}
      <Segmented
        label="Repeat"
        className="wide"
        value={c.repeat.pattern}
        options={DRAWN_PATTERNS.map((value) => ({ value, label: value, hint: PATTERNS[value] }))}
        onChange={(pattern) => repeat({ pattern })}
      />
      {c.repeat.pattern !== 'once' && (
        <NumberField
          label="Count"
          value={c.repeat.count}
          {...often}
          onCommit={(count) => repeat({ count })}
        />
      )}
      {c.repeat.pattern === 'grid' && (
        <NumberField label="Rows" value={c.repeat.rows} {...often} onCommit={(rows) => repeat({ rows })} />
      )}
      {(c.repeat.pattern === 'line' || c.repeat.pattern === 'grid') && (
        <NumberField
          label="Gap"
          value={c.repeat.gap}
          unit="mm"
          minimum={-100000}
          maximum={100000}
          onCommit={(gap) => repeat({ gap })}
        />
      )}
      {c.repeat.pattern === 'circle' && (
        <NumberField
          label="Radius"
          value={c.repeat.radius}
          {...length_}
          onCommit={(radius) => repeat({ radius })}
        />
      )}
      <div className="row2">
        <button onClick={() => backFromCut(scene)}>{open ? 'Back' : 'Cancel'}</button>
        <button className="btn" disabled={!open && !d.hover} onClick={() => goOnWithCut(scene)}>
          {GO_ON[d.stage]}
        </button>
      </div>
    </section>
  );
}

/** The copies that do not lie on the face with all of their outline, counted. */
function RunsOff({ mode: d }: { mode: ModeOf<'cut'> }) {
  const c = useApp((s) => s.settings.cut);
  if (!d.sides || d.stage === 'aim') return null;
  const all = outlinesOfDrawn(composed(d, c), c.repeat);
  const off = all.filter((outline) => !liesWithin(outline, d.sides!)).length;
  if (!off) return null;
  return (
    <p className="warn pad" role="note">
      {all.length === 1
        ? 'It runs over an edge of the face.'
        : `${off} of ${all.length} run over an edge of the face.`}
    </p>
  );
}

/** A size that is asked for takes the keys, once each time it is asked. */
let answered: string | null = null;
function asked(box: HTMLElement | null, asks: string | null): void {
  if (box && asks && answered !== asks) box.querySelector('input')?.focus();
  answered = asks;
}

const GO_ON = { aim: 'Begin here', outline: 'To the depth', depth: 'Cut' };
const PATTERNS = {
  once: 'Just there',
  line: 'In a line along the face',
  grid: 'In rows along the face',
  circle: 'Around the place it is drawn at',
};
const HINTS = {
  blind: 'As deep as it is pulled',
  through: 'All the way through the piece',
  next: 'Through the first wall',
  both: 'Into the face and out of it',
};
const round = (x: number): number => Number(x.toFixed(4));
