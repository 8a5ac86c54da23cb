/** The normals a mesh is shown and written with. */
import type { PolyMesh } from '../mesh/PolyMesh';
import { builtNormals } from './builtNormals';

const shown = new WeakMap<PolyMesh, Float32Array>();

/** Unit normal per corner: held ones, else as built. Cached. */
export function shadingNormals(mesh: PolyMesh): Float32Array {
  let n = shown.get(mesh);
  if (!n) shown.set(mesh, (n = builtNormals(mesh)));
  return n;
}
