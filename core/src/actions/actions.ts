/** Actions: direct operations on a piece's base, one after the other, each with what it was applied to. */
import { Type } from 'typebox';
import { Recent } from '../Recent';
import type { ElementMaps } from '../mesh/lineage';
import { bytesOf, type PolyMesh } from '../mesh/PolyMesh';
import { faultOf, OperationError, type Fault, type Warning } from '../mesh/errors';
import type { Action } from '../ops/action';
import { OPERATIONS } from '../ops/index';
import {
  followed,
  pullsOf,
  runOperation,
  type Counts,
  type OperationContext,
  type TrackedResult,
} from '../ops/operation';
import type { Pull } from '../ops/pulls';
import { picksBorn } from '../select/born';
import type { Given } from '../select/rule';
import { keptIn, noKept, resolveSelect, SELECT_SCHEMAS } from '../select/rules';
import type { Selection } from '../select/selection';
import { keptName, recalled, type Kept, type Recalled } from '../select/kept';

export type { Action };

/** The schema of each operation's action: name, selection, parameters. */
export const ACTION_SCHEMAS = Object.fromEntries(
  Object.values(OPERATIONS).map((o) => [
    o.kind,
    Type.Object(
      {
        op: Type.Literal(o.kind),
        select: Type.Union(Object.values(SELECT_SCHEMAS)),
        off: Type.Optional(Type.Boolean()),
        key: Type.Optional(Type.String({ pattern: '^[a-zA-Z]+[0-9]+$', maxLength: 40 })),
        ...o.params.properties,
      },
      { additionalProperties: false, title: o.title },
    ),
  ]),
);

export const ActionSchema = Type.Unsafe<Action>(Type.Union(Object.values(ACTION_SCHEMAS), { action: true }));

/** The report of an action. */
export interface ActionReport {
  op: string;
  counts: Counts;
  warnings?: Warning[];
  fault?: Fault;
  /** The edit was left out. */
  off?: boolean;
  /** Handles for its numbers on the model. */
  pulls?: Pull[];
}

/** @throws OperationError when it cannot act */
export function applyAction(
  mesh: PolyMesh,
  action: Action,
  given: Partial<Given> = {},
  context?: Partial<OperationContext>,
): TrackedResult & { pulls: Pull[] } {
  const { op, select, off: _, key: _key, ...params } = action;
  const operation = Object.hasOwn(OPERATIONS, op) ? OPERATIONS[op] : null;
  if (!operation) throw new OperationError('no-operation', `There is no operation “${op}”.`);
  const born = 'rule' in select && select.rule === 'picked' ? picksBorn(mesh, select) : null;
  const selection = born?.selection ?? resolveSelect(mesh, select, given);
  const result = runOperation(operation, mesh, selection, params, context);
  const pulls = pullsOf(operation, mesh, selection, params);
  const told = (born?.warnings ?? []).map((w) => followed(w, result.maps));
  return { ...result, pulls, ...(told.length && { warnings: [...(result.warnings ?? []), ...told] }) };
}

/** An action that was done, with what it was done to. */
interface Done {
  from: PolyMesh;
  /** The picks left before it. */
  after: Selection | null;
  key: string;
  mesh: PolyMesh;
  last: Selection | null;
  report: ActionReport;
  /** Maps from the elements before it; null when it could not act. */
  maps: ElementMaps | null;
}

/** Actions kept beside those of the current state, and the memory their meshes may take, bytes. */
const UNDONE = 20;
const UNDONE_BYTES = 64 << 20;

/** A mesh with actions applied, kept so that the next evaluation goes on from what did not change. */
export class ActionRun {
  private done: Done[] = [];
  /** Actions done in the last states, for undo and redo. */
  private readonly kept = new Recent<Done>(UNDONE, (d) => bytesOf(d.mesh), UNDONE_BYTES);

  /** @param name names the faces an action made, by the key it has among all */
  constructor(
    private readonly context: Partial<OperationContext> = {},
    private readonly name?: (made: PolyMesh, key: string) => PolyMesh,
  ) {}

  run(
    base: PolyMesh,
    actions: ReadonlyArray<Action>,
    selections: Readonly<Record<string, Kept>> = {},
  ): { mesh: PolyMesh; last: Selection | null; reports: ActionReport[]; maps: ElementMaps[] } {
    let mesh = base;
    let last: Selection | null = null;
    const keys = keysOf(actions);
    const before = this.done;
    this.done = [];
    actions.forEach((action, i) => {
      const name = keptName(action.select);
      const key = JSON.stringify([i, keys[i], action, name === null ? null : selections[name]]);
      const isIt = (d: Done): boolean => d.from === mesh && d.after === last && d.key === key;
      const kept = before[i] && isIt(before[i]) ? before[i] : this.kept.find(isIt);
      this.done.push(kept ?? this.doneTo(mesh, last, action, selections, key, keys[i]));
      ({ mesh, last } = this.done[i]);
    });
    for (const d of before) if (!this.done.includes(d)) this.kept.add(d);
    return {
      mesh,
      last,
      reports: this.done.map((d) => d.report),
      maps: this.done.flatMap((d) => d.maps ?? []),
    };
  }

  private doneTo(
    from: PolyMesh,
    after: Selection | null,
    action: Action,
    selections: Readonly<Record<string, Kept>>,
    key: string,
    name: string,
  ): Done {
    const index = this.done.length;
    const kept = (of: string): Selection => {
      if (!Object.hasOwn(selections, of)) return keptIn(from)(of);
      const s = selections[of];
      if (!('picks' in s) && (s.after ?? 0) > index) throw noKept(of);
      return this.recall(s, from).selection;
    };
    return { from, after, key, ...this.attempt(from, action, { last: after, kept }, name) };
  }

  /** A kept selection in the mesh of the actions done so far. */
  recall(kept: Kept, mesh: PolyMesh): Recalled {
    const since = 'picks' in kept ? [] : this.done.slice(kept.after ?? Infinity);
    return recalled(
      kept,
      mesh,
      since.flatMap((d) => d.maps ?? []),
    );
  }

  /** An action that cannot act passes the mesh on and says why. */
  private attempt(mesh: PolyMesh, action: Action, given: Given, key: string) {
    if (action.off)
      return { mesh, last: given.last, maps: null, report: { op: action.op, counts: {}, off: true } };
    const { name } = this;
    const context = name ? { ...this.context, name: (m: PolyMesh) => name(m, key) } : this.context;
    try {
      const r = applyAction(mesh, action, given, context);
      return {
        mesh: r.mesh,
        last: r.selection,
        maps: r.maps,
        report: {
          op: action.op,
          counts: r.counts,
          warnings: r.warnings,
          ...(r.pulls.length && { pulls: r.pulls }),
        },
      };
    } catch (e) {
      if (!(e instanceof OperationError)) throw e;
      return { mesh, last: given.last, maps: null, report: { op: action.op, counts: {}, fault: faultOf(e) } };
    }
  }
}

/**
 * Keys of actions within their piece: the kind and a count, so the second bevel keeps its key when something else comes
 * before it; or the stored key, where others of the kind have been removed.
 */
export function keysOf(actions: ReadonlyArray<Action>): string[] {
  const taken = new Set(actions.flatMap((a) => a.key ?? []));
  const count = new Map<string, number>();
  return actions.map(({ op, key }) => {
    if (key !== undefined) return key;
    let n = count.get(op) ?? 0;
    do n++;
    while (taken.has(`${op}${n}`));
    count.set(op, n);
    return `${op}${n}`;
  });
}

/** Actions that keep what they are called when some of them go or change places. */
export function withKeys(actions: ReadonlyArray<Action>): Action[] {
  const keys = keysOf(actions);
  return actions.map((a, i) => (a.key === keys[i] ? a : { ...a, key: keys[i] }));
}
