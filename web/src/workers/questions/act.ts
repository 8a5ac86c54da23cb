/** Tries an action on the edited mesh. */
import { applyAction, type Action } from '@urnsmith/core/actions/actions';
import type { PolyMesh } from '@urnsmith/core/mesh/PolyMesh';
import { bornOf } from '@urnsmith/core/select/born';
import { noKept, resolveSelect, type Select } from '@urnsmith/core/select/rules';
import type { Selection } from '@urnsmith/core/select/selection';
import { defineQuestion, type Selected } from './define';

export const act = defineQuestion('act', ({ action }: { action: Action }, of): Selected => {
  const { id, mesh, last, evaluator, limits } = of;
  const kept = (name: string): Selection => {
    const s = evaluator.piece(id).selections?.[name];
    if (!s) throw noKept(name);
    return evaluator.recall(id, s).selection;
  };
  const { selection, counts, warnings } = applyAction(
    mesh,
    action,
    { last, kept },
    { meshOf: evaluator.meshOf, limits },
  );
  const { select } = action;
  return {
    selection,
    counts,
    warnings,
    select: of.built && !('rule' in select) ? born(mesh, select) : select,
  };
});

const born = (mesh: PolyMesh, select: Select): Select => ({
  rule: 'picked',
  ...bornOf(mesh, resolveSelect(mesh, select)),
});
