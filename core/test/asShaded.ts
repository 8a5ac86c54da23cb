/** A mesh as it is, to be measured and shaded otherwise. */
import type { Shaded } from '../src/build/repair';
import type { PolyMesh } from '../src/mesh/PolyMesh';

export const asShaded = (mesh: PolyMesh, formed = mesh): Shaded => ({
  mesh,
  formed,
  lane: { bare: mesh, madeIn: null, marks: [], steps: [] },
});
