/** Some faces of a mesh as a mesh of their own: work on a part costs what the part does. */
import { makeMesh, vertexCount, type PolyMesh } from './PolyMesh';
import { copyLayers, hasLayers } from './layers';
import { topologyOf } from './Topology';

export interface Part {
  mesh: PolyMesh;
  /** Per vertex of the part: the vertex of the whole. */
  vertexOf: Int32Array;
  /** Per corner of the part: the corner of the whole. */
  cornerOf: Int32Array;
}

/** @param picked 1 per face that is taken */
export function partOf(mesh: PolyMesh, picked: Uint8Array): Part {
  const number = new Int32Array(vertexCount(mesh)).fill(-1);
  const vertices: number[] = [];
  const faces: number[] = [];
  const corners: number[] = [];
  const cornerOf: number[] = [];
  const faceStart = [0];
  for (let f = 0; f < picked.length; f++) {
    if (!picked[f]) continue;
    faces.push(f);
    for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) {
      const v = mesh.corners[c];
      if (number[v] < 0) number[v] = vertices.push(v) - 1;
      corners.push(number[v]);
      cornerOf.push(c);
    }
    faceStart.push(corners.length);
  }
  const vertexOf = Int32Array.from(vertices);
  const positions = new Float64Array(3 * vertices.length);
  vertices.forEach((v, i) => positions.set(mesh.positions.subarray(3 * v, 3 * v + 3), 3 * i));
  const part = makeMesh(positions, Uint32Array.from(faceStart), Uint32Array.from(corners), {
    vertex: copyLayers(mesh.layers.vertex, vertexOf),
    corner: copyLayers(mesh.layers.corner, Int32Array.from(cornerOf)),
    face: copyLayers(mesh.layers.face, Int32Array.from(faces)),
  });
  const out = { mesh: part, vertexOf, cornerOf: Int32Array.from(cornerOf) };
  if (!hasLayers(mesh.layers.edge)) return out;
  const edge = copyLayers(mesh.layers.edge, edgesOfPart(mesh, out));
  return { ...out, mesh: { ...part, layers: { ...part.layers, edge } } };
}

/** Per edge of a part: the edge of the whole. */
function edgesOfPart(mesh: PolyMesh, part: Part): Int32Array {
  const { edgeOfCorner } = topologyOf(mesh);
  return Int32Array.from(topologyOf(part.mesh).cornerOfEdge, (c: number) => edgeOfCorner[part.cornerOf[c]]);
}
