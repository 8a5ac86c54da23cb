/** Kept selections: elements under a name, which follow what is done to the piece after they were kept. */
import { Type } from 'typebox';
import type { ElementMap, ElementMaps } from '../mesh/lineage';
import { KEPT } from '../mesh/layerKinds';
import type { PolyMesh } from '../mesh/PolyMesh';
import { elementCount, KIND_OF, maskOf, selectionOf, type Kinds, type Selection } from './selection';
import { BornPicksSchema, findBorn, type BornSelect } from './born';
import { KindsSchema, LIST_SCHEMAS, type Scope, type Select } from './rules';

/**
 * Elements of the base as it was after so many of its actions, after all there are when that is left out; or elements
 * of what the build has made, by birth.
 */
export type Kept =
  (({ faces: number[] } | { edges: number[] } | { points: number[] }) & { after?: number }) | BornSelect;
const after = Type.Optional(Type.Integer({ minimum: 0, maximum: 5000 }));
export const KeptSchema = Type.Unsafe<Kept>(
  Type.Union([
    ...Object.values(LIST_SCHEMAS).map((list) =>
      Type.Object({ ...list.properties, after }, { additionalProperties: false }),
    ),
    Type.Object({ of: KindsSchema, picks: BornPicksSchema }, { additionalProperties: false }),
  ]),
);

export interface Recalled {
  selection: Selection;
  /** The number of elements of which nothing is left. */
  lost: number;
}

/**
 * Follows kept elements through later actions.
 * @param mesh as it is now
 * @param maps of the actions since they were kept, in order
 */
export function recalled(kept: Kept, mesh: PolyMesh, maps: ReadonlyArray<ElementMaps>): Recalled {
  if ('picks' in kept) {
    const { selection, lost } = findBorn(mesh, kept);
    return { selection, lost: lost.length };
  }
  const { after: _, ...list } = kept;
  const [word, indices] = Object.entries(list)[0] as [Kinds, number[]];
  const { kind } = selectionOf(KIND_OF[word], []);
  const since = maps.map((m) => m[kind]);
  const whole = since.length ? since.reduce((a: ElementMap, b) => a.then(b)) : null;
  const now = whole ? whole.follow(indices) : indices;
  const n = elementCount(mesh, kind);
  const there = now.filter((i) => i < n);
  const lost = (whole?.lost(indices).length ?? 0) + now.length - there.length;
  return { selection: selectionOf(kind, there), lost };
}

/** The name of the kept selection a rule means; null for another rule. */
export const keptName = (rule: Scope | Select | undefined): string | null =>
  rule && 'rule' in rule && rule.rule === 'kept' ? rule.name : null;

/**
 * A step whose scopes name selections that were kept by birth, with what these mean in their place; such elements are
 * none of the base, so nothing can be marked there.
 */
export function withBornScopes<S extends object>(
  step: S,
  selections: Readonly<Record<string, Kept>> = {},
): S {
  const entries = Object.entries(step).map(([key, value]): [string, unknown] => {
    const name = typeof value === 'object' ? keptName(value as Scope) : null;
    const kept = name !== null && Object.hasOwn(selections, name) ? selections[name] : null;
    return [key, kept && 'picks' in kept ? { rule: 'picked', ...kept } : value];
  });
  return Object.fromEntries(entries) as S;
}

/** The mesh with selections marked in layers of their names, so that steps find them in whatever becomes of it. */
export function withKept(mesh: PolyMesh, selections: ReadonlyMap<string, Selection>): PolyMesh {
  const layers = { ...mesh.layers };
  for (const [name, s] of selections)
    layers[s.kind] = { ...layers[s.kind], [KEPT + name]: { size: 1, data: maskOf(mesh, s) } };
  return { ...mesh, layers };
}
