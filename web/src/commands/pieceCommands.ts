/** Commands on whole pieces: adding, cutting, building, arranging. */
import type { OpenScene } from '../state/OpenScene';
import { PRIMITIVES, PRIMITIVE_KINDS } from '@urnsmith/core/primitives/index';
import { addPrimitive, deletePieces, flagPieces, groupPieces } from '../state/actions';
import { duplicateAndRemember, repeatDuplicate, settle } from '../state/arrange';
import { handActions } from '../state/handSlice';
import { viewActions } from '../state/viewSlice';
import { panelActions } from '../state/panelSlice';
import { hostsOfCutter, piecesById } from '../state/selectors';
import { joinPieces, separateShells } from '../state/parts';
import { pivotsTo } from '../state/placing';
import { selectCutterHere, selectHost, walkCutters } from '../hands/cutterHere';
import { giveSteps } from '../state/together';
import { canTakeOut, isTwin, makeOwn, selectTwins, takeOut, twinSelected } from '../state/twins';
import type { Command } from '../state/command';

const s = (scene: OpenScene) => scene.store.getState().hand;
const some = (scene: OpenScene): boolean => s(scene).selected.length > 0;

const pivot = (where: 'middle' | 'foot' | 'peg', title: string): Command => ({
  id: `pivot-${where}`,
  title,
  group: 'Piece',
  enabled: (scene) => some(scene) && (where !== 'peg' || scene.store.getState().view.peg !== null),
  ...(where === 'peg' && { needs: 'select a piece and set the peg first.' }),
  run: (scene) => pivotsTo(scene, where),
});

export const PIECE_COMMANDS: Command[] = [
  ...PRIMITIVE_KINDS.map((k): Command => ({
    id: `add-${k}`,
    title: `Add ${PRIMITIVES[k].title.toLowerCase()}`,
    words: PRIMITIVES[k].words,
    ring: PRIMITIVES[k].ring,
    next: PRIMITIVES[k].next,
    group: 'Add',
    run: (scene) => addPrimitive(scene, k),
  })),
  {
    id: 'tool-select',
    title: 'Select',
    group: 'Tool',
    run: (scene) => scene.store.dispatch(handActions.toolTaken('select')),
  },
  {
    id: 'tool-move',
    title: 'Move',
    words: 'translate grab shift drag position',
    group: 'Tool',
    run: (scene) => scene.store.dispatch(handActions.toolTaken('move')),
  },
  {
    id: 'tool-turn',
    title: 'Turn',
    words: 'rotate rotation spin orient',
    group: 'Tool',
    run: (scene) => scene.store.dispatch(handActions.toolTaken('turn')),
  },
  {
    id: 'tool-resize',
    title: 'Resize',
    words: 'scale stretch size larger smaller',
    group: 'Tool',
    run: (scene) => scene.store.dispatch(handActions.toolTaken('resize')),
  },
  {
    id: 'before-after',
    title: 'Shading before / after',
    short: 'Before / after',
    group: 'Look',
    enabled: some,
    run: (scene) =>
      scene.store.dispatch(
        viewActions.stageShown(scene.store.getState().view.stage === 'Shade' ? null : 'Shade'),
      ),
  },
  {
    id: 'duplicate',
    title: 'Duplicate',
    ring: { piece: 3 },
    words: 'copy clone',
    group: 'Piece',
    enabled: some,
    run: duplicateAndRemember,
  },
  {
    id: 'repeat-duplicate',
    title: 'Place another like the last duplicate',
    short: 'Another like it',
    words: 'array again copy pattern',
    group: 'Piece',
    enabled: some,
    run: repeatDuplicate,
  },
  {
    id: 'twin',
    title: 'Duplicate as twins, which share base and build',
    short: 'Twin',
    words: 'instance linked clone shared',
    group: 'Piece',
    enabled: some,
    run: twinSelected,
  },
  {
    id: 'select-twins',
    title: 'Select its twins',
    words: 'instances linked same',
    group: 'Piece',
    enabled: some,
    run: selectTwins,
  },
  {
    id: 'make-own',
    title: 'Make a twin its own',
    words: 'unlink single unique instance independent',
    group: 'Piece',
    needs: 'select a twin first.',
    enabled: (scene) => s(scene).selected.some((id) => isTwin(piecesById(scene.store.getState()).get(id))),
    run: makeOwn,
  },
  {
    id: 'take-out',
    title: 'Take out what a cut removes, as a piece',
    short: 'Take out',
    words: 'lid plug cap cover inverse volume clearance halves split pieces',
    group: 'Build',
    enabled: canTakeOut,
    needs: 'select a piece that has a cut, or a cutter, first.',
    run: takeOut,
  },
  {
    id: 'settle',
    title: 'Apply the placement to the mesh',
    short: 'Apply placement',
    words: 'settle freeze bake transform scale reset',
    group: 'Piece',
    enabled: some,
    run: (scene) => settle(scene, s(scene).selected, ['move', 'turn', 'size']),
  },
  pivot('middle', 'Put pivots at the middle'),
  pivot('foot', 'Put pivots at the foot'),
  pivot('peg', 'Put pivots at the peg'),
  {
    id: 'join',
    title: 'Join pieces into one, shells as they are',
    short: 'Join pieces',
    words: 'merge combine attach',
    group: 'Piece',
    enabled: some,
    run: (scene) => void joinPieces(scene),
  },
  {
    id: 'separate',
    title: 'Separate shells into pieces',
    short: 'Separate',
    words: 'split detach loose parts',
    group: 'Piece',
    enabled: some,
    run: (scene) => void separateShells(scene),
  },
  {
    id: 'delete',
    title: 'Delete',
    ring: { piece: 5 },
    words: 'remove erase',
    group: 'Piece',
    enabled: some,
    run: (scene) => deletePieces(scene, s(scene).selected),
  },
  {
    id: 'group',
    title: 'Group',
    words: 'parent folder nest',
    group: 'Piece',
    enabled: some,
    run: (scene) => groupPieces(scene, s(scene).selected),
  },
  {
    id: 'hide',
    title: 'Hide or show',
    short: 'Hide',
    ring: { piece: 4 },
    words: 'visibility show unhide invisible',
    group: 'Piece',
    enabled: some,
    run: (scene) => flagPieces(scene, s(scene).selected, 'hidden'),
  },
  {
    id: 'faint',
    title: 'Faint or solid',
    words: 'ghost transparent see',
    group: 'Piece',
    enabled: some,
    run: (scene) => flagPieces(scene, s(scene).selected, 'faint'),
  },
  {
    id: 'lock',
    title: 'Lock or unlock',
    words: 'freeze protect',
    group: 'Piece',
    enabled: some,
    run: (scene) => flagPieces(scene, s(scene).selected, 'locked'),
  },
  {
    id: 'isolate',
    when: 'pieces',
    title: 'Isolate the selection',
    short: 'Isolate',
    ring: { piece: 6 },
    words: 'solo focus only',
    group: 'View',
    run: (scene) => scene.store.dispatch(viewActions.switched('isolated')),
  },
  {
    id: 'select-all',
    title: 'Select all',
    words: 'everything',
    group: 'Piece',
    run: (scene) =>
      scene.store.dispatch(
        handActions.selected({
          ids: scene.store
            .getState()
            .document.pieces.filter((p) => !p.hidden)
            .map((p) => p.id),
        }),
      ),
  },
  {
    id: 'select-none',
    title: 'Select nothing',
    words: 'none deselect clear',
    group: 'Piece',
    run: (scene) => scene.store.dispatch(handActions.selected({ ids: [] })),
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
    run: (scene) =>
      scene.store.dispatch(
        panelActions.noticed({ text: 'Nothing to do: every action is saved as it happens.', tone: 'info' }),
      ),
  },
  {
    id: 'cutter-here',
    title: 'Select the cutter that made the face under the pointer',
    short: 'Cutter here',
    words: 'hole wall find operand source',
    group: 'Piece',
    when: 'pieces',
    run: selectCutterHere,
  },
  {
    id: 'select-host',
    title: 'Select what this cutter cuts',
    short: 'Its host',
    words: 'parent target base',
    group: 'Piece',
    enabled: some,
    run: selectHost,
  },
  {
    id: 'give-steps',
    title: 'Give the steps of the last selected to the others',
    short: 'Give steps',
    words: 'copy build stack modifiers transfer paste same',
    group: 'Build',
    enabled: (scene) => s(scene).selected.length > 1,
    needs: 'select two pieces or more first.',
    run: giveSteps,
  },
  {
    id: 'select-cutters',
    title: 'Select the cutters of this piece',
    short: 'Its cutters',
    group: 'Piece',
    enabled: some,
    run: (scene) => {
      const hosts = hostsOfCutter(scene.store.getState());
      const ids = [...hosts].filter(([, h]) => h.includes(s(scene).active ?? '')).map(([c]) => c);
      if (ids.length) scene.store.dispatch(handActions.selected({ ids }));
    },
  },
  {
    id: 'next-cutter',
    title: 'Go to the next cutter',
    short: 'Next cutter',
    words: 'walk through holes forward',
    group: 'Piece',
    when: 'pieces',
    enabled: some,
    run: (scene) => walkCutters(scene, 1),
  },
  {
    id: 'previous-cutter',
    title: 'Go to the previous cutter',
    short: 'Cutter before',
    words: 'walk through holes back previous',
    group: 'Piece',
    when: 'pieces',
    enabled: some,
    run: (scene) => walkCutters(scene, -1),
  },
];
