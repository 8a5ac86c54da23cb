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
  useEffect(() => stage.onFrame(() => setTurn((t) => (t[0] === stage.rig.yaw && t[1] === stage.rig.pitch ? t : [stage.rig.yaw, stage.rig.pitch]))), [stage]);
  void turn;
  const up = stage.rig.up;
  const back = stage.rig.back;
  const right = new Vector3().crossVectors(up, back);
  const ends = ENDS.map((e) => {
    const v = new Vector3().setComponent(e.axis, e.sign);
    return { ...e, x: v.dot(right) * 23, y: -v.dot(up) * 23, z: v.dot(back) };
  }).sort((a, b) => a.z - b.z);
  return (
    <div className="compass" role="group" aria-label="Compass">
      <svg viewBox="-34 -34 68 68" width="68" height="68">
        {ends.map((e) => (
          <g
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
            {e.sign > 0 && <path d={`M0 0L${e.x} ${e.y}`} stroke={AXIS_COLORS[e.axis]} strokeWidth="2.4" strokeLinecap="round" />}
            <circle cx={e.x} cy={e.y} r={e.sign > 0 ? 7.5 : 4} fill={e.sign > 0 ? AXIS_COLORS[e.axis] : '#1d292a'} stroke={AXIS_COLORS[e.axis]} strokeWidth="1.4" />
            {e.name && (
              <text x={e.x} y={e.y + 3.2} fontSize="9" fontWeight="700" fill="#101718" textAnchor="middle">
                {e.name}
              </text>
            )}
          </g>
        ))}
      </svg>
    </div>
  );
}
