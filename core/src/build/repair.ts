/** A step that mends shading: tried on the built mesh and measured before it is offered. */
import type { PolyMesh } from '../mesh/PolyMesh';
import { shadingFaults, type ShadingFaultKind } from '../shading/faults';
import { NOTHING } from '../shading/limits';
import { residual, type Residual } from '../shading/residual';
import { MENDED, toldFault, verdictOf, type Figures, type ToldFault, type Verdict } from './verdict';
import type { StepOfKind } from '../steps';
import { UNWATCHED, type Watch } from '../watch';
import { shadedBefore, shadedBy, type ShadeLane, type ShadeStep } from './shadeLane';

type NormalsStep = StepOfKind<'normals'>;

/** How the shading of a piece measures. */
export interface Measured extends Figures {
  faults: ToldFault[];
  verdict: Verdict;
}

export interface Repair {
  step: NormalsStep | StepOfKind<'cast'>;
  /** The step it is put in place of, in the piece's own list; null where it is a new one. */
  instead: number | null;
  before: Measured;
  after: Measured;
}

/** A built piece with its shading, as far as it takes to shade it otherwise. */
export interface Shaded {
  mesh: PolyMesh;
  formed: PolyMesh;
  lane: ShadeLane;
}

export function measured(shaded: Shaded, watch: Watch = UNWATCHED): Measured {
  const figures = figuresOf(residual(shaded.mesh));
  watch(0);
  return withFaults(shaded, figures);
}

export const figuresOf = ({ over2, over10, mean, worst, wrong }: Residual): Figures => ({
  over2,
  over10,
  mean,
  worst,
  facesOver: wrong.length,
});

function withFaults(shaded: Shaded, figures: Figures): Measured {
  const faults = shadingFaults(shaded.mesh, shadedBefore(shaded)).map(toldFault);
  return { ...figures, faults, verdict: verdictOf(figures, faults) };
}

const countOf = ({ faults }: Measured, kind: ShadingFaultKind): number =>
  faults.find((f) => f.kind === kind)?.count ?? 0;
/** How many faults a step can mend. */
export const faultsIn = (m: Measured): number => MENDED.reduce((n, k) => n + countOf(m, k), 0);

/** Shares and angles that differ by less are the same. */
const SAME = 1e-6;
const noMore = (a: Figures, b: Figures): boolean =>
  (['over2', 'over10', 'mean', 'worst'] as const).every((k) => a[k] <= b[k] + SAME);
const noWorse = (a: Measured, b: Measured): boolean =>
  noMore(a, b) && MENDED.every((k) => countOf(a, k) <= countOf(b, k));
const better = (a: Measured, b: Measured): boolean =>
  a.over2 < b.over2 - SAME || (a.over2 <= b.over2 + SAME && faultsIn(a) < faultsIn(b));

/**
 * Of the steps that make nothing worse, the one that leaves the least wrong; of equal ones the one that changes the least.
 * Null where none of them mends anything.
 */
export function bestRepair(shaded: Shaded, watch: Watch = UNWATCHED): Repair | null {
  watch(0);
  const before = measured(shaded, watch);
  if (before.over2 < NOTHING && !faultsIn(before)) return null;
  let best: Repair | null = null;
  for (const { step, instead, steps } of candidates(shaded, before)) {
    watch(0);
    const mesh = shadedBy(shaded.lane.bare, shaded.formed, steps, watch);
    watch(0);
    const figures = figuresOf(residual(mesh));
    if (!noMore(figures, before)) continue;
    watch(0);
    const after = withFaults({ ...shaded, mesh, lane: { ...shaded.lane, steps } }, figures);
    if (noWorse(after, before) && better(after, best?.after ?? before))
      best = { step, instead, before, after };
    if (best && best.after.over2 < NOTHING && !faultsIn(best.after)) break;
  }
  return best;
}

interface Candidate {
  step: Repair['step'];
  instead: number | null;
  /** All that shade the piece then. */
  steps: ShadeStep[];
}

/** Hard angles to try, degrees: from a crease on a coarse wall to the edge of a low roof. */
const ANGLES = [40, 60, 30, 20, 10, 4];

/** Those that change the least first. */
function candidates({ lane, formed, mesh }: Shaded, before: Measured): Candidate[] {
  const { steps } = lane;
  const last = steps.findLast(({ step }) => step.kind === 'normals' && !step.scope);
  const now = last?.step as NormalsStep | undefined;
  const put = (step: NormalsStep): Candidate => {
    const made: ShadeStep = { index: last?.index ?? -1, step, operands: [] };
    return {
      step,
      instead: last?.index ?? null,
      steps: last ? steps.map((s) => (s === last ? made : s)) : [...steps, made],
    };
  };
  const angle = now?.hardAngle ?? 40;
  const angles = [angle, ...ANGLES.filter((a) => a !== angle)];
  const kept = now?.held ? { held: now.held } : {};
  const normals = [
    ...angles.map((a): NormalsStep => ({ kind: 'normals', weight: 'built', hardAngle: a, ...kept })),
    ...(now && now.weight !== 'built'
      ? angles.slice(1).map((a): NormalsStep => ({ ...now, hardAngle: a }))
      : []),
  ];
  if (lane.bare.layers.corner.normal)
    normals.push({ kind: 'normals', weight: 'built', hardAngle: angle, held: 'replace' });
  const cast = { kind: 'cast', way: 'nearest', reach: 5 } as const;
  const casts = countOf(before, 'leak') > 0 && formed.corners !== mesh.corners && !steps.some((s) => s.step.kind === 'cast'); // prettier-ignore
  return [
    ...normals.map(put),
    ...(casts
      ? [{ step: cast, instead: null, steps: [...steps, { index: -1, step: cast, operands: [] }] }]
      : []),
  ];
}
