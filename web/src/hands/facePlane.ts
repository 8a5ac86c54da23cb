/** The plane of the face under the pointer, and places on it: snapped, on the grid, or on round numbers. */
import { Matrix4, Vector3 } from 'three';
import { worldMatrix } from '@urnsmith/core/document/placement';
import type { Piece } from '@urnsmith/core/document/schema';
import type { Matrix } from '@urnsmith/core/mesh/transform';
import type { OpenScene } from '../state/OpenScene';
import { piecesById } from '../state/selectors';
import type { Stage } from '../viewport/Stage';
import type { Pointing } from './pointing';
import { snapAt } from './snapping';

const state = (scene: OpenScene) => scene.store.getState();

/**
 * The frame of the face under the pointer: Y out of it, X as the piece's own as far as that goes.
 * @param only the one piece that counts, though it is a cutter; null for all that are not
 * @param passed pieces that are never under the pointer
 */
export function frameUnder(
  scene: OpenScene,
  stage: Stage,
  x: number,
  y: number,
  { only = null, passed = NONE }: { only?: string | null; passed?: ReadonlySet<string> } = {},
): { host: string; frame: Matrix } | null {
  const { preview: shown, pieces } = state(scene).document;
  // A copy that hangs on the pointer is never the one under it.
  const hanging = new Set(Object.keys(shown ?? {}).filter((id) => !pieces.some((p) => p.id === id)));
  const byId = piecesById(state(scene));
  const others = only === null ? [] : [...byId.keys()].filter((id) => id !== only);
  const hit = stage.pick(x, y, new Set([...hanging, ...passed, ...others]));
  const piece = hit && byId.get(hit.piece);
  if (!hit || !piece || piece.locked || (piece.role === 'cutter' && piece.id !== only)) return null;
  return { host: piece.id, frame: frameAlong(byId, piece.id, hit.normal.clone().normalize(), hit.point) };
}

/** A frame with its Y along a direction, in the plane through a place; its X and its origin follow the piece's own. */
export function frameAlong(
  byId: ReadonlyMap<string, Piece>,
  id: string,
  up: Vector3,
  through: Vector3,
): Matrix {
  const own = new Matrix4().fromArray(worldMatrix(byId, id));
  const across = [0, 2, 1]
    .map((k) => new Vector3().setFromMatrixColumn(own, k).normalize())
    .map((v) => v.addScaledVector(up, -v.dot(up)))
    .find((v) => v.lengthSq() > 0.2)!
    .normalize();
  const origin = new Vector3().setFromMatrixPosition(own);
  origin.addScaledVector(up, through.clone().sub(origin).dot(up));
  const frame = new Matrix4().makeBasis(across, up, across.clone().cross(up)).setPosition(origin);
  return frame.toArray() as Matrix;
}

/** A place of a frame, in the world. */
export const inFrame = (m: Matrix, x: number, y: number, z: number): Vector3 =>
  new Vector3(x, y, z).applyMatrix4(new Matrix4().fromArray(m));

/** The pointer on the plane of a frame: snapped to corners, middles and edges near it, else to round numbers. */
export function placeOn(
  scene: OpenScene,
  { stage, snaps, x, y, free }: Pointing,
  frame: Matrix,
): [number, number] | null {
  const m = new Matrix4().fromArray(frame);
  const back = m.clone().invert();
  const ray = stage.rig.ray(stage.pointer(x, y)).applyMatrix4(back);
  if (Math.abs(ray.direction.y) < 1e-6) return null;
  const t = -ray.origin.y / ray.direction.y;
  if (t < 0) return null;
  const at = ray.at(t, new Vector3());
  const met = free
    ? null
    : snapAt(stage, x, y, {
        ...snaps,
        kinds: ['point', 'middle', 'edge', 'peg'],
        without: NONE,
        moving: null,
      });
  stage.showSnap(met?.at ?? null);
  if (met) {
    const near = met.at.clone().applyMatrix4(back);
    return [tidy(near.x), tidy(near.z)];
  }
  const step = stepAt(scene, stage, inFrame(frame, at.x, 0, at.z), free);
  return [tidy(Math.round(at.x / step) * step), tidy(Math.round(at.z / step) * step)];
}

const NONE: ReadonlySet<string> = new Set();
/** Without the digits that arithmetic leaves. */
export const tidy = (v: number): number => Number(v.toFixed(6)) + 0;

/** The grid's step while snapping is on; else the roundest number a few pixels can tell apart. */
export function stepAt(scene: OpenScene, stage: Stage, at: Vector3, free: boolean): number {
  const { snap, gridStep } = state(scene).settings;
  if (snap !== free) return gridStep;
  const fine = 4 * stage.rig.pixelSize(at);
  const ten = 10 ** Math.floor(Math.log10(fine));
  return [1, 2, 5, 10].map((k) => k * ten).find((s) => s >= fine * 0.7) ?? ten;
}
