/**
 * Placing a piece again: a copy hangs on the pointer, seated on each face it passes as the first one sits on its own; a
 * click sets it down and the next one follows. All of them are one action of the history. New holes are placed alike,
 * sized by the face they hang on.
 */
import type { OpenScene } from '../state/OpenScene';
import { Box3, Matrix4, Vector3 } from 'three';
import { withCuttersNested } from '@urnsmith/core/document/belonging';
import { placedAt } from '@urnsmith/core/document/arrangePieces';
import { namedOperands } from '@urnsmith/core/document/graph';
import type { Piece } from '@urnsmith/core/document/schema';
import { IDENTITY, transformOf, type Matrix } from '@urnsmith/core/mesh/transform';
import { cutWith, type CutStep } from '@urnsmith/core/steps/index';
import { commit, copiesOf, newId, newName, notice, preview, undo } from '../state/actions';
import { activePiece, piecesById } from '../state/selectors';
import { anchorsTo, entryAt, placeHeld, sameFace, sidesAt, type Entry, type Fixed } from './faceKnown';
import { withCutter } from './withCutter';
import { frameUnder, tidy } from './facePlane';
import { seatOf, type Seat } from './seat';
import { handActions } from '../state/handSlice';
import { modeIn } from '../state/mode';
import type { Pointing } from './pointing';

const state = (scene: OpenScene) => scene.store.getState();
const placingIn = (scene: OpenScene) => modeIn(state(scene), 'place');
const take = (scene: OpenScene, placing: PlacingAgain | null): void => {
  scene.store.dispatch(handActions.modeTaken(placing && { is: 'place', ...placing }));
};

/** Room at a place on a face: the face's lesser extent, and the thickness of the material under it, mm. */
export interface FaceRoom {
  extent: number;
  depth: number;
}

/** Placing copies of a piece, or new holes, again and again. */
export interface PlacingAgain extends Seat {
  /** Null for holes. */
  piece: string | null;
  /** The piece itself is seated, once, and no copy of it. */
  moves?: boolean;
  /** Of holes, mm; by the face they hang on while nothing was typed. */
  radius?: number;
  /** Degrees about the way out of the face. */
  turn: number;
  /** Its place: the face's frame, and X and Z in that. */
  at: { host: string; frame: Matrix; place: [number, number]; room: FaceRoom } | null;
  /** The face it hangs on: what runs around it, what a cutter holds to there, and coordinates that were typed. */
  face: {
    host: string;
    frame: Matrix;
    sides: Array<Array<[number, number]>> | null;
    entry: Entry | null;
    fixed: Fixed;
  } | null;
  /** How many were set down. */
  placed?: number;
}

declare module '../state/mode' {
  interface ModeStates {
    place: PlacingAgain;
  }
}

/** Takes the chosen piece in hand to be placed again; taken again, it is let go of. */
export const takePlaceAgain = (scene: OpenScene): void => takePiece(scene, false);

/** Takes the chosen piece itself in hand, to be seated on another face. */
export const takeToSeat = (scene: OpenScene): void => takePiece(scene, true);

function takePiece(scene: OpenScene, moves: boolean): void {
  const placing = placingIn(scene);
  if (placing) return endPlaceAgain(scene);
  const piece = activePiece(state(scene));
  if (!piece || 'group' in piece.base || !scene.stage)
    return notice(scene, `Select the piece to ${moves ? 'seat' : 'place again'} first.`, false, 'problem');
  if (moves && piece.locked) return notice(scene, `${piece.name ?? piece.id} is locked.`, false, 'problem');
  const seat = seatOf(scene, scene.stage, piece);
  take(scene, { piece: piece.id, moves, turn: 0, ...seat, at: null, face: null });
}

/** Takes a hole in hand, to be set down on faces; taken again, it is let go of. */
export function takeHole(scene: OpenScene): void {
  const placing = placingIn(scene);
  if (placing && placing.piece === null) return endPlaceAgain(scene);
  take(scene, { piece: null, turn: 0, rel: IDENTITY, up: 0, at: null, face: null });
}

/** Sizes holes from now on. */
export function setRadius(scene: OpenScene, radius: number): void {
  const placing = placingIn(scene);
  if (!placing) return;
  take(scene, { ...placing, radius });
  show(scene);
}

export function endPlaceAgain(scene: OpenScene): void {
  take(scene, null);
}

/** Turns what hangs on the pointer by steps of the angle. */
export function turnPlaced(scene: OpenScene, by: 1 | -1): void {
  const { angleStep } = state(scene).settings;
  const placing = placingIn(scene);
  if (placing) setTurn(scene, placing.turn + by * angleStep);
}

export function setTurn(scene: OpenScene, turn: number): void {
  const placing = placingIn(scene);
  if (!placing) return;
  take(scene, { ...placing, turn: ((turn % 360) + 360) % 360 });
  show(scene);
}

/** The pointer over the stage; false when nothing is being placed. */
export function hoverPlaced(scene: OpenScene, pointing: Pointing): boolean {
  const placing = placingIn(scene);
  if (!placing) return false;
  const passed = placing.moves ? withNested(scene, placing.piece!) : undefined;
  const under = frameUnder(scene, pointing.stage, pointing.x, pointing.y, { passed });
  const known = under && placing.face && sameFace(placing.face, under) ? placing.face : null;
  const face = known ?? (under && { ...under, sides: null, entry: null, fixed: [null, null] as Fixed });
  const place = face && placeHeld(scene, face, pointing, face.frame);
  const at = under && place ? { ...under, place, room: roomAt(pointing, under, place) } : null;
  take(scene, { ...placing, at, face });
  show(scene);
  if (face && at && !known) void learnFace(scene, face, at.place);
  return true;
}

/** A piece with all that is nested in it. */
function withNested(scene: OpenScene, id: string): Set<string> {
  const { pieces } = state(scene).document;
  const out = new Set([id]);
  for (const at of out) for (const p of pieces) if (p.parent === at) out.add(p.id);
  return out;
}

/** Finds out about a face that something hangs on. */
async function learnFace(
  scene: OpenScene,
  face: NonNullable<PlacingAgain['face']>,
  place: [number, number],
): Promise<void> {
  const learnt = (more: Partial<NonNullable<PlacingAgain['face']>>): void => {
    const placing = placingIn(scene);
    if (placing?.face && sameFace(placing.face, face))
      take(scene, { ...placing, face: { ...placing.face, ...more } });
  };
  const sides = sidesAt(scene, face, place, 'subtract').then((found) => learnt({ sides: found }));
  const entry = entryAt(scene, face, place, 'subtract').then((found) => learnt({ entry: found }));
  await Promise.all([sides, entry]);
}

/** Moves what hangs on the pointer along the face, as when a distance is typed. @param axis of the face's frame */
export function shiftPlaced(scene: OpenScene, axis: 0 | 1, by: number): void {
  const placing = placingIn(scene);
  if (!placing?.at || !placing.face) return;
  const moved = tidy(placing.at.place[axis] + by);
  const set = <T>(list: readonly [T, T]): [T | number, T | number] =>
    axis ? [list[0], moved] : [moved, list[1]];
  take(scene, {
    ...placing,
    at: { ...placing.at, place: set(placing.at.place) as [number, number] },
    face: { ...placing.face, fixed: set(placing.face.fixed) },
  });
  show(scene);
}

/** Sets down what hangs on the pointer; null when nothing is being placed. */
export function pressPlaced(scene: OpenScene): 'click' | null {
  const placing = placingIn(scene);
  if (!placing) return null;
  const plan = planned(scene, placing);
  if (!plan) return 'click';
  const { piece } = placing;
  const name = piece === null ? 'hole' : (piecesById(state(scene)).get(piece)?.name ?? piece);
  if (placing.moves) {
    preview(scene, null);
    if (commit(scene, `Seat ${name} on a face`, plan.after)) endPlaceAgain(scene);
    return 'click';
  }
  const label = (n: number): string =>
    piece === null
      ? `Place ${n > 1 ? `${n} holes` : 'a hole'}`
      : `Place ${name} again${n > 1 ? ` ${n} times` : ''}`;
  const last = state(scene).document.undo.at(-1)?.label;
  const before = placing.placed ?? 0;
  preview(scene, null);
  // Placements in a row are one action.
  const goesOn = before > 0 && last === label(before);
  if (goesOn) undo(scene);
  const placed = goesOn ? before + 1 : 1;
  if (commit(scene, label(placed), plan.after)) {
    // The next holes are like the first.
    const radius = piece === null ? { radius: radiusOf(placing) } : {};
    const face = placing.face && { ...placing.face, fixed: [null, null] as Fixed };
    take(scene, { ...placing, ...radius, placed, at: null, face });
  }
  return 'click';
}

/** Sets down where a distance was typed; without one, it is done. */
export function setDownOrEnd(scene: OpenScene): void {
  if (placingIn(scene)?.face?.fixed.some((x) => x !== null)) pressPlaced(scene);
  else endPlaceAgain(scene);
}

function show(scene: OpenScene): void {
  const placing = placingIn(scene);
  const plan = placing && planned(scene, placing);
  if (!plan) return preview(scene, null);
  if (placing.moves) {
    const moved = plan.after.find((p) => p.id === placing.piece)!;
    return preview(scene, { [moved.id]: moved });
  }
  // Only the copy: were the hole shown too, the pointer would fall into it.
  const known = new Set(state(scene).document.pieces.map((p) => p.id));
  preview(scene, Object.fromEntries(plan.after.filter((p) => !known.has(p.id)).map((p) => [p.id, p])));
}

/** The pieces with one more copy where it hangs; a cutter cuts what it is set down on. */
function planned(scene: OpenScene, placing: PlacingAgain): { after: Piece[] } | null {
  const { piece, at, rel, up, turn } = placing;
  const list = state(scene).document.pieces;
  if (piece === null)
    return at && { after: withHole(scene, list, at, radiusOf(placing), placing.face?.entry ?? null) };
  const original = list.find((p) => p.id === piece);
  if (!at || !original) return null;
  const onFace = new Matrix4()
    .fromArray(at.frame)
    .multiply(new Matrix4().makeTranslation(at.place[0], up, at.place[1]))
    .multiply(new Matrix4().makeRotationY((turn * Math.PI) / 180))
    .multiply(new Matrix4().fromArray(rel));
  const world = onFace.toArray() as Matrix;
  if (placing.moves) return { after: seated(list, original, world, placing) };
  const { copies, tops, hosts } = copiesOf(scene, [piece]);
  const cutsIn = list.filter((p) => namedOperands(p).includes(piece));
  const step = cutWith(cutsIn[0]?.steps ?? [], piece);
  // On another piece it cuts there, by a step like its own.
  const elsewhere = step && !cutsIn.some((p) => p.id === at.host);
  const base = elsewhere
    ? list.map((p) => (p.id === at.host ? withCutter(p, wantedBy(step), tops[0]) : p))
    : hosts;
  const all = [...base, ...copies.map((c) => (c.id === tops[0] ? { ...c, parent: undefined } : c))];
  const byId = new Map(all.map((p) => [p.id, p]));
  const set = all.map((p) => {
    if (p.id !== tops[0]) return p;
    const { parent: _, ...free } = placedAt(byId, p, world);
    return free;
  });
  if (!step) return { after: set };
  const entry = placing.face?.entry;
  const nested = withCuttersNested(set, new Set([tops[0]]));
  const holds = (p: Piece): boolean => p.id === tops[0] && p.parent === at.host && !!entry && !entry.apart;
  return { after: nested.map((p) => (holds(p) ? { ...p, anchors: anchorsTo(entry!) } : p)) };
}

/** The pieces with one of them seated elsewhere. A cutter keeps its place there if it stays on what it cuts. */
function seated(list: Piece[], original: Piece, world: Matrix, { face }: PlacingAgain): Piece[] {
  const byId = new Map(list.map((p) => [p.id, p]));
  const { anchors, ...moved } = placedAt(byId, original, world);
  const entry = anchors && face?.host === original.parent ? face?.entry : null;
  return list.map((p) => (p === original ? { ...moved, ...(entry && { anchors: anchorsTo(entry) }) } : p));
}

/** The radius of a hole, from the face it is over: a third of the face, rounded. */
export const radiusOf = ({ radius, at }: PlacingAgain): number =>
  radius ?? (at ? roundBelow(at.room.extent / 3) / 2 : 5);

/** The roundest number that is not more. */
function roundBelow(x: number): number {
  const ten = 10 ** Math.floor(Math.log10(Math.max(x, 1e-3)));
  return [5, 2, 1].map((k) => k * ten).find((r) => r <= x * (1 + 1e-9))!;
}

/** How far a cutter stands out of the face it goes into, mm. */
const PROUD = 1;

/** The pieces with a hole through a face more, which stays through and keeps its place on the face. */
function withHole(
  scene: OpenScene,
  list: Piece[],
  { host, frame, place, room }: NonNullable<PlacingAgain['at']>,
  radius: number,
  entry: Entry | null,
): Piece[] {
  const id = newId(scene);
  const world = new Matrix4()
    .fromArray(frame)
    .multiply(new Matrix4().makeTranslation(place[0], -room.depth / 2, place[1]));
  const { move, turn } = transformOf(world.toArray() as Matrix);
  const cutter: Piece = {
    id,
    name: newName(scene, 'Hole'),
    role: 'cutter',
    base: { primitive: 'cylinder', radius, height: room.depth + 2 * PROUD, sides: 32 },
    transform: { move, turn },
  };
  const after = list.flatMap((p) =>
    p.id === host ? [withCutter(p, { mode: 'subtract' }, id, entry?.apart), cutter] : [p],
  );
  return withCuttersNested(after, new Set([id])).map((p) =>
    p.id === id && p.parent === host
      ? { ...p, reach: 'through', ...(entry && { anchors: anchorsTo(entry) }) }
      : p,
  );
}

function roomAt(
  { stage, x, y }: Pointing,
  { host, frame }: { host: string; frame: Matrix },
  place: [number, number],
): FaceRoom {
  const m = new Matrix4().fromArray(frame);
  const out = new Vector3().setFromMatrixColumn(m, 1);
  const size = stage.bounds([host]).getSize(new Vector3()).length();
  const at = new Vector3(place[0], 0, place[1]).applyMatrix4(m).addScaledVector(out, size * 1e-4);
  const [entry = 0, exit = size] = stage.along(host, at, out.clone().negate());
  const depth = Number((exit - entry).toFixed(4));
  const back = m.clone().invert();
  const around = stage.faceAt(x, y)?.outline.flat() ?? [];
  const across = new Box3()
    .setFromPoints(around.map((p) => p.clone().applyMatrix4(back)))
    .getSize(new Vector3());
  const extent = around.length ? Math.min(across.x, across.z) : size / 3;
  return { extent, depth };
}

const wantedBy = ({ mode, thickness }: CutStep): Pick<CutStep, 'mode' | 'thickness'> => ({
  mode,
  ...(thickness !== undefined && { thickness }),
});
