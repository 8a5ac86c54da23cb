/** Drawing a cut on a face: its outline, then its depth. */
import { lazy } from 'react';
import { boxOfDrawn } from '@urnsmith/core/document/drawnCut';
import { formatNumber } from '@urnsmith/core/document/expression';
import {
  backFromCut,
  goOnWithCut,
  hoverCut,
  pressCut,
  strokeCut,
  takeCutDrawing,
  undoCorner,
  wheelCut,
} from '../hands/cutDrawing';
import { showCut } from '../hands/cutMaking';
import { composed } from '../hands/cutState';
import { focusDistance } from '../hands/focusDistance';
import { preview } from '../state/actions';
import { cutLines } from './cutLines';
import { defineMode, type HelpLine } from './define';

const HELP: Record<'aim' | 'outline' | 'free' | 'depth', ReadonlyArray<HelpLine>> = {
  aim: [
    ['drag', 'the outline on a face'],
    ['Tab', 'type a distance'],
    ['Enter', 'begin here'],
    ['Ctrl', 'inverts snapping'],
    ['Esc', 'cancel'],
  ],
  outline: [
    ['let go', 'to the depth'],
    ['Tab', 'type a distance'],
    ['Enter', 'to the depth'],
    ['Esc', 'back'],
  ],
  free: [
    ['click', 'set corners'],
    ['first corner', 'done'],
    ['Delete', 'corner back'],
    ['Enter', 'to the depth'],
    ['Esc', 'back'],
  ],
  depth: [
    ['move', 'the depth'],
    ['Tab', 'type a distance'],
    ['click', 'cut'],
    ['Enter', 'cut'],
    ['Esc', 'back'],
  ],
};
/** Loaded once a cut is drawn. */
const CutCard = lazy(async () => ({ default: (await import('./CutCard')).CutCard }));
const CutDistances = lazy(async () => ({ default: (await import('./CutDistances')).CutDistances }));

const mm = (x: number): string => formatNumber(Number(x.toFixed(2)));

export const cut = defineMode<'cut'>({
  is: 'cut',
  title: 'Draw a cut',
  commands: [
    {
      id: 'draw-cut',
      title: 'Draw a cut on a face',
      short: 'Draw a cut',
      words: 'hole pocket slot boss sketch rectangle circle polygon',
      group: 'Build',
      when: 'pieces',
      run: takeCutDrawing,
    },
  ],
  help: ({ stage }, { settings }) =>
    HELP[stage === 'outline' && settings.cut.shape === 'free' ? 'free' : stage],
  keys: { Enter: goOnWithCut, Tab: focusDistance, Escape: backFromCut, Delete: undoCorner },
  Card: CutCard,
  Over: CutDistances,
  press: pressCut,
  stroke: (scene, at, _, done) => strokeCut(scene, at, done),
  hover: hoverCut,
  wheel: wheelCut,
  lines: (mode, { settings }) => cutLines(mode, settings.cut),
  says(mode, { settings: { cut: c } }) {
    if (mode.stage === 'aim') return '';
    if (mode.stage === 'depth')
      return c.reach === 'blind' || c.reach === 'both' ? `${mm(c.depth)} mm deep` : c.reach;
    const { width, length } = boxOfDrawn(composed(mode, c));
    return c.shape === 'round' || c.shape === 'regular'
      ? `${mm(width)} mm across`
      : `${mm(width)} × ${mm(length)} mm`;
  },
  // The cut shows as it would be, while its depth is pulled or a number typed.
  changed(scene, { stage }, before) {
    if (stage === 'depth' || before?.stage === 'depth') showCut(scene);
  },
  ended: (scene) => preview(scene, null),
});
