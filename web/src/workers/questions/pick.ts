/** The result of a selecting command. */
import { pickMore, type PickName, type PickOptions } from '@urnsmith/core/select/picks';
import type { Selection } from '@urnsmith/core/select/selection';
import { defineQuestion, type Selected } from './define';

interface Pick {
  name: PickName;
  selection: Selection;
  options?: PickOptions;
}

export const pick = defineQuestion('pick', ({ name, selection, options }: Pick, { mesh }): Selected => ({
  selection: pickMore(mesh, name, selection, options),
}));
