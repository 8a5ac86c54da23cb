/** Meshes made over faces of another, with what these carry. */
import { blendLayers, copyLayers, makeBlend } from '../mesh/layers';
import { makeMesh, type PolyMesh } from '../mesh/PolyMesh';
import { topologyOf } from '../mesh/Topology';

/** A corner of the other mesh, or a share of the way from one to another. */
export type CornerSource = number | readonly [from: number, to: number, share: number];

export interface FaceOver {
  loop: ReadonlyArray<number>;
  /** Face of the other mesh. */
  of: number;
  /** Where it stands for that face: per corner, the one it has its layers of. The edge that begins there goes with it. */
  corners?: ReadonlyArray<CornerSource>;
}

/** @param positions 3 numbers per point */
export function facesOver(
  source: PolyMesh,
  positions: ReadonlyArray<number>,
  faces: ReadonlyArray<FaceOver>,
): PolyMesh {
  const faceStart = [0];
  for (const { loop } of faces) faceStart.push(faceStart.at(-1)! + loop.length);
  const cornerOf = faces.flatMap(({ loop, corners }) => corners ?? loop.map(() => -1));
  const bare = makeMesh(
    Float64Array.from(positions),
    Uint32Array.from(faceStart),
    Uint32Array.from(faces.flatMap((f) => f.loop)),
  );
  const blend = makeBlend(cornerOf.length);
  cornerOf.forEach((c, i) => {
    const sources = typeof c === 'number' ? [[c, 1]] : [[c[0], 1 - c[2]], [c[1], c[2]]]; // prettier-ignore
    sources.forEach(([index, weight], k) => {
      blend.index[3 * i + k] = index;
      blend.weight[3 * i + k] = weight;
    });
  });
  const { cornerOfEdge, twin } = topologyOf(bare);
  const { edgeOfCorner } = topologyOf(source);
  const firstOf = (c: number): number => {
    const s = cornerOf[c];
    return typeof s === 'number' ? s : s[0];
  };
  const edges = Int32Array.from(cornerOfEdge, (c: number) => {
    const corner = firstOf(firstOf(c) < 0 && twin[c] >= 0 ? twin[c] : c);
    return corner < 0 ? -1 : edgeOfCorner[corner];
  });
  return makeMesh(bare.positions, bare.faceStart, bare.corners, {
    face: copyLayers(
      source.layers.face,
      Int32Array.from(faces, (f) => f.of),
    ),
    corner: blendLayers(source.layers.corner, blend),
    edge: copyLayers(source.layers.edge, edges),
  });
}
