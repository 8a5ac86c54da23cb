/** Where a mesh comes from: a primitive's numbers, a file beside a recipe, or a stored mesh. */
import { Type, type Static } from 'typebox';
import { PRIMITIVE_SCHEMAS } from '../primitives';
import { meshReference } from './references';

const strict = { additionalProperties: false };

export const FileBaseSchema = Type.Object({ file: Type.String({ minLength: 1, maxLength: 1024 }) }, strict);
/** A stored mesh, by the hash of its bytes. */
export const BlobBaseSchema = Type.Object({ blob: meshReference() }, strict);

const MESHES = [...PRIMITIVE_SCHEMAS, FileBaseSchema, BlobBaseSchema] as const;

export const MeshBaseSchema = Type.Union([...MESHES]);
export type MeshBase = Static<typeof MeshBaseSchema>;

/** A piece that only groups others. */
export const GroupBaseSchema = Type.Object({ group: Type.Literal(true) }, strict);
export const BaseSchema = Type.Union([...MESHES, GroupBaseSchema]);

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
