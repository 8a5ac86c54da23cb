/** The keyboard as the keymap thinks of it: rows per hand, each with what it is for. */
export interface KeyRow {
  keys: string;
  /** Purpose of the row, at Piece level and on elements. */
  pieces: string;
  elements: string;
}

export const LEFT: ReadonlyArray<KeyRow> = [
  { keys: 'qwert', pieces: 'makes', elements: 'makes' },
  { keys: 'asdfg', pieces: 'moves', elements: 'moves' },
  { keys: 'zxcvb', pieces: 'joins, finishes', elements: 'joins, mends' },
];
export const RIGHT: ReadonlyArray<KeyRow> = [
  { keys: 'yuiop', pieces: 'looks', elements: 'looks' },
  { keys: 'hjkl', pieces: 'shows, hides', elements: 'picks' },
  { keys: 'nm,./', pieces: 'view, snapping', elements: 'view, snapping, picks more or less' },
];
export const DIGITS: ReadonlyArray<KeyRow> = [
  { keys: '123456', pieces: 'views', elements: 'views' },
  { keys: '7890', pieces: 'levels', elements: 'levels' },
];

/** The order of shipped keys: plain ones row by row, then those with a modifier, then commands without a key. */
export function keyPlace(key: string | undefined): number {
  if (!key) return Infinity;
  const cap = key.slice(key.lastIndexOf('+') + 1) || '+';
  const at = [...LEFT, ...RIGHT]
    .map((r) => r.keys)
    .join('')
    .indexOf(cap);
  return (at < 0 ? 100 : at) + (key.length > cap.length ? 200 : 0);
}
