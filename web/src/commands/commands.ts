/** Every command of the Bench: its name, its key, when it can act, and what it does. */
import type { PrimitiveKind } from '@urnsmith/core/primitives/index';
import { PRIMITIVE_TITLES } from '@urnsmith/core/primitives/index';
import {
  addPrimitive,
  addStep,
  cutWith,
  deletePieces,
  editStep,
  flagPieces,
  groupPieces,
  redo,
  undo,
} from '../state/actions';
import { duplicateAndRemember, repeatDuplicate, settle } from '../state/arrange';
import { bench, LOOKS, type Look, type Tool } from '../state/benchSlice';
import { hostsOfCutter } from '../state/selectors';
import { store } from '../state/store';
import { ELEMENT_COMMANDS } from './elementCommands';
import { finishDrawing, putDrawingAway, undoPoint } from '../state/drawing';
import { joinPieces, separateShells } from '../state/parts';
import { levelGrid, lookSquareOn, pivotsTo, seatGrid, seatPeg, takePegAway } from '../state/placing';
import type { Stage } from '../viewport/Stage';
import { currentStage } from './stage';
import type { View } from '../viewport/CameraRig';

export interface Command {
  id: string;
  title: string;
  /** As `event.key`, with Ctrl+, Shift+, Alt+ in front. */
  keys?: string;
  group: 'Add' | 'Piece' | 'Build' | 'View' | 'Look' | 'Tool' | 'History' | 'Pick' | 'Edit';
  /** At which level it can act; at any, if not said. */
  when?: 'pieces' | 'elements';
  enabled?: () => boolean;
  run: () => void;
}

const s = () => store.getState().bench;
const some = (): boolean => s().selected.length > 0;
const d = store.dispatch;

/** New pieces stand where the view looks, on whole millimetres. */
function spot(): [number, number, number] {
  const stage = currentStage();
  if (!stage || !store.getState().document.pieces.length) return [0, 0, 0];
  const t = stage.rig.target;
  return [Math.round(t.x), Math.round(t.y), Math.round(t.z)];
}

function cut(mode: 'subtract' | 'union' | 'intersect'): void {
  const { selected } = s();
  const host = selected.at(-1);
  if (!host) {
    d(bench.noticed({ text: 'Select the cutters first, then the piece to cut.', tone: 'problem' }));
    return;
  }
  cutWith(host, selected.slice(0, -1), mode);
}

function hasRims(): boolean {
  const { document, bench: b } = store.getState();
  return document.pieces.find((p) => p.id === b.active)?.steps?.some((x) => x.kind === 'cut') ?? false;
}

function round(): void {
  const id = s().active;
  if (!id) return;
  addStep(
    id,
    {
      kind: 'bevel',
      scope: hasRims() ? { rule: 'rims' } : { rule: 'sharp', angle: 30 },
      width: 2,
      segments: 3,
      profile: 1,
      clamp: true,
    },
    hasRims() ? 'Round the rims' : 'Round sharp edges',
  );
}

/** Adds a smooth step, or switches the one there is on and off. */
function smooth(): void {
  const { active, level } = s();
  const piece = store.getState().document.pieces.find((p) => p.id === active);
  if (!piece) return;
  const index = (piece.steps ?? []).findIndex((x) => x.kind === 'smooth');
  if (index < 0) addStep(piece.id, { kind: 'smooth', levels: 2, exportLevels: 3 }, 'Smooth');
  else
    editStep(piece.id, index, `Switch smoothing ${piece.steps![index].off ? 'on' : 'off'}`, (x) => ({
      ...x,
      off: !x.off,
    }));
  // At element level the hands stay on the cage.
  if (level !== 'piece') d(bench.stepChosen(null));
}

const look = (value: Look): Command => ({
  id: `look-${value}`,
  title: `Look: ${value}`,
  group: 'Look',
  run: () => d(bench.lookChosen(value)),
});

const view = (v: View, keys: string): Command => ({
  id: `view-${v}`,
  title: `Look from ${v === 'top' ? 'above' : v === 'bottom' ? 'below' : `the ${v}`}`,
  keys,
  group: 'View',
  run: () => {
    const stage = currentStage();
    stage?.rig.look(v);
    stage?.redraw();
  },
});

const onStage = (f: (stage: Stage) => void): void => {
  const stage = currentStage();
  if (stage) f(stage);
};

const pivot = (where: 'middle' | 'foot' | 'peg', title: string): Command => ({
  id: `pivot-${where}`,
  title,
  group: 'Piece',
  enabled: () => some() && (where !== 'peg' || s().peg !== null),
  run: () => pivotsTo(where),
});

/** Steps round what is looked at. */
const STEPS: Array<[string, number]> = [
  ['Alt+ArrowRight', 45],
  ['Alt+ArrowLeft', -45],
  ['Shift+ArrowRight', 15],
  ['Shift+ArrowLeft', -15],
  ['Ctrl+ArrowRight', 90],
  ['Ctrl+ArrowLeft', -90],
];

const KINDS: PrimitiveKind[] = [
  'box',
  'cylinder',
  'cone',
  'sphere',
  'quadSphere',
  'torus',
  'tube',
  'plane',
  'disc',
];

const BENCH_COMMANDS: Command[] = [
  ...KINDS.map((k): Command => ({
    id: `add-${k}`,
    title: `Add ${PRIMITIVE_TITLES[k].toLowerCase()}`,
    group: 'Add',
    run: () => addPrimitive(k, spot(), s().peg ?? s().gridFrame),
  })),
  { id: 'tool-select', title: 'Select', keys: 'a', group: 'Tool', run: () => d(bench.toolTaken('select')) },
  { id: 'tool-move', title: 'Move', keys: 'm', group: 'Tool', run: () => d(bench.toolTaken('move')) },
  { id: 'tool-turn', title: 'Turn', keys: 't', group: 'Tool', run: () => d(bench.toolTaken('turn')) },
  { id: 'tool-resize', title: 'Resize', keys: 'y', group: 'Tool', run: () => d(bench.toolTaken('resize')) },
  {
    id: 'cut-subtract',
    title: 'Cut: subtract the others from the last selected',
    keys: 'k',
    group: 'Build',
    enabled: some,
    run: () => cut('subtract'),
  },
  {
    id: 'cut-union',
    title: 'Cut: union with the last selected',
    keys: 'Shift+k',
    group: 'Build',
    enabled: some,
    run: () => cut('union'),
  },
  {
    id: 'cut-intersect',
    title: 'Cut: intersect with the last selected',
    keys: 'Alt+k',
    group: 'Build',
    enabled: some,
    run: () => cut('intersect'),
  },
  { id: 'round', title: 'Round edges', keys: 'o', group: 'Build', enabled: some, run: round },
  {
    id: 'normals',
    title: 'Set shading normals',
    keys: 'n',
    group: 'Build',
    enabled: some,
    run: () => {
      const id = s().active;
      if (id)
        addStep(id, { kind: 'normals', weight: 'area', hardAngle: 40, rank: true }, 'Set shading normals');
    },
  },
  {
    id: 'smooth',
    title: 'Smooth preview on or off',
    keys: 'Shift+t',
    group: 'Look',
    enabled: some,
    run: smooth,
  },
  {
    id: 'before-after',
    title: 'Shading before / after',
    keys: 'b',
    group: 'Look',
    enabled: some,
    run: () => d(bench.stageShown(s().stage === 'Shade' ? null : 'Shade')),
  },
  {
    id: 'duplicate',
    title: 'Duplicate',
    keys: 'Ctrl+d',
    group: 'Piece',
    enabled: some,
    run: duplicateAndRemember,
  },
  {
    id: 'repeat-duplicate',
    title: 'Duplicate again by the same offset',
    keys: 'Ctrl+Shift+d',
    group: 'Piece',
    enabled: some,
    run: repeatDuplicate,
  },
  {
    id: 'settle',
    title: 'Settle the placement into the mesh',
    group: 'Piece',
    enabled: some,
    run: () => settle(s().active!, ['move', 'turn', 'size']),
  },
  pivot('middle', 'Put pivots at the middle'),
  pivot('foot', 'Put pivots at the foot'),
  pivot('peg', 'Put pivots at the peg'),
  {
    id: 'join',
    title: 'Join pieces into one, shells as they are',
    keys: 'Ctrl+j',
    group: 'Piece',
    enabled: some,
    run: () => void joinPieces(),
  },
  {
    id: 'separate',
    title: 'Separate shells into pieces',
    keys: 'Ctrl+Shift+j',
    group: 'Piece',
    enabled: some,
    run: () => void separateShells(),
  },
  {
    id: 'delete',
    title: 'Delete',
    keys: 'Delete',
    group: 'Piece',
    enabled: some,
    run: () => deletePieces(s().selected),
  },
  {
    id: 'group',
    title: 'Group',
    keys: 'Ctrl+g',
    group: 'Piece',
    enabled: some,
    run: () => groupPieces(s().selected),
  },
  {
    id: 'hide',
    title: 'Hide or show',
    keys: 'h',
    group: 'Piece',
    enabled: some,
    run: () => flagPieces(s().selected, 'hidden'),
  },
  {
    id: 'faint',
    title: 'Faint or solid',
    keys: 'j',
    group: 'Piece',
    enabled: some,
    run: () => flagPieces(s().selected, 'faint'),
  },
  {
    id: 'lock',
    title: 'Lock or unlock',
    keys: 'l',
    group: 'Piece',
    enabled: some,
    run: () => flagPieces(s().selected, 'locked'),
  },
  {
    id: 'isolate',
    when: 'pieces',
    title: 'Isolate the selection',
    keys: 'i',
    group: 'View',
    run: () => d(bench.toggled('isolated')),
  },
  {
    id: 'select-all',
    title: 'Select all',
    keys: 'Ctrl+a',
    group: 'Piece',
    run: () =>
      d(
        bench.selected({
          ids: store
            .getState()
            .document.pieces.filter((p) => !p.hidden)
            .map((p) => p.id),
        }),
      ),
  },
  {
    id: 'select-none',
    title: 'Select nothing',
    keys: 'Escape',
    group: 'Piece',
    run: () => d(bench.selected({ ids: [] })),
  },
  {
    id: 'type-number',
    when: 'pieces',
    title: 'Type a number on the Card',
    keys: 'Enter',
    group: 'Tool',
    run: () => document.querySelector<HTMLInputElement>('.card .num input')?.focus(),
  },
  {
    id: 'save',
    title: 'Save',
    keys: 'Ctrl+s',
    group: 'History',
    run: () =>
      d(bench.noticed({ text: 'Nothing to do: every action is saved as it happens.', tone: 'info' })),
  },
  {
    id: 'select-cutters',
    title: 'Select the cutters of this piece',
    keys: 'u',
    group: 'Piece',
    enabled: some,
    run: () => {
      const hosts = hostsOfCutter(store.getState());
      const ids = [...hosts].filter(([, h]) => h.includes(s().active ?? '')).map(([c]) => c);
      if (ids.length) d(bench.selected({ ids }));
    },
  },
  {
    id: 'frame',
    title: 'Frame the selection',
    keys: 'f',
    group: 'View',
    run: () => {
      const stage = currentStage();
      stage?.rig.frame(stage.bounds(some() ? s().selected : undefined));
      stage?.redraw();
    },
  },
  {
    id: 'frame-all',
    when: 'pieces',
    title: 'Frame everything',
    keys: 'Shift+f',
    group: 'View',
    run: () => {
      const stage = currentStage();
      stage?.rig.frame(stage.bounds());
      stage?.redraw();
    },
  },
  view('front', '1'),
  view('right', '2'),
  view('back', '3'),
  view('left', '4'),
  view('top', '5'),
  view('bottom', '6'),
  {
    id: 'parallel',
    title: 'Parallel or perspective view',
    keys: 'p',
    group: 'View',
    run: () => d(bench.toggled('parallel')),
  },
  { id: 'wire', title: 'Wire on or off', keys: 'w', group: 'Look', run: () => d(bench.toggled('wire')) },
  { id: 'xray', title: 'X-ray on or off', keys: 'v', group: 'Look', run: () => d(bench.toggled('xray')) },
  { id: 'grid', title: 'Grid on or off', keys: 'g', group: 'Look', run: () => d(bench.toggled('grid')) },
  {
    id: 'seat-grid',
    title: 'Seat the grid on the picked elements or the face under the pointer',
    keys: 'Shift+g',
    group: 'View',
    run: () => onStage(seatGrid),
  },
  {
    id: 'seat-peg',
    title: 'Set the peg on the picked elements or the face under the pointer',
    keys: 'Shift+p',
    group: 'View',
    run: () => onStage(seatPeg),
  },
  {
    id: 'take-peg',
    title: 'Take the peg away',
    keys: 'Alt+p',
    group: 'View',
    enabled: () => s().peg !== null,
    run: takePegAway,
  },
  { id: 'level-grid', title: 'Level the grid', keys: 'Alt+g', group: 'View', run: levelGrid },
  {
    id: 'square-on',
    title: 'Look square-on at the picked elements or the face under the pointer',
    keys: 'Alt+1',
    group: 'View',
    run: () => onStage(lookSquareOn),
  },
  ...STEPS.map(([keys, degrees]): Command => ({
    id: `step-${degrees}`,
    title: `Step ${Math.abs(degrees)}° round to the ${degrees > 0 ? 'right' : 'left'}`,
    keys,
    group: 'View',
    run: () =>
      onStage((stage) => {
        stage.rig.stepRound(degrees);
        stage.redraw();
      }),
  })),
  { id: 'snap', title: 'Snapping on or off', keys: 's', group: 'Tool', run: () => d(bench.toggled('snap')) },
  {
    id: 'next-look',
    title: 'Next look',
    keys: 'q',
    group: 'Look',
    run: () => d(bench.lookChosen(LOOKS[(LOOKS.indexOf(s().look) + 1) % LOOKS.length])),
  },
  ...LOOKS.map(look),
  {
    id: 'undo',
    title: 'Undo',
    keys: 'Ctrl+z',
    group: 'History',
    enabled: () => store.getState().document.undo.length > 0,
    run: undo,
  },
  {
    id: 'redo',
    title: 'Redo',
    keys: 'Ctrl+Shift+z',
    group: 'History',
    enabled: () => store.getState().document.redo.length > 0,
    run: redo,
  },
  {
    id: 'search',
    title: 'Find a command',
    keys: ' ',
    group: 'Tool',
    run: () => d(bench.toggled('searchOpen')),
  },
];

/** Commands whose key or meaning is for pieces only. */
const FOR_PIECES = new Set(['Add', 'Piece', 'Build']);

export const COMMANDS: Command[] = [
  ...BENCH_COMMANDS.map((c): Command => (FOR_PIECES.has(c.group) || c.when ? { when: 'pieces', ...c } : c)),
  ...ELEMENT_COMMANDS,
];

/** It can act at the level that is handled now. */
export const atLevel = (c: Command): boolean =>
  !c.when || (c.when === 'elements') === (s().level !== 'piece');

/** The name of a key event, as `Command.keys` spells it. */
export function keyName(e: KeyboardEvent): string {
  const key = e.key.length === 1 ? e.key.toLowerCase() : e.key;
  return [(e.ctrlKey || e.metaKey) && 'Ctrl+', e.altKey && 'Alt+', e.shiftKey && 'Shift+', key]
    .filter(Boolean)
    .join('');
}

/** A key as it is printed on its cap. */
export const keyLabel = (keys: string): string =>
  keys.replace(/(^|\+)( |[a-z])$/, (_, p: string, k: string) => p + (k === ' ' ? 'Space' : k.toUpperCase()));

export const commandById = (id: string): Command => COMMANDS.find((c) => c.id === id)!;

/** A tool's key held down borrows the tool: letting go after a while, or after a gesture, brings the old one back. */
let borrowed: { key: string; from: Tool; since: number } | null = null;
const HOLD_MS = 350;

export function releaseKey(e: KeyboardEvent): void {
  if (borrowed?.key !== e.key.toLowerCase()) return;
  const { from, since } = borrowed;
  borrowed = null;
  if (performance.now() - since > HOLD_MS) d(bench.toolTaken(from));
}

/** What keys mean while a drawing tool is in hand. */
const DRAWING_KEYS: Record<string, () => void> = {
  Enter: () => onStage((stage) => void finishDrawing(stage)),
  Escape: putDrawingAway,
  Delete: undoPoint,
  Backspace: undoPoint,
};

/** Runs the command a key stands for; true when there was one. */
export function runKey(e: KeyboardEvent): boolean {
  const name = keyName(e);
  if (s().drawing && name in DRAWING_KEYS) {
    DRAWING_KEYS[name]();
    return true;
  }
  const wanted = name.replace('Backspace', 'Delete');
  const c = COMMANDS.find((x) => x.keys === wanted && atLevel(x));
  if (!c) return false;
  if (c.group === 'Tool' && c.id.startsWith('tool-')) {
    if (e.repeat) return true;
    borrowed = { key: name, from: s().tool, since: performance.now() };
  }
  if (c.enabled?.() ?? true) c.run();
  return true;
}
