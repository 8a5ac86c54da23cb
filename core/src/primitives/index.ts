/**
 * Parametric primitives, centred on their origin, Y up, millimetres. Every one is closed except plane and disc, and a
 * cylinder with caps "none". A new one is a file beside these and a line in this list.
 */
import type { Static, TObject } from 'typebox';
import type { ModelHandle } from '../handle';
import type { PolyMesh } from '../mesh/PolyMesh';
import type { Offer } from '../offers';
import { box } from './box';
import { cone } from './cone';
import { cylinder } from './cylinder';
import { disc } from './disc';
import { outline } from './outline';
import { plane } from './plane';
import { plate } from './plate';
import { prism } from './prism';
import { quadSphere } from './quadSphere';
import { slot } from './slot';
import { sphere } from './sphere';
import { text } from './text';
import { torus } from './torus';
import { tube } from './tube';

const ALL = [
  box,
  cylinder,
  cone,
  sphere,
  quadSphere,
  torus,
  tube,
  plane,
  disc,
  plate,
  slot,
  prism,
  outline,
  text,
] as const;

type Kinds = (typeof ALL)[number];
export type PrimitiveKind = Kinds['kind'];
export type Primitive = Static<Kinds['schema']>;

/** A kind as seen by what works with all of them. */
interface AnyPrimitive extends Offer {
  kind: PrimitiveKind;
  title: string;
  schema: TObject;
  fault?(p: Primitive): string | null;
  build(p: Primitive): PolyMesh;
  foot?(p: Primitive): number;
  handles(p: Primitive): ModelHandle[];
  key(p: Primitive, n: (x: number) => string): string;
}

export const PRIMITIVES = Object.fromEntries(ALL.map((k) => [k.kind, k])) as unknown as Readonly<
  Record<PrimitiveKind, AnyPrimitive>
>;
export const PRIMITIVE_KINDS: ReadonlyArray<PrimitiveKind> = ALL.map((k) => k.kind);
type SchemasOf<T extends ReadonlyArray<{ schema: unknown }>> = { -readonly [I in keyof T]: T[I]['schema'] };
export const PRIMITIVE_SCHEMAS = ALL.map((k) => k.schema) as SchemasOf<typeof ALL>;

/** Builds the mesh of a primitive. Assumes schema and `primitiveFault` were checked. */
export const buildPrimitive = (p: Primitive): PolyMesh => PRIMITIVES[p.primitive].build(completePrimitive(p));

/** The fault of a primitive beyond what its schema can express, or null. */
export const primitiveFault = (p: Primitive): string | null =>
  PRIMITIVES[p.primitive].fault?.(completePrimitive(p)) ?? null;

/** How far it reaches below its origin, mm; of a round one, its true body. */
export function reachBelow(p: Primitive): number {
  const whole = completePrimitive(p);
  return 'origin' in whole && whole.origin === 'foot' ? 0 : (PRIMITIVES[p.primitive].foot?.(whole) ?? 0);
}

/** The primitive with every default filled in, in the schema's field order. */
export function completePrimitive<P extends Primitive>(p: P): Required<P> {
  const out: Record<string, unknown> = {};
  const fields = PRIMITIVES[p.primitive].schema.properties as Record<string, { default?: unknown }>;
  for (const key in fields)
    out[key] = (p as Record<string, unknown>)[key] ?? structuredClone(fields[key].default);
  out.primitive = p.primitive;
  return out as Required<P>;
}

/** A primitive of a kind with all its first values, its lengths so many times as long. */
export function firstPrimitive(kind: PrimitiveKind, scale = 1): Primitive {
  const p = completePrimitive({ primitive: kind } as Primitive);
  const fields = PRIMITIVES[kind].schema.properties as Record<string, { unit?: string; minimum?: number }>;
  const long = Object.entries(p).map(([key, x]) => {
    const { unit, minimum = -Infinity } = fields[key] ?? {};
    const scaled = unit === 'mm' && typeof x === 'number' ? Math.max(minimum, x * scale) : x;
    return [key, typeof scaled === 'number' ? Number(scaled.toPrecision(9)) : scaled];
  });
  return Object.fromEntries(long) as Primitive;
}
