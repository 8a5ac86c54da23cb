/**
 * Trees for exact pointing. Small ones are built at once; large ones by a worker, and until they come, nothing is pointed
 * at: looking at every triangle would hold up the hand for longer than that.
 */
import * as Comlink from 'comlink';
import type { BufferAttribute, BufferGeometry, Intersection, Mesh, Raycaster } from 'three';
import { acceleratedRaycast, MeshBVH } from 'three-mesh-bvh';
import type { TreeArrays, TreeWorker } from '../workers/tree.worker';

/** Triangles a tree is built for at once: a few milliseconds. */
const AT_ONCE = 10_000;

/** Triangles a tree is being built of, per geometry. */
const growing = new WeakMap<BufferGeometry, BufferAttribute>();
let worker: Comlink.Remote<TreeWorker> | null = null;

/**
 * Gives a geometry its tree, now or soon.
 *
 * @param spare copies of its arrays that can be given away, else they are copied here
 */
export function growTree(g: BufferGeometry, spare: TreeArrays | null = null): void {
  const { index } = g;
  const position = g.attributes.position as BufferAttribute;
  if (g.boundsTree || !index?.count || growing.get(g) === index) return;
  if (index.count / 3 <= AT_ONCE) {
    g.boundsTree = new MeshBVH(g, { indirect: true });
    return;
  }
  growing.set(g, index);
  worker ??= Comlink.wrap<TreeWorker>(
    new Worker(new URL('../workers/tree.worker.ts', import.meta.url), { type: 'module' }),
  );
  const before = position.version;
  // Given away once, they are empty.
  const arrays = spare?.index.length
    ? Comlink.transfer(spare, [spare.positions.buffer, spare.index.buffer])
    : ({ positions: position.array, index: index.array } as TreeArrays);
  void worker.build(arrays).then((tree) => {
    // The shape may be another by now, and its tree be under way.
    if (growing.get(g) === index) growing.delete(g);
    if (g.attributes.position !== position || g.index !== index) return;
    g.boundsTree = MeshBVH.deserialize(tree, g, { setIndex: false });
    if (position.version !== before) g.boundsTree.refit();
  });
}

/** Begins a tree that would not be there at once; small ones wait until they are needed. */
export function growAhead(g: BufferGeometry, spare: TreeArrays | null): void {
  if ((g.index?.count ?? 0) / 3 > AT_ONCE) growTree(g, spare);
}

/** Hits of a line of sight with a mesh, once its tree is there. */
export function raycastTree(this: Mesh, ray: Raycaster, hits: Intersection[]): void {
  if (this.geometry.boundsTree) acceleratedRaycast.call(this, ray, hits);
}
