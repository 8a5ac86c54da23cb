/**
 * Knife: polylines drawn over the piece cut the faces they run over, one after the other, by the way they are looked
 * along. A line that ends where it began is closed.
 */
import { Type } from 'typebox';
import { type PolyMesh } from '../mesh/PolyMesh';
import { edgeBetween, topologyOf } from '../mesh/Topology';
import { OperationError, warn } from '../mesh/errors';
import { unit } from '../mesh/vec3';
import { selectionOf } from '../select/selection';
import { flag, length, params, vector } from './fields';
import { KnifeCut } from './knifeCut';
import { counted, defineOperation } from './operation';
import { onBox } from './tool';
const triple = Type.Tuple([Type.Number(), Type.Number(), Type.Number()]);
const schema = params({
  lines: Type.Array(Type.Array(triple, { maxItems: 10000 }), { title: 'Lines', maxItems: 1000, default: [] }),
  view: vector('Looking along', [0, -1, 0], 1, ''),
  /** The eye's position; without it the view is parallel. */
  eye: triple,
  through: flag('Through the depth', false),
  /** Behind what is met first; 0 goes all through. */
  depth: length('Depth', 0, 0),
});
export const knife = defineOperation({
  kind: 'knife',
  title: 'Knife',
  on: ['face'],
  params: schema,
  example: onBox({
    op: 'knife',
    select: { rule: 'facing', direction: [0, 1, 0] },
    lines: [
      [
        [-30, 20, 0],
        [30, 20, 0],
      ],
    ],
  }),
  tools: [
    {
      at: ['face', 'edge', 'vertex'],
      draws: 'knife',
      words: 'cut draw slice',
      ring: { bare: 1 },
      next: { bare: 1 },
    },
  ],
  shows: { lines: false, view: false, eye: false, depth: (p) => p.through },
  pulls(mesh, selection, p) {
    if (!p.through || !p.lines.length || p.lines[0].length < 2) return [];
    const zero = new KnifeCut(mesh, selection.indices, p.lines[0], p).front();
    return zero ? [{ key: 'depth', zero, along: unit(p.view), rate: 1 }] : [];
  },
  refuses: ['short-line', 'cuts-nothing', 'crossing-outline'],
  says: ({ edges }) => `Cut ${counted(edges, 'edge')}.`,
  run(mesh, selection, p) {
    if (!p.lines.length || p.lines.some((l) => l.length < 2))
      throw new OperationError(
        'short-line',
        'A line needs at least two points.',
        undefined,
        'Click where it starts and where it ends.',
      );
    let now = mesh;
    let faces: ReadonlyArray<number> = selection.indices;
    let idle = 0;
    for (const line of p.lines) {
      const cut = new KnifeCut(now, faces, line, p).run();
      const t = topologyOf(cut.mesh);
      const edges = cut.lines.map(([a, b]) => edgeBetween(cut.mesh, t, a, b)).filter((e) => e >= 0);
      if (!edges.length) {
        idle++;
        continue;
      }
      const allowed = new Set(faces);
      faces = Array.from(cut.sourceFace.keys()).filter((f) => allowed.has(cut.sourceFace[f]));
      now = withDrawn(cut.mesh, edges);
    }
    const edges = drawnEdges(now);
    if (!edges.length)
      throw new OperationError(
        'cuts-nothing',
        'The line divides no face: it must run from one side of a face to another.',
        undefined,
        'Draw it across whole faces, or close it.',
      );
    return {
      mesh: withoutDrawn(now),
      selection: selectionOf('edge', edges),
      counts: { edges: edges.length },
      warnings: idle ? [warn('idle', `${counted(idle, 'line')} divided no face.`)] : undefined,
    };
  },
});

/** Edges that were cut so far, kept as a layer while later lines divide them. */
const DRAWN = 'drawn';

const drawnEdges = (mesh: PolyMesh): number[] => {
  const data = mesh.layers.edge[DRAWN]?.data;
  return data ? Array.from(data.keys()).filter((e) => data[e]) : [];
};

function withDrawn(mesh: PolyMesh, edges: ReadonlyArray<number>): PolyMesh {
  const data = new Uint8Array(topologyOf(mesh).edgeCount);
  for (const e of [...drawnEdges(mesh), ...edges]) data[e] = 1;
  const edge = { ...mesh.layers.edge, [DRAWN]: { size: 1, data } };
  return { ...mesh, layers: { ...mesh.layers, edge } };
}

function withoutDrawn(mesh: PolyMesh): PolyMesh {
  const { [DRAWN]: _, ...edge } = mesh.layers.edge;
  return { ...mesh, layers: { ...mesh.layers, edge } };
}
