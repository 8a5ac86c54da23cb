/** Traces that live steps leave in layers of how they made things. */
import { TRACES } from './layerKinds';
import type { PolyMesh } from './PolyMesh';

/** The mesh without what live steps left behind of how they made it. */
export function withoutTraces(mesh: PolyMesh): PolyMesh {
  const layers = { ...mesh.layers };
  for (const { name, on } of TRACES) {
    if (!layers[on][name]) continue;
    const { [name]: _, ...rest } = layers[on];
    layers[on] = rest;
  }
  return { ...mesh, layers };
}
