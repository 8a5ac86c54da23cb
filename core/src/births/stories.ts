/** For each face of a built mesh what led to it, in a form that is small to send: few stories, many faces. */
import { faceCount, type PolyMesh } from '../mesh/PolyMesh';
import { makerOf } from './births';
import type { Makers } from './Makers';

export interface Stories {
  /** Per face, its place in `told`. */
  ofFace: Uint16Array;
  /** The makers of faces, the last first. */
  told: string[][];
}

export function storiesOf(mesh: PolyMesh, makers: Makers): Stories {
  const ofFace = new Uint16Array(faceCount(mesh));
  const told: string[][] = [];
  const place = new Map<number, number>();
  for (let f = 0; f < ofFace.length; f++) {
    const maker = makerOf(mesh, f);
    let at = place.get(maker);
    if (at === undefined) place.set(maker, (at = told.push(makers.story(maker)) - 1));
    ofFace[f] = at;
  }
  return { ofFace, told };
}
