/** Actions on the open scene. Each is one named step of the history, saved as it happens. */
import { diffDocuments } from '@urnsmith/core/document/patch';
import { cutterCycle, namedOperands, nestedIn } from '@urnsmith/core/document/graph';
import { worldMatrix } from '@urnsmith/core/document/placement';
import { freeName, shortened, stemOf } from '@urnsmith/core/document/names';
import { START } from '@urnsmith/core/document/scene';
import { NAME_LIMIT, type Piece } from '@urnsmith/core/document/schema';
import {
  hostsByOperand,
  movedInto,
  survivors,
  withCuttersNested,
  withCuttersReleased,
} from '@urnsmith/core/document/belonging';
import { withPieces, withReferences } from '@urnsmith/core/document/sections';
import { invert, multiply, type Matrix, transformOf } from '@urnsmith/core/mesh/transform';
import { firstPrimitive, PRIMITIVES, type PrimitiveKind } from '@urnsmith/core/primitives/index';
import { laneOf, STEPS, type Step } from '@urnsmith/core/steps/steps';
import { bench } from './benchSlice';
import { acted, broughtAgain, headOf, previewed, tookBack } from './documentSlice';
import { saver } from './saving';
import { store } from './store';

const pieces = (): Piece[] => store.getState().document.pieces;
export const notice = (text: string, undo = false, tone: 'info' | 'problem' = 'info'): void => {
  store.dispatch(bench.noticed({ text, undo, tone }));
};

/** Commits a new list of pieces under a name; does nothing when nothing differs. */
export function commit(label: string, after: Piece[]): boolean {
  const { doc, damage } = store.getState().document;
  if (damage) {
    store.dispatch(previewed(null));
    notice(damage, false, 'problem');
    return false;
  }
  const change = diffDocuments(doc, withPieces(doc, after.map(withShortName)));
  if (!change) {
    store.dispatch(previewed(null));
    return false;
  }
  const short = shortened(label, LABEL_LIMIT);
  const action = saver.add({ kind: 'revision', label: short, ...change });
  store.dispatch(acted({ action, label: short, ...change }));
  return true;
}

/** Characters of an action's name. */
const LABEL_LIMIT = 200;

const withShortName = (p: Piece): Piece =>
  p.name !== undefined && p.name.length > NAME_LIMIT ? { ...p, name: shortened(p.name, NAME_LIMIT) } : p;

export function undo(): void {
  const { undo: done, more, damage } = store.getState().document;
  const last = done.at(-1);
  if (!last || damage) return;
  if (done.length === 1 && more) {
    notice('Older steps are being fetched; undo again in a moment.');
    void saver.fetchOlder();
    return;
  }
  saver.add({ kind: 'move', from: last.action, to: done.at(-2)?.action ?? START, patch: last.inverse });
  store.dispatch(tookBack());
  void saver.fetchOlder();
  keepSelectionReal();
}

export function redo(): void {
  const { redo: next, damage } = store.getState().document;
  if (!next.length || damage) return;
  saver.add({
    kind: 'move',
    from: headOf(store.getState().document),
    to: next[0].action,
    patch: next[0].forward,
  });
  store.dispatch(broughtAgain());
  keepSelectionReal();
}

saver.onExchange = keepSelectionReal;

function keepSelectionReal(): void {
  if (store.getState().bench.level !== 'piece') store.dispatch(bench.following());
  const { selected, step, active } = store.getState().bench;
  const byId = new Map(pieces().map((p) => [p.id, p]));
  if (selected.some((id) => !byId.has(id)))
    store.dispatch(bench.selected({ ids: selected.filter((id) => byId.has(id)) }));
  else if (step !== null && active && !(byId.get(active)?.steps ?? [])[step])
    store.dispatch(bench.stepChosen(null));
}

const change = (id: string, make: (p: Piece) => Piece): Piece[] =>
  pieces().map((p) => (p.id === id ? make(p) : p));

/** Changes one piece. */
export const editPiece = (id: string, label: string, make: (p: Piece) => Piece): boolean =>
  commit(label, change(id, make));

/** Shows pieces as they would be, without making it an action. */
export const preview = (changed: Record<string, Piece> | null): void => {
  store.dispatch(previewed(changed));
};

export function newId(prefix = 'p'): string {
  const taken = new Set(pieces().map((p) => p.id));
  for (let k = taken.size + 1; ; k++) if (!taken.has(`${prefix}${k}`)) return `${prefix}${k}`;
}

/** A name no piece has yet. */
export const newName = (title: string): string => freeName(title, new Set(pieces().map((p) => p.name)));

/** Adds a primitive at a place, or at the origin of a seated grid, and selects it. */
export function addPrimitive(
  kind: PrimitiveKind,
  at: [number, number, number] = [0, 0, 0],
  frame: Matrix | null = null,
): string {
  const piece: Piece = {
    id: newId(),
    name: newName(PRIMITIVES[kind].title),
    base: firstPrimitive(kind),
    ...(frame ? { transform: seated(frame) } : at.some((x) => x !== 0) ? { transform: { move: at } } : {}),
  };
  commit(`Add ${piece.name}`, [...pieces(), piece]);
  store.dispatch(bench.selected({ ids: [piece.id] }));
  return piece.id;
}

/** Where a seated grid puts a new piece: at its origin, turned along. */
function seated(frame: Matrix): Piece['transform'] {
  const { move, turn } = transformOf(frame);
  return { move, turn };
}

export function deletePieces(ids: string[]): void {
  // What is nested in a piece goes with it, but for cutters that another piece needs.
  const gone = nestedIn(pieces(), ids);
  const kept = survivors(pieces(), gone, new Set(ids));
  for (const id of kept.keys()) gone.delete(id);
  const after = pieces()
    .filter((p) => !gone.has(p.id))
    .map((p) => withoutPieces(kept.get(p.id) ?? p, gone));
  const names = pieces().filter((p) => gone.has(p.id));
  const asked = pieces().filter((p) => ids.includes(p.id));
  const along = names.length - asked.length;
  const what = asked.length === 1 ? (asked[0].name ?? asked[0].id) : `${asked.length} pieces`;
  if (!commit(`Delete ${what}`, after)) return;
  store.dispatch(bench.selected({ ids: [] }));
  notice(
    `Deleted ${what}${along > 0 ? ` with ${along} nested in ${asked.length === 1 ? 'it' : 'them'}` : ''}.`,
    true,
  );
}

/** A piece that no longer refers to others; steps that are left without any of theirs go too. */
const withoutPieces = (p: Piece, gone: ReadonlySet<string>): Piece =>
  withReferences('pieces', p, (r) => (r.section === 'pieces' && gone.has(r.id) ? null : r.id));

export function duplicatePieces(ids: string[]): void {
  const { copies, tops, label, hosts } = copiesOf(ids);
  if (commit(label, [...hosts, ...copies])) store.dispatch(bench.selected({ ids: tops }));
}

export interface Copies {
  /** The new pieces: copies of those asked for, with all that is nested in them. */
  copies: Piece[];
  /** Ids of the copies of those asked for. */
  tops: string[];
  label: string;
  /** The pieces there are, with steps that a copied cutter joins. */
  hosts: Piece[];
}

/**
 * Copies of pieces as they are, with ids and names of their own, and of all that is nested in them; what they refer to
 * among one another goes along. The copy of a cutter whose host is not copied joins the steps it cuts in.
 */
export function copiesOf(ids: ReadonlyArray<string>): Copies {
  const list = pieces();
  const taken = new Set(list.map((p) => p.id));
  const names = new Set(list.map((p) => p.name));
  const fresh = new Map<string, string>();
  const chosen = nestedIn(list, ids);
  let next = list.length + 1;
  for (const p of list) {
    if (!chosen.has(p.id)) continue;
    while (taken.has(`p${next}`)) next++;
    fresh.set(p.id, `p${next}`);
    taken.add(`p${next}`);
  }
  const copies = list.flatMap((p): Piece[] => {
    const id = fresh.get(p.id);
    if (!id) return [];
    const name = freeName(stemOf(p.name ?? p.id), names);
    names.add(name);
    // Copies of host and cutter together cut each other's copies.
    const linked = withReferences('pieces', p, (r) =>
      r.section === 'pieces' ? (fresh.get(r.id) ?? r.id) : r.id,
    );
    return [{ ...linked, id, name }];
  });
  const hosts = list.map((p) => (fresh.has(p.id) ? p : withOperandsJoined(p, fresh)));
  const tops = ids.flatMap((id) => fresh.get(id) ?? []);
  const label =
    tops.length === 1
      ? `Duplicate ${list.find((p) => p.id === ids[0])?.name}`
      : `Duplicate ${tops.length} pieces`;
  return { copies, tops, label, hosts };
}

/** A piece whose steps work with the copies of what they work with as well. */
function withOperandsJoined(p: Piece, fresh: ReadonlyMap<string, string>): Piece {
  const used = namedOperands(p).filter((id) => fresh.has(id));
  if (!used.length) return p;
  const joined = (step: Step, id: string): Step =>
    (STEPS[step.kind] as { joined?(s: Step, beside: string, added: string): Step }).joined?.(
      step,
      id,
      fresh.get(id)!,
    ) ?? step;
  return { ...p, steps: p.steps!.map((s) => [...new Set(used)].reduce(joined, s)) };
}

const nameOf = (id: string): string => pieces().find((p) => p.id === id)?.name ?? id;

/** Adds a step that works with other pieces, which become cutters nested in the host. */
export function addCutting(host: string, step: Step, cutters: string[], label: string): void {
  const list = pieces();
  if (!cutters.length) {
    notice('Select the cutters first, then the piece to cut, and cut again.', false, 'problem');
    return;
  }
  const stepId = newStepId(list.find((p) => p.id === host)!);
  const after = list.map((p): Piece => {
    if (p.id === host) return { ...p, steps: [...(p.steps ?? []), { ...step, id: stepId }] };
    if (cutters.includes(p.id)) return { ...p, role: 'cutter' };
    return p;
  });
  const circle = cutterCycle(after);
  if (circle) {
    notice(`That would cut in a circle: ${circle.join(' → ')}.`, false, 'problem');
    return;
  }
  const index = after.find((p) => p.id === host)!.steps!.length - 1;
  if (!commit(label, withCuttersNested(after, new Set(cutters)))) return;
  store.dispatch(bench.selected({ ids: [host] }));
  store.dispatch(bench.stepChosen(index));
}

export function newStepId(p: Piece): string {
  const taken = new Set((p.steps ?? []).map((s) => s.id));
  for (let k = 1; ; k++) if (!taken.has(`s${k}`)) return `s${k}`;
}

/** Adds a step to a piece and opens it. */
export function addStep(id: string, step: Step, label: string): void {
  const p = pieces().find((x) => x.id === id);
  if (!p || 'group' in p.base) {
    notice('Select a piece with faces first.', false, 'problem');
    return;
  }
  editPiece(id, label, (x) => ({ ...x, steps: [...(x.steps ?? []), { ...step, id: newStepId(x) }] }));
  store.dispatch(bench.stepChosen(p.steps?.length ?? 0));
}

export function editStep(id: string, index: number, label: string, make: (s: Step) => Step): boolean {
  return editPiece(id, label, (p) => ({ ...p, steps: p.steps!.map((s, i) => (i === index ? make(s) : s)) }));
}

export function removeStep(id: string, index: number, label: string): void {
  const step = pieces().find((p) => p.id === id)?.steps?.[index];
  if (!step) return;
  const host = pieces().find((p) => p.id === id)!;
  const after = pieces().map((p) =>
    p.id === id ? { ...p, steps: p.steps!.filter((_, i) => i !== index) } : p,
  );
  commit(label, withCuttersReleased(after, namedOperands(host)));
  store.dispatch(bench.stepChosen(null));
}

/** Puts a step where another of its lane stands. Steps of other lanes are left where they are. */
export function moveStep(id: string, from: number, to: number): void {
  const steps = pieces().find((p) => p.id === id)?.steps;
  const step = steps?.[from];
  if (!steps || !step || from === to || !steps[to]) return;
  if (laneOf(step) !== laneOf(steps[to])) {
    notice(`${STEPS[step.kind].title} steps stay in the ${laneOf(step)} lane.`, false, 'problem');
    return;
  }
  const after = steps.filter((_, i) => i !== from);
  after.splice(to, 0, step);
  if (editPiece(id, `Move the ${STEPS[step.kind].title.toLowerCase()} step`, (p) => ({ ...p, steps: after })))
    store.dispatch(bench.stepChosen(to));
}

/** Moves a step one place along its lane. */
export function shiftStep(id: string, index: number, by: -1 | 1): void {
  const steps = pieces().find((p) => p.id === id)?.steps ?? [];
  for (let k = index + by; k >= 0 && k < steps.length; k += by)
    if (laneOf(steps[k]) === laneOf(steps[index])) return moveStep(id, index, k);
}

/** Nests a piece in another (or nowhere), keeping it where it is in the world. */
export function nest(id: string, parent: string | null): void {
  const byId = new Map(pieces().map((p) => [p.id, p]));
  for (let at = parent; at; at = byId.get(at)?.parent ?? null)
    if (at === id) {
      notice(`${nameOf(id)} cannot be nested inside itself.`, false, 'problem');
      return;
    }
  if ((byId.get(id)?.parent ?? null) === parent) return;
  const world = worldMatrix(byId, id);
  const inParent: Matrix = parent ? multiply(invert(worldMatrix(byId, parent)), world) : world;
  const label = parent ? `Nest ${nameOf(id)} in ${nameOf(parent)}` : `Take ${nameOf(id)} out`;
  editPiece(id, label, (p) => {
    const { parent: _, ...rest } = p;
    return { ...rest, ...(parent ? { parent } : {}), transform: transformOf(inParent) };
  });
}

/** Takes a cutter out of its host's frame, or back into it; it stays where it is. */
export function setStaysInWorld(id: string, stays: boolean): void {
  const list = pieces();
  const p = list.find((x) => x.id === id)!;
  const byId = new Map(list.map((x) => [x.id, x]));
  const host = hostsByOperand(list).get(id)?.[0];
  if (!stays) {
    const { staysInWorld: _, ...rest } = p;
    const after = withCuttersNested(
      list.map((x) => (x.id === id ? rest : x)),
      new Set([id]),
    );
    commit(`Nest ${nameOf(id)} in ${host ? nameOf(host) : 'its host'}`, after);
    return;
  }
  const out = p.parent === host && host ? movedInto(byId, p, byId.get(host)?.parent) : p;
  if (!out) {
    notice(`${nameOf(id)} would be sheared outside of its host, whose size is uneven.`, false, 'problem');
    return;
  }
  editPiece(id, `Let ${nameOf(id)} stay in the world`, () => ({ ...out, staysInWorld: true }));
}

/** Puts pieces under a new group. */
export function groupPieces(ids: string[]): void {
  if (!ids.length) return;
  const list = pieces();
  const group: Piece = { id: newId('g'), name: newName('Group'), base: { group: true } };
  const first = list.findIndex((p) => ids.includes(p.id));
  const parent = list[first].parent;
  const after = list.map((p) => (ids.includes(p.id) && p.parent === parent ? { ...p, parent: group.id } : p));
  after.splice(first, 0, parent ? { ...group, parent } : group);
  commit(`Group ${ids.length} pieces`, after);
  store.dispatch(bench.selected({ ids: [group.id] }));
}

/** Flips a flag on pieces: all get the opposite of what the first has. */
export function flagPieces(ids: string[], flag: 'hidden' | 'faint' | 'locked'): void {
  const first = pieces().find((p) => p.id === ids[0]);
  if (!first) return;
  const on = !first[flag];
  const verb = {
    hidden: on ? 'Hide' : 'Show',
    faint: on ? 'Make faint' : 'Make solid',
    locked: on ? 'Lock' : 'Unlock',
  }[flag];
  const what = ids.length === 1 ? (first.name ?? first.id) : `${ids.length} pieces`;
  commit(
    `${verb} ${what}`,
    pieces().map((p) => (ids.includes(p.id) ? { ...p, [flag]: on } : p)),
  );
}
