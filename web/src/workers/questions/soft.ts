/** How much points follow a soft selection. */
import { softWeights, type Soft } from '@urnsmith/core/select/soft';
import { defineQuestion } from './define';

export const soft = defineQuestion(
  'soft',
  ({ points, soft: how }: { points: number[]; soft: Soft }, { mesh }) => ({
    weights: softWeights(mesh, points, how),
  }),
);
