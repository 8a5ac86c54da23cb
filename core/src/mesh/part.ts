/** Some faces of a mesh as a mesh of their own, and what became of them put back: work on a part costs what the part does. */
import { faceCount, makeMesh, vertexCount, type LayerSet, type PolyMesh } from './PolyMesh';
import { concatLayers, copyLayers, hasLayers } from './layers';
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
export function edgesOfPart(mesh: PolyMesh, part: Part): Int32Array {
  const { edgeOfCorner } = topologyOf(mesh);
  return Int32Array.from(topologyOf(part.mesh).cornerOfEdge, (c: number) => edgeOfCorner[part.cornerOf[c]]);
}

/**
 * The whole with a part of it replaced: faces that were not of the part first and in their order, then the new ones.
 * @param picked the faces the part was made of
 * @param own per vertex of the new part the vertex of the whole it still is, or −1
 */
export function putBack(mesh: PolyMesh, picked: Uint8Array, part: PolyMesh, own: Int32Array): PolyMesh {
  const F = faceCount(mesh);
  const V = vertexCount(mesh);
  const rest: number[] = [];
  let restCorners = 0;
  const used = new Uint8Array(V);
  for (let f = 0; f < F; f++) {
    if (picked[f]) continue;
    rest.push(f);
    restCorners += mesh.faceStart[f + 1] - mesh.faceStart[f];
    for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) used[mesh.corners[c]] = 1;
  }
  for (const v of own) if (v >= 0) used[v] = 1;
  const number = new Int32Array(V).fill(-1);
  const kept: number[] = [];
  for (let v = 0; v < V; v++) if (used[v]) number[v] = kept.push(v) - 1;
  const fresh = Array.from(own.keys()).filter((p) => own[p] < 0);
  const ofPart = new Int32Array(own.length);
  own.forEach((v, p) => (ofPart[p] = v >= 0 ? number[v] : -1));
  fresh.forEach((p, i) => (ofPart[p] = kept.length + i));
  const positions = new Float64Array(3 * (kept.length + fresh.length));
  kept.forEach((v, i) => {
    for (let k = 0; k < 3; k++) positions[3 * i + k] = mesh.positions[3 * v + k];
  });
  fresh.forEach((p, i) => positions.set(part.positions.subarray(3 * p, 3 * p + 3), 3 * (kept.length + i)));
  const faceStart = new Uint32Array(rest.length + faceCount(part) + 1);
  const corners = new Uint32Array(restCorners + part.corners.length);
  const cornerSource = new Int32Array(restCorners);
  let at = 0;
  rest.forEach((f, i) => {
    for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) {
      cornerSource[at] = c;
      corners[at++] = number[mesh.corners[c]];
    }
    faceStart[i + 1] = at;
  });
  for (let f = 0; f < faceCount(part); f++)
    faceStart[rest.length + f + 1] = restCorners + part.faceStart[f + 1];
  part.corners.forEach((p, c) => (corners[restCorners + c] = ofPart[p]));
  const both = (a: LayerSet, n: number, b: LayerSet, m: number): LayerSet => concatLayers([a, b], [n, m]);
  const out = makeMesh(positions, faceStart, corners, {
    vertex: both(
      copyLayers(mesh.layers.vertex, Int32Array.from(kept)),
      kept.length,
      copyLayers(part.layers.vertex, Int32Array.from(fresh)),
      fresh.length,
    ),
    corner: both(
      copyLayers(mesh.layers.corner, cornerSource),
      restCorners,
      part.layers.corner,
      part.corners.length,
    ),
    face: both(
      copyLayers(mesh.layers.face, Int32Array.from(rest)),
      rest.length,
      part.layers.face,
      faceCount(part),
    ),
  });
  const [a, b] = [mesh.layers.edge, part.layers.edge];
  if (!hasLayers(a) && !hasLayers(b)) return out;
  // An edge both sides know is the whole's: marks along the seam are the same on both.
  const [whole, inPart, now] = [topologyOf(mesh), topologyOf(part), topologyOf(out)];
  const source = Int32Array.from(now.cornerOfEdge, (c: number) =>
    c < restCorners
      ? whole.edgeOfCorner[cornerSource[c]]
      : whole.edgeCount + inPart.edgeOfCorner[c - restCorners],
  );
  const edge = copyLayers(both(a, whole.edgeCount, b, inPart.edgeCount), source);
  return { ...out, layers: { ...out.layers, edge } };
}
