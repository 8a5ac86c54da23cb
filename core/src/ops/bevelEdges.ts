/** Bevel of picked edges: the live step's own code (ops/bevel) on a picked selection. */
import { facesMade } from '../mesh/lineage';
import type { PolyMesh } from '../mesh/PolyMesh';
import { selectionOf } from '../select/selection';
import { bevel, type BevelOptions } from './bevel/bevel';
import { facesBevelled } from './bounds';
import { count, flag, length, params, share } from './fields';
import { type OperationResult, counted, defineOperation } from './operation';

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
  run: (mesh, selection, p) => rounded(mesh, selection.indices, p, 'Bevelled'),
});

export function rounded(
  mesh: PolyMesh,
  edges: ReadonlyArray<number>,
  p: BevelOptions,
  verb: string,
): OperationResult {
  const { mesh: out, report } = bevel(mesh, [...edges], p);
  return {
    mesh: out,
    selection: selectionOf('face', facesMade(out, ['strip', 'corner'])),
    report: `${verb} ${counted(report.roundedEdges, 'edge')}.`,
    warning: report.stoppedGroups
      ? `${counted(report.stoppedGroups, 'run')} stopped early, at ${Number(report.reachedWidth.toPrecision(3))} mm.`
      : undefined,
  };
}
