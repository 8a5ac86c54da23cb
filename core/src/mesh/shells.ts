/** The separate shells of a mesh: faces connected through shared points. */
import { DisjointSets } from './DisjointSets';
import { faceCount, vertexCount, type PolyMesh } from './PolyMesh';

/** @returns a number per face, counted from 0 in the order of the faces, and how many there are */
export function shellsOf(mesh: PolyMesh): { ofFace: Int32Array; count: number } {
  const parts = new DisjointSets(vertexCount(mesh));
  const { faceStart, corners } = mesh;
  for (let f = 0; f < faceCount(mesh); f++)
    for (let c = faceStart[f] + 1; c < faceStart[f + 1]; c++) parts.join(corners[c - 1], corners[c]);
  const number = new Map<number, number>();
  const ofFace = new Int32Array(faceCount(mesh));
  for (let f = 0; f < ofFace.length; f++) {
    const root = parts.find(corners[faceStart[f]]);
    if (!number.has(root)) number.set(root, number.size);
    ofFace[f] = number.get(root)!;
  }
  return { ofFace, count: number.size };
}
