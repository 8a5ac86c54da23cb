/** The built piece as bytes to store. */
import { encodeMesh } from '@urnsmith/core/formats/meshBlob';
import type { Baked } from './bake';
import { defineQuestion } from './define';

export const bakeBuilt = defineQuestion(
  'bakeBuilt',
  (_: object, { id, evaluator }): Baked => ({ bytes: encodeMesh(evaluator.build(id).mesh) }),
  { aboutBase: true },
);
