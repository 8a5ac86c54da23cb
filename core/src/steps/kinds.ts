/** The kinds of live step: their parameters, their lane, and what they do. */
import { Type, type Static } from 'typebox';
import { carryingList, reference } from '../document/references';
import { ScopeSchema } from './scope';

export const LANES = ['Form', 'Cut', 'Edge', 'Repeat', 'Bend', 'Smooth', 'Shade'] as const;
export type Lane = (typeof LANES)[number];

const common = {
  id: Type.Optional(Type.String({ minLength: 1, maxLength: 64 })),
  name: Type.Optional(Type.String({ maxLength: 120 })),
  off: Type.Optional(Type.Boolean()),
};
const strict = { additionalProperties: false };

export const CutStepSchema = Type.Object(
  {
    ...common,
    kind: Type.Literal('cut'),
    mode: Type.Union([Type.Literal('subtract'), Type.Literal('union'), Type.Literal('intersect')], {
      default: 'subtract',
      title: 'Mode',
    }),
    cutters: carryingList('pieces', 'operand', { minItems: 0, maxItems: 1000 }),
    /** Flat neighbours from different operands become one face. */
    join: Type.Optional(Type.Boolean({ title: 'Join flat neighbours', default: true })),
    /** Cutters that are switched off for now. */
    resting: Type.Optional(Type.Array(reference('pieces', 'mention'), { maxItems: 1000 })),
  },
  strict,
);

export const BevelStepSchema = Type.Object(
  {
    ...common,
    kind: Type.Literal('bevel'),
    scope: Type.Optional(ScopeSchema),
    width: Type.Number({ title: 'Width', unit: 'mm', minimum: 0.001, maximum: 10000, default: 2 }),
    segments: Type.Optional(
      Type.Integer({ title: 'Segments', unit: '', minimum: 1, maximum: 32, default: 3 }),
    ),
    profile: Type.Optional(Type.Number({ title: 'Profile', unit: '', minimum: -1, maximum: 2, default: 1 })),
    clamp: Type.Optional(Type.Boolean({ title: 'Stop where strips meet', default: true })),
  },
  strict,
);

/** Catmull–Clark: fewer levels while working, more in what is exported. */
export const SmoothStepSchema = Type.Object(
  {
    ...common,
    kind: Type.Literal('smooth'),
    levels: Type.Optional(Type.Integer({ title: 'Levels', unit: '', minimum: 0, maximum: 6, default: 2 })),
    exportLevels: Type.Optional(
      Type.Integer({ title: 'Levels exported', unit: '', minimum: 0, maximum: 6, default: 3 }),
    ),
    /** Points go where infinitely many levels would put them, with the normals there. */
    limit: Type.Optional(Type.Boolean({ title: 'On the limit surface', default: false })),
  },
  strict,
);

export const NormalsStepSchema = Type.Object(
  {
    ...common,
    kind: Type.Literal('normals'),
    hardAngle: Type.Optional(
      Type.Number({ title: 'Hard angle', unit: '°', minimum: 0, maximum: 180, default: 40 }),
    ),
    weight: Type.Optional(
      Type.Union([Type.Literal('angle'), Type.Literal('area'), Type.Literal('both')], {
        title: 'Weight by',
        default: 'area',
      }),
    ),
    rank: Type.Optional(Type.Boolean({ title: 'Large faces lead', default: true })),
    cutOff: Type.Optional(Type.Number({ title: 'Cut-off', unit: '', minimum: 0, maximum: 1, default: 0 })),
  },
  strict,
);

export const StepSchema = Type.Union([CutStepSchema, BevelStepSchema, SmoothStepSchema, NormalsStepSchema]);
export type CutStep = Static<typeof CutStepSchema>;
export type BevelStep = Static<typeof BevelStepSchema>;
export type SmoothStep = Static<typeof SmoothStepSchema>;
export type NormalsStep = Static<typeof NormalsStepSchema>;
export type Step = CutStep | BevelStep | SmoothStep | NormalsStep;
export type StepKind = Step['kind'];

export const STEP_SCHEMAS = {
  cut: CutStepSchema,
  bevel: BevelStepSchema,
  smooth: SmoothStepSchema,
  normals: NormalsStepSchema,
} as const;
export const LANE_OF: Record<StepKind, Lane> = {
  cut: 'Cut',
  bevel: 'Edge',
  smooth: 'Smooth',
  normals: 'Shade',
};
export const STEP_TITLES: Record<StepKind, string> = {
  cut: 'Cut',
  bevel: 'Round',
  smooth: 'Smooth',
  normals: 'Normals',
};

/** Steps in the order they are worked: by lane, and within a lane as they were added. */
export function inLaneOrder<S extends { kind: StepKind }>(steps: ReadonlyArray<S>): S[] {
  return steps
    .map((step, i) => ({ step, i, lane: LANES.indexOf(LANE_OF[step.kind]) }))
    .sort((a, b) => a.lane - b.lane || a.i - b.i)
    .map(({ step }) => step);
}
