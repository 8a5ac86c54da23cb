/** docs/keyboard.md, written from the keymap and the commands themselves. */
import type { Command } from '../web/src/state/command';
import { COMMANDS } from '../web/src/commands/commands';
import { KEYMAP, keyLabel } from '../web/src/commands/keymap';
import { DIGITS, LEFT, RIGHT, type KeyRow } from '../web/src/commands/keyRows';

const WHILE_DRAGGING: Array<[string, string]> = [
  ['`Shift` while dragging', 'hold to one axis: the one the pointer’s way is nearest to'],
  ['`Alt` while dragging', 'hold to the plane that faces the view most'],
  ['`Ctrl` while dragging', 'snapping the other way'],
  ['`Esc` while dragging', 'let go, nothing changed'],
];
const ON_ELEMENTS: Array<[string, string]> = [
  ['click, `Shift` click', 'pick, add or take away'],
  ['drag, `Shift` drag', 'pick in a box, add to it'],
  ['`Alt` drag', 'pick inside a lasso'],
  ['`Ctrl` drag', 'paint over elements to pick them'],
  ['double click', 'pick along the loop; with `Alt` along the ring'],
];
const ELSEWHERE: Array<[string, string]> = [
  ['a tool’s key, held', 'borrows the tool for a gesture; letting go gives the old one back'],
  ['`F2` in the Ledger', 'rename'],
  [
    '`Shift+Space` on a row or a bead',
    'pick it up; the arrows move it, `Space` puts it down, `Esc` lets it be',
  ],
  ['`Alt+←` `Alt+→` on a bead', 'move the step along its lane'],
  ['arrow keys, first letters in the ring', 'go round it; `Enter` does what has the focus'],
  ['arrow keys on the line beside a side', 'make the side wider or narrower'],
  ['`Shift` with an arrow key in a field', 'ten steps at once'],
];

const table = (title: string, rows: Array<[string, string]>): string =>
  [`## ${title}`, '', '| key | does |', '| --- | --- |', ...rows.map(([k, t]) => `| ${k} | ${t} |`), ''].join(
    '\n',
  );

const ROWS = [...LEFT, ...RIGHT, ...DIGITS];
const onRows = new Set(ROWS.flatMap((r) => [...r.keys].flatMap((k) => [k, `Shift+${k}`, `Alt+${k}`])));

/** The keyboard at one level: its rows, and with each key what it does plain, with Shift and with Alt. */
function picture(title: string, when: 'pieces' | 'elements'): string {
  const commands = COMMANDS.filter((c) => !c.when || c.when === when);
  const named = (key: string): string => commands.find((c) => KEYMAP[c.id] === key)?.title ?? '';
  const line = (r: KeyRow): string[] =>
    [...r.keys]
      .map((k, i) => [
        i ? '' : r[when],
        '`' + k.toUpperCase() + '`',
        ...[k, `Shift+${k}`, `Alt+${k}`].map(named),
      ])
      .filter(([row, , ...does]) => row || does.some(Boolean))
      .map((cells) => `| ${cells.join(' | ')} |`);
  return [
    `## ${title}`,
    '',
    '| row | key | does | with `Shift` | with `Alt` |',
    '| --- | --- | --- | --- | --- |',
    ...ROWS.flatMap(line),
    '',
  ].join('\n');
}

const others = (when: Command['when']): Array<[string, string]> =>
  COMMANDS.filter((c) => c.when === when && KEYMAP[c.id] && !onRows.has(KEYMAP[c.id])).map((c) => [
    '`' + keyLabel(KEYMAP[c.id]) + '`',
    c.title,
  ]);

export function keyboardDoc(): string {
  return [
    '# Keys',
    '',
    'Written by `npm run docs` from the keymap itself. **The left hand acts**: its upper row makes, its home row moves,',
    'its lower row joins and finishes, for pieces as for faces, edges and points. **The right hand sees**: its upper row',
    'looks, its home row picks elements and shows or hides pieces, `N` brings into view and `M` snaps. `Shift` gives the',
    'nearest relative of a key’s command, `Alt` the next. Digits are views and levels. `?` shows this as a picture of the',
    'keyboard, where every key can be changed; changes are kept with the scenes.',
    '',
    'Right-drag turns the view, middle-drag (or `Shift` with right-drag) shifts it, the wheel zooms to the pointer; a right',
    'click opens the ring. Every command is also found by name with `Space`, and every button tells its key.',
    '',
    picture('Pieces', 'pieces'),
    picture('Faces, edges, points', 'elements'),
    table('Other keys at every level', [...others(undefined), ...WHILE_DRAGGING]),
    table('Other keys at Piece level', others('pieces')),
    table('Other keys at Face, Edge and Point level', [...ON_ELEMENTS, ...others('elements')]),
    table('Elsewhere', ELSEWHERE),
  ].join('\n');
}
