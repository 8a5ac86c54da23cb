/** A step that would mend the shading of the built piece. */
import { bestRepair } from '@urnsmith/core/build/repair';
import { defineAside } from './define';

export const repair = defineAside('repair', (_: object, shaded, watch) => ({
  repair: bestRepair(shaded, watch),
}));
