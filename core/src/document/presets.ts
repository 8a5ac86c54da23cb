/** Presets: steps kept under a name, to be given to any piece; with a scene, or for all scenes of the workshop. */
import { Type } from 'typebox';
import { STEPS, StepSchema, type Step } from '../steps';
import { ReferenceWalker } from '../schema/references';
import { IdSchema, NameSchema } from './schema';

/** Steps a preset holds at most. */
const MOST_STEPS = 60;

export const PresetSchema = Type.Object(
  {
    id: IdSchema,
    name: Type.Optional(NameSchema),
    steps: Type.Array(StepSchema, { minItems: 1, maxItems: MOST_STEPS }),
  },
  { additionalProperties: false },
);

/** Every step is checked when it is given to a piece. */
export interface Preset {
  id: string;
  name?: string;
  steps: Step[];
}

const walker = new ReferenceWalker(StepSchema);

/**
 * Whether another piece can have a step: it looks to no other piece, and to nothing that was picked on this one.
 */
export function lendable(step: Step): boolean {
  const scopes = STEPS[step.kind].scopes?.(step as never) ?? [];
  return (
    step.kind !== 'hand' &&
    !walker.list(step).length &&
    !scopes.some(({ rule }) => rule === 'picked' || rule === 'kept')
  );
}

/** The parts of these steps that a preset can store: all but their names in the piece. */
export const presetSteps = (steps: ReadonlyArray<Step>): Step[] =>
  steps
    .filter(lendable)
    .slice(0, MOST_STEPS)
    .map(({ id: _, ...step }) => step as Step);
