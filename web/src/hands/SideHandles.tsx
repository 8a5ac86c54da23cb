/** Distances to the sides of a face, as numbers on the model that are typed there. */
import { Fragment, useEffect, useRef } from 'react';
import type { Matrix } from '@urnsmith/core/mesh/transform';
import type { Vec3 } from '@urnsmith/core/mesh/vec3';
import type { SideDistance } from './cutState';
import { sideName } from '../state/anchors';
import type { Stage } from '../viewport/Stage';
import { inFrame } from './facePlane';
import { ModelHandle } from './ModelHandle';

interface Props {
  stage: Stage;
  /** The piece in hand, or the host while there is none. */
  piece: string;
  /** The name of the thing that is placed. */
  of: string;
  /** Of the face, in the world: Y out of it. */
  frame: Matrix;
  distances: ReadonlyArray<SideDistance>;
  /** The pointer goes through the numbers to the model. */
  passes?: boolean;
  /** Moves what is placed along an axis of the face by so much, mm. */
  onShift: (axis: 0 | 1, by: number, side: string) => void;
}

/** The side of the world a distance runs to, in words. */
export function sideOf(frame: Matrix, { axis, way }: SideDistance): string {
  const k = 8 * axis;
  return sideName([way * frame[k], way * frame[k + 1], way * frame[k + 2]] as Vec3);
}

export function SideHandles({ stage, piece, of, frame, distances, passes, onShift }: Props) {
  return distances.map((d) => {
    const side = sideOf(frame, d);
    const [x, z] = [0, 1].map((k) => (d.from[k] + d.to[k]) / 2);
    return (
      <Fragment key={`${d.axis}${d.way}`}>
        <Span stage={stage} frame={frame} {...d} />
        <ModelHandle
          {...{ stage, piece, passes }}
          label={side}
          title={`Distance of ${of} from the ${side}`}
          frame={() => frame}
          value={shown(d.value)}
          unit="mm"
          minimum={-100000}
          maximum={100000}
          at={[x, 0, z]}
          along={[0, 1, 0]}
          rate={0}
          onShow={() => false}
          onPut={(v) => v !== null && onShift(d.axis, d.way * (d.value - v), side)}
        />
      </Fragment>
    );
  });
}

/** A line over the model from what is placed to the side. */
function Span({ stage, frame, from, to }: { stage: Stage; frame: Matrix } & SideDistance) {
  const ref = useRef<HTMLDivElement>(null);
  const [ax, az, bx, bz] = [...from, ...to];
  useEffect(() => {
    const put = (): void => {
      const [a, b] = [[ax, az], [bx, bz]].map(([x, z]) => stage.project(inFrame(frame, x, 0, z))); // prettier-ignore
      if (!ref.current) return;
      ref.current.style.display = a && b ? '' : 'none';
      if (!a || !b) return;
      const [dx, dy] = [b.x - a.x, b.y - a.y];
      ref.current.style.width = `${Math.hypot(dx, dy)}px`;
      ref.current.style.transform = `translate(${a.x}px, ${a.y}px) rotate(${Math.atan2(dy, dx)}rad)`;
    };
    put();
    return stage.onFrame(put);
  }, [stage, frame, ax, az, bx, bz]);
  return (
    <div
      ref={ref}
      className="pointer-events-none absolute top-0 left-0 h-px origin-left bg-cream/70"
      aria-hidden
    />
  );
}

export const shown = (x: number): number => Number(x.toFixed(4)) + 0;
