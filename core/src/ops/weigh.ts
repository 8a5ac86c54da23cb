/** Sets the weight of faces in shading normals, in place of their area; or lets their area count again. */
import { faceCount } from '../mesh/PolyMesh';
import { changedAmong } from './changed';
import { flag, params, share } from './fields';
import { counted, defineOperation } from './operation';
import { onBox } from './tool';

const schema = params({
  weight: share('Weight', 100, 0, 100),
  clear: flag('Let the area count again', false),
});

export const weigh = defineOperation({
  kind: 'weigh',
  title: 'Weigh for shading',
  on: ['face'],
  params: schema,
  example: onBox({ op: 'weigh', select: { rule: 'facing', direction: [0, 1, 0] }, weight: 80 }),
  tools: [
    {
      title: 'Weigh the faces for shading',
      short: 'Weigh',
      words: 'weight strong normals custom',
      start: () => ({ weight: 100 }),
    },
    {
      id: 'weighArea',
      title: 'Let the faces count by their area again',
      short: 'By area',
      words: 'weight normals clear reset',
      start: () => ({ clear: true }),
    },
  ],
  shows: { weight: (p) => !p.clear },
  says: ({ faces }, { weight, clear }) =>
    clear
      ? `Let ${counted(faces, 'face')} count by area again.`
      : `Weighed ${counted(faces, 'face')} ${weight}.`,
  run(mesh, selection, { weight, clear }) {
    const before = mesh.layers.face.weight?.data;
    const data = before ? Float32Array.from(before) : new Float32Array(faceCount(mesh));
    for (const f of selection.indices) data[f] = clear ? 0 : weight + 1;
    return {
      mesh: {
        ...mesh,
        layers: { ...mesh.layers, face: { ...mesh.layers.face, weight: { size: 1, data } } },
      },
      selection,
      counts: { faces: changedAmong(before, data, selection.indices) },
    };
  },
});
