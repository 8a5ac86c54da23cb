/** Anchors of a cutter: made by clicks on its host, shown with the distances they hold, taken away. */
import type { OpenScene } from './OpenScene';
import { hostsByOperand } from '@urnsmith/core/document/belonging';
import { Matrix4, Vector3 } from 'three';
import type { targetAt } from '@urnsmith/core/document/anchors';
import type { Anchor, AnchorTarget } from '@urnsmith/core/select/anchor';
import { completeTransform, worldMatrix } from '@urnsmith/core/document/placement';
import type { Piece } from '@urnsmith/core/document/schema';
import { applyMatrix, transformMatrix } from '@urnsmith/core/mesh/transform';
import { addScaled, dot, unit, type Vec3 } from '@urnsmith/core/mesh/vec3';
import { inLaneOrder, STEPS } from '@urnsmith/core/steps/index';
import { editPiece, notice } from './actions';
import { piecesById } from './selectors';
import { handActions } from './handSlice';
import { modeIn } from './mode';

const state = (scene: OpenScene) => scene.store.getState();
const nameOf = (p: Piece): string => p.name ?? p.id;

/** The piece a cutter is nested in and cuts; null for all others. */
export function hostOf(byId: ReadonlyMap<string, Piece>, piece: Piece): Piece | null {
  if (piece.role !== 'cutter' || piece.parent === undefined) return null;
  const hosts = hostsByOperand([...byId.values()]).get(piece.id) ?? [];
  return hosts.includes(piece.parent) ? (byId.get(piece.parent) ?? null) : null;
}

/** A cutter that is being anchored, and how. */
export interface Anchoring {
  piece: string;
  hold: Anchor['hold'];
}

declare module './mode' {
  interface ModeStates {
    anchor: Anchoring;
  }
}

/** The next click on the host says what the cutter holds to. */
export function takeAnchoring(scene: OpenScene, hold: Anchor['hold']): void {
  const { active } = state(scene).hand;
  const byId = piecesById(state(scene));
  const piece = active === null ? undefined : byId.get(active);
  if (!piece || !hostOf(byId, piece))
    return notice(scene, 'Select a cutter that is nested in the piece it cuts, to anchor it there.', false, 'problem'); // prettier-ignore
  scene.store.dispatch(handActions.modeTaken({ is: 'anchor', piece: piece.id, hold }));
}

export const endAnchoring = (scene: OpenScene): void =>
  void scene.store.dispatch(handActions.modeTaken(null));

/**
 * Anchors to what was clicked on the host: a face, or an edge or corner of it where a distance is held.
 * @param place in the host's frame
 * @param reach how near an edge or corner must be, mm
 */
export async function anchorAt(scene: OpenScene, place: Vec3, reach: number): Promise<void> {
  const anchoring = modeIn(state(scene), 'anchor');
  const piece = anchoring && piecesById(state(scene)).get(anchoring.piece);
  if (!piece) return;
  const { hold } = anchoring;
  const near = hold === 'distance' ? { reach, held: heldOf(piece) } : undefined;
  const found = await targetFor(scene, piece, place, near);
  if (!found) return;
  const { target, facing, opposite } = found;
  if (hold === 'middle' && !opposite)
    return notice(scene, 'No face lies opposite to this one; click another.', false, 'problem');
  endAnchoring(scene);
  const anchor: Anchor = { hold, to: hold === 'middle' ? [target, opposite!] : [target], facing };
  editPiece(scene, piece.id, `Anchor ${nameOf(piece)}`, (p) => withAnchor(p, anchor));
}

type Near = Parameters<typeof targetAt>[2];

/** A cutter in its host's frame, as an edge or a corner sees it. */
function heldOf({ transform, anchors }: Piece): NonNullable<Near>['held'] {
  const m = transformMatrix(completeTransform(transform));
  return {
    at: [m[12], m[13], m[14]],
    axis: unit([m[4], m[5], m[6]]),
    along: (anchors ?? []).filter((a) => a.hold === 'distance').map((a) => a.facing),
  };
}

/** The anchor target at a place on a cutter's host, as the host is before the cut; null when it cannot be told. */
async function targetFor(
  scene: OpenScene,
  piece: Piece,
  place: Vec3,
  near?: Near,
): Promise<ReturnType<typeof targetAt>> {
  const host = hostOf(piecesById(state(scene)), piece);
  if (!host) return null;
  const upTo = inLaneOrder(host.steps ?? []).findIndex((s) =>
    STEPS[s.kind].operands?.(s as never).includes(piece.id),
  );
  const found = await targetOn(scene, host, upTo, place, near);
  if (typeof found !== 'string') return found;
  notice(scene, found, false, 'problem');
  return null;
}

/**
 * The anchor target at a place on a piece, in its frame: a face, or an edge or point near by.
 * @param upTo the number of steps, in lane order, after which the piece is looked at
 * @returns a sentence instead, where it cannot be told
 */
export async function targetOn(
  scene: OpenScene,
  host: Piece,
  upTo: number,
  place: Vec3,
  near?: Near,
): Promise<ReturnType<typeof targetAt> | string> {
  const reply = await scene.builds.ask(host.id, { kind: 'anchor', upTo, point: place, near });
  if (reply && 'anchor' in reply) return reply.anchor;
  return reply && 'fault' in reply
    ? reply.fault.message
    : 'The host is not built yet; try again in a moment.';
}

/** Lets a cutter go through its host, or through the next wall. It is anchored to the face it goes in by, so that its upper end follows. */
export async function setReach(scene: OpenScene, id: string, reach: Piece['reach']): Promise<void> {
  const piece = piecesById(state(scene)).get(id);
  const label = `How deep ${piece?.name ?? id} goes`;
  const entry = piece && reach ? entryOf(scene, piece) : null;
  const found = entry && (await targetFor(scene, piece!, entry));
  editPiece(scene, id, label, ({ reach: _, ...p }) => {
    if (!reach) return p;
    const held = p.anchors?.some((a) => found && Math.abs(dot(a.facing, found.facing)) > ALIKE);
    const out = { ...p, reach };
    return found && !held
      ? withAnchor(out, { hold: 'distance', to: [found.target], facing: found.facing })
      : out;
  });
}
const ALIKE = 0.9;

/** The place where a cutter enters its host along its Y: the first wall under its upper end. In the host's frame. */
function entryOf(scene: OpenScene, piece: Piece): Vec3 | null {
  const { stage } = scene;
  const bounds = scene.builds.get(piece.id)?.display?.bounds;
  const byId = piecesById(state(scene));
  const host = hostOf(byId, piece);
  if (!stage || !bounds || !host) return null;
  const world = new Matrix4().fromArray(worldMatrix(byId, piece.id));
  const down = new Vector3().setFromMatrixColumn(world, 1).negate().normalize();
  // Beside the hole it has cut, the face it goes in by is still there.
  const [rx, rz] = [0.55, 0.55].map((r, k) => r * (bounds.max[2 * k] - bounds.min[2 * k]));
  for (let k = 0; k < 8; k++) {
    const angle = (k * Math.PI) / 4;
    const from = new Vector3(rx * Math.cos(angle), bounds.max[1], rz * Math.sin(angle)).applyMatrix4(world);
    const [far] = stage.along(host.id, from, down);
    if (far === undefined) continue;
    const back = new Matrix4().fromArray(worldMatrix(byId, host.id)).invert();
    return from.addScaledVector(down, far).applyMatrix4(back).toArray();
  }
  return null;
}

/** A piece with one more anchor, put in the middle or the centre at once where it holds that. */
function withAnchor(p: Piece, anchor: Anchor): Piece {
  const t = completeTransform(p.transform);
  const out = { ...p, anchors: [...(p.anchors ?? []), anchor] };
  if (anchor.hold === 'distance') return out;
  const at = middleOf(anchor.to);
  const way = dot(at, anchor.facing) - dot(t.move, anchor.facing);
  // Between two it moves along their direction, to a centre in the plane.
  const move =
    anchor.hold === 'middle' ? addScaled(t.move, anchor.facing, way) : addScaled(at, anchor.facing, -way);
  return { ...out, transform: { ...t, move } };
}

const middleOf = (targets: AnchorTarget[]): Vec3 =>
  [0, 1, 2].map((k) => targets.reduce((sum, { at }) => sum + at[k], 0) / targets.length) as Vec3;

/** How far a cutter's side and its origin are from what an anchor holds, mm, into the host. */
export function distancesOf(
  piece: Piece,
  { to, facing }: Anchor,
  positions: ArrayLike<number>,
): { side: number; middle: number } {
  const m = transformMatrix(completeTransform(piece.transform));
  const plane = dot(to[0].at, facing);
  let most = -Infinity;
  for (let i = 0; i < positions.length; i += 3)
    most = Math.max(most, dot(applyMatrix(m, [positions[i], positions[i + 1], positions[i + 2]]), facing));
  return { side: plane - most, middle: plane - dot([m[12], m[13], m[14]], facing) };
}

/** The piece moved along an anchor's direction, so that its distance is so much greater. */
export function movedAway(piece: Piece, { facing }: Anchor, by: number): Piece {
  const t = completeTransform(piece.transform);
  return { ...piece, transform: { ...t, move: addScaled(t.move, facing, -by) } };
}

/** The target of an anchor, in words. */
export function targetName({ to, facing }: Anchor): string {
  const side = sideName(facing);
  return { faces: side, edges: `edge, ${side}`, points: `corner, ${side}` }[to[0].of];
}

/** A side of the host by where it looks, in words. */
export function sideName(facing: Vec3): string {
  const k = [0, 1, 2].reduce((a, b) => (Math.abs(facing[b]) > Math.abs(facing[a]) ? b : a));
  if (Math.abs(facing[k]) < 0.999) return 'slanted side';
  return [['left', 'right'], ['bottom', 'top'], ['back', 'front']][k][facing[k] > 0 ? 1 : 0]; // prettier-ignore
}
