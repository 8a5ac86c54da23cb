/** The outline of what is picked. */
import { outlineOf } from '@urnsmith/core/select/outline';
import type { Selection } from '@urnsmith/core/select/selection';
import { defineQuestion } from './define';

export const outline = defineQuestion('outline', ({ selection }: { selection: Selection }, { mesh }) => ({
  outline: outlineOf(mesh, selection),
}));
