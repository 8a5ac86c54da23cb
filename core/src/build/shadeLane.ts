/** The steps that shade a built piece, to be run again otherwise. */
import type { PolyMesh } from '../mesh/PolyMesh';
import { IDENTITY } from '../mesh/transform';
import { LIMITS } from '../ops/operation';
import { STEPS, type Step, type StepOfKind } from '../steps';
import type { Lane } from '../steps/lanes';
import type { Operand } from '../steps/define';
import { UNWATCHED, type Watch } from '../watch';

type Shading = StepOfKind<'normals'> | StepOfKind<'cast'>;

export interface ShadeStep {
  /** Its place in the piece's own list. */
  index: number;
  step: Shading;
  operands: ReadonlyArray<Operand>;
}

export interface ShadeLane {
  /** The built piece before any of them. */
  bare: PolyMesh;
  /** The lane of the last step that made it; null where it is the base. */
  madeIn: Lane | null;
  /** Its hard edges and other marks, as steps that came before. */
  marks: ReadonlyArray<StepOfKind<'marks'>>;
  /** In the order they are run. */
  steps: ReadonlyArray<ShadeStep>;
}

export const isShading = (step: Step): step is Shading => step.kind === 'normals' || step.kind === 'cast';

/** A mesh with its shading by some steps. @param formed the piece before its cuts, which a cast may be from */
export function shadedBy(
  mesh: PolyMesh,
  formed: PolyMesh,
  steps: ReadonlyArray<Pick<ShadeStep, 'operands'> & { step: Shading | StepOfKind<'marks'> }>,
  watch: Watch = UNWATCHED,
): PolyMesh {
  return steps.reduce(
    (m, { step, operands }) =>
      STEPS[step.kind].run(m, step as never, {
        piece: { id: '' },
        operands: [...operands],
        formed,
        frame: IDENTITY,
        final: true,
        limits: LIMITS,
        meshOf: () => mesh,
        name: (made) => made,
        draft: false,
        watch,
        memory: {},
      }).mesh,
    mesh,
  );
}

const known = new WeakMap<ShadeLane, PolyMesh | null>();

/**
 * A piece before its cuts, shaded by its own steps: what its shading would be without them. Null where that cannot be
 * told: where it is cast from another piece, or only in places.
 */
export function shadedBefore({ formed, lane }: { formed: PolyMesh; lane: ShadeLane }): PolyMesh | null {
  let out = known.get(lane);
  if (out === undefined) {
    const anywhere = lane.steps.every(({ step, operands }) => !operands.length && !step.scope);
    const marks = lane.marks.map((step) => ({ step, operands: [] }));
    out = anywhere ? shadedBy(formed, formed, [...marks, ...lane.steps]) : null;
    known.set(lane, out);
  }
  return out;
}
