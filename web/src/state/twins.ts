/** Twins of pieces, and what cuts took out as pieces of its own. */
import type { OpenScene } from './OpenScene';
import { hostsByOperand } from '@urnsmith/core/document/belonging';
import { freeName, stemOf } from '@urnsmith/core/document/names';
import { originalOf, takenOver, twinned, twinsOf } from '@urnsmith/core/document/twins';
import type { Piece } from '@urnsmith/core/document/schema';
import { halvesOf, stepName, STEPS, type Step } from '@urnsmith/core/steps/index';
import { commit, copiesOf, newId, newName, newStepId, notice, withOperandsJoined } from './actions';
import { handActions } from './handSlice';
import { piecesById, settledPieces } from './selectors';

const pieces = (scene: OpenScene): Piece[] => settledPieces(scene.store.getState());
const problem = (scene: OpenScene, text: string): void => notice(scene, text, false, 'problem');
const find = (scene: OpenScene, id: string): Piece | undefined => pieces(scene).find((p) => p.id === id);
const nameOf = (p: Piece): string => p.name ?? p.id;

export const isTwin = (p: Piece | null | undefined): boolean =>
  p !== null && p !== undefined && 'twin' in p.base;

/** Twins of the selected pieces, standing where they stand, and selects them. */
export function twinSelected(scene: OpenScene): void {
  const { selected } = scene.store.getState().hand;
  const list = pieces(scene);
  if (!selected.length) return problem(scene, 'Select the pieces to make twins of first.');
  const ids = new Set(list.map((p) => p.id));
  const names = new Set(list.map((p) => p.name));
  let k = list.length;
  const { made, of } = twinned(list, selected, (p) => {
    do k++;
    while (ids.has(`p${k}`));
    const name = freeName(stemOf(nameOf(p)), names);
    ids.add(`p${k}`);
    names.add(name);
    return { id: `p${k}`, name };
  });
  const joined = list.map((p) =>
    withOperandsJoined(p, new Map([...of].filter(([id]) => selected.includes(id)))),
  );
  const label =
    selected.length === 1
      ? `Twin of ${nameOf(find(scene, selected[0])!)}`
      : `Twins of ${selected.length} pieces`;
  if (!commit(scene, label, [...joined, ...made])) return;
  scene.store.dispatch(handActions.selected({ ids: selected.flatMap((id) => of.get(id) ?? []) }));
}

/**
 * Sees to it that a piece holds its base and build itself, so that both can be edited where it stands: a twin takes them
 * over from its original.
 * @returns whether it does; when not, a notice says why
 */
export function editHere(scene: OpenScene, id: string): boolean {
  const piece = find(scene, id);
  if (!isTwin(piece)) return true;
  const after = takenOver(pieces(scene), id);
  const original = originalOf(piecesById(scene.store.getState()), piece!);
  if (!after) {
    problem(
      scene,
      `The build of ${nameOf(original)} depends on pieces outside of it, so it can only be edited there. Select ${nameOf(original)}, or make ${nameOf(piece!)} its own.`,
    );
    return false;
  }
  return commit(scene, `Edit at ${nameOf(piece!)}`, after);
}

/** Twins among the selected pieces get base, build and cutters of their own. */
export function makeOwn(scene: OpenScene): void {
  const { selected } = scene.store.getState().hand;
  const twins = selected.filter((id) => isTwin(find(scene, id)));
  if (!twins.length) return problem(scene, 'Select a twin first.');
  const names = twins.map((id) => nameOf(find(scene, id)!));
  let list = pieces(scene);
  for (const id of twins) list = owned(scene, list, id);
  const label = names.length === 1 ? `Make ${names[0]} its own` : `Make ${names.length} twins their own`;
  commit(scene, label, list);
}

function owned(scene: OpenScene, list: Piece[], id: string): Piece[] {
  const byId = new Map(list.map((p) => [p.id, p]));
  const twin = byId.get(id)!;
  const original = originalOf(byId, twin);
  const { copies, tops } = copiesOf(scene, [original.id], list);
  const needed = new Set(copies.flatMap((c) => (c.id === tops[0] ? (c.steps ?? []).flatMap((s) => STEPS[s.kind].operands?.(s as never) ?? []) : []))); // prettier-ignore
  const { base, actions, steps, selections } = copies.find((c) => c.id === tops[0])!;
  const build = {
    base,
    ...(actions && { actions }),
    ...(steps && { steps }),
    ...(selections && { selections }),
  };
  const cutters = copies.filter((c) => c.id !== tops[0] && needed.has(c.id));
  return [
    ...list.map((p) => (p.id === id ? { ...twin, ...build } : p)),
    ...cutters.map((c) => (c.parent === tops[0] ? { ...c, parent: id } : c)),
  ];
}

export function selectTwins(scene: OpenScene): void {
  const { active } = scene.store.getState().hand;
  const piece = active === null ? undefined : find(scene, active);
  if (!piece) return;
  const twins = twinsOf(pieces(scene), piece);
  if (!twins.length) return problem(scene, `${nameOf(piece)} has no twins.`);
  const original = originalOf(piecesById(scene.store.getState()), piece);
  const others = [original, ...twins].filter((p) => p.id !== piece.id).map((p) => p.id);
  scene.store.dispatch(handActions.selected({ ids: [...others, piece.id] }));
}

/** Whether a piece's mesh may be changed without others changing with it; when not, a notice says so. */
export function isAlone(scene: OpenScene, id: string): boolean {
  const piece = find(scene, id);
  if (!piece || !twinsOf(pieces(scene), piece).length) return true;
  problem(scene, `${nameOf(piece)} has twins, and they would change with it. Make it its own first.`);
  return false;
}

/** How far a new one stays off the walls of its cut, mm. */
const CLEARANCE = 0.2;

/** The cut to take material from: the chosen one, or the one the chosen cutter works in. */
function cutInHand(scene: OpenScene): { host: Piece; index: number; cutter?: Piece } | null {
  const { active, step } = scene.store.getState().hand;
  const piece = active === null ? undefined : find(scene, active);
  if (!piece) return null;
  if (step !== null && piece.steps?.[step] && STEPS[piece.steps[step].kind].taken)
    return { host: piece, index: step };
  const [hostId] = hostsByOperand(pieces(scene)).get(piece.id) ?? [];
  const host = hostId === undefined ? undefined : find(scene, hostId);
  const index = (host?.steps ?? []).findIndex(
    (s) => STEPS[s.kind].taken && STEPS[s.kind].operands?.(s as never).includes(piece.id),
  );
  return host && index >= 0 ? { host, index, cutter: piece } : null;
}

export const canTakeOut = (scene: OpenScene): boolean => cutInHand(scene) !== null;

/**
 * Makes a piece of the material a cut removes. It follows host and cutter, nested in the host. Of a split that keeps
 * both halves, the inner half becomes the piece, with the gap there was, and the host keeps the outer one.
 */
export function takeOut(scene: OpenScene): void {
  const found = cutInHand(scene);
  if (!found) return problem(scene, 'Select a cutter, or open a cut step, to take out what it removes.');
  const { host, index } = found;
  const step = host.steps![index];
  const id = step.id ?? newStepId(host);
  const halves = halvesOf(step);
  const cutter = halves ? undefined : found.cutter;
  const source = nameOf(cutter ?? host);
  const piece: Piece = {
    id: newId(scene),
    name: newName(scene, halves ? `${source} inner half` : `${source} taken out`),
    parent: host.id,
    base: {
      taken: host.id,
      step: id,
      ...(cutter && { cutter: cutter.id }),
      clearance: halves ? halves.gap : CLEARANCE,
    },
    ...(host.color && { color: host.color }),
  };
  const cut = { ...step, id, ...(halves && { keep: 'outside' as const }) } as Step;
  const changed = { ...host, steps: host.steps!.map((s, i) => (i === index ? cut : s)) };
  const list = pieces(scene).map((p) => (p.id === host.id && (halves || !step.id) ? changed : p));
  const label = halves ? `Make pieces of the halves of ${source}` : `Take out what ${source} cuts`;
  if (commit(scene, label, [...list, piece])) scene.store.dispatch(handActions.selected({ ids: [piece.id] }));
}

/** The cut a piece was taken out by, with its place in the host's list; null when it is gone. */
export function cutOf(
  byId: ReadonlyMap<string, Piece>,
  base: { taken: string; step: string },
): { host: Piece; index: number } | null {
  const host = byId.get(base.taken);
  const index = (host?.steps ?? []).findIndex((s, i) => stepName(s, i) === base.step);
  return host && index >= 0 ? { host, index } : null;
}
