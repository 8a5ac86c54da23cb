/** How faces count for shading normals: lead, plain or follow; where a leading face meets others, only it counts. */
import { RANK } from '../mesh/layers';
import { faceCount } from '../mesh/PolyMesh';
import { changedAmong } from './changed';
import { choice, params } from './fields';
import { counted, defineOperation } from './operation';
import { onBox } from './tool';

const schema = params({ as: choice('Faces', ['lead', 'plain', 'follow'], 'lead') });

export const rank = defineOperation({
  kind: 'rank',
  title: 'Rank for shading',
  on: ['face'],
  params: schema,
  example: onBox({ op: 'rank', select: { rule: 'facing', direction: [0, 1, 0] }, as: 'lead' }),
  tools: [
    {
      id: 'rankLead',
      shows: 'ranks',
      title: 'Let the faces lead shading',
      short: 'Lead',
      words: 'weight strong normals rank',
    },
    {
      id: 'rankFollow',
      shows: 'ranks',
      title: 'Let the faces follow in shading',
      short: 'Follow',
      words: 'weight weak normals rank',
      start: () => ({ as: 'follow' }),
    },
    {
      id: 'rankPlain',
      shows: 'ranks',
      title: 'Let the faces count plainly in shading',
      short: 'Plain',
      words: 'weight normals rank clear',
      start: () => ({ as: 'plain' }),
    },
  ],
  says: ({ faces }, { as }) => `Ranked ${counted(faces, 'face')} ${as}.`,
  run(mesh, selection, { as }) {
    const before = mesh.layers.face.rank?.data;
    const data = before ? Uint8Array.from(before) : new Uint8Array(faceCount(mesh));
    for (const f of selection.indices) data[f] = RANK[as];
    return {
      mesh: {
        ...mesh,
        layers: { ...mesh.layers, face: { ...mesh.layers.face, rank: { size: 1, data } } },
      },
      selection,
      counts: { faces: changedAmong(before, data, selection.indices) },
    };
  },
});
