/** Tools that draw on the stage: the knife's lines, a face point by point, a slice by a stroke, a ring cut under the pointer. */
import type { OpenScene } from '../state/OpenScene';
import { perScene } from '../state/perScene';
import { Matrix4, Vector3 } from 'three';
import { encodeMesh } from '@urnsmith/core/formats/meshBlob';
import { OperationError } from '@urnsmith/core/mesh/errors';
import { applyMatrix, invert, transformOf, type Matrix } from '@urnsmith/core/mesh/transform';
import type { Vec3 } from '@urnsmith/core/mesh/vec3';
import { OPERATIONS } from '@urnsmith/core/ops/index';
import { drawnSheet } from '@urnsmith/core/ops/drawFace';
import { listed, type Select } from '@urnsmith/core/select/rules';
import { keepMesh } from '../state/meshes';
import type { Stage } from '../viewport/Stage';
import { commit, newId, newName } from '../state/actions';
import { handActions } from '../state/handSlice';
import { panelActions } from '../state/panelSlice';
import { actionsAt } from '../state/site';
import { act, retune, takeLevel } from '../state/elements';
import { inHand } from '../state/inHand';
import { modeIn } from '../state/mode';

const state = (scene: OpenScene) => scene.store.getState();
const drawing = (scene: OpenScene) => modeIn(state(scene), 'draw');
const show = (scene: OpenScene, d: Drawing): void => {
  scene.store.dispatch(handActions.modeTaken({ is: 'draw', ...d }));
};

/** A drawing on the stage, point by point or by a stroke, in the frame of the active piece. */
export interface Drawing {
  tool: 'knife' | 'face' | 'slice' | 'ring';
  lines: Vec3[][];
  /** Where a click would set the next point. */
  ahead?: Vec3 | null;
  /** Rings a click would cut; one when left out. */
  count?: number;
  /** That would begin another line. */
  apart?: boolean;
}

declare module '../state/mode' {
  interface ModeStates {
    draw: Drawing;
  }
}

/** Takes a tool in hand; taken again, it is put away. */
export async function takeDrawing(scene: OpenScene, tool: Drawing['tool']): Promise<void> {
  if (drawing(scene)?.tool === tool) return putDrawingAway(scene);
  drawn(scene).sliced = null;
  if (tool === 'ring' && state(scene).hand.level !== 'edge') await takeLevel(scene, 'edge');
  if (tool === 'face' || inHand(scene)) show(scene, { tool, lines: [] });
}

/** The operation whose tool is drawn so. */
const opDrawnWith = (draws: Drawing['tool']): string =>
  Object.values(OPERATIONS).find((op) => op.tools?.some((t) => t.draws === draws))!.kind;

export const putDrawingAway = (scene: OpenScene): void => {
  if (drawing(scene)) scene.store.dispatch(handActions.modeTaken(null));
};

/** The line that is being drawn. */
export const openLine = (d: Drawing): Vec3[] => d.lines.at(-1) ?? [];

/** Sets the next point; `apart` begins a further line with it, `closes` ends the line where it began. */
export function drawPoint(
  scene: OpenScene,
  stage: Stage,
  at: Vec3,
  { apart = false, closes = false } = {},
): void {
  const d = drawing(scene);
  if (!d) return;
  const line = openLine(d);
  if (d.tool === 'face') {
    if (closes) void finishDrawing(scene, stage);
    else show(scene, { ...d, lines: [[...line, at]] });
    return;
  }
  // A closed line is done: the next point is another's first.
  if (closes) return show(scene, { ...d, lines: [...d.lines.slice(0, -1), [...line, line[0]], []] });
  if (apart && line.length) return show(scene, { ...d, lines: [...d.lines, [at]] });
  show(scene, { ...d, lines: [...d.lines.slice(0, -1), [...line, at]] });
}

/** Takes the last point back. */
export function undoPoint(scene: OpenScene): void {
  const d = drawing(scene);
  if (!d) return;
  const lines = d.lines.filter((l) => l.length);
  const last = lines.at(-1);
  if (last) show(scene, { ...d, lines: [...lines.slice(0, -1), last.slice(0, -1)] });
}

/** Does what was drawn, as it is seen now. */
export async function finishDrawing(scene: OpenScene, stage: Stage): Promise<void> {
  const d = drawing(scene);
  if (!d || d.tool === 'slice' || d.tool === 'ring') {
    putDrawingAway(scene);
    // With edges picked, the ring is cut across those.
    if (d?.tool === 'ring' && inHand(scene)?.selection.indices.length)
      await act(scene, opDrawnWith('ring'), ringsOf(d));
    return;
  }
  const view = viewOf(scene, stage);
  if (d.tool === 'face') {
    const points = openLine(d);
    if (!inHand(scene)) return void (await newSheet(scene, points, stage));
    if (await act(scene, opDrawnWith('face'), { points, view: view.along }, ALL_FACES)) drawAnother(scene);
    return;
  }
  const lines = d.lines.filter((l) => l.length > 1);
  if (!lines.length) return putDrawingAway(scene);
  // Lines that are refused stay, to be mended or taken back.
  const cut = await act(
    scene,
    opDrawnWith('knife'),
    {
      lines,
      view: view.along,
      ...(view.eye && { eye: view.eye }),
      ...(state(scene).settings.elements.through && { through: true }),
    },
    ALL_FACES,
  );
  if (cut) putDrawingAway(scene);
}

/** The tool stays in hand for the next one. */
function drawAnother(scene: OpenScene): void {
  const d = drawing(scene);
  if (d) show(scene, { tool: d.tool, lines: [] });
}

/** Shows where a click would set the next point; nowhere with null. */
export function showAhead(scene: OpenScene, ahead: Vec3 | null, apart = false): void {
  const d = drawing(scene);
  const same = d?.ahead?.join() === ahead?.join() && (d?.apart ?? false) === apart;
  if (d && !same) show(scene, { ...d, ahead, apart });
}

const ALL_FACES: Select = { rule: 'all', of: 'faces' };

/** How the stage is looked at, in the frame of the piece in hand: the direction, and the eye unless it is far away. */
function viewOf(scene: OpenScene, stage: Stage): { along: Vec3; eye: Vec3 | null } {
  const inverse = inHand(scene) ? new Matrix4().copy(stage.cage.group.matrix).invert() : new Matrix4();
  const along = stage.rig.back.clone().negate().transformDirection(inverse);
  if (stage.rig.parallel) return { along: along.toArray(), eye: null };
  const eye = new Vector3().setFromMatrixPosition(stage.rig.camera.matrixWorld).applyMatrix4(inverse);
  return { along: along.toArray(), eye: eye.toArray() };
}

/** A face drawn with no piece's elements in hand is a piece, in the frame of the grid. */
async function newSheet(scene: OpenScene, points: Vec3[], stage: Stage): Promise<void> {
  const frame: Matrix = state(scene).view.gridFrame ?? new Matrix4().toArray();
  const { move, turn } = transformOf(frame);
  const back = invert(frame);
  const along = stage.rig.back.clone().negate().transformDirection(new Matrix4().fromArray(back));
  try {
    const sheet = drawnSheet(
      points.map((p) => applyMatrix(back, p)),
      along.toArray(),
    );
    const base = { blob: await keepMesh(encodeMesh(sheet)) };
    const piece = { id: newId(scene), name: newName(scene, 'Sheet'), base, transform: { move, turn } };
    putDrawingAway(scene);
    commit(scene, `Draw ${piece.name}`, [...state(scene).document.pieces, piece]);
    scene.store.dispatch(handActions.selected({ ids: [piece.id] }));
  } catch (e) {
    const text =
      e instanceof OperationError ? `${e.message} ${e.fix ?? ''}` : 'The sheet could not be stored.';
    scene.store.dispatch(panelActions.noticed({ text: text.trim(), tone: 'problem' }));
  }
}

/**
 * The plane through a stroke over the stage and along the line of sight. The first stroke slices, further ones move the
 * plane of that slice.
 * @param from, to on the screen, client pixels
 */
export async function strokeSlice(
  scene: OpenScene,
  stage: Stage,
  from: { x: number; y: number },
  to: { x: number; y: number },
  done: boolean,
): Promise<void> {
  const hand = inHand(scene);
  const d = drawing(scene);
  if (!hand || !d) return;
  const inverse = new Matrix4().copy(stage.cage.group.matrix).invert();
  const ends = [from, to].map((p) => stage.onSight(p.x, p.y));
  const local = ends.map((p): Vec3 => p.clone().applyMatrix4(inverse).toArray());
  if (!done) return show(scene, { ...d, lines: [local] });
  show(scene, { ...d, lines: [] });
  const [a, b] = ends;
  const across = b.clone().sub(a);
  if (across.length() < 4 * stage.rig.pixelSize(a)) return;
  const sight = stage.rig.parallel ? stage.rig.back : a.clone().sub(stage.rig.camera.position);
  const normal = across.cross(sight).normalize();
  const m = new Matrix4().copy(stage.cage.group.matrix);
  // Normals go by the transpose of the way back.
  const n = normal.transformDirection(m.clone().transpose()).toArray();
  // Rounded to the precision of the hand.
  const fine = 10 ** Math.floor(Math.log10(stage.rig.pixelSize(a)));
  const plane = {
    point: local[0].map((x) => round(Math.round(x / fine) * fine)),
    normal: n.map((x) => Number(x.toFixed(4)) + 0),
  };
  const slice = opDrawnWith('slice');
  const last = actionsAt(hand.piece, hand.site).at(-1);
  if (last?.op === slice && drawn(scene).sliced === hand.piece.id) return retune(scene, plane);
  drawn(scene).sliced = null;
  // Picked faces are meant alone, but not what a slice before has left picked.
  const { kind, indices } = hand.selection;
  const some = kind === 'face' && indices.length > 0 && last?.op !== slice;
  if (await act(scene, slice, plane, some ? listed(hand.selection) : ALL_FACES)) {
    drawn(scene).sliced = hand.piece.id;
    show(scene, { tool: 'slice', lines: [] });
  }
}
interface Drawn {
  /** The piece the slicing tool has sliced since it was taken. */
  sliced: string | null;
  /** The ring cut that is shown. */
  ringShown: { edge: number; slide: number } | null;
  /** The ring cut to be shown next, and whether one is being asked for. */
  ringWanted: { edge: number; slide: number } | null;
  ringAsked: boolean;
  /** Ring cuts made; an answer about the mesh before one is not shown. */
  ringsCut: number;
}
const drawn = perScene((): Drawn => ({
  sliced: null,
  ringShown: null,
  ringWanted: null,
  ringAsked: false,
  ringsCut: 0,
}));
const round = (x: number): number => Number(x.toFixed(6)) + 0;

/** Shows where a ring cut through the pointed edge would run; asks for the latest only. */
export async function hoverRing(scene: OpenScene, edge: number | null, slide: number): Promise<void> {
  const hand = inHand(scene);
  const own = drawn(scene);
  const d = drawing(scene);
  own.ringShown = edge === null ? null : { edge, slide };
  if (!hand || edge === null) {
    if (d?.lines.length) show(scene, { ...d, lines: [] });
    return;
  }
  own.ringWanted = own.ringShown;
  if (own.ringAsked) return;
  own.ringAsked = true;
  try {
    while (own.ringWanted) {
      const { edge: e, slide: s } = own.ringWanted;
      own.ringWanted = null;
      const { ringsCut } = own;
      const reply = await scene.builds.ask(hand.piece.id, {
        kind: 'ring',
        edge: e,
        count: drawing(scene)?.count ?? 1,
        slide: s,
      });
      const now = drawing(scene);
      if (reply && 'lines' in reply && now?.tool === 'ring' && own.ringsCut === ringsCut)
        show(scene, { ...now, lines: pairsOf(reply.lines) });
    }
  } finally {
    own.ringAsked = false;
  }
}
const pairsOf = (l: Float64Array): Vec3[][] =>
  Array.from({ length: l.length / 6 }, (_, i) => [
    [l[6 * i], l[6 * i + 1], l[6 * i + 2]],
    [l[6 * i + 3], l[6 * i + 4], l[6 * i + 5]],
  ]);

export async function cutRing(scene: OpenScene, edge: number, slide: number): Promise<void> {
  const own = drawn(scene);
  own.ringWanted = null;
  own.ringsCut++;
  const d = drawing(scene);
  const numbers = { ...(slide && { slide: round(slide) }), ...(d && ringsOf(d)) };
  if (await act(scene, opDrawnWith('ring'), numbers, { edges: [edge] }))
    show(scene, { tool: 'ring', lines: [], count: d?.count });
}

const ringsOf = ({ count = 1 }: Drawing): { count?: number } => (count > 1 ? { count } : {});
const MOST_RINGS = 256;

/** One more ring, or one less, and where they would run. */
export function countRings(scene: OpenScene, by: number): void {
  const d = drawing(scene);
  if (d?.tool !== 'ring') return;
  show(scene, { ...d, count: Math.min(MOST_RINGS, Math.max(1, (d.count ?? 1) + by)) });
  const at = drawn(scene).ringShown;
  if (at) void hoverRing(scene, at.edge, at.slide);
}
