/** Commands on whole pieces: adding, cutting, building, arranging. */
import { STEPS } from '@urnsmith/core/steps/steps';
import { PRIMITIVES, PRIMITIVE_KINDS } from '@urnsmith/core/primitives/index';
import {
  addPrimitive,
  addStep,
  cutWith,
  deletePieces,
  editStep,
  flagPieces,
  groupPieces,
} from '../state/actions';
import { duplicateAndRemember, repeatDuplicate, settle } from '../state/arrange';
import { bench } from '../state/benchSlice';
import { hostsOfCutter } from '../state/selectors';
import { store } from '../state/store';
import { joinPieces, separateShells } from '../state/parts';
import { pivotsTo } from '../state/placing';
import { currentStage } from './stage';

import type { Command } from './command';

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
  return document.pieces.find((p) => p.id === b.active)?.steps?.some((x) => STEPS[x.kind].makesRims) ?? false;
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

const pivot = (where: 'middle' | 'foot' | 'peg', title: string): Command => ({
  id: `pivot-${where}`,
  title,
  group: 'Piece',
  enabled: () => some() && (where !== 'peg' || s().peg !== null),
  run: () => pivotsTo(where),
});

export const PIECE_COMMANDS: Command[] = [
  ...PRIMITIVE_KINDS.map((k): Command => ({
    id: `add-${k}`,
    title: `Add ${PRIMITIVES[k].title.toLowerCase()}`,
    group: 'Add',
    run: () => addPrimitive(k, spot(), s().peg ?? s().gridFrame),
  })),
  { id: 'tool-select', title: 'Select', group: 'Tool', run: () => d(bench.toolTaken('select')) },
  { id: 'tool-move', title: 'Move', group: 'Tool', run: () => d(bench.toolTaken('move')) },
  { id: 'tool-turn', title: 'Turn', group: 'Tool', run: () => d(bench.toolTaken('turn')) },
  { id: 'tool-resize', title: 'Resize', group: 'Tool', run: () => d(bench.toolTaken('resize')) },
  {
    id: 'cut-subtract',
    title: 'Cut: subtract the others from the last selected',
    group: 'Build',
    enabled: some,
    run: () => cut('subtract'),
  },
  {
    id: 'cut-union',
    title: 'Cut: union with the last selected',
    group: 'Build',
    enabled: some,
    run: () => cut('union'),
  },
  {
    id: 'cut-intersect',
    title: 'Cut: intersect with the last selected',
    group: 'Build',
    enabled: some,
    run: () => cut('intersect'),
  },
  { id: 'round', title: 'Round edges', group: 'Build', enabled: some, run: round },
  {
    id: 'normals',
    title: 'Set shading normals',
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
    group: 'Look',
    enabled: some,
    run: smooth,
  },
  ...Object.values(STEPS).flatMap(({ kind, adds }): Command[] =>
    adds
      ? [
          {
            id: `add-step-${kind}`,
            title: adds.title,
            group: 'Build',
            enabled: some,
            run: () => {
              const id = s().active;
              if (id) addStep(id, adds.step, adds.title);
            },
          },
        ]
      : [],
  ),
  {
    id: 'before-after',
    title: 'Shading before / after',
    group: 'Look',
    enabled: some,
    run: () => d(bench.stageShown(s().stage === 'Shade' ? null : 'Shade')),
  },
  {
    id: 'duplicate',
    title: 'Duplicate',
    group: 'Piece',
    enabled: some,
    run: duplicateAndRemember,
  },
  {
    id: 'repeat-duplicate',
    title: 'Place another like the last duplicate',
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
    group: 'Piece',
    enabled: some,
    run: () => void joinPieces(),
  },
  {
    id: 'separate',
    title: 'Separate shells into pieces',
    group: 'Piece',
    enabled: some,
    run: () => void separateShells(),
  },
  {
    id: 'delete',
    title: 'Delete',
    group: 'Piece',
    enabled: some,
    run: () => deletePieces(s().selected),
  },
  {
    id: 'group',
    title: 'Group',
    group: 'Piece',
    enabled: some,
    run: () => groupPieces(s().selected),
  },
  {
    id: 'hide',
    title: 'Hide or show',
    group: 'Piece',
    enabled: some,
    run: () => flagPieces(s().selected, 'hidden'),
  },
  {
    id: 'faint',
    title: 'Faint or solid',
    group: 'Piece',
    enabled: some,
    run: () => flagPieces(s().selected, 'faint'),
  },
  {
    id: 'lock',
    title: 'Lock or unlock',
    group: 'Piece',
    enabled: some,
    run: () => flagPieces(s().selected, 'locked'),
  },
  {
    id: 'isolate',
    when: 'pieces',
    title: 'Isolate the selection',
    group: 'View',
    run: () => d(bench.toggled('isolated')),
  },
  {
    id: 'select-all',
    title: 'Select all',
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
    group: 'Piece',
    run: () => d(bench.selected({ ids: [] })),
  },
  {
    id: 'type-number',
    when: 'pieces',
    title: 'Type a number on the Card',
    group: 'Tool',
    run: () => document.querySelector<HTMLInputElement>('.card .num input')?.focus(),
  },
  {
    id: 'save',
    title: 'Save',
    group: 'History',
    run: () =>
      d(bench.noticed({ text: 'Nothing to do: every action is saved as it happens.', tone: 'info' })),
  },
  {
    id: 'select-cutters',
    title: 'Select the cutters of this piece',
    group: 'Piece',
    enabled: some,
    run: () => {
      const hosts = hostsOfCutter(store.getState());
      const ids = [...hosts].filter(([, h]) => h.includes(s().active ?? '')).map(([c]) => c);
      if (ids.length) d(bench.selected({ ids }));
    },
  },
];
