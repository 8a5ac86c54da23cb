/** The compass: which way the axes point; a click looks square-on along one. */
import { useEffect, useState } from 'react';
import { Vector3 } from 'three';
import { AXIS_COLORS } from '../../viewport/Gizmo';
import type { View } from '../../viewport/CameraRig';
import type { Stage } from '../../viewport/Stage';

const ENDS: Array<{ axis: number; sign: number; view: View; name: string }> = [
  { axis: 0, sign: 1, view: 'right', name: 'X' },
  { axis: 1, sign: 1, view: 'top', name: 'Y' },
  { axis: 2, sign: 1, view: 'front', name: 'Z' },
  { axis: 0, sign: -1, view: 'left', name: '' },
  { axis: 1, sign: -1, view: 'bottom', name: '' },
  { axis: 2, sign: -1, view: 'back', name: '' },
];

export function Compass({ stage }: { stage: Stage }) {
  const [turn, setTurn] = useState(() => [stage.rig.yaw, stage.rig.pitch]);
  useEffect(
    () =>
      stage.onFrame(() =>
        setTurn((t) =>
          t[0] === stage.rig.yaw && t[1] === stage.rig.pitch ? t : [stage.rig.yaw, stage.rig.pitch],
        ),
      ),
    [stage],
  );
  void turn;
  const up = stage.rig.up;
  const back = stage.rig.back;
  const right = new Vector3().crossVectors(up, back);
  const ends = ENDS.map((e) => {
    const v = new Vector3().setComponent(e.axis, e.sign);
    return { ...e, x: v.dot(right) * 23, y: -v.dot(up) * 23, z: v.dot(back) };
  }).sort((a, b) => a.z - b.z);
  return (
    <div className="scaled absolute right-2.5 bottom-10" data-over role="group" aria-label="Compass">
      <svg viewBox="-34 -34 68 68" width="68" height="68">
        {ends.map((e) => (
          <g
            className="group cursor-pointer outline-none"
            key={e.view}
            role="button"
            tabIndex={0}
            aria-label={`Look from ${e.view}`}
            onClick={() => {
              stage.rig.look(e.view);
              stage.redraw();
            }}
            onKeyDown={(k) => {
              if (k.key !== 'Enter') return;
              stage.rig.look(e.view);
              stage.redraw();
            }}
          >
            <circle
              className="[stroke-width:1.5] group-focus-visible:stroke-porcelain"
              cx={e.x}
              cy={e.y}
              r="9"
              fill="transparent"
            />
            {e.sign > 0 ? (
              <path
                d={`M0 0L${e.x} ${e.y}`}
                stroke={AXIS_COLORS[e.axis]}
                strokeWidth="2.4"
                strokeLinecap="round"
              />
            ) : (
              <path
                d={`M${e.x * 0.45} ${e.y * 0.45}L${e.x * 0.62} ${e.y * 0.62}`}
                stroke="#93a7a2"
                strokeWidth="1.6"
                strokeLinecap="round"
              />
            )}
            {e.name && (
              <text
                x={e.x * 1.32}
                y={e.y * 1.32 + 3.2}
                fontSize="10"
                fontWeight="600"
                fill="#e9ece4"
                textAnchor="middle"
              >
                {e.name}
              </text>
            )}
          </g>
        ))}
      </svg>
    </div>
  );
}
