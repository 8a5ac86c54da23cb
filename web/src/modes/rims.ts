/** Choosing whose rims a step takes, by clicks on the model. */
import { cutterAtRim } from '../hands/cutterHere';
import { notice } from '../state/actions';
import { modeIn } from '../state/mode';
import { endRims, toggleRimsOf } from '../state/rims';
import { defineMode } from './define';

export const rims = defineMode<'rims'>({
  is: 'rims',
  title: 'Rims',
  help: [
    ['click', 'a rim or its wall: in or out'],
    ['Esc', 'done'],
  ],
  keys: { Escape: endRims },
  lasts: (mode, now) => now.active === mode.piece && now.step === mode.step,
  press(scene, { stage, x, y }) {
    const mode = modeIn(scene.store.getState(), 'rims');
    if (!mode) return null;
    const cutter = cutterAtRim(scene, stage, mode.piece, x, y);
    if (cutter) toggleRimsOf(scene, mode, cutter.id, cutter.name ?? cutter.id);
    else notice(scene, 'Click a rim, or a wall that a cutter made.', false, 'problem');
    return 'click';
  },
});
