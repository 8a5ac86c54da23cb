/** A step that mends shading, of normals or a cast: tried on the built mesh and measured before it is offered. */
import type { PolyMesh } from '../mesh/PolyMesh';
import { castNormals } from '../shading/castNormals';
import { shadingFaults, type ShadingFaultKind } from '../shading/faults';
import { shadingFigures } from '../shading/figures';
import type { StepOfKind } from '../steps';
import { UNWATCHED, type Watch } from '../watch';
import { optionsOf } from '../steps/normals';
import { shade } from '../steps/shade';

type NormalsStep = StepOfKind<'normals'>;
type CastStep = StepOfKind<'cast'>;

/** How shading measures: faces shaded wrong and their share of the area; and other faults, by kind. */
export interface Measured {
  faces: number;
  share: number;
  faults: Record<MendedKind, number>;
}

export interface Repair {
  step: NormalsStep | CastStep;
  before: Measured;
  after: Measured;
}

/** Faults such a step can mend. */
export const MENDED = ['lie', 'break', 'ripple', 'leak'] as const satisfies ShadingFaultKind[];
type MendedKind = (typeof MENDED)[number];

const CANDIDATES: NormalsStep[] = [
  { kind: 'normals', weight: 'area', hardAngle: 40 },
  { kind: 'normals', weight: 'area', hardAngle: 30 },
  { kind: 'normals', weight: 'area', hardAngle: 60 },
];

export const faultsIn = ({ faults }: Measured): number => MENDED.reduce((n, k) => n + faults[k], 0);

export function measured(mesh: PolyMesh, formed: PolyMesh | null = null, watch: Watch = UNWATCHED): Measured {
  const { wrong, share } = shadingFigures(mesh);
  watch(0);
  const found = shadingFaults(mesh, formed);
  const count = (kind: MendedKind): number => found.find((f) => f.kind === kind)?.indices.length ?? 0;
  return {
    faces: wrong.length,
    share,
    faults: { lie: count('lie'), break: count('break'), ripple: count('ripple'), leak: count('leak') },
  };
}

interface Candidate {
  step: NormalsStep | CastStep;
  shaded(mesh: PolyMesh): PolyMesh;
}

const byNormals = (step: NormalsStep): Candidate => ({
  step,
  shaded: (mesh) => shade(mesh, optionsOf(mesh, step)),
});

/** The step *cast* with all its first values, from the piece as it was formed. */
const byCast = (formed: PolyMesh): Candidate => ({
  step: { kind: 'cast', way: 'nearest', reach: 5 },
  shaded: (mesh) => castBack(mesh, formed),
});

function castBack(mesh: PolyMesh, formed: PolyMesh): PolyMesh {
  const o = { way: 'nearest', reach: 5, turn: 60, strength: 1, hard: 'keep', faces: null } as const;
  const { normals } = castNormals(mesh, formed, o);
  const corner = { ...mesh.layers.corner, normal: { size: 3, data: normals } };
  return { ...mesh, layers: { ...mesh.layers, corner } };
}

/** No measure is worse than another's. */
const noWorse = (a: Measured, b: Measured): boolean =>
  a.share <= b.share * (1 + 1e-9) && MENDED.every((k) => a.faults[k] <= b.faults[k]);
const better = (a: Measured, b: Measured): boolean =>
  a.share < b.share * (1 - 1e-6) || (a.share <= b.share && faultsIn(a) < faultsIn(b));

/** The first of the steps that leaves the least wrong and makes nothing worse; null where none of them mends anything. */
export function bestRepair(
  mesh: PolyMesh,
  formed: PolyMesh | null = null,
  watch: Watch = UNWATCHED,
): Repair | null {
  watch(0);
  const before = measured(mesh, formed);
  if (!before.faces && !faultsIn(before)) return null;
  const held = mesh.layers.corner.normal !== undefined;
  const steps = CANDIDATES.flatMap((s): NormalsStep[] => (held ? [s, { ...s, held: 'replace' }] : [s]));
  let best: Repair | null = null;
  const casts = before.faults.leak && formed ? [byCast(formed)] : [];
  for (const { step, shaded } of [...steps.map(byNormals), ...casts]) {
    watch(0);
    const tried = shaded(mesh);
    watch(0);
    const after = measured(tried, formed, watch);
    if (noWorse(after, before) && better(after, (best ?? { after: before }).after))
      best = { step, before, after };
    if (best && !best.after.faces && !faultsIn(best.after)) break;
  }
  return best;
}
