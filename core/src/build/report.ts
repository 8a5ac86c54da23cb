/** The report of a build and of each of its steps. */
import type { ActionReport } from '../actions/actions';
import type { AnchoredPiece } from '../select/anchor';
import type { Makers } from '../births/Makers';
import type { ShadeLane } from './shadeLane';
import type { IdleCutter } from '../cutting/idle';
import type { Fault, Warning } from '../mesh/errors';
import type { PolyMesh } from '../mesh/PolyMesh';
import type { Counts } from '../ops/operation';
import type { Pull } from '../ops/pulls';
import type { Selection } from '../select/selection';
import type { EdgeGroup } from '../steps/define';
import type { Step } from '../steps';

export interface StepReport {
  /** The step's place in the piece's own list. */
  index: number;
  kind: Step['kind'];
  /** Time this evaluation spent on it, ms; 0 when its cached result served. */
  ms: number;
  /** The key number for its bead, e.g. `−12` or `2 mm`. */
  key: string;
  counts: Counts;
  /** Things a person should look at; the result still stands. */
  warnings: Warning[];
  /** The outcome in a sentence, where its key is not enough. */
  says?: string;
  /** For roundings: the outcome of each run of connected edges. */
  groups?: EdgeGroup[];
  /** The edges it takes, for lighting them up: 6 numbers each, in the piece's frame. */
  lines?: Float64Array;
  /** Its numbers that are pulled on the model, in the piece's frame. */
  pulls?: Pull[];
  /** For steps of edits: the report of each, and the picks the last one left. */
  actions?: ActionReport[];
  picked?: Selection | null;
  idle?: IdleCutter[];
  /** Placements of its anchored operands. */
  anchored?: AnchoredPiece[];
  fault?: Fault;
}

export interface BuildResult {
  mesh: PolyMesh;
  /** The piece before its cuts and roundings. */
  formed: PolyMesh;
  /** Its shading, to be tried otherwise. */
  lane: ShadeLane;
  steps: StepReport[];
  /** The result of each active step, or why it has none. It is the same object as before if nothing was built. */
  results: ReadonlyArray<object | string>;
  /** The base with its actions, before any step. */
  base: PolyMesh;
  actions: ActionReport[];
  /** Picks left by the last action. */
  picked: Selection | null;
  /** Resolves the makers of its faces. */
  makers: Makers;
  /** Made quickly for a hand that is at it, and not yet whole. */
  draft: boolean;
}
