/**
 * Trees for exact pointing. Small ones are built at once; large ones by a worker, and until they come, pointing looks at
 * every triangle.
 */
import * as Comlink from 'comlink';
import type { BufferAttribute, BufferGeometry } from 'three';
import { MeshBVH } from 'three-mesh-bvh';
import type { TreeWorker } from '../workers/tree.worker';

/** Triangles a tree is built for at once: a few milliseconds. */
const AT_ONCE = 10_000;

const growing = new WeakMap<BufferGeometry, object>();
let worker: Comlink.Remote<TreeWorker> | null = null;

/** Gives a geometry its tree, now or soon. */
export function growTree(g: BufferGeometry): void {
  const { index } = g;
  const position = g.attributes.position as BufferAttribute;
  if (g.boundsTree || !index?.count || growing.get(g) === position) return;
  if (index.count / 3 <= AT_ONCE) {
    g.boundsTree = new MeshBVH(g, { indirect: true });
    return;
  }
  growing.set(g, position);
  worker ??= Comlink.wrap<TreeWorker>(
    new Worker(new URL('../workers/tree.worker.ts', import.meta.url), { type: 'module' }),
  );
  const before = position.version;
  void worker.build(position.array as Float32Array, index.array as Uint32Array).then((tree) => {
    // The shape may be another by now.
    if (g.attributes.position !== position || g.index !== index) return;
    growing.delete(g);
    g.boundsTree = MeshBVH.deserialize(tree, g, { setIndex: false });
    if (position.version !== before) g.boundsTree.refit();
  });
}
