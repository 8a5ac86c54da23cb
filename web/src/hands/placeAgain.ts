/**
 * Placing a piece again: a copy hangs on the pointer, seated on each face it passes as the first one sits on its own; a
 * click sets it down and the next one follows. All of them are one action of the history.
 */
import type { OpenScene } from '../scene/OpenScene';
import { Matrix4, Vector3 } from 'three';
import { withCuttersNested } from '@urnsmith/core/document/belonging';
import { placedAt } from '@urnsmith/core/document/arrangePieces';
import { namedOperands } from '@urnsmith/core/document/graph';
import { worldMatrix } from '@urnsmith/core/document/placement';
import type { Piece } from '@urnsmith/core/document/schema';
import { transformOf, type Matrix } from '@urnsmith/core/mesh/transform';
import type { CutStep } from '@urnsmith/core/steps/steps';
import { commit, copiesOf, notice, preview, undo } from '../state/actions';
import { bench, type PlacingAgain } from '../state/benchSlice';
import { piecesById } from '../state/selectors';
import type { Stage } from '../viewport/Stage';
import { frameAlong, frameUnder, placeOn, withCutter, type Pointing } from './cutDrawing';

const state = (scene: OpenScene) => scene.store.getState();

/** Takes the chosen piece in hand to be placed again; taken again, it is let go of. */
export function takePlaceAgain(scene: OpenScene): void {
  const { placing, active } = state(scene).bench;
  if (placing) return endPlaceAgain(scene);
  const piece = active === null ? undefined : piecesById(state(scene)).get(active);
  if (!piece || 'group' in piece.base || !scene.stage)
    return notice(scene, 'Select the piece to place again first.', false, 'problem');
  scene.store.dispatch(
    bench.placingTaken({ piece: piece.id, turn: 0, ...seatOf(scene, scene.stage, piece), at: null }),
  );
}

export function endPlaceAgain(scene: OpenScene): void {
  preview(scene, null);
  scene.store.dispatch(bench.placingTaken(null));
}

/** Turns what hangs on the pointer by steps of the angle. */
export function turnPlaced(scene: OpenScene, by: 1 | -1): void {
  const { placing, angleStep } = state(scene).bench;
  if (placing) setTurn(scene, placing.turn + by * angleStep);
}

export function setTurn(scene: OpenScene, turn: number): void {
  const { placing } = state(scene).bench;
  if (!placing) return;
  scene.store.dispatch(bench.placingTaken({ ...placing, turn: ((turn % 360) + 360) % 360 }));
  show(scene);
}

/** The pointer over the stage; false when nothing is being placed. */
export function hoverPlaced(scene: OpenScene, pointing: Pointing): boolean {
  const { placing } = state(scene).bench;
  if (!placing) return false;
  const under = frameUnder(scene, pointing.stage, pointing.x, pointing.y);
  const place = under && placeOn(scene, pointing, under.frame);
  const at = under && place ? { host: under.host, frame: under.frame, place } : null;
  scene.store.dispatch(bench.placingTaken({ ...placing, at }));
  show(scene);
  return true;
}

/** Sets down what hangs on the pointer; false when nothing is being placed. */
export function pressPlaced(scene: OpenScene): boolean {
  const { placing } = state(scene).bench;
  if (!placing) return false;
  const plan = planned(scene, placing);
  if (!plan) return true;
  const name = piecesById(state(scene)).get(placing.piece)?.name ?? placing.piece;
  const label = (n: number): string => `Place ${name} again${n > 1 ? ` ${n} times` : ''}`;
  const last = state(scene).document.undo.at(-1)?.label;
  const before = placing.placed ?? 0;
  preview(scene, null);
  // One action for all that are set down in a row.
  const goesOn = before > 0 && last === label(before);
  if (goesOn) undo(scene);
  const placed = goesOn ? before + 1 : 1;
  if (commit(scene, label(placed), plan.after))
    scene.store.dispatch(bench.placingTaken({ ...placing, placed, at: null }));
  return true;
}

function show(scene: OpenScene): void {
  const { placing } = state(scene).bench;
  const plan = placing && planned(scene, placing);
  if (!plan) return preview(scene, null);
  // Only the copy: were the hole shown too, the pointer would fall into it.
  const known = new Set(state(scene).document.pieces.map((p) => p.id));
  preview(scene, Object.fromEntries(plan.after.filter((p) => !known.has(p.id)).map((p) => [p.id, p])));
}

/** The pieces with one more copy where it hangs; a cutter cuts what it is set down on. */
function planned(scene: OpenScene, { piece, at, rel, up, turn }: PlacingAgain): { after: Piece[] } | null {
  const list = state(scene).document.pieces;
  const original = list.find((p) => p.id === piece);
  if (!at || !original) return null;
  const { copies, tops, hosts } = copiesOf(scene, [piece]);
  const world = new Matrix4()
    .fromArray(at.frame)
    .multiply(new Matrix4().makeTranslation(at.place[0], up, at.place[1]))
    .multiply(new Matrix4().makeRotationY((turn * Math.PI) / 180))
    .multiply(new Matrix4().fromArray(rel));
  const cutsIn = list.filter((p) => namedOperands(p).includes(piece));
  const step = cutsIn[0]?.steps?.find((s): s is CutStep => s.kind === 'cut' && s.cutters.includes(piece));
  // On another piece it cuts there, by a step like its own.
  const elsewhere = step && !cutsIn.some((p) => p.id === at.host);
  const base = elsewhere
    ? list.map((p) => (p.id === at.host ? withCutter(p, wantedBy(step), tops[0]) : p))
    : hosts;
  const all = [...base, ...copies.map((c) => (c.id === tops[0] ? { ...c, parent: undefined } : c))];
  const byId = new Map(all.map((p) => [p.id, p]));
  const set = all.map((p) => {
    if (p.id !== tops[0]) return p;
    const { parent: _, ...free } = placedAt(byId, p, world.toArray() as Matrix);
    return free;
  });
  return { after: step ? withCuttersNested(set, new Set([tops[0]])) : set };
}

const wantedBy = ({ mode, thickness }: CutStep): Pick<CutStep, 'mode' | 'thickness'> => ({
  mode,
  ...(thickness !== undefined && { thickness }),
});

/** How a piece sits on the face below or around it: its turn to the face's frame, and how high its origin stands. */
function seatOf(scene: OpenScene, stage: Stage, piece: Piece): Pick<PlacingAgain, 'rel' | 'up'> {
  const byId = piecesById(state(scene));
  const world = new Matrix4().fromArray(worldMatrix(byId, piece.id));
  const out = new Vector3().setFromMatrixColumn(world, 1).normalize();
  const origin = new Vector3().setFromMatrixPosition(world);
  const hostId = piece.parent ?? [...byId.values()].find((p) => namedOperands(p).includes(piece.id))?.id;
  const frame = frameAlong(byId, hostId ?? piece.id, out, origin);
  const size = new Vector3(...transformOf(world.toArray() as Matrix).size);
  const turned = new Matrix4().extractRotation(new Matrix4().fromArray(frame)).invert().multiply(new Matrix4().extractRotation(world)); // prettier-ignore
  return {
    rel: turned.scale(size).toArray() as Matrix,
    up: hostId ? heightOver(stage, hostId, piece.id, origin, out, frame) : 0,
  };
}

/** How high a place stands over the face around it, found just beside the piece. */
function heightOver(
  stage: Stage,
  host: string,
  piece: string,
  origin: Vector3,
  out: Vector3,
  frame: Matrix,
): number {
  const span = stage.bounds([piece]).getSize(new Vector3());
  const far = 2 * stage.bounds([host, piece]).getSize(new Vector3()).length();
  const heights: number[] = [];
  for (let k = 0; k < 8; k++) {
    const angle = (k * Math.PI) / 4;
    const dir = new Vector3(Math.cos(angle), 0, Math.sin(angle)).transformDirection(
      new Matrix4().fromArray(frame),
    );
    const reach = 0.55 * Math.abs(span.dot(new Vector3(Math.abs(dir.x), Math.abs(dir.y), Math.abs(dir.z))));
    const from = origin.clone().addScaledVector(dir, reach).addScaledVector(out, far);
    const [hit] = stage.along(host, from, out.clone().negate());
    if (hit !== undefined) heights.push(hit - far);
  }
  heights.sort((a, b) => a - b);
  return heights.length ? Number(heights[heights.length >> 1].toFixed(6)) + 0 : 0;
}
