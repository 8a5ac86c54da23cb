/**
 * Parametric primitives, centred on their origin, Y up, millimetres. Every one is closed except plane and
 * disc, and a cylinder with caps "none".
 */
import { Type, type Static, type TProperties } from 'typebox';

const length = (title: string, initial: number, minimum = 0.001) =>
  Type.Number({ title, unit: 'mm', minimum, maximum: 100000, default: initial });
const count = (title: string, initial: number, minimum: number, maximum = 1024) =>
  Type.Integer({ title, unit: '', minimum, maximum, default: initial });
const segments = (axes: number, maximum: number) =>
  Type.Array(Type.Integer({ minimum: 1, maximum }), {
    title: 'Segments',
    minItems: axes,
    maxItems: axes,
    default: Array<number>(axes).fill(1),
  });
const schemaOf = <K extends string, T extends TProperties>(kind: K, properties: T) =>
  Type.Object({ primitive: Type.Literal(kind), ...properties }, { additionalProperties: false });

export const BoxSchema = schemaOf('box', {
  width: length('Width', 100),
  height: length('Height', 100),
  depth: length('Depth', 100),
  segments: Type.Optional(segments(3, 256)),
});
export const CylinderSchema = schemaOf('cylinder', {
  radius: length('Radius', 50),
  height: length('Height', 100),
  sides: Type.Optional(count('Sides', 32, 3)),
  rings: Type.Optional(count('Rings', 1, 1, 512)),
  caps: Type.Optional(
    Type.Union([Type.Literal('ngon'), Type.Literal('fan'), Type.Literal('none')], {
      title: 'Caps',
      default: 'ngon',
    }),
  ),
});
export const ConeSchema = schemaOf('cone', {
  bottomRadius: length('Bottom radius', 50, 0),
  topRadius: length('Top radius', 0, 0),
  height: length('Height', 100),
  sides: Type.Optional(count('Sides', 32, 3)),
});
export const SphereSchema = schemaOf('sphere', {
  radius: length('Radius', 50),
  sides: Type.Optional(count('Sides', 32, 3)),
  rings: Type.Optional(count('Rings', 16, 2, 512)),
});
export const QuadSphereSchema = schemaOf('quadSphere', {
  radius: length('Radius', 50),
  divisions: Type.Optional(count('Divisions', 8, 1, 128)),
});
export const TorusSchema = schemaOf('torus', {
  radius: length('Radius', 50),
  tubeRadius: length('Tube radius', 12),
  sides: Type.Optional(count('Sides', 48, 3)),
  tubeSides: Type.Optional(count('Tube sides', 16, 3, 512)),
});
export const TubeSchema = schemaOf('tube', {
  outerRadius: length('Outer radius', 50),
  innerRadius: length('Inner radius', 35),
  height: length('Height', 60),
  sides: Type.Optional(count('Sides', 48, 3)),
});
export const PlaneSchema = schemaOf('plane', {
  width: length('Width', 100),
  depth: length('Depth', 100),
  segments: Type.Optional(segments(2, 512)),
});
export const DiscSchema = schemaOf('disc', {
  radius: length('Radius', 50),
  sides: Type.Optional(count('Sides', 32, 3)),
});

/** Schema of every primitive by kind: the source of validation, Card fields and docs. */
export const PRIMITIVES = {
  box: BoxSchema,
  cylinder: CylinderSchema,
  cone: ConeSchema,
  sphere: SphereSchema,
  quadSphere: QuadSphereSchema,
  torus: TorusSchema,
  tube: TubeSchema,
  plane: PlaneSchema,
  disc: DiscSchema,
} as const;

export type PrimitiveKind = keyof typeof PRIMITIVES;
export type Primitive = { [K in PrimitiveKind]: Static<(typeof PRIMITIVES)[K]> }[PrimitiveKind];

export const PRIMITIVE_TITLES: Record<PrimitiveKind, string> = {
  box: 'Box',
  cylinder: 'Cylinder',
  cone: 'Cone',
  sphere: 'Sphere',
  quadSphere: 'Quad sphere',
  torus: 'Torus',
  tube: 'Tube',
  plane: 'Plane',
  disc: 'Disc',
};

/** What is wrong with a primitive beyond what its schema can say, or null. */
export function primitiveFault(p: Primitive): string | null {
  if (p.primitive === 'tube' && p.innerRadius >= p.outerRadius)
    return 'The inner radius of a tube must be smaller than its outer radius.';
  if (p.primitive === 'torus' && p.tubeRadius >= p.radius)
    return 'The tube radius of a torus must be smaller than its radius, or the surface crosses itself.';
  if (p.primitive === 'cone' && p.bottomRadius < 0.001 && p.topRadius < 0.001)
    return 'A cone needs a bottom or a top radius of at least 0.001 mm.';
  return null;
}

/** The primitive with every default filled in, in the schema's field order. */
export function completePrimitive<P extends Primitive>(p: P): Required<P> {
  const out: Record<string, unknown> = {};
  const fields = PRIMITIVES[p.primitive].properties as Record<string, { default?: unknown }>;
  for (const key in fields)
    out[key] = (p as Record<string, unknown>)[key] ?? structuredClone(fields[key].default);
  out.primitive = p.primitive;
  return out as Required<P>;
}
