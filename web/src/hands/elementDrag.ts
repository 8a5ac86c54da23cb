/** A drag of picked elements, as an action in the piece's own frame. */
import { Vector3 } from 'three';
import type { Action } from '@urnsmith/core/actions/actions';
import type { Surface } from '@urnsmith/core/primitives/base';
import { applyMatrix, type Matrix } from '@urnsmith/core/mesh/transform';
import { listed } from '@urnsmith/core/select/rules';
import type { Selection } from '@urnsmith/core/select/selection';
import { CONTACT, type ElementSettings } from '../state/elementSettings';
import type { DragValue } from './dragValue';

const tidy = (x: number): number => Number(x.toFixed(6)) + 0;

export interface Surroundings {
  /** From the world into the piece's frame. */
  toPiece: Matrix;
  /** The place of the handles, in the world. */
  at: Vector3;
  /** Unit direction to the eye, in the world. */
  back: Vector3;
  /** The surface that moved points are drawn onto, in the piece's frame. */
  surface: Surface | null;
}

/** @param axes unit axes of the handles in the world */
export function elementDrag(
  selection: Selection,
  v: DragValue,
  axes: Vector3[],
  e: ElementSettings,
  { toPiece, at, back, surface }: Surroundings,
): Action {
  if (v.tool === 'turn' && e.turns === 'shading') {
    const direction = unit(into(toPiece, axes[v.axes[0]])).map((x) => Number(x.toFixed(9)) + 0);
    const turned = { to: 'turn', direction, degrees: tidy(v.degrees) };
    return { op: 'holdNormals', select: listed(selection), ...turned };
  }
  const action: Action = { op: 'transform', select: listed(selection) };
  if (e.about === 'each') action.about = 'each';
  else if (e.about !== 'middle' && v.tool !== 'move')
    Object.assign(action, { about: 'point', point: applyMatrix(toPiece, at.toArray()).map(tidy) });
  if (e.symmetry !== 'none') action.symmetry = e.symmetry;
  if (e.soft) Object.assign(action, { reach: tidy(e.reach), falloff: e.falloff, along: e.along });
  if (e.weld && v.tool === 'move') action.weld = CONTACT;
  if (surface) {
    Object.assign(action, { surface, lay: e.lay });
    if (e.lay === 'along') action.direction = unit(into(toPiece, back));
  }
  if (v.tool === 'move') {
    const d = new Vector3();
    v.move.forEach((m, i) => d.addScaledVector(axes[i], m));
    return { ...action, move: into(toPiece, d).map(tidy) };
  }
  const frame = axes.flatMap((a) => unit(into(toPiece, a)));
  if (frame.some((x, i) => Math.abs(x - IDENTITY[i]) > 1e-9)) action.frame = frame;
  if (v.tool === 'turn')
    return { ...action, turn: [0, 1, 2].map((k) => (k === v.axes[0] ? tidy(v.degrees) : 0)) };
  return { ...action, size: v.factors.map(tidy) };
}

const IDENTITY = [1, 0, 0, 0, 1, 0, 0, 0, 1];
const unit = (d: [number, number, number]): number[] => new Vector3(...d).normalize().toArray();

/** A direction brought into the piece's frame. */
function into(m: Matrix, d: Vector3): [number, number, number] {
  return [0, 1, 2].map((k) => m[k] * d.x + m[4 + k] * d.y + m[8 + k] * d.z) as [number, number, number];
}
