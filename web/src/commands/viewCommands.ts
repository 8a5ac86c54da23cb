/** Commands on how the stage is looked at, and what the hand goes by: views, looks, grid, peg, snapping. */
import { Box3 } from 'three';
import type { OpenScene } from '../state/OpenScene';
import { viewActions } from '../state/viewSlice';
import { LOOK_NAMES, LOOKS, type Look } from '../viewport/looks';
import { settingActions } from '../state/settingSlice';
import { allInHand } from '../state/inHand';
import { levelGrid, lookSquareOn, seatGrid, seatPeg, takePegAway } from '../state/placing';
import type { Stage } from '../viewport/Stage';
import type { View } from '../viewport/CameraRig';
import type { Command } from '../state/command';

const s = (scene: OpenScene) => scene.store.getState();
const some = (scene: OpenScene): boolean => s(scene).hand.selected.length > 0;

const look = (value: Look): Command => ({
  id: `look-${value}`,
  title: `Look: ${value}`,
  words: LOOKS[value].words,
  group: 'Look',
  run: (scene) => scene.store.dispatch(viewActions.lookChosen(value)),
});

const view = (v: View): Command => ({
  id: `view-${v}`,
  title: `Look from ${v === 'top' ? 'above' : v === 'bottom' ? 'below' : `the ${v}`}`,
  words: v === 'top' || v === 'bottom' ? `${v} view camera` : 'view camera side',
  group: 'View',
  run: (scene) => {
    const stage = scene.stage;
    stage?.rig.look(v);
    stage?.redraw();
  },
});

const onStage = (scene: OpenScene, f: (scene: OpenScene, stage: Stage) => void): void => {
  if (scene.stage) f(scene, scene.stage);
};

/** How much more than what is picked is brought into view, to see what it is part of. */
const AROUND = 1.8;

/** Bounds of the picks on all pieces in hand; null where nothing is picked. */
function boundsOfPicks(scene: OpenScene, stage: Stage): Box3 | null {
  const hands = allInHand(scene).filter((h) => h.selection.indices.length);
  if (!hands.length) return null;
  return hands.reduce(
    (box, { piece, selection }) => box.union(stage.cages.of(piece.id)?.boundsOf(selection) ?? new Box3()),
    new Box3(),
  );
}

/** Steps round what is looked at. */
const STEPS = [45, -45, 15, -15, 90, -90];

export const VIEW_COMMANDS: Command[] = [
  {
    id: 'frame',
    title: 'Bring the selection into view',
    short: 'Into view',
    ring: { piece: 7 },
    words: 'zoom focus fit view',
    group: 'View',
    run: (scene) => {
      const stage = scene.stage;
      if (!stage) return;
      const picked = boundsOfPicks(scene, stage);
      if (picked) stage.bringIntoView(picked, AROUND);
      else stage.bringIntoView(stage.bounds(some(scene) ? s(scene).hand.selected : undefined));
    },
  },
  {
    id: 'frame-all',
    title: 'Bring everything into view',
    short: 'Everything',
    words: 'zoom fit view home',
    group: 'View',
    run: (scene) => {
      const stage = scene.stage;
      stage?.bringIntoView(stage.bounds());
    },
  },
  view('front'),
  view('right'),
  view('back'),
  view('left'),
  view('top'),
  view('bottom'),
  {
    id: 'parallel',
    title: 'Parallel or perspective view',
    short: 'Parallel',
    words: 'orthographic ortho perspective camera',
    group: 'View',
    run: (scene) => scene.store.dispatch(viewActions.switched('parallel')),
  },
  {
    id: 'wire',
    title: 'Wire on or off',
    words: 'wireframe edges mesh polygons topology',
    group: 'Look',
    run: (scene) => scene.store.dispatch(viewActions.switched('wire')),
  },
  {
    id: 'xray',
    title: 'X-ray on or off',
    words: 'xray see transparent through',
    group: 'Look',
    run: (scene) => scene.store.dispatch(viewActions.switched('xray')),
  },
  {
    id: 'grid',
    title: 'Grid on or off',
    group: 'Look',
    run: (scene) => scene.store.dispatch(viewActions.switched('grid')),
  },
  {
    id: 'seat-grid',
    title: 'Seat the grid on the picked elements or the face under the pointer',
    words: 'construction align',
    group: 'View',
    run: (scene) => onStage(scene, seatGrid),
  },
  {
    id: 'seat-peg',
    title: 'Set the peg on the picked elements or the face under the pointer',
    short: 'Set the peg',
    words: 'pivot origin cursor axis',
    group: 'View',
    run: (scene) => onStage(scene, seatPeg),
  },
  {
    id: 'take-peg',
    title: 'Remove the peg',
    short: 'Peg away',
    group: 'View',
    enabled: (scene) => s(scene).view.peg !== null,
    needs: 'no peg is set.',
    run: takePegAway,
  },
  { id: 'level-grid', title: 'Level the grid', group: 'View', run: levelGrid },
  {
    id: 'square-on',
    title: 'Look square-on at the picked elements or the face under the pointer',
    short: 'Square-on',
    group: 'View',
    run: (scene) => onStage(scene, lookSquareOn),
  },
  ...STEPS.map((degrees): Command => ({
    id: `step-${degrees}`,
    title: `Step ${Math.abs(degrees)}° round to the ${degrees > 0 ? 'right' : 'left'}`,
    group: 'View',
    run: (scene) =>
      onStage(scene, (_, stage) => {
        stage.rig.stepRound(degrees);
        stage.redraw();
      }),
  })),
  {
    id: 'snap',
    title: 'Snapping on or off',
    words: 'magnet grid',
    group: 'Tool',
    run: (scene) => scene.store.dispatch(settingActions.snapSwitched()),
  },
  {
    id: 'next-look',
    title: 'Next look',
    group: 'Look',
    run: (scene) =>
      scene.store.dispatch(
        viewActions.lookChosen(LOOK_NAMES[(LOOK_NAMES.indexOf(s(scene).view.look) + 1) % LOOK_NAMES.length]),
      ),
  },
  ...LOOK_NAMES.map(look),
];
