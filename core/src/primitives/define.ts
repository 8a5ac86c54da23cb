/**
 * The contract of a primitive: everything the program knows of one stands in its file under `kinds/` and comes from
 * there to the schemas, the checks, the Card, the bead, the handles on the model and the commands.
 */
import { Type, type Static, type TLiteral, type TObject, type TProperties } from 'typebox';
import type { ModelHandle } from '../handle';
import type { PolyMesh } from '../mesh/PolyMesh';
import type { Offer } from '../offers';

export type PrimitiveSchemaOf<K extends string, P extends TProperties> = TObject<
  { primitive: TLiteral<K> } & P
>;
export type PrimitiveOf<K extends string, P extends TProperties> = Static<PrimitiveSchemaOf<K, P>>;
/** With every default filled in. */
export type CompleteOf<K extends string, P extends TProperties> = Required<PrimitiveOf<K, P>>;

export interface PrimitiveDefinition<K extends string, P extends TProperties> extends Offer {
  kind: K;
  title: string;
  /** Parameters, all with defaults. */
  params: P;
  /** What is wrong beyond what the schema can say. */
  fault?(p: CompleteOf<K, P>): string | null;
  /** Its mesh, centred on the origin, Y up, mm. Assumes schema and `fault` were checked. */
  build(p: CompleteOf<K, P>): PolyMesh;
  handles(p: CompleteOf<K, P>): ModelHandle[];
  /**
   * The key number for its bead.
   * @param n writes a number
   */
  key(p: CompleteOf<K, P>, n: (x: number) => string): string;
}

export type PrimitiveKindOf<K extends string, P extends TProperties> = Readonly<PrimitiveDefinition<K, P>> & {
  readonly schema: PrimitiveSchemaOf<K, P>;
};

export function definePrimitive<const K extends string, P extends TProperties>(
  d: PrimitiveDefinition<K, P>,
): PrimitiveKindOf<K, P> {
  const properties: { primitive: TLiteral<K> } & P = { primitive: Type.Literal(d.kind), ...d.params };
  return { ...d, schema: Type.Object(properties, { additionalProperties: false }) };
}
