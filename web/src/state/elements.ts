/** Editing elements of the pieces in hand: every operation is tried by the worker first, so a refusal changes nothing. */
import type { Action } from '@urnsmith/core/actions/actions';
import type { Piece } from '@urnsmith/core/document/schema';
import type { Warning } from '@urnsmith/core/mesh/errors';
import { OPERATIONS } from '@urnsmith/core/ops/index';
import { counted, defaultsOf, sentenceOf, type Counts } from '@urnsmith/core/ops/operation';
import type { PickName, PickOptions } from '@urnsmith/core/select/picks';
import { listed, type Select } from '@urnsmith/core/select/rules';
import { WORD_OF, type ElementKind, type Selection } from '@urnsmith/core/select/selection';
import type { OpenScene } from './OpenScene';
import type { Reply } from '../workers/questions';
import { commit, preview, undo } from './actions';
import { handActions, type ElementLevel, type Level } from './handSlice';
import { panelActions } from './panelSlice';
import { allInHand, HANDS_AT_MOST, idsInHand, inHand, KIND, siteInHand, type Hand } from './inHand';
import { keepMesh } from './meshes';
import { piecesById, settledPieces } from './selectors';
import { actionsAt, withActions } from './site';
import { editHere } from './twins';
import { underWay } from './underWay';

const state = (scene: OpenScene) => scene.store.getState();
const problem = (scene: OpenScene, text: string): void => {
  scene.store.dispatch(panelActions.noticed({ text, tone: 'problem' }));
};
const levelOf = (kind: ElementKind): ElementLevel =>
  (Object.keys(KIND) as ElementLevel[]).find((l) => KIND[l] === kind)!;

/** Goes to a level; what is picked is brought along where it can be. */
export const takeLevel = (scene: OpenScene, level: Level): Promise<void> =>
  underWay(scene, toLevel(scene, level));

async function toLevel(scene: OpenScene, level: Level): Promise<void> {
  const { hand: b, document } = state(scene);
  const piece = document.pieces.find((p) => p.id === b.active);
  if (level !== 'piece' && (!piece || 'group' in piece.base)) {
    problem(scene, 'Select a piece with faces first.');
    return;
  }
  if (level !== 'piece' && !editHere(scene, piece!.id)) return;
  const before = allInHand(scene);
  scene.store.dispatch(handActions.levelTaken(level));
  if (level === 'piece') return;
  if (b.level === 'piece') tellLeftOut(scene);
  await ask(scene, before.filter(hasPicks), (h) => ({
    kind: 'convert',
    selection: h.selection,
    to: KIND[level],
  }));
}

/** Selected pieces with faces that are not edited along. */
function tellLeftOut(scene: OpenScene): void {
  const byId = piecesById(state(scene));
  const inHandNow = new Set(idsInHand(state(scene)));
  const out = state(scene).hand.selected.filter(
    (id) => !inHandNow.has(id) && byId.has(id) && !('group' in byId.get(id)!.base),
  );
  if (!out.length) return;
  const why = inHandNow.size < HANDS_AT_MOST ? 'twins and locked pieces stay as they are' : `no more than ${HANDS_AT_MOST} pieces are edited at once`; // prettier-ignore
  const text = `${counted(out.length, 'selected piece')} left out: ${why}.`;
  scene.store.dispatch(panelActions.noticed({ text, tone: 'info' }));
}

const hasPicks = (h: Hand): boolean => h.selection.indices.length > 0;

/** A selecting command: loops, rings, growing, rules. @param alone of the piece that leads */
export const pick = (scene: OpenScene, name: PickName, options?: PickOptions, alone = false): Promise<void> =>
  underWay(scene, picked(scene, name, options, alone));

/** Commands that begin from nothing. */
const FROM_NOTHING: PickName[] = ['all', 'none', 'invert', 'rule'];

async function picked(
  scene: OpenScene,
  name: PickName,
  options: PickOptions | undefined,
  alone: boolean,
): Promise<void> {
  const lead = inHand(scene);
  if (!lead) return;
  const hands = alone ? [lead] : allInHand(scene);
  const some = FROM_NOTHING.includes(name) ? hands : hands.filter(hasPicks);
  const done = await ask(scene, some.length ? some : [lead], (h) => ({
    kind: 'pick',
    name,
    selection: h.selection,
    options,
  }));
  if (done && name === 'rule' && !allInHand(scene).some(hasPicks))
    scene.store.dispatch(panelActions.noticed({ text: 'The piece has none of those.', tone: 'info' }));
}

/** Asks about several pieces, and picks what is answered; nothing where one of them refuses. */
async function ask(
  scene: OpenScene,
  hands: Hand[],
  question: (h: Hand) => Parameters<OpenScene['builds']['ask']>[1],
): Promise<boolean> {
  if (!hands.length) return false;
  const replies = await Promise.all(hands.map((h) => scene.builds.ask(h.piece.id, question(h))));
  return showAll(
    scene,
    hands.map(({ piece }, i) => ({ piece, reply: replies[i] })),
  );
}

interface Answered {
  piece: Piece;
  reply: Reply | null;
}

/** Puts the selection of a reply in hand; the level follows when another kind of element came out. */
export const show = (scene: OpenScene, piece: Piece, reply: Reply): boolean =>
  showAll(scene, [{ piece, reply }]);

function showAll(scene: OpenScene, answered: Answered[]): boolean {
  const refused = answered.find(({ reply }) => reply && 'fault' in reply);
  if (refused) {
    refuse(scene, refused, answered.length > 1);
    return false;
  }
  const picks: Record<string, ReadonlyArray<number>> = {};
  const found = answered.flatMap(({ piece, reply }): Array<{ id: string; selection: Selection }> =>
    reply && 'selection' in reply ? [{ id: piece.id, selection: reply.selection }] : [],
  );
  if (found.length < answered.length) return false;
  if (!found.some(({ id }) => id === state(scene).hand.active)) return false;
  const full = found.filter(({ selection }) => selection.indices.length);
  const now = KIND[state(scene).hand.level as ElementLevel];
  const kind = full.some(({ selection }) => selection.kind === now) ? now : full[0]?.selection.kind;
  for (const { id, selection } of full) if (selection.kind === kind) picks[id] = selection.indices;
  if (kind && kind !== now) scene.store.dispatch(handActions.levelTaken(levelOf(kind)));
  scene.store.dispatch(handActions.piecesPicked({ picks }));
  return true;
}

/** Says what a piece refused, and lights up where. */
function refuse(scene: OpenScene, { piece, reply }: Answered, named: boolean): void {
  if (!reply || !('fault' in reply)) return;
  const { message, fix, elements } = reply.fault;
  const text = [message, fix].filter(Boolean).join(' ');
  problem(scene, named ? `${piece.name ?? piece.id}: ${text}` : text);
  if (elements && KIND[state(scene).hand.level as ElementLevel] === elements.domain)
    scene.store.dispatch(
      handActions.piecesPicked({ picks: { [piece.id]: elements.indices }, lead: piece.id }),
    );
}

/** A selection as an action names it: everything by its rule, anything else by its list. */
function selectOf(scene: OpenScene, id: string, s: Selection): Select {
  const counts = scene.builds.get(id)?.cage?.shape.counts;
  const of = WORD_OF[s.kind];
  return counts && s.indices.length === counts[of] && counts[of] > 0 ? { rule: 'all', of } : listed(s);
}

type Params = Record<string, unknown>;
const titleOf = (op: string, pieces: ReadonlyArray<Piece>): string =>
  `${OPERATIONS[op].title}: ${pieces.length === 1 ? (pieces[0].name ?? pieces[0].id) : `${pieces.length} pieces`}`;

/**
 * Applies an operation to what is picked as one action of the history; to all pieces in hand, or, where one of them
 * refuses, to none.
 * @param params the same for all, or by piece
 * @param on instead of what is picked
 * @param alone to the piece that leads; so it is where elements of it are named
 */
export const act = (
  scene: OpenScene,
  op: string,
  params: Params | ((id: string) => Params) = {},
  on?: Select,
  alone = on !== undefined,
): Promise<boolean> => underWay(scene, applied(scene, op, params, on, alone));

async function applied(
  scene: OpenScene,
  op: string,
  params: Params | ((id: string) => Params),
  on: Select | undefined,
  alone: boolean,
): Promise<boolean> {
  const lead = inHand(scene);
  if (!lead) return false;
  const some = alone ? [lead] : allInHand(scene).filter((h) => on ?? hasPicks(h));
  const hands = some.length ? some : [lead];
  const tried = await Promise.all(
    hands.map(async (h) => {
      const own = typeof params === 'function' ? params(h.piece.id) : params;
      const action: Action = { op, select: on ?? selectOf(scene, h.piece.id, h.selection), ...own };
      return { ...h, action, reply: await scene.builds.ask(h.piece.id, { kind: 'act', action }) };
    }),
  );
  if (tried.some(({ reply }) => !reply || !('selection' in reply))) return showAll(scene, tried) && false;
  const bases = await Promise.all(hands.map((h) => (h.site ? {} : baseFor(scene, h.piece))));
  const there = new Set(state(scene).document.pieces);
  if (hands.some(({ piece }) => !there.has(piece))) return false;
  const after = new Map<string, (p: Piece) => Piece>();
  const counts: Counts[] = [];
  const warnings: Warning[] = [];
  tried.forEach(({ piece, site, action, reply }, i) => {
    if (!reply || !('selection' in reply)) return;
    const lasting = { ...action, select: reply.select ?? action.select };
    after.set(piece.id, (p) => {
      const on_ = { ...p, ...bases[i] };
      return withActions(on_, site, [...actionsAt(on_, site), lasting]);
    });
    counts.push(reply.counts ?? {});
    warnings.push(...(reply.warnings ?? []));
  });
  const label = titleOf(
    op,
    hands.map((h) => h.piece),
  );
  commit(
    scene,
    label,
    settledPieces(state(scene)).map((p) => after.get(p.id)?.(p) ?? p),
  );
  showAll(scene, tried);
  const text = saidOf(tried[tried.length - 1].action, { counts: summed(counts), warnings });
  scene.store.dispatch(panelActions.noticed({ text, tone: 'info' }));
  return true;
}

/** Counts of several pieces together. */
function summed(all: ReadonlyArray<Counts>): Counts {
  const out: Record<string, number> = {};
  for (const counts of all)
    for (const [key, n] of Object.entries(counts)) out[key] = (out[key] ?? 0) + (n ?? 0);
  return out as Counts;
}

/** The outcome of an action, in sentences; each once. */
export function saidOf(
  action: Action,
  { counts, warnings }: { counts?: Counts; warnings?: Warning[] },
): string {
  const { op, select: _, ...params } = action;
  const done = sentenceOf(OPERATIONS[op], counts ?? {}, params);
  return [done, ...new Set((warnings ?? []).map((w) => w.message))].join(' ');
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

/** The pieces whose last action is one with that of the piece that leads, which is first. */
function madeTogether(scene: OpenScene): Hand[] {
  const lead = inHand(scene);
  const op = lead && actionsAt(lead.piece, lead.site).at(-1)?.op;
  if (!lead || !op) return [];
  const others = allInHand(scene).filter(
    (h) => h.piece.id !== lead.piece.id && actionsAt(h.piece, h.site).at(-1)?.op === op,
  );
  const all = [lead, ...others];
  const last = state(scene).document.undo.at(-1)?.label;
  const one =
    last ===
    titleOf(
      op,
      all.map((h) => h.piece),
    );
  return one ? all : [lead];
}

/** Retunes the last action; the history keeps one entry for it. */
export function retune(scene: OpenScene, changes: Params): void {
  const hands = madeTogether(scene);
  const last = hands.length ? actionsAt(hands[0].piece, hands[0].site).at(-1)! : null;
  if (!last) return;
  const ids = hands.map((h) => h.piece.id);
  const label = titleOf(
    last.op,
    hands.map((h) => h.piece),
  );
  const lasts = new Map(hands.map((h) => [h.piece.id, actionsAt(h.piece, h.site).at(-1)!]));
  const amends = state(scene).document.undo.at(-1)?.label === label;
  if (amends) undo(scene);
  scene.store.dispatch(panelActions.noticeClosed());
  const changed = new Map<string, Piece>();
  for (const base of state(scene).document.pieces.filter((p) => ids.includes(p.id))) {
    const { id } = base;
    const site = siteInHand(state(scene).hand, base);
    const others = actionsAt(base, site).slice(0, amends ? undefined : -1);
    changed.set(id, withActions(base, site, [...others, { ...lasts.get(id)!, ...changes }]));
  }
  preview(scene, null);
  commit(
    scene,
    label,
    state(scene).document.pieces.map((p) => changed.get(p.id) ?? p),
  );
}

/** Shows pieces in hand with one more action each, while a hand is at it. */
export function previewActions(scene: OpenScene, more: ReadonlyArray<{ hand: Hand; action: Action }>): void {
  preview(
    scene,
    Object.fromEntries(
      more.map(({ hand: { piece, site }, action }) => [
        piece.id,
        withActions(piece, site, [...actionsAt(piece, site), action]),
      ]),
    ),
  );
}

/** Shows the pieces in hand with numbers of their last action changed. */
export function previewLast(scene: OpenScene, changes: Params): void {
  const shown = madeTogether(scene).map(({ piece, site }) => {
    const actions = actionsAt(piece, site);
    const last = actions.at(-1)!;
    return [piece.id, withActions(piece, site, [...actions.slice(0, -1), { ...last, ...changes }])];
  });
  if (shown.length) preview(scene, Object.fromEntries(shown));
}

/** The last action's parameters, completed. */
export const paramsOf = (action: Action): Record<string, unknown> => ({
  ...defaultsOf(OPERATIONS[action.op].params),
  ...action,
});
