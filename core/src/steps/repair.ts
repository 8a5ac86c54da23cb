/** A normals step that mends shading: tried on the built mesh and measured before it is offered. */
import type { PolyMesh } from '../mesh/PolyMesh';
import { shadingFigures } from '../shading/figures';
import type { StepOfKind } from './steps';
import { optionsOf } from './kinds/normals';
import { shade } from './shade';

type NormalsStep = StepOfKind<'normals'>;

export interface Repair {
  step: NormalsStep;
  /** Faces shaded wrong, and their share of the area, before and after. */
  before: { faces: number; share: number };
  after: { faces: number; share: number };
}

const CANDIDATES: NormalsStep[] = [
  { kind: 'normals', weight: 'area', hardAngle: 40 },
  { kind: 'normals', weight: 'area', hardAngle: 30 },
  { kind: 'normals', weight: 'area', hardAngle: 60 },
];

/** The first of the steps that leaves the least area wrong; null where none of them makes it less. */
export function bestRepair(mesh: PolyMesh): Repair | null {
  const measure = (m: PolyMesh): Repair['before'] => {
    const { wrong, share } = shadingFigures(m);
    return { faces: wrong.length, share };
  };
  const before = measure(mesh);
  if (!before.faces) return null;
  const held = mesh.layers.corner.normal !== undefined;
  const steps = CANDIDATES.flatMap((s): NormalsStep[] => (held ? [s, { ...s, held: 'replace' }] : [s]));
  let best: Repair | null = null;
  for (const step of steps) {
    const after = measure(shade(mesh, optionsOf(mesh, step)));
    if (after.share < (best?.after ?? before).share * (1 - 1e-6)) best = { step, before, after };
    if (!after.faces) break;
  }
  return best;
}
