/** Commands for several pieces at once: aligned, spaced, scattered, joined. */
import { memo, useState } from 'react';
import type { AlignBy } from '@urnsmith/core/document/lineUp';
import { align, scatter, space } from '../../state/several';
import { joinPieces } from '../../state/parts';
import { NumberField } from '../../ui/NumberField';
import { Segmented } from '../../ui/Segmented';
import { useScene } from '../../state/useScene';

const AXES = [0, 1, 2] as const;
const ALIGN_BY: Array<{ value: AlignBy; label: string }> = [
  { value: 'pivot', label: 'pivot' },
  { value: 'low', label: 'low' },
  { value: 'middle', label: 'middle' },
  { value: 'high', label: 'high' },
];
const SPACE_BY = [
  { value: 'pivot' as const, label: 'pivots' },
  { value: 'gap' as const, label: 'gaps' },
];

export const SeveralPieces = memo(function SeveralPieces() {
  const scene = useScene();
  const [by, setBy] = useState<AlignBy>('middle');
  const [gaps, setGaps] = useState<'pivot' | 'gap'>('gap');
  const [s, set] = useState({ move: 5, turn: 15, size: 0.1, seed: 1 });
  return (
    <>
      <div className="head sub">
        <b>Several pieces</b>
      </div>
      <div className="field choice">
        <span className="lab">Align by</span>
        <Segmented label="Align by" className="small" value={by} options={ALIGN_BY} onChange={setBy} />
      </div>
      <div className="tools" role="group" aria-label="Align">
        {AXES.map((k) => (
          <button key={`a${k}`} onClick={() => align(scene, k, by)}>
            Align {'XYZ'[k]}
          </button>
        ))}
      </div>
      <div className="field choice">
        <span className="lab">Space by</span>
        <Segmented label="Space by" className="small" value={gaps} options={SPACE_BY} onChange={setGaps} />
      </div>
      <div className="tools" role="group" aria-label="Space">
        {AXES.map((k) => (
          <button key={`s${k}`} onClick={() => space(scene, k, gaps)}>
            Space {'XYZ'[k]}
          </button>
        ))}
      </div>
      <div className="tools" role="group" aria-label="Scatter and join">
        <button onClick={() => scatter(scene, s)}>Scatter</button>
        <button onClick={() => void joinPieces(scene)}>Join</button>
      </div>
      <NumberField
        label="Scatter move"
        value={s.move}
        unit="mm"
        minimum={0}
        maximum={1e5}
        onCommit={(move) => set({ ...s, move })}
      />
      <NumberField
        label="Scatter turn"
        value={s.turn}
        unit="°"
        minimum={0}
        maximum={180}
        onCommit={(turn) => set({ ...s, turn })}
      />
      <NumberField
        label="Scatter size"
        value={s.size}
        minimum={0}
        maximum={0.95}
        step={0.01}
        onCommit={(size) => set({ ...s, size })}
      />
      <NumberField
        label="Seed"
        value={s.seed}
        integer
        minimum={1}
        maximum={1e6}
        step={0.1}
        onCommit={(seed) => set({ ...s, seed })}
      />
    </>
  );
});
