/** Steps that may mend the shading of a built piece. */
import type { PolyMesh } from '../mesh/PolyMesh';
import { nextCorner, topologyOf } from '../mesh/Topology';
import { marked } from '../ops/mark';
import { bornOf } from '../select/born';
import { selectionOf } from '../select/selection';
import { unitFaceNormals } from '../shading/cornerWeights';
import type { FaceLead } from '../shading/leads';
import { OFF } from '../shading/limits';
import { shadingNormals } from '../shading/shadingNormals';
import type { Residual } from '../shading/residual';
import type { StepOfKind } from '../steps';
import { LANES } from '../steps/lanes';
import type { ShadeLane, ShadeStep } from './shadeLane';

type NormalsStep = StepOfKind<'normals'>;
export type RemedyStep = NormalsStep | StepOfKind<'cast'> | StepOfKind<'marks'>;

export interface Remedy {
  step: RemedyStep;
  /** The step it is put in place of, in the piece's own list; null where it is a new one. */
  instead: number | null;
  /** The lane with the remedy in it. */
  lane: ShadeLane;
}

interface Shaded {
  mesh: PolyMesh;
  formed: PolyMesh;
  lane: ShadeLane;
}

/** Hard angles to try, degrees: from a crease on a coarse wall to the edge of a low roof. */
const ANGLES = [40, 60, 30, 20, 10, 4];
/** Orders to try besides the usual one. */
const ORDERS: ReadonlyArray<FaceLead[]> = [
  ['wall', 'flat', 'rounding', 'corner'],
  ['rounding', 'wall', 'flat', 'corner'],
];
/** Edges that turn by less are no roof, degrees. */
const ROOF = 4;
const ROOF_COSINE = Math.cos((ROOF * Math.PI) / 180);
/** Normals whose numbers differ by less are one. */
const SAME = 1e-4;
/** More edges than this are not marked one by one. */
const MOST_MARKED = 400;

/** The normals step that shades the whole piece last. */
const lastNormals = ({ steps }: ShadeLane): ShadeStep | undefined =>
  steps.findLast(({ step }) => step.kind === 'normals' && !step.scope);

/** A step in place of the last normals step, or after all others. */
function withNormals(lane: ShadeLane, step: NormalsStep): Remedy {
  const last = lastNormals(lane);
  const made: ShadeStep = { index: last?.index ?? -1, step, operands: [] };
  const steps = last ? lane.steps.map((s) => (s === last ? made : s)) : [...lane.steps, made];
  return { step, instead: last?.index ?? null, lane: { ...lane, steps } };
}

/** The shading steps with normals as built in place of weighed ones; null where there are none. */
export function laneAsBuilt(lane: ShadeLane): ShadeLane | null {
  const own = lastNormals(lane)?.step as NormalsStep | undefined;
  if (!own || own.weight === 'built') return null;
  return withNormals(lane, { ...own, weight: 'built' }).lane;
}

/**
 * Those that change the least first. The marks come last, as they are the most to look after.
 * @param now how the piece is shaded as it is
 * @param leaks whether shading leaks from its cuts
 */
export function remedies({ lane, formed, mesh }: Shaded, now: Residual, leaks: boolean): Remedy[] {
  const { steps } = lane;
  const own = lastNormals(lane)?.step as NormalsStep | undefined;
  const angle = own?.hardAngle ?? 40;
  const angles = [angle, ...ANGLES.filter((a) => a !== angle)];
  const held = own?.held ? { held: own.held } : {};
  const built = { kind: 'normals', weight: 'built', hardAngle: angle, ...held } as const;
  const normals = angles.map((hardAngle): NormalsStep => ({ ...built, hardAngle }));
  if (own && own.weight !== 'built')
    for (const hardAngle of angles.slice(1)) normals.push({ ...own, hardAngle });
  for (const leads of ORDERS) normals.push({ ...built, leads });
  if (lane.bare.layers.corner.normal) normals.push({ ...built, held: 'replace' });
  const out = normals.map((step) => withNormals(lane, step));
  if (leaks && formed.corners !== mesh.corners && !steps.some((s) => s.step.kind === 'cast')) {
    const step = { kind: 'cast', way: 'nearest', reach: 5 } as const;
    out.push({
      step,
      instead: null,
      lane: { ...lane, steps: [...steps, { index: -1, step, operands: [] }] },
    });
  }
  const marks = hardMarks(lane, shadingNormals(mesh), now);
  return marks ? [...out, marks] : out;
}

/** Hard marks on the edges over which the shading of two surfaces is mixed; null where they would not stay on them. */
function hardMarks(lane: ShadeLane, shown: Float32Array, now: Residual): Remedy | null {
  const { bare, madeIn } = lane;
  if (madeIn && LANES.indexOf(madeIn) > LANES.indexOf('Edge')) return null;
  const edges = mixedEdges(bare, shown, now.ofCorner);
  if (!edges.length || edges.length > MOST_MARKED) return null;
  const scope = { rule: 'picked', ...bornOf(bare, selectionOf('edge', edges)) } as const;
  const step: StepOfKind<'marks'> = { kind: 'marks', scope, marks: ['hard'] };
  return {
    step,
    instead: null,
    lane: { ...lane, bare: marked(bare, edges, ['hard'], 1), marks: [...lane.marks, step] },
  };
}

/**
 * Edges like those of a low roof at which shading is off on either side, ascending. Within surfaces that are known there
 * are none.
 * @param shown the shading, 3 numbers per corner
 * @param off how far it is off per corner, degrees
 */
function mixedEdges(mesh: PolyMesh, shown: Float32Array, off: ArrayLike<number>): number[] {
  if (off.length !== mesh.corners.length) return [];
  const t = topologyOf(mesh);
  const n = unitFaceNormals(mesh).normals;
  const surface = mesh.layers.corner.surface?.data;
  const runsOn = (a: number, b: number): boolean =>
    [0, 1, 2].every((k) => Math.abs(shown[3 * a + k] - shown[3 * b + k]) < SAME);
  const out: number[] = [];
  for (let e = 0; e < t.edgeCount; e++) {
    const c = t.cornerOfEdge[e];
    const d = t.twin[c];
    if (d < 0) continue;
    const [f, g] = [3 * t.faceOfCorner[c], 3 * t.faceOfCorner[d]];
    if (n[f] * n[g] + n[f + 1] * n[g + 1] + n[f + 2] * n[g + 2] > ROOF_COSINE) continue;
    if (surface && [c, d].every((k) => [0, 1, 2].some((i) => surface[3 * k + i] !== 0))) continue;
    const [c2, d2] = [nextCorner(mesh, t, c), nextCorner(mesh, t, d)];
    const mixed = [[c, d2], [c2, d]].some(([a, b]) => runsOn(a, b) && Math.max(off[a], off[b]) > OFF); // prettier-ignore
    if (mixed) out.push(e);
  }
  return out;
}
