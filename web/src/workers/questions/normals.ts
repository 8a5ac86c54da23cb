/** The shading normals at the corners of what is picked, as they count. */
import { cornersOf } from '@urnsmith/core/ops/holdNormals';
import type { Selection } from '@urnsmith/core/select/selection';
import { normalsAt } from '@urnsmith/core/shading/evenNormals';
import { defineQuestion } from './define';

export const normals = defineQuestion('normals', ({ selection }: { selection: Selection }, { mesh }) => ({
  normals: normalsAt(mesh, cornersOf(mesh, selection)),
}));
