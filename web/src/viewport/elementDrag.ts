/** What a drag of the handles does to picked elements, as an action in the piece's own frame. */
import { Vector3 } from 'three';
import type { Action } from '@urnsmith/core/document/actions';
import type { Matrix } from '@urnsmith/core/mesh/transform';
import { listed } from '@urnsmith/core/select/rules';
import type { Selection } from '@urnsmith/core/select/selection';
import type { ElementSettings } from '../state/benchSlice';
import type { DragValue } from './Hands';

const tidy = (x: number): number => Number(x.toFixed(6)) + 0;

/**
 * @param axes unit axes of the handles in the world
 * @param toPiece from the world into the piece's frame
 */
export function elementDrag(
  selection: Selection,
  v: DragValue,
  axes: Vector3[],
  toPiece: Matrix,
  e: ElementSettings,
): Action {
  const action: Action = { op: 'transform', select: listed(selection) };
  if (e.about === 'each') action.about = 'each';
  if (e.symmetry !== 'none') action.symmetry = e.symmetry;
  if (e.soft) Object.assign(action, { reach: e.reach, falloff: e.falloff, along: e.along });
  if (v.tool === 'move') {
    const d = new Vector3();
    v.move.forEach((m, i) => d.addScaledVector(axes[i], m));
    return { ...action, move: into(toPiece, d).map(tidy) };
  }
  const frame = axes.flatMap((a) => new Vector3(...into(toPiece, a)).normalize().toArray());
  if (frame.some((x, i) => Math.abs(x - IDENTITY[i]) > 1e-9)) action.frame = frame;
  if (v.tool === 'turn')
    return { ...action, turn: [0, 1, 2].map((k) => (k === v.axes[0] ? tidy(v.degrees) : 0)) };
  return { ...action, size: v.factors.map(tidy) };
}

const IDENTITY = [1, 0, 0, 0, 1, 0, 0, 0, 1];

/** A direction brought into the piece's frame. */
function into(m: Matrix, d: Vector3): [number, number, number] {
  return [0, 1, 2].map((k) => m[k] * d.x + m[4 + k] * d.y + m[8 + k] * d.z) as [number, number, number];
}
