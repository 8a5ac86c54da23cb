/** Distances to the sides of a face, and from its middle, on the Card. */
import type { Matrix } from '@urnsmith/core/mesh/transform';
import { middleOfLoops, type FlatLoops } from '@urnsmith/core/select/faceSides';
import { RowField } from '../ui/fields';
import type { SideDistance } from './cutState';
import { shown, sideOf } from './SideHandles';

interface Props {
  title: string;
  /** Of the face, in the world: Y out of it. */
  frame: Matrix;
  sides: FlatLoops;
  /** The middle of what is placed, in X and Z of the frame. */
  middle: readonly [number, number];
  distances: ReadonlyArray<SideDistance>;
  onPreview?: (axis: 0 | 1, by: number) => void;
  /** Moves what is placed along an axis of the face by so much, mm. */
  onShift: (axis: 0 | 1, by: number) => void;
}

const AXES = [0, 1] as const;
const LIMITS = { minimum: -100000, maximum: 100000 };

export function FaceFields({ title, frame, sides, middle, distances, onPreview, onShift }: Props) {
  const centre = middleOfLoops(sides);
  const named = (axis: 0 | 1): string =>
    sideOf(frame, { axis, way: 1, value: 0, from: [...middle], to: [...middle] });
  const rows = AXES.map((axis) => distances.filter((d) => d.axis === axis)).filter((r) => r.length);
  return (
    <div role="group" aria-label={title}>
      <div className="head sub">
        <b>{title}</b>
      </div>
      {rows.map((row) => {
        const by = (v: number[], k: number): number => row[k].way * (row[k].value - v[k]);
        const names = row.map((d) => sideOf(frame, d));
        return (
          <RowField
            key={row[0].axis}
            label={row[0].axis ? 'And from' : 'From the'}
            measure="mm"
            names={names}
            values={row.map((d) => shown(d.value))}
            schema={LIMITS}
            step={0.5}
            onPreview={(v, k) => onPreview?.(row[k].axis, by(v, k))}
            onCommit={(v, k) => onShift(row[k].axis, by(v, k))}
          />
        );
      })}
      <RowField
        label="Off middle"
        measure="mm"
        names={AXES.map(named)}
        values={AXES.map((a) => shown(middle[a] - centre[a]))}
        schema={LIMITS}
        step={0.5}
        onPreview={(v, k) => onPreview?.(k as 0 | 1, v[k] - (middle[k] - centre[k]))}
        onCommit={(v, k) => onShift(k as 0 | 1, v[k] - (middle[k] - centre[k]))}
      />
    </div>
  );
}
