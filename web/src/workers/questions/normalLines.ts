/** The shading normals as they are drawn, of what is picked; of everything where nothing is. */
import { cornersOf } from '@urnsmith/core/ops/holdNormals';
import { everything } from '@urnsmith/core/select/grow';
import type { Selection } from '@urnsmith/core/select/selection';
import { normalLines } from '@urnsmith/core/shading/normalLines';
import { defineQuestion } from './define';

export const drawnNormals = defineQuestion(
  'normalLines',
  ({ selection }: { selection: Selection }, { mesh }) => {
    const some = selection.indices.length ? selection : everything(mesh, selection.kind);
    return { normalLines: normalLines(mesh, cornersOf(mesh, some)) };
  },
);
