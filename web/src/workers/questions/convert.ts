/** The picks, converted to another kind of element. */
import { convertSelection, type ElementKind, type Selection } from '@urnsmith/core/select/selection';
import { defineQuestion, type Selected } from './define';

export const convert = defineQuestion(
  'convert',
  ({ selection, to }: { selection: Selection; to: ElementKind }, { mesh }): Selected => ({
    selection: convertSelection(mesh, selection, to),
  }),
);
