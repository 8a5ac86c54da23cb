/** Placing copies of a piece, or new holes, again and again. */
import { endPlaceAgain, hoverPlaced, pressPlaced, turnPlaced } from '../hands/placeAgain';
import { preview } from '../state/actions';
import { defineMode } from './define';
import { PlaceCard } from './PlaceCard';

export const place = defineMode<'place'>({
  is: 'place',
  title: ({ piece }) => (piece === null ? 'Holes' : 'Place again'),
  help: [
    ['move', 'seats it on faces'],
    ['R', 'turn'],
    ['click', 'set down'],
    ['Esc', 'done'],
  ],
  keys: {
    r: (scene) => turnPlaced(scene, 1),
    'Shift+r': (scene) => turnPlaced(scene, -1),
    Enter: endPlaceAgain,
    Escape: endPlaceAgain,
  },
  Card: PlaceCard,
  press: pressPlaced,
  hover: hoverPlaced,
  ended: (scene) => preview(scene, null),
});
