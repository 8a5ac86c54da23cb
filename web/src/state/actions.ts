/** Actions on the open scene. Each is one named step of the history, saved as it happens. */
import type { OpenScene } from './OpenScene';
import { diffDocuments } from '@urnsmith/core/document/patch';
import { cutterCycle, namedOperands, nestedIn } from '@urnsmith/core/document/graph';
import { worldMatrix } from '@urnsmith/core/document/placement';
import { NAME_LIMIT, freeName, shortened, stemOf } from '@urnsmith/core/document/names';
import { START } from '@urnsmith/core/document/scene';
import type { Piece } from '@urnsmith/core/document/schema';
import { counted } from '@urnsmith/core/ops/operation';
import {
  hostsByOperand,
  movedInto,
  survivors,
  withCutters,
  withCuttersNested,
  idleCutters,
} from '@urnsmith/core/document/belonging';
import { withTwinsEdited, withTwinsKept } from '@urnsmith/core/document/twins';
import { withPieces, withReferences, type SceneDocument } from '@urnsmith/core/document/sections';
import { invert, multiply, type Matrix, transformOf } from '@urnsmith/core/mesh/transform';
import { firstPrimitive, PRIMITIVES, type PrimitiveKind } from '@urnsmith/core/primitives/index';
import { laneOf, STEPS, type Lane, type Step } from '@urnsmith/core/steps/index';
import { handActions } from './handSlice';
import { panelActions } from './panelSlice';
import { placeOfNew, standing, suitingScale } from './newPieces';
import { settledPieces } from './selectors';
import { acted, broughtAgain, headOf, previewed, tookBack } from './documentSlice';

const pieces = (scene: OpenScene): Piece[] => settledPieces(scene.store.getState());
export const notice = (
  scene: OpenScene,
  text: string,
  undo = false,
  tone: 'info' | 'problem' = 'info',
): void => {
  scene.store.dispatch(panelActions.noticed({ text, undo, tone }));
};

/** Commits a new list of pieces under a name; does nothing when nothing differs. */
export function commit(scene: OpenScene, label: string, after: Piece[]): boolean {
  const edited = withTwinsEdited(after);
  if (typeof edited !== 'string')
    return commitDocument(scene, label, (doc) => withPieces(doc, edited.map(withShortName)));
  scene.store.dispatch(previewed(null));
  notice(scene, `${edited} is a twin: edit its original, or make ${edited} its own first.`, false, 'problem'); // prettier-ignore
  return false;
}

/** Commits what a change makes of the document under a name; does nothing when nothing differs. */
export function commitDocument(
  scene: OpenScene,
  label: string,
  change: (doc: SceneDocument) => SceneDocument,
): boolean {
  const { doc, damage } = scene.store.getState().document;
  const made = damage ? null : diffDocuments(doc, change(doc));
  if (damage) notice(scene, damage, false, 'problem');
  if (!made) {
    scene.store.dispatch(previewed(null));
    return false;
  }
  const short = shortened(label, LABEL_LIMIT);
  const action = scene.saver.add({ kind: 'revision', label: short, ...made });
  scene.store.dispatch(acted({ action, label: short, ...made }));
  return true;
}

/** Characters of an action's name. */
const LABEL_LIMIT = 200;

const withShortName = (p: Piece): Piece =>
  p.name !== undefined && p.name.length > NAME_LIMIT ? { ...p, name: shortened(p.name, NAME_LIMIT) } : p;

export function undo(scene: OpenScene): void {
  const { undo: done, more, damage } = scene.store.getState().document;
  const last = done.at(-1);
  if (!last || damage) return;
  if (done.length === 1 && more) {
    notice(scene, 'Older steps are being fetched; undo again in a moment.');
    void scene.saver.fetchOlder();
    return;
  }
  scene.saver.add({ kind: 'move', from: last.action, to: done.at(-2)?.action ?? START, patch: last.inverse });
  scene.store.dispatch(tookBack());
  // The message was about the action that is undone.
  scene.store.dispatch(panelActions.noticeClosed());
  void scene.saver.fetchOlder();
  keepSelectionReal(scene);
}

export function redo(scene: OpenScene): void {
  const { redo: next, damage } = scene.store.getState().document;
  if (!next.length || damage) return;
  scene.saver.add({
    kind: 'move',
    from: headOf(scene.store.getState().document),
    to: next[0].action,
    patch: next[0].forward,
  });
  scene.store.dispatch(broughtAgain());
  keepSelectionReal(scene);
}

export function keepSelectionReal(scene: OpenScene): void {
  if (scene.store.getState().hand.level !== 'piece') scene.store.dispatch(handActions.following());
  const { selected, step, active } = scene.store.getState().hand;
  const byId = new Map(pieces(scene).map((p) => [p.id, p]));
  if (selected.some((id) => !byId.has(id)))
    scene.store.dispatch(handActions.selected({ ids: selected.filter((id) => byId.has(id)) }));
  else if (step !== null && active && !(byId.get(active)?.steps ?? [])[step])
    scene.store.dispatch(handActions.stepChosen(null));
}

const change = (scene: OpenScene, id: string, make: (p: Piece) => Piece): Piece[] =>
  pieces(scene).map((p) => (p.id === id ? make(p) : p));

/** Changes one piece. */
export const editPiece = (scene: OpenScene, id: string, label: string, make: (p: Piece) => Piece): boolean =>
  commit(scene, label, change(scene, id, make));

/** Shows pieces as they would be, without making it an action. */
export const preview = (scene: OpenScene, changed: Record<string, Piece> | null): void => {
  scene.store.dispatch(previewed(changed));
};

export function newId(scene: OpenScene, prefix = 'p'): string {
  const taken = new Set(pieces(scene).map((p) => p.id));
  for (let k = taken.size + 1; ; k++) if (!taken.has(`${prefix}${k}`)) return `${prefix}${k}`;
}

/** A name no piece has yet. */
export const newName = (scene: OpenScene, title: string): string =>
  freeName(title, new Set(pieces(scene).map((p) => p.name)));

/** Adds a piece, at a place or where new ones go, and selects it. @returns its id */
export function addPiece(
  scene: OpenScene,
  made: Pick<Piece, 'name' | 'base' | 'role' | 'transform'>,
): string {
  const id = newId(scene);
  const name = newName(scene, made.name ?? 'Piece');
  const base = standing(made.base);
  const transform = made.transform ?? placeOfNew(scene, base);
  const piece: Piece = { ...made, base, id, name, ...(transform && { transform }) };
  if (commit(scene, `Add ${name}`, [...pieces(scene), piece]))
    scene.store.dispatch(handActions.selected({ ids: [id] }));
  return id;
}

/** The same for a primitive, as large as suits what is seen. */
export const addPrimitive = (scene: OpenScene, kind: PrimitiveKind, transform?: Piece['transform']): string =>
  addPiece(scene, {
    name: PRIMITIVES[kind].title,
    base: firstPrimitive(kind, suitingScale(scene)),
    transform,
  });

export function deletePieces(scene: OpenScene, ids: string[]): void {
  // A twin that stays takes base and build over. What is nested in a piece goes with it, but for cutters that another
  // piece needs, and so does what is made of it.
  const twins = withTwinsKept(pieces(scene), nestedIn(pieces(scene), ids));
  const list = twins.pieces;
  const gone = nestedIn(list, [...ids, ...twins.along]);
  const kept = survivors(list, gone, new Set([...ids, ...twins.along]));
  for (const id of kept.keys()) gone.delete(id);
  const after = list.filter((p) => !gone.has(p.id)).map((p) => withoutPieces(kept.get(p.id) ?? p, gone));
  const asked = list.filter((p) => ids.includes(p.id));
  const along = gone.size - asked.length;
  const what = asked.length === 1 ? (asked[0].name ?? asked[0].id) : `${asked.length} pieces`;
  if (!commit(scene, `Delete ${what}`, after)) return;
  scene.store.dispatch(handActions.selected({ ids: [] }));
  const them = asked.length === 1 ? 'it' : 'them';
  const how = `nested in ${them}${twins.along.length ? ` or made of ${them}` : ''}`;
  notice(scene, `Deleted ${what}${along > 0 ? ` with ${along} ${how}` : ''}.`, true);
}

/** A piece that no longer refers to others; steps that are left without any of theirs go too. */
const withoutPieces = (p: Piece, gone: ReadonlySet<string>): Piece =>
  withReferences('pieces', p, (r) => (r.section === 'pieces' && gone.has(r.id) ? null : r.id));

export function duplicatePieces(scene: OpenScene, ids: string[]): void {
  const { copies, tops, label, hosts } = copiesOf(scene, ids);
  if (commit(scene, label, [...hosts, ...copies])) scene.store.dispatch(handActions.selected({ ids: tops }));
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
export function copiesOf(scene: OpenScene, ids: ReadonlyArray<string>, list = pieces(scene)): Copies {
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
export function withOperandsJoined(p: Piece, fresh: ReadonlyMap<string, string>): Piece {
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

const nameOf = (scene: OpenScene, id: string): string => pieces(scene).find((p) => p.id === id)?.name ?? id;

/** Adds a step that works with other pieces, which become cutters nested in the host. */
export function addCutting(
  scene: OpenScene,
  host: string,
  step: Step,
  cutters: string[],
  label: string,
): void {
  const list = pieces(scene);
  if (!cutters.length) {
    notice(scene, 'Select the cutters first, then the piece to cut, and cut again.', false, 'problem');
    return;
  }
  const stepId = newStepId(list.find((p) => p.id === host)!);
  const after = withCutters(list, cutters).map((p): Piece =>
    p.id === host ? { ...p, steps: [...(p.steps ?? []), { ...step, id: stepId }] } : p,
  );
  const circle = cutterCycle(after);
  if (circle) {
    notice(scene, `That would cut in a circle: ${circle.join(' → ')}.`, false, 'problem');
    return;
  }
  const index = after.find((p) => p.id === host)!.steps!.length - 1;
  if (!commit(scene, label, withCuttersNested(after, new Set(cutters)))) return;
  scene.store.dispatch(handActions.selected({ ids: [host] }));
  scene.store.dispatch(handActions.stepChosen(index));
}

export function newStepId(p: Piece): string {
  const taken = new Set((p.steps ?? []).map((s) => s.id));
  for (let k = 1; ; k++) if (!taken.has(`s${k}`)) return `s${k}`;
}

/** Adds a step to a piece and opens it. */
export function addStep(scene: OpenScene, id: string, step: Step, label: string): void {
  const p = pieces(scene).find((x) => x.id === id);
  if (!p || 'group' in p.base) {
    notice(scene, 'Select a piece with faces first.', false, 'problem');
    return;
  }
  editPiece(scene, id, label, (x) => ({ ...x, steps: [...(x.steps ?? []), { ...step, id: newStepId(x) }] }));
  scene.store.dispatch(handActions.stepChosen(p.steps?.length ?? 0));
}

export function editStep(
  scene: OpenScene,
  id: string,
  index: number,
  label: string,
  make: (s: Step) => Step,
): boolean {
  return editPiece(scene, id, label, (p) => ({
    ...p,
    steps: p.steps!.map((s, i) => (i === index ? make(s) : s)),
  }));
}

export function removeStep(scene: OpenScene, id: string, index: number, label: string): void {
  const step = pieces(scene).find((p) => p.id === id)?.steps?.[index];
  if (!step) return;
  const host = pieces(scene).find((p) => p.id === id)!;
  const after = pieces(scene).map((p) =>
    p.id === id ? { ...p, steps: p.steps!.filter((_, i) => i !== index) } : p,
  );
  if (!commit(scene, label, after)) return;
  scene.store.dispatch(handActions.stepChosen(null));
  tellIdle(scene, namedOperands(host));
}

/** Says which cutters that were let go have nothing left to cut: they stay cutters. */
export function tellIdle(scene: OpenScene, freed: Iterable<string>): void {
  const idle = idleCutters(pieces(scene), new Set(freed));
  if (!idle.length) return;
  const [first, ...more] = idle.map((p) => p.name ?? p.id);
  const which = more.length ? `${idle.length} cutters have` : `${first} has`;
  const them = more.length ? 'They stay cutters and are' : 'It stays a cutter and is';
  notice(scene, `${which} nothing to cut now. ${them} left out of exports.`);
}

/** Puts a step where another of its lane stands. Steps of other lanes are left where they are. */
export function moveStep(scene: OpenScene, id: string, from: number, to: number): void {
  const steps = pieces(scene).find((p) => p.id === id)?.steps;
  const step = steps?.[from];
  if (!steps || !step || from === to || !steps[to]) return;
  const after = steps.filter((_, i) => i !== from);
  after.splice(to, 0, inLane(step, laneOf(steps[to])));
  if (
    editPiece(scene, id, `Move the ${STEPS[step.kind].title.toLowerCase()} step`, (p) => ({
      ...p,
      steps: after,
    }))
  )
    scene.store.dispatch(handActions.stepChosen(to));
}

/** A step as it is worked in a lane, its own or another. */
export const inLane = ({ pin: _, ...step }: Step, lane: Lane): Step =>
  (lane === STEPS[step.kind].lane ? step : { ...step, pin: lane }) as Step;

/** Takes a step to the end of a lane that may be empty. */
export function moveToLane(scene: OpenScene, id: string, index: number, lane: Lane): void {
  const step = pieces(scene).find((p) => p.id === id)?.steps?.[index];
  if (!step || laneOf(step) === lane) return;
  const moved = editPiece(
    scene,
    id,
    `Work the ${STEPS[step.kind].title.toLowerCase()} step in the ${lane} lane`,
    (p) => ({ ...p, steps: [...p.steps!.filter((_, i) => i !== index), inLane(step, lane)] }),
  );
  if (!moved) return;
  const { length } = pieces(scene).find((p) => p.id === id)!.steps!;
  scene.store.dispatch(handActions.stepChosen(length - 1));
}

/** Moves a step one place along its lane. */
export function shiftStep(scene: OpenScene, id: string, index: number, by: -1 | 1): void {
  const steps = pieces(scene).find((p) => p.id === id)?.steps ?? [];
  for (let k = index + by; k >= 0 && k < steps.length; k += by)
    if (laneOf(steps[k]) === laneOf(steps[index])) return moveStep(scene, id, index, k);
}

/** Nests a piece in another (or nowhere), keeping it where it is in the world. */
export function nest(scene: OpenScene, id: string, parent: string | null): void {
  const byId = new Map(pieces(scene).map((p) => [p.id, p]));
  for (let at = parent; at; at = byId.get(at)?.parent ?? null)
    if (at === id) {
      notice(scene, `${nameOf(scene, id)} cannot be nested inside itself.`, false, 'problem');
      return;
    }
  if ((byId.get(id)?.parent ?? null) === parent) return;
  const world = worldMatrix(byId, id);
  const inParent: Matrix = parent ? multiply(invert(worldMatrix(byId, parent)), world) : world;
  const label = parent
    ? `Nest ${nameOf(scene, id)} in ${nameOf(scene, parent)}`
    : `Take ${nameOf(scene, id)} out`;
  editPiece(scene, id, label, (p) => {
    const { parent: _, ...rest } = p;
    return { ...rest, ...(parent ? { parent } : {}), transform: transformOf(inParent) };
  });
}

/** Takes a cutter out of its host's frame, or back into it; it stays where it is. */
export function setStaysInWorld(scene: OpenScene, id: string, stays: boolean): void {
  const list = pieces(scene);
  const p = list.find((x) => x.id === id)!;
  const byId = new Map(list.map((x) => [x.id, x]));
  const host = hostsByOperand(list).get(id)?.[0];
  if (!stays) {
    const { staysInWorld: _, ...rest } = p;
    const after = withCuttersNested(
      list.map((x) => (x.id === id ? rest : x)),
      new Set([id]),
    );
    commit(scene, `Nest ${nameOf(scene, id)} in ${host ? nameOf(scene, host) : 'its host'}`, after);
    return;
  }
  const out = p.parent === host && host ? movedInto(byId, p, byId.get(host)?.parent) : p;
  if (!out) {
    notice(
      scene,
      `${nameOf(scene, id)} would be sheared outside of its host, whose size is uneven.`,
      false,
      'problem',
    );
    return;
  }
  editPiece(scene, id, `Let ${nameOf(scene, id)} stay in the world`, () => ({ ...out, staysInWorld: true }));
}

/** Puts pieces under a new group, which is nested where the first of them is; those nested elsewhere stay there. */
export function groupPieces(scene: OpenScene, ids: string[]): void {
  if (!ids.length) return;
  const list = pieces(scene);
  const group: Piece = { id: newId(scene, 'g'), name: newName(scene, 'Group'), base: { group: true } };
  const first = list.findIndex((p) => ids.includes(p.id));
  const parent = list[first].parent;
  const moved = new Set(list.filter((p) => ids.includes(p.id) && p.parent === parent).map((p) => p.id));
  const after = list.map((p) => (moved.has(p.id) ? { ...p, parent: group.id } : p));
  after.splice(first, 0, parent ? { ...group, parent } : group);
  if (!commit(scene, `Group ${counted(moved.size, 'piece')}`, after)) return;
  const left = ids.length - moved.size;
  if (left) notice(scene, `${counted(left, 'piece')} nested elsewhere, left there.`);
  scene.store.dispatch(handActions.selected({ ids: [group.id] }));
}

/** Flips a flag on pieces: all get the opposite of what the first has. */
export function flagPieces(scene: OpenScene, ids: string[], flag: 'hidden' | 'faint' | 'locked'): void {
  const first = pieces(scene).find((p) => p.id === ids[0]);
  if (!first) return;
  const on = !first[flag];
  const verb = {
    hidden: on ? 'Hide' : 'Show',
    faint: on ? 'Make faint' : 'Make solid',
    locked: on ? 'Lock' : 'Unlock',
  }[flag];
  const what = ids.length === 1 ? (first.name ?? first.id) : `${ids.length} pieces`;
  commit(
    scene,
    `${verb} ${what}`,
    pieces(scene).map((p) => (ids.includes(p.id) ? { ...p, [flag]: on } : p)),
  );
}
