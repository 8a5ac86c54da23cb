/**
 * The keys Urnsmith ships with. The left hand acts: its upper row makes, its home row moves, its lower row joins and
 * finishes, at Piece level as on faces, edges and points. The right hand sees: upper row looks, home row picks (and, at
 * Piece level, shows and hides), `N` and `M` bring into view and snap. `Shift` is the nearest relative of a key's
 * command, `Alt` the next. Digits are views and levels. A person can change every one of them.
 */
import type { ChangedKeys } from '@urnsmith/core/settings/keys';

export const KEYMAP: Readonly<Record<string, string>> = {
  // At every level: the left home row.
  'tool-select': 'a',
  'tool-move': 's',
  'tool-turn': 'd',
  'tool-resize': 'f',

  // Pieces, upper row: make.
  'cut-subtract': 'q',
  'draw-cut': 'Alt+q',
  'place-again': 'Alt+e',
  'cut-union': 'w',
  'cut-intersect': 'e',
  'select-cutters': 'Shift+q',
  'select-host': 'Shift+w',
  'cutter-here': 'Shift+e',
  'add-step-repeat': 'r',
  'add-step-mirror': 'Shift+r',
  'repeat-duplicate': 'Alt+r',
  round: 't',
  // Pieces, home row: move.
  settle: 'g',
  // Pieces, lower row: join and finish.
  join: 'z',
  normals: 'c',
  separate: 'b',

  // Elements, upper row: make.
  'edit-knife': 'q',
  'edit-planeSlice': 'Shift+q',
  'edit-openAlong': 'Alt+q',
  'edit-extrude': 'w',
  'edit-extrudeEach': 'Shift+w',
  'edit-push': 'Alt+w',
  'edit-inset': 'e',
  'edit-insetEach': 'Shift+e',
  'edit-ringCut': 'r',
  'edit-supportLoops': 'Shift+r',
  'edit-bevel': 't',
  'edit-makeRound': 'Shift+t',
  // Elements, home row: move.
  soft: 'Shift+a',
  'edit-relax': 'Shift+s',
  'edit-straighten': 'Shift+d',
  'edit-flatten': 'Shift+f',
  'edit-slide': 'g',
  'edit-spaceEvenly': 'Shift+g',
  // Elements, lower row: join and mend.
  'edit-weld': 'z',
  'edit-weldMiddle': 'Shift+z',
  'edit-collapse': 'Alt+z',
  'edit-fill': 'x',
  'edit-fillGrid': 'Shift+x',
  'edit-detach': 'Alt+x',
  'edit-connect': 'c',
  'edit-fan': 'Shift+c',
  'edit-drawFace': 'Alt+c',
  'edit-bridge': 'v',
  'edit-dissolve': 'b',
  'edit-splitApart': 'Shift+b',
  'edit-remove': 'Delete',
  'edit-removeOther': 'Shift+Delete',
  'edit-copyFaces': 'Ctrl+d',
  'edit-number': 'Enter',
  'edit-leave': 'Escape',

  // Right hand, upper row: look.
  wire: 'y',
  smooth: 'Shift+y',
  xray: 'u',
  'pick-through': 'Shift+u',
  grid: 'i',
  'seat-grid': 'Shift+i',
  'level-grid': 'Alt+i',
  'next-look': 'o',
  'before-after': 'Shift+o',
  parallel: 'p',
  'seat-peg': 'Shift+p',
  'take-peg': 'Alt+p',
  // Right hand, home row: show and hide pieces, pick elements.
  isolate: 'h',
  faint: 'j',
  hide: 'k',
  lock: 'l',
  'next-cutter': '.',
  'previous-cutter': ',',
  'pick-loop': 'h',
  'pick-ring': 'Shift+h',
  'pick-border': 'Alt+h',
  'pick-flat': 'j',
  'pick-alike': 'Shift+j',
  'pick-enclose': 'Alt+j',
  'pick-shell': 'k',
  'pick-repeat': 'Shift+k',
  'pick-way': 'l',
  'pick-invert': '/',
  'pick-grow': '.',
  'pick-shrink': ',',
  'pick-all': 'Ctrl+a',
  'pick-left': 'ArrowLeft',
  'pick-right': 'ArrowRight',
  'pick-up': 'ArrowUp',
  'pick-down': 'ArrowDown',
  'pick-and-left': 'Alt+Shift+ArrowLeft',
  'pick-and-right': 'Alt+Shift+ArrowRight',
  'pick-and-up': 'Alt+Shift+ArrowUp',
  'pick-and-down': 'Alt+Shift+ArrowDown',
  'picks-back': 'Alt+,',
  'picks-on': 'Alt+.',
  // Right hand, lower row.
  frame: 'n',
  'frame-all': 'Shift+n',
  snap: 'm',

  // Digits: views from the left, levels from the right.
  'view-front': '1',
  'view-right': '2',
  'view-back': '3',
  'view-left': '4',
  'view-top': '5',
  'view-bottom': '6',
  'level-piece': '7',
  'level-face': '8',
  'level-edge': '9',
  'level-point': '0',
  'square-on': 'Alt+1',
  'step-45': 'Alt+ArrowRight',
  'step--45': 'Alt+ArrowLeft',
  'step-15': 'Shift+ArrowRight',
  'step--15': 'Shift+ArrowLeft',
  'step-90': 'Ctrl+ArrowRight',
  'step--90': 'Ctrl+ArrowLeft',

  // The same at every level.
  undo: 'Ctrl+z',
  redo: 'Ctrl+Shift+z',
  save: 'Ctrl+s',
  history: 'Ctrl+h',
  duplicate: 'Ctrl+d',
  twin: 'Ctrl+Shift+d',
  group: 'Ctrl+g',
  'select-all': 'Ctrl+a',
  'select-none': 'Escape',
  delete: 'Delete',
  'type-number': 'Enter',
  search: ' ',
  'part-next': 'F6',
  'part-previous': 'Shift+F6',
  keys: '?',
};

export const keyOf = (id: string, changed: ChangedKeys): string | undefined =>
  (changed[id] ?? KEYMAP[id]) || undefined;

/** A key as it is printed on its cap. */
export const keyLabel = (keys: string): string =>
  keys.replace(/(^|\+)( |[a-z])$/, (_, p: string, k: string) => p + (k === ' ' ? 'Space' : k.toUpperCase()));

const MODIFIERS = new Set(['Shift', 'Control', 'Alt', 'Meta', 'CapsLock', 'Dead', 'Process', 'Unidentified']);

/** The name of a key event, as the keymap spells it; null for a modifier by itself. */
export function keyName(
  e: Pick<KeyboardEvent, 'key' | 'ctrlKey' | 'metaKey' | 'altKey' | 'shiftKey'>,
): string | null {
  if (MODIFIERS.has(e.key)) return null;
  const letter = e.key.length === 1;
  const key = letter ? e.key.toLowerCase() : e.key.replace('Backspace', 'Delete');
  // Shift has done its work where it makes another sign, as ? of /.
  const sign = letter && !/[\p{L}\p{N} ]/u.test(key);
  return [(e.ctrlKey || e.metaKey) && 'Ctrl+', e.altKey && 'Alt+', e.shiftKey && !sign && 'Shift+', key]
    .filter(Boolean)
    .join('');
}
