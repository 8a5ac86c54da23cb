/** A step that mends shading: tried on the built mesh and measured before it is offered. */
import type { PolyMesh } from '../mesh/PolyMesh';
import { shadingFaults, type ShadingFaultKind } from '../shading/faults';
import { NOTHING, OFF } from '../shading/limits';
import { faceLeads } from '../shading/leads';
import { residual, type Residual } from '../shading/residual';
import { MENDED, toldFault, verdictOf, type Figures, type ToldFault, type Verdict } from './verdict';
import { UNWATCHED, type Watch } from '../watch';
import { laneAsBuilt, remedies, type RemedyStep } from './remedies';
import { shadedBefore, shadedBy, type ShadeLane } from './shadeLane';

/** How the shading of a piece measures. */
export interface Measured extends Figures {
  faults: ToldFault[];
  verdict: Verdict;
}

export interface Repair {
  step: RemedyStep;
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
/** The share that leans, as far as it is told. */
const leaning = (m: Figures): number => (m.over2 < NOTHING ? 0 : m.over2);
const better = (a: Measured, b: Measured): boolean =>
  leaning(a) < leaning(b) - SAME || (leaning(a) <= leaning(b) + SAME && faultsIn(a) < faultsIn(b));

/**
 * Of the steps that make nothing worse, the one that leaves the least wrong; of equal ones the one that changes the least.
 * Null where none of them mends anything.
 */
export function bestRepair(shaded: Shaded, watch: Watch = UNWATCHED): Repair | null {
  watch(0);
  const now = residual(shaded.mesh);
  const before = withFaults(shaded, figuresOf(now));
  if (!leaning(before) && !faultsIn(before)) return null;
  let best: Repair | null = null;
  const leaks = countOf(before, 'leak') > 0;
  for (const { step, instead, lane } of remedies(shaded, now, leaks)) {
    watch(0);
    const mesh = shadedBy(lane.bare, shaded.formed, lane.steps, watch);
    watch(0);
    const figures = figuresOf(residual(mesh));
    if (!noMore(figures, before)) continue;
    watch(0);
    const after = withFaults({ ...shaded, mesh, lane }, figures);
    if (noWorse(after, before) && better(after, best?.after ?? before))
      best = { step, instead, before, after };
    if (best && !leaning(best.after) && !faultsIn(best.after)) break;
  }
  return best;
}

/** The figures of a piece as it is and with its normals as built; null where nothing would change. */
export function shadingAsBuilt(
  shaded: Shaded,
  watch: Watch = UNWATCHED,
): { now: Figures; built: Figures } | null {
  const lane = laneAsBuilt(shaded.lane);
  if (!lane) return null;
  const now = figuresOf(residual(shaded.mesh));
  watch(0);
  const mesh = shadedBy(lane.bare, shaded.formed, lane.steps, watch);
  watch(0);
  return { now, built: figuresOf(residual(mesh)) };
}

/** Advice for shading that no step improves. */
export type Help = 'segments' | 'sides' | 'marks';

/**
 * Finer facets help where the shading is right at the corners of faces and off inside; elsewhere a hard edge or held
 * normals do. Linear in corners.
 */
export function whatHelps({ mesh }: Pick<Shaded, 'mesh'>): Help {
  const { wrong, ofCorner } = residual(mesh);
  const leads = faceLeads(mesh);
  let [roundings, walls, corners] = [0, 0, 0];
  for (const f of wrong) {
    let most = 0;
    for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) most = Math.max(most, ofCorner[c]);
    if (most > OFF) corners++;
    else if (leads[f] >= 2) roundings++;
    else walls++;
  }
  if (corners >= roundings + walls) return 'marks';
  return roundings > walls ? 'segments' : 'sides';
}
