/** The source of a mesh: a primitive's numbers, a file beside a recipe, or a stored mesh. */
import { Type, type Static } from 'typebox';
import { PRIMITIVE_SCHEMAS } from '.';
import { meshReference, reference } from '../schema/references';

const strict = { additionalProperties: false };

export const FileBaseSchema = Type.Object({ file: Type.String({ minLength: 1, maxLength: 1024 }) }, strict);
/** A stored mesh, by the hash of its bytes. */
export const BlobBaseSchema = Type.Object({ blob: meshReference() }, strict);

const MESHES = [...PRIMITIVE_SCHEMAS, FileBaseSchema, BlobBaseSchema] as const;

export const MeshBaseSchema = Type.Union([...MESHES]);
export type MeshBase = Static<typeof MeshBaseSchema>;

/** A piece that only groups others. */
export const GroupBaseSchema = Type.Object({ group: Type.Literal(true) }, strict);
/** A piece that shares the base and build of another and has its own place. */
export const TwinBaseSchema = Type.Object({ twin: reference('pieces', 'source') }, strict);
/** The material a cut took out of a piece, in that piece's frame. */
export const TakenBaseSchema = Type.Object(
  {
    taken: reference('pieces', 'source'),
    /** The id of the cut among the piece's steps. */
    step: Type.String({ minLength: 1, maxLength: 64 }),
    /** Only what this cutter took; what all of them took when left out. */
    cutter: Type.Optional(reference('pieces', 'mention')),
    /** How far its walls stay off those of the cut, mm. */
    clearance: Type.Optional(
      Type.Number({ title: 'Clearance', unit: 'mm', minimum: 0, maximum: 1000, default: 0 }),
    ),
  },
  strict,
);
export type TakenBase = Static<typeof TakenBaseSchema>;
export const BaseSchema = Type.Union([...MESHES, GroupBaseSchema, TwinBaseSchema, TakenBaseSchema]);

/** Whether it is a mesh by itself, and not by way of other pieces. */
export const isMeshBase = (base: Static<typeof BaseSchema>): base is MeshBase =>
  'primitive' in base || 'file' in base || 'blob' in base;

/** Another mesh an operation looks to, in the frame of the piece it acts on. */
export const SurfaceSchema = Type.Object(
  {
    base: MeshBaseSchema,
    /** Column-major, from the surface's frame into the piece's; in place without. */
    place: Type.Optional(Type.Array(Type.Number(), { minItems: 16, maxItems: 16 })),
  },
  { ...strict, title: 'Surface' },
);
export type Surface = Static<typeof SurfaceSchema>;
