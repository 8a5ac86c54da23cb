/** Editing a piece's elements: every operation is tried by the worker first, so a refusal changes nothing. */
import type { OpenScene } from '../scene/OpenScene';
import { perScene } from '../scene/perScene';
import type { Action } from '@urnsmith/core/document/actions';
import type { Kept, Piece } from '@urnsmith/core/document/schema';
import { OPERATIONS } from '@urnsmith/core/ops/index';
import { counted, defaultsOf, sentenceOf, type Counts } from '@urnsmith/core/ops/operation';
import type { PickName, PickOptions } from '@urnsmith/core/select/picks';
import type { BornSelect } from '@urnsmith/core/select/born';
import type { Warning } from '@urnsmith/core/mesh/errors';
import { listed, type Select } from '@urnsmith/core/select/rules';
import { WORD_OF, type ElementKind, type Selection } from '@urnsmith/core/select/selection';
import { keepMesh } from './meshes';
import type { Reply } from '../workers/build.worker';
import { commit, editPiece, preview, undo } from './actions';
import { bench, type ElementLevel, type Level } from './benchSlice';
import { editHere, isTwin } from './twins';
import { actionsAt, siteOf, withActions, type Site } from './site';

export const KIND: Record<ElementLevel, ElementKind> = { face: 'face', edge: 'edge', point: 'vertex' };

const state = (scene: OpenScene) => scene.store.getState();
const problem = (scene: OpenScene, text: string): void => {
  scene.store.dispatch(bench.noticed({ text, tone: 'problem' }));
};

/** The piece whose elements are edited, where on it, and what is picked there. */
export function inHand(scene: OpenScene): { piece: Piece; site: Site | null; selection: Selection } | null {
  const { level, active, picked } = state(scene).bench;
  const piece = state(scene).document.pieces.find((p) => p.id === active);
  if (level === 'piece' || !piece || 'group' in piece.base || isTwin(piece)) return null;
  const site = siteOf(state(scene).bench, piece);
  return { piece, site, selection: { kind: KIND[level], indices: picked } };
}

/** Work that is under way with the worker, and when all of it is done; and what waits for its turn after it. */
const work = perScene(() => ({
  running: 0,
  allDone: Promise.resolve() as Promise<unknown>,
  queue: Promise.resolve() as Promise<unknown>,
  queued: 0,
}));

/** Notes work that keys which come after it wait for. */
export function underWay<T>(scene: OpenScene, asked: Promise<T>): Promise<T> {
  const own = work(scene);
  own.running++;
  const done = asked.finally(() => own.running--);
  own.allDone = Promise.allSettled([own.allDone, done]);
  return done;
}

/** Runs a command of the hand at once, or after what was begun before it: keys may come faster than answers. */
export function inTurn(scene: OpenScene, run: () => void): void {
  const own = work(scene);
  if (!own.running && !own.queued) return run();
  own.queued++;
  own.queue = own.queue
    .then(async () => {
      while (own.running) await own.allDone;
    })
    .then(run)
    .finally(() => own.queued--);
}

/** Goes to a level; what is picked is brought along where it can be. */
export const takeLevel = (scene: OpenScene, level: Level): Promise<void> =>
  underWay(scene, toLevel(scene, level));

async function toLevel(scene: OpenScene, level: Level): Promise<void> {
  const { bench: b, document } = state(scene);
  const piece = document.pieces.find((p) => p.id === b.active);
  if (level !== 'piece' && (!piece || 'group' in piece.base)) {
    problem(scene, 'Select a piece with faces first.');
    return;
  }
  if (level !== 'piece' && !editHere(scene, piece!.id)) return;
  const before = inHand(scene);
  scene.store.dispatch(bench.levelTaken(level));
  if (level === 'piece' || !before?.selection.indices.length) return;
  const reply = await scene.builds.ask(piece!.id, {
    kind: 'convert',
    selection: before.selection,
    to: KIND[level],
  });
  if (reply && 'selection' in reply && state(scene).bench.level === level)
    scene.store.dispatch(bench.elementsPicked(reply.selection.indices));
}

/** A selecting command: loops, rings, growing, rules. */
export const pick = (scene: OpenScene, name: PickName, options?: PickOptions): Promise<void> =>
  underWay(scene, picked(scene, name, options));

async function picked(scene: OpenScene, name: PickName, options?: PickOptions): Promise<void> {
  const hand = inHand(scene);
  if (!hand) return;
  const reply = await scene.builds.ask(hand.piece.id, {
    kind: 'pick',
    name,
    selection: hand.selection,
    options,
  });
  if (
    reply &&
    (await show(scene, hand.piece.id, reply)) &&
    name === 'rule' &&
    !inHand(scene)?.selection.indices.length
  )
    scene.store.dispatch(bench.noticed({ text: 'The piece has none of those.', tone: 'info' }));
}

/** Puts the selection of a reply in hand; the level follows when another kind of element came out. */
async function show(scene: OpenScene, id: string, reply: Reply): Promise<boolean> {
  if (!('fault' in reply) && !('selection' in reply)) return false;
  if ('fault' in reply) {
    problem(scene, [reply.fault.message, reply.fault.fix].filter(Boolean).join(' '));
    if (reply.fault.elements) lightUp(scene, reply.fault.elements);
    return false;
  }
  if (state(scene).bench.active !== id) return false;
  const { kind, indices } = reply.selection;
  const level = (Object.keys(KIND) as ElementLevel[]).find((l) => KIND[l] === kind)!;
  if (level !== state(scene).bench.level && indices.length) scene.store.dispatch(bench.levelTaken(level));
  scene.store.dispatch(bench.elementsPicked(indices));
  return true;
}

function lightUp(scene: OpenScene, { domain, indices }: { domain: ElementKind; indices: number[] }): void {
  const level = (Object.keys(KIND) as ElementLevel[]).find((l) => KIND[l] === domain)!;
  if (level === state(scene).bench.level) scene.store.dispatch(bench.elementsPicked(indices));
}

/** A selection as an action names it: everything by its rule, anything else by its list. */
function selectOf(scene: OpenScene, id: string, s: Selection): Select {
  const counts = scene.builds.get(id)?.cage?.shape.counts;
  const of = WORD_OF[s.kind];
  return counts && s.indices.length === counts[of] && counts[of] > 0 ? { rule: 'all', of } : listed(s);
}

/** Applies an operation to what is picked (or to a given selection) as one action of the history. */
export const act = (
  scene: OpenScene,
  op: string,
  params: Record<string, unknown> = {},
  on?: Select,
): Promise<boolean> => underWay(scene, applied(scene, op, params, on));

async function applied(
  scene: OpenScene,
  op: string,
  params: Record<string, unknown>,
  on?: Select,
): Promise<boolean> {
  const hand = inHand(scene);
  if (!hand) return false;
  const { piece, site } = hand;
  const action: Action = { op, select: on ?? selectOf(scene, piece.id, hand.selection), ...params };
  const reply = await scene.builds.ask(piece.id, { kind: 'act', action });
  if (!reply) return false;
  if (!('selection' in reply)) return show(scene, piece.id, reply);
  const base = site ? {} : await baseFor(scene, piece);
  const now = state(scene).document.pieces.find((p) => p.id === piece.id);
  if (now !== piece) return false;
  const lasting = { ...action, select: reply.select ?? action.select };
  editPiece(scene, piece.id, `${OPERATIONS[op].title}: ${piece.name ?? piece.id}`, (p) => {
    const on_ = { ...p, ...base };
    return withActions(on_, site, [...actionsAt(on_, site), lasting]);
  });
  await show(scene, piece.id, reply);
  scene.store.dispatch(bench.noticed({ text: saidOf(action, reply), tone: 'info' }));
  return true;
}

/** What came of an action, in sentences. */
export function saidOf(
  action: Action,
  { counts, warnings }: { counts?: Counts; warnings?: Warning[] },
): string {
  const { op, select: _, ...params } = action;
  const done = sentenceOf(OPERATIONS[op], counts ?? {}, params);
  return [done, ...(warnings ?? []).map((w) => w.message)].join(' ');
}

/** Characters of actions beyond which the mesh they make is stored instead of them. */
const LONG_ACTIONS = 200_000;

/**
 * Base and actions the next action goes on from. Long lists of actions become a stored mesh, so that neither opening
 * the scene nor saving one more action takes longer and longer; undo still leads back over it.
 */
async function baseFor(
  scene: OpenScene,
  piece: Piece,
): Promise<Pick<Piece, 'base' | 'actions' | 'selections'>> {
  const { base, actions, selections } = piece;
  if (!actions || JSON.stringify(actions).length < LONG_ACTIONS) return { base, actions, selections };
  const reply = await scene.builds.ask(piece.id, { kind: 'bake' });
  if (!reply || !('bytes' in reply)) return { base, actions, selections };
  try {
    return { base: { blob: await keepMesh(reply.bytes) }, actions: [], selections: reply.selections };
  } catch {
    // Without the server the actions stay as they are.
    return { base, actions, selections };
  }
}

/** Retunes the last action; the history keeps one entry for it. */
export function retune(scene: OpenScene, changes: Record<string, unknown>): void {
  const hand = inHand(scene);
  const last = hand && actionsAt(hand.piece, hand.site).at(-1);
  if (!hand || !last) return;
  const { piece } = hand;
  const label = `${OPERATIONS[last.op].title}: ${piece.name ?? piece.id}`;
  const amends = state(scene).document.undo.at(-1)?.label === label;
  if (amends) undo(scene);
  scene.store.dispatch(bench.noticeClosed());
  const base = state(scene).document.pieces.find((p) => p.id === piece.id)!;
  const site = siteOf(state(scene).bench, base);
  const others = actionsAt(base, site).slice(0, amends ? undefined : -1);
  const changed = withActions(base, site, [...others, { ...last, ...changes }]);
  preview(scene, null);
  commit(
    scene,
    label,
    state(scene).document.pieces.map((p) => (p.id === piece.id ? changed : p)),
  );
}

/** Shows the piece in hand with one more action, while a hand is at it. */
export function previewAction(scene: OpenScene, action: Action): void {
  const hand = inHand(scene);
  if (hand) previewActions(scene, hand, [...actionsAt(hand.piece, hand.site), action]);
}

function previewActions(scene: OpenScene, at: { piece: Piece; site: Site | null }, actions: Action[]): void {
  preview(scene, { [at.piece.id]: withActions(at.piece, at.site, actions) });
}

/** Shows the piece in hand with numbers of its last action changed. */
export function previewLast(scene: OpenScene, changes: Record<string, unknown>): void {
  const hand = inHand(scene);
  const actions = hand ? actionsAt(hand.piece, hand.site) : [];
  const last = actions.at(-1);
  if (hand && last) previewActions(scene, hand, [...actions.slice(0, -1), { ...last, ...changes }]);
}

/** The last action's parameters, completed. */
export const paramsOf = (action: Action): Record<string, unknown> => ({
  ...defaultsOf(OPERATIONS[action.op].params),
  ...action,
});

/** Keeps what is picked under a name, with the piece; it follows the actions that come after. */
export const nameSelection = (scene: OpenScene, name: string): Promise<void> =>
  underWay(scene, selectionNamed(scene, name));

async function selectionNamed(scene: OpenScene, name: string): Promise<void> {
  const hand = inHand(scene);
  if (!hand || !name.trim() || !hand.selection.indices.length) return;
  const listedNow = { ...listed(hand.selection), after: hand.piece.actions?.length ?? 0 } as Kept;
  const kept = hand.site ? await pickedByBirth(scene) : listedNow;
  if (!kept) return;
  editPiece(scene, hand.piece.id, `Keep the selection “${name}”`, (p) => ({
    ...p,
    selections: { ...p.selections, [name.trim()]: kept },
  }));
}

/** What is picked on what the steps have made, by birth. */
export async function pickedByBirth(scene: OpenScene): Promise<BornSelect | null> {
  const hand = inHand(scene);
  if (!hand?.selection.indices.length) return null;
  const reply = await scene.builds.ask(hand.piece.id, { kind: 'born', selection: hand.selection });
  return reply && 'born' in reply ? reply.born : null;
}

/** Picks a kept selection again; what is left of it. */
export const recallSelection = (scene: OpenScene, name: string): Promise<void> =>
  underWay(scene, recalled(scene, name));

async function recalled(scene: OpenScene, name: string): Promise<void> {
  const hand = inHand(scene);
  const kept = hand?.piece.selections?.[name];
  if (!hand || !kept) return;
  const ofBuild = 'picks' in kept;
  if (ofBuild !== (hand.site !== null))
    return problem(
      scene,
      `“${name}” was kept ${ofBuild ? 'on the result' : 'on the base'}; edit that to pick it again.`,
    );
  const reply = await scene.builds.ask(hand.piece.id, { kind: 'recall', kept });
  if (!reply || !(await show(scene, hand.piece.id, reply)) || !('selection' in reply)) return;
  if (reply.lost)
    problem(
      scene,
      `Nothing is left of ${counted(reply.lost, 'element')} of “${name}”; what is there is picked.`,
    );
}

export function forgetSelection(scene: OpenScene, name: string): void {
  const hand = inHand(scene);
  if (!hand) return;
  editPiece(scene, hand.piece.id, `Forget the selection “${name}”`, (p) => {
    const { [name]: _, ...selections } = p.selections ?? {};
    return { ...p, selections };
  });
}
