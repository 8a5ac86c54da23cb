/** Builds trees for exact pointing, off the main thread. */
import * as Comlink from 'comlink';
import { BufferAttribute, BufferGeometry } from 'three';
import { MeshBVH, type SerializedBVH } from 'three-mesh-bvh';

/** Three numbers per point, three points per triangle. */
export interface TreeArrays {
  positions: Float32Array<ArrayBuffer>;
  index: Uint32Array<ArrayBuffer>;
}

const api = {
  build({ positions, index }: TreeArrays): SerializedBVH {
    const g = new BufferGeometry()
      .setAttribute('position', new BufferAttribute(positions, 3))
      .setIndex(new BufferAttribute(index, 1));
    const tree = MeshBVH.serialize(new MeshBVH(g, { indirect: true }), { cloneBuffers: false });
    return Comlink.transfer({ ...tree, index: null }, tree.roots as ArrayBuffer[]) as SerializedBVH;
  },
};

export type TreeWorker = typeof api;
Comlink.expose(api);
