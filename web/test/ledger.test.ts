import { describe, expect, it } from 'vitest';
import type { Piece } from '@urnsmith/core/document/schema';
import { hostsOfCutter, hiddenPieces, modeOfCutter, roleOf } from '../src/state/selectors';
import type { RootState } from '../src/state/store';
import type { LedgerFilter } from '../src/state/panelSlice';
import { ledgerRows } from '../src/views/bench/ledgerRows';
import { treeLetters, treeStep } from '../src/views/bench/treeKeys';
import { hatch } from '../../demo/hatch';

const box: Piece['base'] = { primitive: 'box', width: 1, height: 1, depth: 1 };
const pieces: Piece[] = [
  { id: 'g', name: 'Group', base: { group: true } },
  {
    id: 'host',
    name: 'Host',
    parent: 'g',
    base: box,
    steps: [{ kind: 'cut', mode: 'subtract', cutters: ['hole', 'slot'] }],
  },
  {
    id: 'hole',
    name: 'Hole',
    parent: 'g',
    role: 'cutter',
    base: box,
    steps: [{ kind: 'cut', mode: 'subtract', cutters: ['core'] }],
  },
  { id: 'slot', name: 'Slot', role: 'cutter', base: box },
  { id: 'core', name: 'Core', parent: 'g', role: 'cutter', base: box },
  { id: 'line', name: 'Line', role: 'guide', base: box, hidden: true },
];
const state = (list: Piece[]): RootState =>
  ({ document: { pieces: list, preview: null } }) as unknown as RootState;
const rows = (filter: LedgerFilter = 'all', search = '', collapsed: string[] = []): string[] =>
  ledgerRows(pieces, hostsOfCutter(state(pieces)), { filter, search, collapsed }).map(
    (r) => '·'.repeat(r.depth) + r.piece.id,
  );

describe('the Ledger', () => {
  it('hangs cutters under their hosts and keeps nesting', () => {
    expect(rows()).toEqual(['g', '·host', '··hole', '···core', '··slot', 'line']);
  });
  it('knows what each cutter does, also in a group; one that is in no cut is left out', () => {
    const list: Piece[] = [
      {
        id: 'h',
        base: box,
        steps: [
          { kind: 'cut', mode: 'recess', cutters: ['late'], off: true },
          { kind: 'cut', mode: 'union', cutters: ['pin', 'both'] },
          { kind: 'cut', mode: 'subtract', cutters: ['pin', 'pads'] },
        ],
      },
      { id: 'pads', base: { group: true } },
      ...['pin', 'both', 'late', 'loose'].map((id): Piece => ({ id, role: 'cutter', base: box })),
      { id: 'pad', parent: 'pads', base: box },
      { id: 'below', parent: 'pin', role: 'cutter', base: box },
    ];
    expect(Object.fromEntries(modeOfCutter(state(list)))).toEqual({
      pin: 'union',
      both: 'union',
      pad: 'subtract',
      late: 'off',
    });
  });
  it('folds', () => {
    expect(rows('all', '', ['host'])).toEqual(['g', '·host', 'line']);
    expect(rows('all', '', ['g'])).toEqual(['g', 'line']);
  });
  it('filters and searches flat', () => {
    expect(rows('cutters')).toEqual(['hole', 'slot', 'core']);
    expect(rows('solids')).toEqual(['host']);
    expect(rows('guides')).toEqual(['line']);
    expect(rows('hidden')).toEqual(['line']);
    expect(rows('all', ' HO ')).toEqual(['host', 'hole']);
    expect(rows('cutters', 'slo')).toEqual(['slot']);
  });
  it('shows every piece once, also a host nested in its own cutter', () => {
    const knot: Piece[] = [
      { id: 'a', parent: 'b', base: box, steps: [{ kind: 'cut', mode: 'subtract', cutters: ['b'] }] },
      { id: 'b', role: 'cutter', base: box },
    ];
    const shown = ledgerRows(knot, hostsOfCutter(state(knot)), {
      filter: 'all',
      search: '',
      collapsed: [],
    }).map((r) => r.piece.id);
    expect(shown.sort()).toEqual(['a', 'b']);
    const demo = hatch().pieces;
    const all = ledgerRows(demo, hostsOfCutter(state(demo)), { filter: 'all', search: '', collapsed: [] });
    expect(new Set(all.map((r) => r.piece.id)).size).toBe(demo.length);
    expect(all.length).toBe(demo.length);
  });
});

describe('selectors', () => {
  it('know roles, hosts, and what a hidden parent hides', () => {
    expect(pieces.map(roleOf)).toEqual(['group', 'solid', 'cutter', 'cutter', 'cutter', 'guide']);
    expect([...hostsOfCutter(state(pieces))]).toEqual([['hole', ['host']], ['slot', ['host']], ['core', ['hole']]]); // prettier-ignore
    const hidden = pieces.map((p) => (p.id === 'g' ? { ...p, hidden: true } : p));
    expect([...hiddenPieces(state(hidden))].sort()).toEqual(['core', 'g', 'hole', 'host', 'line']);
  });
});

describe('the keys of the Ledger', () => {
  /** group (open) › host (folded) , hole (a leaf); line (a leaf beside the group). */
  const tree = [
    { depth: 0, hasChildren: true, open: true },
    { depth: 1, hasChildren: true, open: false },
    { depth: 1, hasChildren: false, open: false },
    { depth: 0, hasChildren: false, open: false },
  ];
  const step = (key: string) => tree.map((_, at) => treeStep(tree, at, key));

  it('go up and down and to the ends, and no further', () => {
    expect(step('ArrowDown')).toEqual([1, 2, 3, 3]);
    expect(step('ArrowUp')).toEqual([0, 0, 1, 2]);
    expect(step('Home')).toEqual([0, 0, 0, 0]);
    expect(step('End')).toEqual([3, 3, 3, 3]);
  });

  it('unfold and go in with the right arrow, fold and go out with the left one', () => {
    expect(step('ArrowRight')).toEqual([1, 'fold', null, null]);
    expect(step('ArrowLeft')).toEqual(['fold', 0, 0, null]);
    expect(step('x')).toEqual([null, null, null, null]);
  });

  it('find names by their letters, going round; one letter again leads to the next', () => {
    const names = ['Door', 'Dish', 'Boss', 'dial'];
    expect([0, 1, 3].map((at) => treeLetters(names, at, 'd'))).toEqual([1, 3, 0]);
    expect(treeLetters(names, 0, 'dd')).toBe(1);
    expect(treeLetters(names, 0, 'di')).toBe(1);
    expect(treeLetters(names, 1, 'di')).toBe(1);
    expect(treeLetters(names, 2, 'bo')).toBe(2);
    expect(treeLetters(names, 0, 'x')).toBeNull();
  });
});
