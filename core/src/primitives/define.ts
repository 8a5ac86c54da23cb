/**
 * The contract of a primitive: everything the program knows of one stands in its file and comes from
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
  /** A fault beyond what the schema can express. */
  fault?(p: CompleteOf<K, P>): string | null;
  /** Its mesh, centred on the origin, Y up, mm. Assumes schema and `fault` were checked. */
  build(p: CompleteOf<K, P>): PolyMesh;
  /** How far it reaches down from its middle, mm; left out where it is flat. */
  foot?(p: CompleteOf<K, P>): number;
  /** On its mesh as it is built. */
  handles(p: CompleteOf<K, P>): ModelHandle[];
  /**
   * The key number for its bead.
   * @param n writes a number
   */
  key(p: CompleteOf<K, P>, n: (x: number) => string): string;
}

/** The origin of a primitive: in its middle, or under it so that it stands. */
const ORIGIN = {
  origin: Type.Optional(
    Type.Union([Type.Literal('middle'), Type.Literal('foot')], { title: 'Origin', default: 'middle' }),
  ),
};
type Own<P extends TProperties> = P & typeof ORIGIN;

export type PrimitiveKindOf<K extends string, P extends TProperties> = Readonly<
  PrimitiveDefinition<K, Own<P>>
> & {
  readonly schema: PrimitiveSchemaOf<K, Own<P>>;
};

export function definePrimitive<const K extends string, P extends TProperties>(
  d: PrimitiveDefinition<K, P>,
): PrimitiveKindOf<K, P> {
  type Complete = CompleteOf<K, Own<P>>;
  const params: Own<P> = { ...d.params, ...ORIGIN };
  const properties: { primitive: TLiteral<K> } & Own<P> = { primitive: Type.Literal(d.kind), ...params };
  const middle = (p: Complete): CompleteOf<K, P> => p as never;
  const lift = (p: Complete): number =>
    (p as { origin?: string }).origin === 'foot' ? (d.foot?.(middle(p)) ?? 0) : 0;
  return {
    ...(d as Offer),
    kind: d.kind,
    title: d.title,
    params,
    schema: Type.Object(properties, { additionalProperties: false }),
    ...(d.fault && { fault: (p: Complete) => d.fault!(middle(p)) }),
    ...(d.foot && { foot: (p: Complete) => d.foot!(middle(p)) }),
    key: (p, n) => d.key(middle(p), n),
    build: (p) => raised(d.build(middle(p)), lift(p)),
    handles: (p) =>
      d.handles(middle(p)).map((h) => {
        const up = lift(p);
        if (!up) return h;
        // The lift of a growing piece follows the hand.
        const more = { ...p, [h.key]: (p[h.key as keyof Complete] as number) + 1 };
        const rate = 1 / (1 / h.rate + h.along[1] * (lift(more) - up));
        return { ...h, at: [h.at[0], h.at[1] + up, h.at[2]], rate };
      }),
  };
}

const raised = (mesh: PolyMesh, by: number): PolyMesh =>
  by ? { ...mesh, positions: mesh.positions.map((x, i) => (i % 3 === 1 ? x + by : x)) } : mesh;
