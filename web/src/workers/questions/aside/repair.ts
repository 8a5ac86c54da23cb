/** A step that would mend the shading of the built piece. */
import { bestRepair, whatHelps } from '@urnsmith/core/build/repair';
import { defineAside } from './define';

export const repair = defineAside('repair', (_: object, shaded, watch) => {
  const repair = bestRepair(shaded, watch);
  return { repair, helps: repair ? null : whatHelps(shaded) };
});
