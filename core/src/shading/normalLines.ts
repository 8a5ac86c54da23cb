/** Shading normals as they are drawn: from the points, each normal of a point once. */
import type { PolyMesh } from '../mesh/PolyMesh';
import { shadingNormals } from './shadingNormals';

export interface NormalLines {
  /** Their origins and directions, 3 numbers each, unit length. */
  at: Float32Array;
  normals: Float32Array;
  /** 1 where it is held by hand. */
  held: Uint8Array;
}

/** More would be a fur that hides the model. */
export const MOST_NORMALS = 20_000;

export function normalLines(mesh: PolyMesh, corners: ReadonlyArray<number>): NormalLines {
  const shown = shadingNormals(mesh);
  const own = mesh.layers.corner.normal?.data;
  const seen = new Set<string>();
  const at: number[] = [];
  const normals: number[] = [];
  const held: number[] = [];
  for (const c of corners) {
    const v = mesh.corners[c];
    const isHeld = own !== undefined && (own[3 * c] !== 0 || own[3 * c + 1] !== 0 || own[3 * c + 2] !== 0);
    const key = `${v} ${shown.subarray(3 * c, 3 * c + 3).join()} ${isHeld}`;
    if (seen.has(key)) continue;
    seen.add(key);
    for (let k = 0; k < 3; k++) {
      at.push(mesh.positions[3 * v + k]);
      normals.push(shown[3 * c + k]);
    }
    held.push(Number(isHeld));
    if (held.length >= MOST_NORMALS) break;
  }
  return { at: Float32Array.from(at), normals: Float32Array.from(normals), held: Uint8Array.from(held) };
}
