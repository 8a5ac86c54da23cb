/** Placing copies of a piece, or new holes, again and again. */
import { lazy } from 'react';
import {
  endPlaceAgain,
  hoverPlaced,
  pressPlaced,
  setDownOrEnd,
  takeHole,
  takePlaceAgain,
  takeToSeat,
  turnPlaced,
} from '../hands/placeAgain';
import { focusDistance } from '../hands/focusDistance';
import { preview } from '../state/actions';
import { defineMode, somePiece } from './define';

const PlaceDistances = lazy(async () => ({ default: (await import('./PlaceDistances')).PlaceDistances }));
const PlaceCard = lazy(async () => ({ default: (await import('./PlaceCard')).PlaceCard }));

export const place = defineMode<'place'>({
  is: 'place',
  title: ({ piece, moves }) => (piece === null ? 'Holes' : moves ? 'Seat' : 'Place again'),
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
      id: 'seat',
      title: 'Seat on a face',
      words: 'drop place stand stick align mount move onto surface',
      group: 'Piece',
      enabled: somePiece,
      run: takeToSeat,
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
    ['Tab', 'type a distance'],
    ['click', 'set down'],
    ['Enter', 'set down where typed'],
    ['Esc', 'done'],
  ],
  keys: {
    r: (scene) => turnPlaced(scene, 1),
    'Shift+r': (scene) => turnPlaced(scene, -1),
    Tab: focusDistance,
    Enter: setDownOrEnd,
    Escape: endPlaceAgain,
  },
  Card: PlaceCard,
  Over: PlaceDistances,
  press: pressPlaced,
  hover: hoverPlaced,
  ended: (scene) => preview(scene, null),
});
