/** Faces that a cut left in several parts are picked and pointed at as one. */
import type { CageShape } from '@urnsmith/core/build/cage';

const members = new WeakMap<CageShape, Map<number, number[]>>();

/** All parts of the face that a part belongs to; itself alone for most. */
export function partsOfFace(shape: CageShape, f: number): ReadonlyArray<number> {
  if (!shape.parts || f >= shape.parts.whole.length) return [f];
  let of = members.get(shape);
  if (!of) {
    members.set(shape, (of = new Map()));
    shape.parts.whole.forEach((w, part) => {
      const list = of!.get(w);
      if (list) list.push(part);
      else of!.set(w, [part]);
    });
  }
  return of.get(shape.parts.whole[f]) ?? [f];
}

/** Faces with all parts of each, ascending, each once. */
export function wholeFaces(shape: CageShape, faces: ReadonlyArray<number>): ReadonlyArray<number> {
  if (!shape.parts) return faces;
  return [...new Set(faces.flatMap((f) => partsOfFace(shape, f)))].sort((a, b) => a - b);
}

/** The edges that are drawn and picked: not those between parts of one face. */
export function realEdges(shape: CageShape): Uint32Array {
  const { edges, parts } = shape;
  return parts ? edges.filter((_, k) => !parts.between[k >> 1]) : edges;
}
