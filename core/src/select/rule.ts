/** A way to say which elements are meant: one entry of the table of rules. */
import { Type, type Static, type TLiteral, type TObject, type TProperties } from 'typebox';
import type { PolyMesh } from '../mesh/PolyMesh';
import type { Selection } from './selection';

/** Inputs of a rule beside the mesh. */
export interface Given {
  /** Picks left by the action before; null when there is none. */
  last: Selection | null;
  /** A selection kept under a name. @throws OperationError `no-kept` */
  kept(name: string): Selection;
}

export type RuleSchema<K extends string, P extends TProperties> = TObject<{ rule: TLiteral<K> } & P>;

interface Definition<K extends string, P extends TProperties> {
  rule: K;
  /** Its name as a choice on the Card. */
  title: string;
  /** A word or two for its button; the rule's name by default. */
  label?: string;
  keys: P;
  /** The Card offers it for steps, with these first values. */
  first?: Static<RuleSchema<K, P>>;
  /** The elements meant, ascending. @throws OperationError */
  pick(mesh: PolyMesh, rule: Static<RuleSchema<K, P>>, given: Given): Selection;
}

export type Rule<K extends string, P extends TProperties> = Readonly<Definition<K, P>> & {
  readonly schema: RuleSchema<K, P>;
};

export function defineRule<const K extends string, P extends TProperties>(d: Definition<K, P>): Rule<K, P> {
  const schema = Type.Object(
    { rule: Type.Literal(d.rule), ...d.keys },
    { additionalProperties: false, title: d.title },
  ) as unknown as RuleSchema<K, P>;
  return { ...d, schema };
}
