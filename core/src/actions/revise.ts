/**
 * Edits of a base done over: some with other numbers, left out, taken away or put elsewhere. Those that come after are
 * on what they were on: their picks are said by birth, as they stood before each of them.
 */
import type { PolyMesh } from '../mesh/PolyMesh';
import { bornOf, findBorn } from '../select/born';
import { KIND_OF, selectionOf, WORD_OF, type Kinds, type Selection } from '../select/selection';
import { withKeys, type Action, type ActionRun } from './actions';
import type { Kept } from '../select/kept';

/** One of the edits there were, as it is to be now. */
export interface Redone {
  /** Its place among those before. */
  of: number;
  change?: Record<string, unknown>;
}

export interface Edits {
  actions: Action[];
  selections?: Record<string, Kept>;
}

type Listed = Exclude<Kept, { picks: unknown }>;

/**
 * The edits as they are to be, with kept selections as they are then.
 * @param run works edits of this piece; asked for its meshes before and after
 */
export function revised(base: PolyMesh, before: Edits, order: ReadonlyArray<Redone>, run: ActionRun): Edits {
  const named = withKeys(before.actions);
  const first = order.findIndex((o, i) => o.of !== i || o.change !== undefined);
  const same = first < 0 ? order.length : first;
  const meshBefore = (i: number): PolyMesh =>
    run.run(base, before.actions.slice(0, i), before.selections ?? {}).mesh;
  // An edit in its old place still has the mesh its picks belong to.
  const asked = order
    .map((o, i) => ({ ...o, i }))
    .filter(({ of, i }) => i > same || (i === same && of !== i))
    .sort((a, b) => a.of - b.of);
  const selects = new Map(asked.map(({ of }) => [of, lasting(named[of], () => meshBefore(of))]));
  const kept = Object.entries(before.selections ?? {}).map(([name, k]) => {
    if ('picks' in k || (k.after ?? before.actions.length) <= same) return { name, kept: k, born: null };
    const after = k.after ?? before.actions.length;
    const { after: _, ...list } = k;
    const [word, indices] = Object.entries(list)[0] as [Kinds, number[]];
    return { name, kept: k, born: bornOf(meshBefore(after), selectionOf(KIND_OF[word], indices)) };
  });
  const actions = order.map(({ of, change }) => ({
    ...named[of],
    select: selects.get(of) ?? named[of].select,
    ...change,
  }));
  const selections = Object.fromEntries(
    kept.map(({ name, kept: k, born }) => {
      if (!born) return [name, k];
      const after = order.filter((o) => o.of < ((k as Listed).after ?? before.actions.length)).length;
      const { mesh } = run.run(base, actions.slice(0, after), {});
      return [name, { ...listOf(findBorn(mesh, born).selection), after } as Kept];
    }),
  );
  return { actions, ...(before.selections && { selections }) };
}

const listOf = ({ kind, indices }: Selection) => ({ [WORD_OF[kind]]: [...indices] });

/** The selection of an action, by birth where it was a list of elements. */
function lasting({ select }: Action, mesh: () => PolyMesh): Action['select'] {
  if ('rule' in select) return select;
  const [word, indices] = Object.entries(select)[0] as [Kinds, number[]];
  return { rule: 'picked', ...bornOf(mesh(), selectionOf(KIND_OF[word], indices)) };
}
