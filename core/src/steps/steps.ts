/** What the program asks of steps: their types, schemas, lanes and titles, all from the list of kinds. */
import { Type, type Static, type TSchema } from 'typebox';
import { keptName } from '../document/kept';
import type { Piece } from '../document/schema';
import { OperationError } from '../mesh/errors';
import type { Matrix } from '../mesh/transform';
import { frameAbout } from './about';
import type { Adds, StepDefinition, StepField } from './define';
import { STEP_LIST } from './kinds';
import { LANES, type Lane } from './lanes';

export { LANES, type Lane } from './lanes';
export { activeCutters } from './kinds/cut';

export type Step = Static<(typeof STEP_LIST)[number]['schema']>;
export type StepKind = Step['kind'];
export type StepOfKind<K extends StepKind> = Extract<Step, { kind: K }>;
export type CutStep = StepOfKind<'cut'>;

/** A kind as one who does not know which one sees it. */
export interface AnyStepKind extends Omit<
  StepDefinition<string, never>,
  'fields' | 'example' | 'adds' | 'params'
> {
  kind: StepKind;
  example: Step;
  adds?: ReadonlyArray<Adds<Step>>;
  fields: ReadonlyArray<StepField<Step>>;
  schema: TSchema & { properties: Record<string, TSchema> };
}

export const STEPS = Object.fromEntries(STEP_LIST.map((d) => [d.kind, d])) as unknown as Readonly<
  Record<StepKind, AnyStepKind>
>;

type SchemasOf<L extends ReadonlyArray<{ schema: TSchema }>> = { -readonly [I in keyof L]: L[I]['schema'] };
export const StepSchema = Type.Union(
  STEP_LIST.map((d) => d.schema) as unknown as SchemasOf<typeof STEP_LIST>,
);

export const laneOf = (step: { kind: StepKind }): Lane => STEPS[step.kind].lane;

/** Steps in the order they are worked: by lane, and within a lane as they were added. */
export function inLaneOrder<S extends { kind: StepKind }>(steps: ReadonlyArray<S>): S[] {
  return steps
    .map((step, i) => ({ step, i, lane: LANES.indexOf(laneOf(step)) }))
    .sort((a, b) => a.lane - b.lane || a.i - b.i)
    .map(({ step }) => step);
}

/** Whether what the step makes depends on where its piece stands among others. */
export function heedsPlace(step: Step): boolean {
  const { operands, about } = STEPS[step.kind];
  if (operands) return true;
  if (!about || !('about' in step)) return false;
  return (step.about ?? 'piece') !== 'piece';
}

/** The piece a step works about, if it names one. */
export const aboutPiece = (step: Step): string | null =>
  'about' in step && typeof step.about === 'object' ? step.about.piece : null;

/** From the frame a step works about to its piece's; null where it names none, or one that is not there. */
export function frameOfStep(pieces: ReadonlyMap<string, Piece>, piece: string, step: Step): Matrix | null {
  const { about } = STEPS[step.kind];
  try {
    return about ? frameAbout(pieces, piece, about(step as never)) : null;
  } catch (e) {
    if (e instanceof OperationError) return null;
    throw e;
  }
}

/** Names of the kept selections that a piece's steps ask for. */
export function keptForSteps(piece: Piece): string[] {
  const scopes = (piece.steps ?? []).flatMap((s) => STEPS[s.kind].scopes?.(s as never) ?? []);
  return [...new Set(scopes.flatMap((scope) => keptName(scope) ?? []))];
}
