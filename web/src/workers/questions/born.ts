/** The picks, by birth. */
import { bornOf } from '@urnsmith/core/select/born';
import type { Selection } from '@urnsmith/core/select/selection';
import { defineQuestion } from './define';

export const born = defineQuestion('born', ({ selection }: { selection: Selection }, { mesh }) => ({
  born: bornOf(mesh, selection),
}));
