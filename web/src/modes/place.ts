/** Placing copies of a piece, or new holes, again and again. */
import { lazy } from 'react';
import {
  endPlaceAgain,
  hoverPlaced,
  pressPlaced,
  takeHole,
  takePlaceAgain,
  turnPlaced,
} from '../hands/placeAgain';
import { preview } from '../state/actions';
import { defineMode, somePiece } from './define';

const PlaceCard = lazy(async () => ({ default: (await import('./PlaceCard')).PlaceCard }));

export const place = defineMode<'place'>({
  is: 'place',
  title: ({ piece }) => (piece === null ? 'Holes' : 'Place again'),
  commands: [
    {
      id: 'place-hole',
      title: 'Place holes on faces',
      short: 'Holes',
      words: 'new cutter drill bore through plus stamp',
      group: 'Build',
      when: 'pieces',
      run: takeHole,
    },
    {
      id: 'place-again',
      title: 'Place again on faces',
      short: 'Place again',
      words: 'cutter hole stamp seat another vent',
      group: 'Piece',
      enabled: somePiece,
      run: takePlaceAgain,
    },
  ],
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
