/** Measures the shading of a piece as it is, and with the normals it was built with. */
import { shadingAsBuilt } from '@urnsmith/core/build/repair';
import { defineAside } from './define';

export const asBuilt = defineAside('asBuilt', (_: object, shaded, watch) => ({
  asBuilt: shadingAsBuilt(shaded, watch),
}));
