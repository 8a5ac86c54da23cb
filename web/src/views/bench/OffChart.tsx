/** A histogram of area by degrees the shading is off. A click on a bar picks its faces and frames them. */
import { Bar, BarChart, Cell, ReferenceLine, ResponsiveContainer, XAxis, YAxis } from 'recharts';
import type { Piece } from '@urnsmith/core/document/schema';
import type { Display } from '@urnsmith/core/build/display';
import { FAR_OFF, OFF } from '@urnsmith/core/shading/limits';
import { handActions } from '../../state/handSlice';
import { useAct } from '../../state/store';
import { useScene } from '../../state/useScene';
import type { SeenShading } from '../../workers/questions/aside/shading';
import { bringIntoView } from './bringIntoView';
import { linesOfFaces } from './linesOfFaces';

interface Props {
  /** mm² per degree, the last for all above. */
  areas: ReadonlyArray<number>;
  piece: Piece;
  display: Display;
  seen: SeenShading | null;
}

/** Bars that are shown at least. */
const LEAST = 12;

export function OffChart({ areas, piece, display, seen }: Props) {
  const scene = useScene();
  const act = useAct();
  const last = areas.findLastIndex((a) => a > 0);
  const shown = areas.slice(0, Math.max(LEAST, last + 1));
  const total = areas.reduce((sum, a) => sum + a, 0) || 1;
  // The root keeps small areas in sight beside large ones.
  const data = shown.map((a, from) => ({ from, height: Math.sqrt(a / total) }));
  const show = (from: number): void => {
    if (!seen) return;
    const to = from === areas.length - 1 ? Infinity : from + 1;
    const faces = new Set<number>();
    seen.ofFace.forEach((x, f) => {
      if (x >= from && x < to) faces.add(f);
    });
    if (!faces.size) return;
    act(handActions.siteTaken({ onResult: true }));
    act(handActions.levelTaken('face'));
    act(handActions.elementsPicked([...faces]));
    bringIntoView(scene, piece, linesOfFaces(display, faces), 0.2);
  };
  return (
    <figure
      className="m-0 px-3 py-1"
      aria-label={`Area by degrees the shading is off: ${shown.map((a) => `${((100 * a) / total).toFixed(1)}%`).join(', ')}`}
    >
      <ResponsiveContainer width="100%" height={76}>
        <BarChart data={data} margin={{ top: 4, right: 2, bottom: 0, left: 2 }} barCategoryGap={2}>
          <XAxis
            dataKey="from"
            ticks={[0, OFF, FAR_OFF].filter((x) => x < shown.length)}
            tickFormatter={(x: number) => `${x}°`}
            tick={{ fontSize: 11, fill: 'var(--color-ash)' }}
            axisLine={{ stroke: 'var(--color-line)' }}
            tickLine={false}
            interval={0}
          />
          <YAxis hide domain={[0, 1]} />
          {[OFF, FAR_OFF].map((x) => (
            <ReferenceLine key={x} x={x} stroke="var(--color-cream)" strokeDasharray="3 3" position="start" />
          ))}
          <Bar
            dataKey="height"
            isAnimationActive={false}
            minPointSize={(_, k) => (shown[k] > 0 ? 2 : 0)}
            onClick={(_, k) => show(k)}
            className="cursor-pointer"
          >
            {data.map(({ from }) => (
              <Cell key={from} fill={`var(--color-${from < OFF ? 'glaze' : 'ember'})`} />
            ))}
          </Bar>
        </BarChart>
      </ResponsiveContainer>
      <figcaption className="dim text-[11px]">Area by how far its shading is off</figcaption>
    </figure>
  );
}
