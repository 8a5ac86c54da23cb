/** Commands on how the stage is looked at, and what the hand goes by: views, looks, grid, peg, snapping. */
import { bench, LOOKS, type Look } from '../state/benchSlice';
import { store } from '../state/store';
import { levelGrid, lookSquareOn, seatGrid, seatPeg, takePegAway } from '../state/placing';
import type { Stage } from '../viewport/Stage';
import { currentStage } from './stage';
import type { View } from '../viewport/CameraRig';

import type { Command } from './command';

const s = () => store.getState().bench;
const some = (): boolean => s().selected.length > 0;
const d = store.dispatch;

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

/** Steps round what is looked at. */
const STEPS: Array<[string, number]> = [
  ['Alt+ArrowRight', 45],
  ['Alt+ArrowLeft', -45],
  ['Shift+ArrowRight', 15],
  ['Shift+ArrowLeft', -15],
  ['Ctrl+ArrowRight', 90],
  ['Ctrl+ArrowLeft', -90],
];

export const VIEW_COMMANDS: Command[] = [
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
];
