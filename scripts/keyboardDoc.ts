/** docs/keyboard.md, written from the commands themselves. */
import type { Command } from '../web/src/commands/command';
import { COMMANDS, keyLabel } from '../web/src/commands/commands';

const WHILE_DRAGGING: Array<[string, string]> = [
  ['`X` `Y` `Z` while dragging', 'hold to an axis; with `Shift`, to the plane across it'],
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
  ['`Alt+←` `Alt+→` on a bead', 'move the step along its lane'],
  ['`Shift` with an arrow key in a field', 'ten steps at once'],
];

const rowsOf = (commands: Command[]): Array<[string, string]> =>
  commands.filter((c) => c.keys).map((c) => ['`' + keyLabel(c.keys!) + '`', c.title]);

const table = (title: string, rows: Array<[string, string]>): string =>
  [`## ${title}`, '', '| key | does |', '| --- | --- |', ...rows.map(([k, t]) => `| ${k} | ${t} |`), ''].join(
    '\n',
  );

export function keyboardDoc(): string {
  const at = (when: Command['when']): Command[] => COMMANDS.filter((c) => c.when === when);
  return [
    '# Keys',
    '',
    'Written by `npm run docs` from the commands themselves. Right-drag turns the view, middle-drag (or `Shift` with',
    'right-drag) shifts it, the wheel zooms to the pointer; a right click opens the ring. Every command is also found',
    'by name with `Space`, and every button tells its key.',
    '',
    table('At every level', [...rowsOf(at(undefined)), ...WHILE_DRAGGING]),
    table('At Piece level', rowsOf(at('pieces'))),
    table('At Face, Edge and Point level', [...ON_ELEMENTS, ...rowsOf(at('elements'))]),
    table('Elsewhere', ELSEWHERE),
  ].join('\n');
}
