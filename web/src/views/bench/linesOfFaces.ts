/** Some faces of what is displayed, as the sides of their triangles. */
import type { Display } from '@urnsmith/core/build/display';

/** @returns 6 numbers each, in the frame of the piece */
export function linesOfFaces(
  { positions, indices, faceOfTriangle }: Pick<Display, 'positions' | 'indices' | 'faceOfTriangle'>,
  faces: ReadonlySet<number>,
): Float64Array {
  const out: number[] = [];
  faceOfTriangle.forEach((f, i) => {
    if (!faces.has(f)) return;
    for (let k = 0; k < 3; k++)
      for (const v of [indices[3 * i + k], indices[3 * i + ((k + 1) % 3)]])
        out.push(positions[3 * v], positions[3 * v + 1], positions[3 * v + 2]);
  });
  return Float64Array.from(out);
}
