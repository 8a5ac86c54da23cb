/** A step that would mend the shading of the built piece. */
import { bestRepair } from '@urnsmith/core/build/repair';
import { defineQuestion } from './define';

export const repair = defineQuestion(
  'repair',
  (_: object, { id, evaluator }) => {
    const { mesh, formed } = evaluator.build(id);
    return { repair: bestRepair(mesh, formed) };
  },
  { aboutBase: true },
);
