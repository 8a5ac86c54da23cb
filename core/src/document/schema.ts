/** The stored scene and the recipe: one JSON shape for the library, the evaluator and the command line. */
import { NAME_LIMIT } from './names';
import { Type, type Static } from 'typebox';
import { StepSchema } from '../steps';
import { KeptSchema, type Kept } from '../select/kept';
import { ActionSchema } from '../actions/actions';
import { AnchorSchema, ReachSchema } from '../select/anchor';
import { BaseSchema } from '../primitives/base';
import { reference } from '../schema/references';
import { TransformSchema } from '../schema/transform';

const strict = { additionalProperties: false };
export type { Kept };

export const IdSchema = Type.String({ minLength: 1, maxLength: 64, pattern: '^[A-Za-z0-9_.-]+$' });
export const NameSchema = Type.String({ minLength: 1, maxLength: NAME_LIMIT });

export const PieceSchema = Type.Object(
  {
    id: IdSchema,
    name: Type.Optional(NameSchema),
    role: Type.Optional(Type.Union([Type.Literal('solid'), Type.Literal('cutter'), Type.Literal('guide')])),
    parent: Type.Optional(reference('pieces', 'parent')),
    base: BaseSchema,
    /** Direct operations on the base, in order. */
    actions: Type.Optional(Type.Array(ActionSchema, { maxItems: 5000 })),
    /** Named selections of the base's elements; they follow the actions that come after. */
    selections: Type.Optional(Type.Record(Type.String({ minLength: 1, maxLength: 60 }), KeptSchema)),
    transform: Type.Optional(TransformSchema),
    steps: Type.Optional(Type.Array(StepSchema, { maxItems: 200 })),
    color: Type.Optional(Type.String({ pattern: '^#[0-9a-f]{6}$' })),
    hidden: Type.Optional(Type.Boolean()),
    faint: Type.Optional(Type.Boolean()),
    locked: Type.Optional(Type.Boolean()),
    /** Its anchors on the piece it is nested in and cuts. */
    anchors: Type.Optional(Type.Array(AnchorSchema, { maxItems: 12 })),
    reach: Type.Optional(ReachSchema),
    /** A cutter that is not nested in what it cuts. */
    staysInWorld: Type.Optional(Type.Boolean()),
  },
  strict,
);

export const RecipeSchema = Type.Object(
  {
    /** Version of the document's form; 1 when left out, the form recipes have always had. */
    version: Type.Optional(Type.Integer({ minimum: 1 })),
    units: Type.Optional(Type.Literal('mm')),
    pieces: Type.Array(PieceSchema, { maxItems: 5000 }),
    export: Type.Optional(Type.Array(Type.String({ maxLength: 64 }), { maxItems: 5000 })),
  },
  strict,
);

export type Piece = Static<typeof PieceSchema>;
export type Base = Piece['base'];
export type Recipe = Static<typeof RecipeSchema>;
