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
  keys: string | undefined,
  params: () => Record<string, unknown> = () => ({}),
  name = id,
): Command => ({
  id: `edit-${name}`,
  title,
  keys,
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
): Command =>
  op('mark', title, undefined, () => ({ marks: [layer], ...(value !== undefined && { value }) }), name);

const choose = (name: PickName, title: string, keys?: string): Command => ({
  id: `pick-${name}`,
  title,
  keys,
  group: 'Pick',
  when: 'elements',
  enabled: editing,
  run: () => void pick(name),
});

const level = (l: Level, keys: string): Command => ({
  id: `level-${l}`,
  title: l === 'piece' ? 'Handle pieces' : `Edit ${l}s`,
  keys,
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
  level('piece', '7'),
  level('face', '8'),
  level('edge', '9'),
  level('point', '0'),
  choose('all', 'Pick all', 'Ctrl+a'),
  choose('none', 'Pick nothing'),
  choose('invert', 'Pick the others', '/'),
  choose('grow', 'Grow the selection', '.'),
  choose('shrink', 'Shrink the selection', ','),
  choose('loop', 'Pick along the loop', 'l'),
  choose('ring', 'Pick along the ring', 'Shift+l'),
  choose('border', 'Pick the border', 'Alt+l'),
  choose('shell', 'Pick the whole shell', 'h'),
  choose('flat', 'Pick the flat region', 'j'),
  choose('way', 'Pick the shortest way between', 'u'),
  choose('enclose', 'Pick what is enclosed', 'n'),
  choose('alike', 'Pick alike elements', 'Shift+j'),
  choose('repeat', 'Carry the pattern on', 'Shift+n'),
  {
    id: 'pick-through',
    title: 'Pick through the whole depth',
    keys: 'Shift+v',
    group: 'Pick',
    when: 'elements',
    run: () => store.dispatch(bench.elementSettings({ through: !store.getState().bench.elements.through })),
  },
  {
    id: 'soft',
    title: 'Soft selection on or off',
    keys: 'Shift+s',
    group: 'Pick',
    when: 'elements',
    run: () => store.dispatch(bench.elementSettings({ soft: !store.getState().bench.elements.soft })),
  },
  // At Edge level the same key draws strips out of a rim.
  {
    id: 'edit-extrude',
    title: 'Extrude',
    keys: 'e',
    group: 'Edit',
    when: 'elements',
    enabled: picked,
    run: () =>
      void act(inHand()?.selection.kind === 'edge' ? 'extrudeEdges' : 'extrude', {
        distance: roundShare(0.05),
      }),
  },
  op(
    'extrude',
    'Extrude each face',
    'Shift+e',
    () => ({ distance: roundShare(0.05), by: 'each' }),
    'extrudeEach',
  ),
  op(
    'extrude',
    'Extrude along the peg',
    undefined,
    () => ({ distance: roundShare(0.05), along: 'axis', axis: pegAxis() }),
    'extrudePeg',
  ),
  op('inset', 'Inset', 'i', () => ({ thickness: roundShare(0.02) })),
  op('inset', 'Inset each face', 'Shift+i', () => ({ thickness: roundShare(0.02), by: 'each' }), 'insetEach'),
  // Of points, corners are cut off.
  {
    id: 'edit-bevel',
    title: 'Bevel',
    keys: 'o',
    group: 'Edit',
    when: 'elements',
    enabled: picked,
    run: () =>
      void act(inHand()?.selection.kind === 'vertex' ? 'bevelPoints' : 'bevel', {
        width: roundShare(0.01),
        segments: 2,
      }),
  },
  op('supportLoops', 'Support loops', 'Shift+o', () => ({ distance: roundShare(0.01) })),
  // With nothing picked the tool is taken in hand and shows where it would run.
  {
    id: 'edit-ringCut',
    title: 'Ring cut',
    keys: 'r',
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
  op('slide', 'Slide', 'Shift+r', () => ({
    share: 0.25,
    ...(inHand()?.selection.kind === 'vertex' && { toward: rightOfView() }),
  })),
  op('connect', 'Connect', 'c'),
  op('fill', 'Fill', 'x'),
  op('fill', 'Fill with a grid', 'Alt+x', () => ({ with: 'grid' }), 'fillGrid'),
  op('bridge', 'Bridge', 'Shift+x'),
  op('weld', 'Weld near points', 'z', () => ({ to: 'near', distance: 0.01 })),
  op('weld', 'Weld at the middle', 'Shift+z', () => ({ to: 'middle' }), 'weldMiddle'),
  op('collapse', 'Collapse', 'Alt+z'),
  op('makeRound', 'Make round', 'd'),
  op('flatten', 'Flatten', 'Shift+f'),
  op(
    'flatten',
    'Flatten onto the view',
    undefined,
    () => ({ onto: 'direction', direction: towardEye() }),
    'flattenView',
  ),
  op('straighten', 'Straighten', 'Alt+f'),
  op('spaceEvenly', 'Space evenly', 'Alt+e'),
  op('relax', 'Relax', 'Alt+r'),
  op('push', 'Push along normals', 'Shift+d', () => ({ distance: roundShare(0.01) })),
  op('fan', 'Fan to a middle point', 'Shift+c'),
  op('triangulate', 'Triangulate', undefined),
  op('pairTriangles', 'Pair triangles into quads', undefined),
  op('splitApart', 'Split apart', 'Shift+k'),
  op('openAlong', 'Open along edges', 'Alt+k'),
  op('copyFaces', 'Duplicate faces', 'Ctrl+d'),
  op('turnOver', 'Turn over', undefined),
  op('faceOutward', 'Face outward', undefined),
  op('mirrorOnce', 'Mirror once', undefined),
  op('thicken', 'Thicken once', undefined),
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
    keys: 'k',
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
    keys: 'Alt+c',
    group: 'Edit',
    run: () => void takeDrawing('face'),
  },
  {
    id: 'edit-planeSlice',
    title: 'Slice by a stroke across the piece',
    keys: 'Alt+s',
    group: 'Edit',
    when: 'elements',
    enabled: editing,
    run: () => void takeDrawing('slice'),
  },
  {
    id: 'edit-remove',
    title: 'Delete faces; of edges and points, join the faces around',
    keys: 'Delete',
    group: 'Edit',
    when: 'elements',
    enabled: picked,
    run: () => remove(false),
  },
  {
    id: 'edit-removeOther',
    title: 'Dissolve faces, delete around edges and points',
    keys: 'Shift+Delete',
    group: 'Edit',
    when: 'elements',
    enabled: picked,
    run: () => remove(true),
  },
  {
    id: 'edit-detach',
    title: 'Take faces off as a new piece',
    keys: 'Alt+d',
    group: 'Edit',
    when: 'elements',
    enabled: picked,
    run: () => void detachFaces(),
  },
  {
    id: 'edit-number',
    title: 'Type a number of the last action',
    keys: 'Enter',
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
    keys: 'Escape',
    group: 'Edit',
    when: 'elements',
    run: () => {
      const b = store.getState().bench;
      if (b.picked.length) store.dispatch(bench.elementsPicked([]));
      else void takeLevel('piece');
    },
  },
];
