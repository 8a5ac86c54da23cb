/** A normals step that mends shading: tried on the built mesh and measured before it is offered. */
import type { PolyMesh } from '../mesh/PolyMesh';
import { shadingFaults, type ShadingFaultKind } from '../shading/faults';
import { shadingFigures } from '../shading/figures';
import type { StepOfKind } from './steps';
import { optionsOf } from './kinds/normals';
import { shade } from './shade';

type NormalsStep = StepOfKind<'normals'>;

/** How shading measures: faces shaded wrong and their share of the area; and other faults, by kind. */
export interface Measured {
  faces: number;
  share: number;
  faults: Record<MendedKind, number>;
}

export interface Repair {
  step: NormalsStep;
  before: Measured;
  after: Measured;
}

/** Faults a normals step can mend. */
const MENDED = ['lie', 'break', 'ripple'] as const satisfies ShadingFaultKind[];
type MendedKind = (typeof MENDED)[number];

const CANDIDATES: NormalsStep[] = [
  { kind: 'normals', weight: 'area', hardAngle: 40 },
  { kind: 'normals', weight: 'area', hardAngle: 30 },
  { kind: 'normals', weight: 'area', hardAngle: 60 },
];

export const faultsIn = ({ faults }: Measured): number => MENDED.reduce((n, k) => n + faults[k], 0);

export function measured(mesh: PolyMesh): Measured {
  const { wrong, share } = shadingFigures(mesh);
  const found = shadingFaults(mesh);
  const count = (kind: MendedKind): number => found.find((f) => f.kind === kind)?.indices.length ?? 0;
  return {
    faces: wrong.length,
    share,
    faults: { lie: count('lie'), break: count('break'), ripple: count('ripple') },
  };
}

/** No measure is worse than another's. */
const noWorse = (a: Measured, b: Measured): boolean =>
  a.share <= b.share * (1 + 1e-9) && MENDED.every((k) => a.faults[k] <= b.faults[k]);
const better = (a: Measured, b: Measured): boolean =>
  a.share < b.share * (1 - 1e-6) || (a.share <= b.share && faultsIn(a) < faultsIn(b));

/** The first of the steps that leaves the least wrong and makes nothing worse; null where none of them mends anything. */
export function bestRepair(mesh: PolyMesh): Repair | null {
  const before = measured(mesh);
  if (!before.faces && !faultsIn(before)) return null;
  const held = mesh.layers.corner.normal !== undefined;
  const steps = CANDIDATES.flatMap((s): NormalsStep[] => (held ? [s, { ...s, held: 'replace' }] : [s]));
  let best: Repair | null = null;
  for (const step of steps) {
    const after = measured(shade(mesh, optionsOf(mesh, step)));
    if (noWorse(after, before) && better(after, (best ?? { after: before }).after))
      best = { step, before, after };
    if (best && !best.after.faces && !faultsIn(best.after)) break;
  }
  return best;
}
