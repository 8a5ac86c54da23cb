/** Tools that draw on the stage: the knife's lines, a face point by point, a slice by a stroke, a ring cut under the pointer. */
import { Matrix4, Vector3 } from 'three';
import { encodeMesh } from '@urnsmith/core/formats/meshBlob';
import { OperationError } from '@urnsmith/core/mesh/errors';
import { applyMatrix, invert, transformOf, type Matrix } from '@urnsmith/core/mesh/transform';
import type { Vec3 } from '@urnsmith/core/mesh/vec3';
import { drawnSheet } from '@urnsmith/core/ops/drawFace';
import { listed, type Select } from '@urnsmith/core/select/rules';
import { keepMesh } from './meshes';
import type { Stage } from '../viewport/Stage';
import { builds } from '../workers/builds';
import { commit, newId, newName } from './actions';
import { bench, type Drawing } from './benchSlice';
import { act, inHand, retune, takeLevel } from './elements';
import { store } from './store';

const state = () => store.getState();
const show = (d: Drawing | null): void => {
  store.dispatch(bench.drawn(d));
};

/** Takes a tool in hand; taken again, it is put away. */
export async function takeDrawing(tool: Drawing['tool']): Promise<void> {
  if (state().bench.drawing?.tool === tool) return show(null);
  sliced = null;
  if (tool === 'ring' && state().bench.level !== 'edge') await takeLevel('edge');
  if (tool === 'face' || inHand()) show({ tool, lines: [] });
}

export const putDrawingAway = (): void => show(null);

/** The line that is being drawn. */
export const openLine = (d: Drawing): Vec3[] => d.lines.at(-1) ?? [];

/** Sets the next point; `apart` begins a further line with it, `closes` ends the line where it began. */
export function drawPoint(stage: Stage, at: Vec3, { apart = false, closes = false } = {}): void {
  const d = state().bench.drawing;
  if (!d) return;
  const line = openLine(d);
  if (d.tool === 'face') {
    if (closes) void finishDrawing(stage);
    else show({ ...d, lines: [[...line, at]] });
    return;
  }
  // A closed line is done: the next point is another's first.
  if (closes) return show({ ...d, lines: [...d.lines.slice(0, -1), [...line, line[0]], []] });
  if (apart && line.length) return show({ ...d, lines: [...d.lines, [at]] });
  show({ ...d, lines: [...d.lines.slice(0, -1), [...line, at]] });
}

/** Takes the last point back. */
export function undoPoint(): void {
  const d = state().bench.drawing;
  if (!d) return;
  const lines = d.lines.filter((l) => l.length);
  const last = lines.at(-1);
  if (last) show({ ...d, lines: [...lines.slice(0, -1), last.slice(0, -1)] });
}

/** Does what was drawn, as it is seen now. */
export async function finishDrawing(stage: Stage): Promise<void> {
  const d = state().bench.drawing;
  if (!d || d.tool === 'slice' || d.tool === 'ring') return show(null);
  const view = viewOf(stage);
  if (d.tool === 'face') {
    const points = openLine(d);
    if (!inHand()) return void (await newSheet(points, stage));
    if (await act('drawFace', { points, view: view.along }, ALL_FACES)) show(null);
    return;
  }
  const lines = d.lines.filter((l) => l.length > 1);
  show(null);
  if (lines.length)
    await act(
      'knife',
      {
        lines,
        view: view.along,
        ...(view.eye && { eye: view.eye }),
        ...(state().bench.elements.through && { through: true }),
      },
      ALL_FACES,
    );
}

const ALL_FACES: Select = { rule: 'all', of: 'faces' };

/** How the stage is looked at, in the frame of the piece in hand: the direction, and the eye unless it is far away. */
function viewOf(stage: Stage): { along: Vec3; eye: Vec3 | null } {
  const inverse = inHand() ? new Matrix4().copy(stage.cage.group.matrix).invert() : new Matrix4();
  const along = stage.rig.back.clone().negate().transformDirection(inverse);
  if (stage.rig.parallel) return { along: along.toArray(), eye: null };
  const eye = new Vector3().setFromMatrixPosition(stage.rig.camera.matrixWorld).applyMatrix4(inverse);
  return { along: along.toArray(), eye: eye.toArray() };
}

/** A face drawn with no piece's elements in hand is a piece, in the frame of the grid. */
async function newSheet(points: Vec3[], stage: Stage): Promise<void> {
  const frame: Matrix = state().bench.gridFrame ?? new Matrix4().toArray();
  const { move, turn } = transformOf(frame);
  const back = invert(frame);
  const along = stage.rig.back.clone().negate().transformDirection(new Matrix4().fromArray(back));
  try {
    const sheet = drawnSheet(
      points.map((p) => applyMatrix(back, p)),
      along.toArray(),
    );
    const base = { blob: await keepMesh(encodeMesh(sheet)) };
    const piece = { id: newId(), name: newName('Sheet'), base, transform: { move, turn } };
    show(null);
    commit(`Draw ${piece.name}`, [...state().document.pieces, piece]);
    store.dispatch(bench.selected({ ids: [piece.id] }));
  } catch (e) {
    const text =
      e instanceof OperationError ? `${e.message} ${e.fix ?? ''}` : 'The sheet could not be stored.';
    store.dispatch(bench.noticed({ text: text.trim(), tone: 'problem' }));
  }
}

/**
 * The plane through a stroke over the stage and along the line of sight. The first stroke slices, further ones move the
 * plane of that slice.
 * @param from, to on the screen, client pixels
 */
export async function strokeSlice(
  stage: Stage,
  from: { x: number; y: number },
  to: { x: number; y: number },
  done: boolean,
): Promise<void> {
  const hand = inHand();
  const d = state().bench.drawing;
  if (!hand || !d) return;
  const inverse = new Matrix4().copy(stage.cage.group.matrix).invert();
  const ends = [from, to].map((p) => stage.onSight(p.x, p.y));
  const local = ends.map((p): Vec3 => p.clone().applyMatrix4(inverse).toArray());
  if (!done) return show({ ...d, lines: [local] });
  show({ ...d, lines: [] });
  const [a, b] = ends;
  const across = b.clone().sub(a);
  if (across.length() < 4 * stage.rig.pixelSize(a)) return;
  const sight = stage.rig.parallel ? stage.rig.back : a.clone().sub(stage.rig.camera.position);
  const normal = across.cross(sight).normalize();
  const m = new Matrix4().copy(stage.cage.group.matrix);
  // Normals go by the transpose of the way back.
  const n = normal.transformDirection(m.clone().transpose()).toArray();
  // As fine as the hand can tell.
  const fine = 10 ** Math.floor(Math.log10(stage.rig.pixelSize(a)));
  const plane = {
    point: local[0].map((x) => round(Math.round(x / fine) * fine)),
    normal: n.map((x) => Number(x.toFixed(4)) + 0),
  };
  const last = hand.piece.actions?.at(-1);
  if (last?.op === 'planeSlice' && sliced === hand.piece.id) return retune(plane);
  sliced = null;
  // Picked faces are meant alone, but not what a slice before has left picked.
  const { kind, indices } = hand.selection;
  const some = kind === 'face' && indices.length > 0 && last?.op !== 'planeSlice';
  if (await act('planeSlice', plane, some ? listed(hand.selection) : ALL_FACES)) {
    sliced = hand.piece.id;
    show({ tool: 'slice', lines: [] });
  }
}
/** The piece the slicing tool has sliced since it was taken. */
let sliced: string | null = null;
const round = (x: number): number => Number(x.toFixed(6)) + 0;

/** Shows where a ring cut through the pointed edge would run; asks for the latest only. */
export async function hoverRing(edge: number | null, slide: number): Promise<void> {
  const hand = inHand();
  if (!hand || edge === null) return show({ tool: 'ring', lines: [] });
  ringWanted = { edge, slide };
  if (ringAsked) return;
  ringAsked = true;
  try {
    while (ringWanted) {
      const { edge: e, slide: s } = ringWanted;
      ringWanted = null;
      const reply = await builds.ask(hand.piece.id, { kind: 'ring', edge: e, count: 1, slide: s });
      if (reply && 'lines' in reply && state().bench.drawing?.tool === 'ring')
        show({ tool: 'ring', lines: pairsOf(reply.lines) });
    }
  } finally {
    ringAsked = false;
  }
}
const pairsOf = (l: Float64Array): Vec3[][] =>
  Array.from({ length: l.length / 6 }, (_, i) => [
    [l[6 * i], l[6 * i + 1], l[6 * i + 2]],
    [l[6 * i + 3], l[6 * i + 4], l[6 * i + 5]],
  ]);
let ringWanted: { edge: number; slide: number } | null = null;
let ringAsked = false;

export async function cutRing(edge: number, slide: number): Promise<void> {
  if (await act('ringCut', slide ? { slide: round(slide) } : {}, { edges: [edge] }))
    show({ tool: 'ring', lines: [] });
}
