/** By hand: direct edits on what is built so far, their picks kept by birth. */
import { Type } from 'typebox';
import { ActionRun, ActionSchema, type Action } from '../actions/actions';
import { keptName } from '../select/kept';
import { joinedMaps } from '../mesh/lineage';
import { counted } from '../ops/operation';
import { OPERATIONS } from '../ops/index';
import type { Scope } from '../select/rules';
import { defineStep, type StepOf } from './define';

/** The actions worked so far, to go on from; only those that changed are worked again. */
interface Kept {
  run: ActionRun;
}

export const hand = defineStep({
  kind: 'hand',
  title: 'By hand',
  lane: 'Form',
  example: {
    kind: 'hand',
    actions: [{ op: 'inset', select: { rule: 'facing', direction: [0, 1, 0] }, thickness: 2 }],
  },
  params: { actions: Type.Array(ActionSchema, { title: 'Edits', maxItems: 5000 }) },
  fields: [{ key: 'actions', as: 'edits' }],
  scopes: ({ actions }) =>
    actions.flatMap(({ select }) => (keptName(select) === null ? [] : [select as Scope])),
  run(mesh, { actions }, { meshOf, limits, name, memory }) {
    const { run } = (memory.kept ??= { run: new ActionRun({ meshOf, limits }, name) }) as Kept;
    const done = run.run(mesh, actions);
    const faults = done.reports.flatMap((r) => (r.fault ? [{ op: r.op, ...r.fault }] : []));
    return {
      mesh: done.mesh,
      key: counted(actions.length, 'edit'),
      counts: { edits: actions.length - faults.length },
      warnings: [
        ...faults.map(({ op, code, message, lines }) => ({
          code,
          message: `${OPERATIONS[op].title}: ${message}`,
          lines,
        })),
        ...done.reports.flatMap((r) =>
          (r.warnings ?? []).map(({ code, message, lines }) => ({
            code,
            message: `${OPERATIONS[r.op].title}: ${message}`,
            lines,
          })),
        ),
      ],
      actions: done.reports,
      picked: done.last,
      maps: () => joinedMaps(mesh, done.maps),
    };
  },
});

type HandStep = StepOf<'hand', (typeof hand)['params']>;

/** The edits of a step of edits by hand; null for other steps. */
export const editsOfStep = (step: { kind: string } | undefined): Action[] | null =>
  step?.kind === hand.kind ? (step as HandStep).actions : null;

export const handStep = (actions: Action[]): HandStep => ({ kind: hand.kind, actions });
