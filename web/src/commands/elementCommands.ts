/** Commands at Face, Edge and Point level. Their keys mean something else at Piece level. */
import type { PickName } from '@urnsmith/core/select/picks';
import { worldMatrix } from '@urnsmith/core/document/placement';
import { invert } from '@urnsmith/core/mesh/transform';
import type { Level } from '../state/benchSlice';
import { piecesById } from '../state/selectors';
import { bench } from '../state/benchSlice';
import { act, inHand, pick, takeLevel } from '../state/elements';
import { finishDrawing, takeDrawing } from '../state/drawing';
import { detachFaces } from '../state/parts';
import { pivotToPicked } from '../state/placing';
import { store } from '../state/store';
import { builds } from '../workers/builds';
import type { Command } from './command';
import { currentStage } from './stage';

const picked = (): boolean => (inHand()?.selection.indices.length ?? 0) > 0;
const editing = (): boolean => inHand() !== null;

const op = (
  id: string,
  title: string,
  params: () => Record<string, unknown> = () => ({}),
  name = id,
): Command => ({
  id: `edit-${name}`,
  title,
  group: 'Edit',
  when: 'elements',
  enabled: picked,
  run: () => void act(id, params()),
});

/** An edge layer written on what is picked; 0 clears it. */
const layered = (
  layer: 'hard' | 'crease' | 'seam' | 'round',
  title: string,
  name: string,
  value?: number,
): Command => op('mark', title, () => ({ marks: [layer], ...(value !== undefined && { value }) }), name);

const choose = (name: PickName, title: string): Command => ({
  id: `pick-${name}`,
  title,
  group: 'Pick',
  when: 'elements',
  enabled: editing,
  run: () => void pick(name),
});

const level = (l: Level): Command => ({
  id: `level-${l}`,
  title: l === 'piece' ? 'Handle pieces' : `Edit ${l}s`,
  group: 'Pick',
  run: () => void takeLevel(l),
});

/** A first value that suits the size of what is seen: a round number near a twentieth of it. */
export function roundShare(share: number): number {
  const stage = currentStage();
  const size = (stage?.rig.distance ?? 100) * share;
  const power = 10 ** Math.floor(Math.log10(size));
  return Number(([1, 2, 5, 10].find((k) => k * power >= size * 0.8)! * power).toPrecision(6));
}

/** Deleting faces leaves a hole; edges and points are dissolved. The other is one key away. */
const remove = (other: boolean): void => {
  const faces = inHand()?.selection.kind === 'face';
  void act(faces !== other ? 'deleteFaces' : 'dissolve');
};

const allEdges = (): number[] => {
  const count = builds.get(store.getState().bench.active ?? '')?.cage?.shape.counts.edges ?? 0;
  return Array.from({ length: count }, (_, e) => e);
};

/** A direction of the world in the frame of the piece in hand, unit length. */
function inPiece(x: number, y: number, z: number): number[] {
  const back = invert(worldMatrix(piecesById(store.getState()), store.getState().bench.active!));
  const d = [0, 1, 2].map((k) => back[k] * x + back[4 + k] * y + back[8 + k] * z);
  const l = Math.hypot(...d);
  return d.map((q) => Number((q / l).toFixed(9)) + 0);
}

/** The peg's axis; straight up without a peg. */
const pegAxis = (): number[] => {
  const m = store.getState().bench.peg;
  return m ? inPiece(m[4], m[5], m[6]) : inPiece(0, 1, 0);
};

const towardEye = (): number[] => {
  const back = currentStage()?.rig.back;
  return back ? inPiece(back.x, back.y, back.z) : inPiece(0, 0, 1);
};

const rightOfView = (): number[] => {
  const rig = currentStage()?.rig;
  if (!rig) return inPiece(1, 0, 0);
  const [right] = rig.axes();
  return inPiece(right.x, right.y, right.z);
};

export const ELEMENT_COMMANDS: Command[] = [
  level('piece'),
  level('face'),
  level('edge'),
  level('point'),
  choose('all', 'Pick all'),
  choose('none', 'Pick nothing'),
  choose('invert', 'Pick the others'),
  choose('grow', 'Grow the selection'),
  choose('shrink', 'Shrink the selection'),
  choose('loop', 'Pick along the loop'),
  choose('ring', 'Pick along the ring'),
  choose('border', 'Pick the border'),
  choose('shell', 'Pick the whole shell'),
  choose('flat', 'Pick the flat region'),
  choose('way', 'Pick the shortest way between'),
  choose('enclose', 'Pick what is enclosed'),
  choose('alike', 'Pick alike elements'),
  choose('repeat', 'Carry the pattern on'),
  {
    id: 'pick-through',
    title: 'Pick through the whole depth',
    group: 'Pick',
    when: 'elements',
    run: () => store.dispatch(bench.elementSettings({ through: !store.getState().bench.elements.through })),
  },
  {
    id: 'soft',
    title: 'Soft selection on or off',
    group: 'Pick',
    when: 'elements',
    run: () => store.dispatch(bench.elementSettings({ soft: !store.getState().bench.elements.soft })),
  },
  // At Edge level the same key draws strips out of a rim.
  {
    id: 'edit-extrude',
    title: 'Extrude',
    group: 'Edit',
    when: 'elements',
    enabled: picked,
    run: () =>
      void act(inHand()?.selection.kind === 'edge' ? 'extrudeEdges' : 'extrude', {
        distance: roundShare(0.05),
      }),
  },
  op('extrude', 'Extrude each face', () => ({ distance: roundShare(0.05), by: 'each' }), 'extrudeEach'),
  op(
    'extrude',
    'Extrude along the peg',
    () => ({ distance: roundShare(0.05), along: 'axis', axis: pegAxis() }),
    'extrudePeg',
  ),
  op('inset', 'Inset', () => ({ thickness: roundShare(0.02) })),
  op('inset', 'Inset each face', () => ({ thickness: roundShare(0.02), by: 'each' }), 'insetEach'),
  // Of points, corners are cut off.
  {
    id: 'edit-bevel',
    title: 'Bevel',
    group: 'Edit',
    when: 'elements',
    enabled: picked,
    run: () =>
      void act(inHand()?.selection.kind === 'vertex' ? 'bevelPoints' : 'bevel', {
        width: roundShare(0.01),
        segments: 2,
      }),
  },
  op('supportLoops', 'Support loops', () => ({ distance: roundShare(0.01) })),
  // With nothing picked the tool is taken in hand and shows where it would run.
  {
    id: 'edit-ringCut',
    title: 'Ring cut',
    group: 'Edit',
    when: 'elements',
    enabled: editing,
    run: () => {
      const { level, drawing } = store.getState().bench;
      if (picked() && level === 'edge' && !drawing) void act('ringCut');
      else void takeDrawing('ring');
    },
  },
  // Points go along their edges to the right, as they are seen.
  op('slide', 'Slide', () => ({
    share: 0.25,
    ...(inHand()?.selection.kind === 'vertex' && { toward: rightOfView() }),
  })),
  op('connect', 'Connect'),
  op('fill', 'Fill'),
  op('fill', 'Fill with a grid', () => ({ with: 'grid' }), 'fillGrid'),
  op('bridge', 'Bridge'),
  op('dissolve', 'Dissolve, joining the faces around'),
  op('weld', 'Weld near points', () => ({ to: 'near', distance: 0.01 })),
  op('weld', 'Weld at the middle', () => ({ to: 'middle' }), 'weldMiddle'),
  op('collapse', 'Collapse'),
  op('makeRound', 'Make round'),
  op('flatten', 'Flatten'),
  op(
    'flatten',
    'Flatten onto the view',
    () => ({ onto: 'direction', direction: towardEye() }),
    'flattenView',
  ),
  op('straighten', 'Straighten'),
  op('spaceEvenly', 'Space evenly'),
  op('relax', 'Relax'),
  op('push', 'Push along normals', () => ({ distance: roundShare(0.01) })),
  op('fan', 'Fan to a middle point'),
  op('triangulate', 'Triangulate'),
  op('pairTriangles', 'Pair triangles into quads'),
  op('splitApart', 'Split apart'),
  op('openAlong', 'Open along edges'),
  op('copyFaces', 'Duplicate faces'),
  op('turnOver', 'Turn over'),
  op('faceOutward', 'Face outward'),
  op('mirrorOnce', 'Mirror once'),
  op('thicken', 'Thicken once'),
  layered('hard', 'Mark edges hard', 'markHard'),
  layered('crease', 'Crease along the edges', 'crease'),
  layered('seam', 'Seam along the edges', 'seam'),
  layered('round', 'Half the width of a bevel', 'roundShare', 0.5),
  {
    id: 'edit-markOver',
    title: 'Marks on all edges over an angle',
    group: 'Edit',
    when: 'elements',
    enabled: editing,
    run: () => void act('mark', { marks: ['hard'], sharper: 30 }, { kind: 'edge', indices: allEdges() }),
  },
  layered('hard', 'Clear hard marks', 'clearHard', 0),
  {
    id: 'edit-knife',
    title: 'Knife',
    group: 'Edit',
    when: 'elements',
    enabled: editing,
    run: () => {
      const stage = currentStage();
      if (store.getState().bench.drawing?.lines.some((l) => l.length > 1) && stage) void finishDrawing(stage);
      else void takeDrawing('knife');
    },
  },
  {
    id: 'edit-drawFace',
    title: 'Draw a face point by point',
    group: 'Edit',
    run: () => void takeDrawing('face'),
  },
  {
    id: 'edit-planeSlice',
    title: 'Slice by a stroke across the piece',
    group: 'Edit',
    when: 'elements',
    enabled: editing,
    run: () => void takeDrawing('slice'),
  },
  {
    id: 'edit-remove',
    title: 'Delete faces; of edges and points, join the faces around',
    group: 'Edit',
    when: 'elements',
    enabled: picked,
    run: () => remove(false),
  },
  {
    id: 'edit-removeOther',
    title: 'Dissolve faces, delete around edges and points',
    group: 'Edit',
    when: 'elements',
    enabled: picked,
    run: () => remove(true),
  },
  {
    id: 'edit-detach',
    title: 'Take faces off as a new piece',
    group: 'Edit',
    when: 'elements',
    enabled: picked,
    run: () => void detachFaces(),
  },
  {
    id: 'edit-number',
    title: 'Type a number of the last action',
    group: 'Edit',
    when: 'elements',
    run: () => document.querySelector<HTMLInputElement>('.card .lastAction .num input')?.focus(),
  },
  {
    id: 'pivot-picked',
    title: 'Put the pivot at the middle of what is picked',
    group: 'Edit',
    when: 'elements',
    enabled: picked,
    run: pivotToPicked,
  },
  {
    id: 'edit-leave',
    title: 'Pick nothing, back to pieces',
    group: 'Edit',
    when: 'elements',
    run: () => {
      const b = store.getState().bench;
      if (b.picked.length) store.dispatch(bench.elementsPicked([]));
      else void takeLevel('piece');
    },
  },
];
