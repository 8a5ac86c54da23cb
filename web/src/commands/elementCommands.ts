/** Commands at Face, Edge and Point level. Their keys mean something else at Piece level. */
import type { PickName } from '@urnsmith/core/select/picks';
import type { Offer } from '@urnsmith/core/offers';
import { handActions, type Level } from '../state/handSlice';
import { settingActions } from '../state/settingSlice';
import { pick, takeLevel } from '../state/elements';
import { applyNormal, hasSample, sampleNormal } from '../state/normalsInHand';
import { canStepPicks, stepPicks } from '../state/pickTrail';
import { detachFaces, outlineFromPicks } from '../state/parts';
import { pivotToPicked } from '../state/placing';
import { walkPicks, WAYS, type Way } from '../hands/walkPicks';
import type { Command } from '../state/command';
import { leaveLedger } from './regions';
import { editing, picked } from './toolCommands';

const choose = (name: PickName, title: string, offer: Offer = {}): Command => ({
  id: `pick-${name}`,
  title,
  ...offer,
  group: 'Pick',
  when: 'elements',
  enabled: editing,
  run: (scene) => void pick(scene, name),
});

const level = (l: Level, title: string, offer: Offer): Command => ({
  id: `level-${l}`,
  title,
  ...offer,
  group: 'Pick',
  run: (scene) => void takeLevel(scene, l).then(leaveLedger),
});

const walk = (way: Way, add: boolean): Command => ({
  id: `pick-${add ? 'and-' : ''}${way}`,
  title: add ? `Pick the neighbour too, ${SIDE[way]}` : `Pick the neighbour ${SIDE[way]}`,
  short: add ? `And ${way}` : `Go ${way}`,
  words: 'next arrow keyboard walk',
  group: 'Pick',
  when: 'elements',
  enabled: editing,
  run: (scene) => void walkPicks(scene, way, add),
});
const SIDE: Record<Way, string> = { left: 'to the left', right: 'to the right', up: 'above', down: 'below' };

export const ELEMENT_COMMANDS: Command[] = [
  level('piece', 'Handle pieces', { short: 'Pieces', words: 'objects parts', ring: { bare: 3 } }),
  level('face', 'Edit faces', { short: 'Faces', words: 'polygons faces', ring: { bare: 4 } }),
  level('edge', 'Edit edges', { short: 'Edges', words: 'edges', ring: { bare: 5 } }),
  level('point', 'Edit points', {
    short: 'Points',
    words: 'vertex vertices points',
    ring: { bare: 6 },
  }),
  choose('loop', 'Pick along the loop', {
    words: 'edges around',
    ring: { edge: 2 },
    next: { edge: 2 },
  }),
  choose('ring', 'Pick along the ring', { words: 'edges across', ring: { edge: 7 } }),
  choose('border', 'Pick the border'),
  choose('grow', 'Grow the selection', {
    short: 'Grow',
    words: 'more expand',
    ring: { face: 4, point: 4 },
    next: { face: 2, point: 2 },
  }),
  choose('shrink', 'Shrink the selection', { short: 'Shrink', words: 'less contract' }),
  choose('invert', 'Pick the others', { words: 'inverse others' }),
  choose('all', 'Pick all', { short: 'Pick all', ring: { bare: 0 }, next: { bare: 0 } }),
  choose('none', 'Pick nothing', { short: 'Pick nothing' }),
  choose('flat', 'Pick the flat region', { ring: { face: 7 } }),
  choose('shell', 'Pick the whole shell', { short: 'Shell', words: 'connected island whole' }),
  choose('way', 'Pick the shortest path between', { short: 'Shortest path', ring: { point: 7 } }),
  choose('enclose', 'Pick enclosed elements', { short: 'Enclosed' }),
  choose('alike', 'Pick similar elements', { short: 'Alike', words: 'similar same' }),
  choose('repeat', 'Continue the pattern', { short: 'Carry on' }),
  ...(Object.keys(WAYS) as Way[]).flatMap((way) => [walk(way, false), walk(way, true)]),
  {
    id: 'pick-through',
    title: 'Pick through the whole depth',
    short: 'Pick through',
    group: 'Pick',
    when: 'elements',
    run: (scene) =>
      scene.store.dispatch(
        settingActions.elementSettings({ through: !scene.store.getState().settings.elements.through }),
      ),
  },
  {
    id: 'soft',
    title: 'Soft selection on or off',
    words: 'falloff gradual',
    group: 'Pick',
    when: 'elements',
    run: (scene) =>
      scene.store.dispatch(
        settingActions.elementSettings({ soft: !scene.store.getState().settings.elements.soft }),
      ),
  },
  {
    id: 'show-normals',
    title: 'Shading normals as lines, or not',
    short: 'Show normals',
    words: 'display corner normals held lines',
    group: 'View',
    when: 'elements',
    run: (scene) =>
      scene.store.dispatch(
        settingActions.elementSettings({ normals: !scene.store.getState().settings.elements.normals }),
      ),
  },
  {
    id: 'show-ranks',
    title: 'Tint faces that lead or follow in shading, or not',
    short: 'Show ranks',
    words: 'display rank weight lead follow normals colour',
    group: 'View',
    when: 'elements',
    run: (scene) =>
      scene.store.dispatch(
        settingActions.elementSettings({ ranks: !scene.store.getState().settings.elements.ranks }),
      ),
  },
  {
    id: 'edit-detach',
    title: 'Take faces off as a new piece',
    short: 'New piece',
    ring: { face: 6 },
    card: ['face'],
    words: 'separate detach split part',
    group: 'Edit',
    when: 'elements',
    enabled: picked,
    run: (scene) => void detachFaces(scene),
  },
  {
    id: 'outline-of-picked',
    title: 'Outline of the picks, as a piece',
    short: 'Outline',
    words: 'profile contour extract plate cutter template shape',
    group: 'Pick',
    when: 'elements',
    enabled: picked,
    run: (scene) => void outlineFromPicks(scene),
  },
  {
    id: 'sample-normal',
    title: 'Sample the shading of the picks',
    short: 'Sample shading',
    words: 'copy normal clipboard pipette',
    group: 'Edit',
    when: 'elements',
    enabled: picked,
    run: (scene) => void sampleNormal(scene),
  },
  {
    id: 'apply-normal',
    title: 'Apply the sampled shading',
    short: 'Apply sample',
    words: 'paste normal clipboard',
    group: 'Edit',
    when: 'elements',
    enabled: (scene) => picked(scene) && hasSample(scene),
    needs: 'sample a shading, then pick where it goes.',
    run: (scene) => void applyNormal(scene),
  },
  {
    id: 'picks-back',
    title: 'Undo the last pick',
    words: 'undo selection previous',
    group: 'Pick',
    when: 'elements',
    enabled: (scene) => canStepPicks(scene, -1),
    needs: 'nothing was picked before.',
    run: (scene) => stepPicks(scene, -1),
  },
  {
    id: 'picks-on',
    title: 'Redo the last pick',
    words: 'redo selection next',
    group: 'Pick',
    when: 'elements',
    enabled: (scene) => canStepPicks(scene, 1),
    needs: 'no pick was undone.',
    run: (scene) => stepPicks(scene, 1),
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
    title: 'Put the pivot at the middle of the picks',
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
    run: (scene) => {
      if (scene.store.getState().hand.picked.length) scene.store.dispatch(handActions.elementsPicked([]));
      else void takeLevel(scene, 'piece');
    },
  },
];
