/** Bevel of picked edges: the live step's own code (ops/bevel) on a picked selection. */
import { warn, type Warning } from '../mesh/errors';
import { facesMade } from '../mesh/lineage';
import { topologyOf } from '../mesh/Topology';
import { lieOnSurface } from './bevel/sheets';
import type { PolyMesh } from '../mesh/PolyMesh';
import { selectionOf } from '../select/selection';
import { bevel, leastWidth, stoppedOf, type BevelGroup, type BevelOptions } from './bevel/bevel';
import { facesBevelled } from './bounds';
import { count, flag, length, params, share } from './fields';
import { type OperationResult, counted, defineOperation } from './operation';
import { onBox } from './tool';

const schema = params({
  width: length('Width', 2, 0.001, 10000),
  segments: count('Segments', 1, 1, 32),
  profile: share('Profile', 1, -1, 2),
  clamp: flag('Stop where strips meet', true),
});

export const bevelEdges = defineOperation({
  kind: 'bevel',
  title: 'Bevel',
  on: ['edge'],
  params: schema,
  faces: (mesh, { indices }, p) => facesBevelled(mesh, indices, p.segments),
  example: onBox({ op: 'bevel', select: { rule: 'sharp', angle: 30 }, width: 2, segments: 3 }),
  tools: [
    {
      start: (hand) => ({ width: hand.share(0.01), segments: 2 }),
      words: 'chamfer round fillet',
      ring: { edge: 0 },
      next: { edge: 0 },
    },
  ],
  refuses: ['bevel-bent', 'bevel-folded', 'bevel-too-wide', 'crossing-outline'],
  says: ({ edges }) => `Bevelled ${counted(edges, 'edge')}.`,
  run: (mesh, selection, p) =>
    rounded(mesh, selection.indices, {
      ...p,
      // Edges picked on a curved surface are rounded along its own edges, not across them.
      follow: lieOnSurface(mesh, topologyOf(mesh), selection.indices) ? 'edges' : 'surface',
    }),
});

export function rounded(mesh: PolyMesh, edges: ReadonlyArray<number>, p: BevelOptions): OperationResult {
  const { mesh: out, report } = bevel(mesh, [...edges], p);
  return {
    mesh: out,
    selection: selectionOf('face', facesMade(out, ['strip', 'corner'])),
    counts: { edges: report.roundedEdges },
    warnings: stoppedEarly(report.groups, p.width),
  };
}

/** Says which runs of edges could not be rounded as wide as asked. */
export function stoppedEarly(groups: ReadonlyArray<BevelGroup>, width: number): Warning[] | undefined {
  const stopped = stoppedOf(groups, width);
  if (!stopped.length) return undefined;
  const least = Number(leastWidth(stopped, width).toPrecision(3));
  return [
    warn(
      'stopped',
      `${stopped.length} of ${counted(groups.length, 'run')} of edges stopped early, the first at ${least} mm.`,
      'edge',
      stopped.flatMap((g) => g.edges),
    ),
  ];
}
