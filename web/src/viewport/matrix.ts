/** Between matrices and typed transforms. */
import type { Matrix, Transform } from '@urnsmith/core/mesh/transform';
import { Euler, Matrix4, Quaternion, Vector3 } from 'three';

const round = (x: number): number => Number(x.toFixed(9)) + 0;

/** Move, turn (degrees, XYZ) and size of a matrix without shear. */
export function matrixToTransform(m: Matrix): Transform {
  const [p, q, s] = [new Vector3(), new Quaternion(), new Vector3()];
  new Matrix4().fromArray(m).decompose(p, q, s);
  const e = new Euler().setFromQuaternion(q, 'XYZ');
  const degrees = 180 / Math.PI;
  return {
    move: [round(p.x), round(p.y), round(p.z)],
    turn: [round(e.x * degrees), round(e.y * degrees), round(e.z * degrees)],
    size: [round(s.x), round(s.y), round(s.z)],
  };
}
