/** All kinds of live step. A new one is a file beside these and a line in this list. */
import { Type, type Static, type TSchema } from 'typebox';
import { bent } from './bent';
import { bevel } from './bevel';
import { cast } from './cast';
import { cut } from './cut';
import type { Adds, StepDefinition, StepField } from './define';
import { hand } from './hand';
import { LANES, type Lane } from './lanes';
import { marks } from './marks';
import { mirror } from './mirror';
import { normals } from './normals';
import { repeat } from './repeat';
import { smooth } from './smooth';

export { LANES, type Lane } from './lanes';
export { activeCutters, cutBy, cutWith, halvesOf, needsThickness, withOneMoreCutter } from './cut';
export { editsOfStep, handStep } from './hand';

const ALL = [cut, bevel, marks, repeat, mirror, hand, smooth, normals, cast, bent] as const;

export type Step = Static<(typeof ALL)[number]['schema']>;
export type StepKind = Step['kind'];
export type StepOfKind<K extends StepKind> = Extract<Step, { kind: K }>;
export type CutStep = StepOfKind<'cut'>;
export type HandStep = StepOfKind<'hand'>;

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

export const STEPS = Object.fromEntries(ALL.map((d) => [d.kind, d])) as unknown as Readonly<
  Record<StepKind, AnyStepKind>
>;

type SchemasOf<L extends ReadonlyArray<{ schema: TSchema }>> = { -readonly [I in keyof L]: L[I]['schema'] };
export const StepSchema = Type.Union(ALL.map((d) => d.schema) as unknown as SchemasOf<typeof ALL>);

export const laneOf = (step: { kind: StepKind; pin?: Lane }): Lane => step.pin ?? STEPS[step.kind].lane;

/** Steps in the order they are worked: by lane, and within a lane as they were added. */
export function inLaneOrder<S extends { kind: StepKind; pin?: Lane }>(steps: ReadonlyArray<S>): S[] {
  return steps
    .map((step, i) => ({ step, i, lane: LANES.indexOf(laneOf(step)) }))
    .sort((a, b) => a.lane - b.lane || a.i - b.i)
    .map(({ step }) => step);
}

/** The step works about something fixed in the world, so what it makes depends on where its piece stands. */
export const heedsWorld = (step: Step): boolean => worksAbout(step) && aboutPiece(step) === null;

/** The step works about something outside its own piece. */
export const worksAbout = (step: Step): boolean =>
  Boolean(STEPS[step.kind].about) && 'about' in step && (step.about ?? 'piece') !== 'piece';

/** The piece a step works about, if it names one. */
export const aboutPiece = (step: Step): string | null =>
  'about' in step && typeof step.about === 'object' && 'piece' in step.about ? step.about.piece : null;

/** A step's name among those of its piece. @param index its place in the piece's own list */
export const stepName = (step: { id?: string }, index: number): string => step.id ?? String(index);
