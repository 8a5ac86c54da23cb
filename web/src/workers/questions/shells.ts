/** Faces of each shell of the edited base. */
import { everything } from '@urnsmith/core/select/grow';
import { islandsOf } from '@urnsmith/core/select/selection';
import { defineQuestion } from './define';

export const shells = defineQuestion(
  'shells',
  (_: object, { mesh }) => ({ shells: islandsOf(mesh, everything(mesh, 'face')) }),
  { aboutBase: true },
);
