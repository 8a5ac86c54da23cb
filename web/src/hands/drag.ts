/** Dragging pieces by the handles: worked out in world space, written back in each piece's parent. */
import { worldMatrix } from '@urnsmith/core/document/placement';
import type { Piece } from '@urnsmith/core/document/schema';
import { invert, multiply, type Matrix, transformOf } from '@urnsmith/core/mesh/transform';
import { Matrix4, Vector3 } from 'three';
import type { DragValue } from './dragValue';

/** Pieces that move when these are selected: not those nested in another selected one, nor locked ones. */
export function topOnly(byId: ReadonlyMap<string, Piece>, ids: string[]): string[] {
  const set = new Set(ids);
  return ids.filter((id) => {
    const p = byId.get(id);
    if (!p || p.locked) return false;
    for (let at = p.parent; at; at = byId.get(at)?.parent) if (set.has(at)) return false;
    return true;
  });
}

/** The pieces as they are with a drag applied. */
export function dragPieces(
  byId: ReadonlyMap<string, Piece>,
  ids: string[],
  v: DragValue,
  axes: Vector3[],
  pivot: Vector3,
): Record<string, Piece> {
  const out: Record<string, Piece> = {};
  for (const id of topOnly(byId, ids)) {
    const p = byId.get(id)!;
    if (v.tool === 'resize') {
      const size = p.transform?.size ?? [1, 1, 1];
      out[id] = {
        ...p,
        transform: {
          ...p.transform,
          size: size.map((s, i) => tidy(s * v.factors[i])) as [number, number, number],
        },
      };
      continue;
    }
    const change = v.tool === 'move' ? moved(v, axes) : turned(v, axes, pivot);
    const world = multiply(change, worldMatrix(byId, id));
    const local = p.parent ? multiply(invert(worldMatrix(byId, p.parent)), world) : world;
    const next = transformOf(local);
    out[id] = {
      ...p,
      transform:
        v.tool === 'move'
          ? { ...p.transform, move: next.move.map(tidy) as [number, number, number] }
          : {
              ...next,
              move: next.move.map(tidy) as [number, number, number],
              turn: next.turn.map(tidy) as [number, number, number],
            },
    };
  }
  return out;
}

const tidy = (x: number): number => Number(x.toFixed(6)) + 0;

function moved(v: DragValue, axes: Vector3[]): Matrix {
  const d = new Vector3();
  v.move.forEach((m, i) => d.addScaledVector(axes[i], m));
  return new Matrix4().makeTranslation(d).toArray();
}

function turned(v: DragValue, axes: Vector3[], pivot: Vector3): Matrix {
  return new Matrix4()
    .makeTranslation(pivot)
    .multiply(new Matrix4().makeRotationAxis(axes[v.axes[0]], (v.degrees * Math.PI) / 180))
    .multiply(new Matrix4().makeTranslation(pivot.clone().negate()))
    .toArray();
}

/** The drag so far, in words, for the line under the model. */
export function describeDrag(v: DragValue): string {
  const name = (i: number): string => 'XYZ'[i];
  const num = (x: number): string => String(Number(x.toFixed(3)));
  if (v.tool === 'turn') return `${name(v.axes[0])} ${num(v.degrees)}°`;
  if (v.tool === 'resize')
    return v.axes.length === 3
      ? `× ${num(v.factors[0])}`
      : v.axes.map((i) => `${name(i)} × ${num(v.factors[i])}`).join('  ');
  const far = v.axes.map((i) => `${name(i)} ${num(v.move[i])} mm`).join('  ');
  return v.met ? `${far}  ${MET[v.met]}` : far;
}

const MET = {
  point: 'onto a point',
  middle: 'onto the middle of an edge',
  edge: 'onto an edge',
  face: 'onto a face',
  peg: 'onto the peg',
};
