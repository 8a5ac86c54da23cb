import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { beforeEach, describe, expect, it } from 'vitest';
import type { Piece } from '@urnsmith/core/document/schema';
import { documents } from '../../scripts/writeDocs';
import { atLevel, commandById, COMMANDS, noteGesture, releaseKey, runKey } from '../src/commands/commands';
import { holdersOf } from '../src/commands/clashes';
import { KEYMAP, keyLabel, keyName, keyOf } from '../src/commands/keymap';
import { settingsApi } from '../src/api/settingsApi';
import { handActions } from '../src/state/handSlice';
import { viewActions } from '../src/state/viewSlice';
import { settingActions } from '../src/state/settingSlice';
import { openScene } from './openScene';
import { modeIn } from '../src/state/mode';

let scene = openScene();

const key = (k: string, m: Partial<KeyboardEvent> = {}): KeyboardEvent =>
  ({ key: k, ctrlKey: false, altKey: false, shiftKey: false, metaKey: false, ...m }) as KeyboardEvent;

describe('commands', () => {
  it('have one name, one id and one key each', () => {
    for (const pick of [(c: { id: string }) => c.id, (c: { title: string }) => c.title]) {
      const all = COMMANDS.map(pick as (c: (typeof COMMANDS)[number]) => string);
      expect(new Set(all).size).toBe(all.length);
    }
    // A key may mean one thing for pieces and another for their elements, but just one at each.
    for (const c of COMMANDS)
      if (KEYMAP[c.id])
        expect([c.id, holdersOf(COMMANDS, {}, c, KEYMAP[c.id]).map((h) => h.id)]).toEqual([c.id, []]);
    // Every key of the map is some command's.
    expect(Object.keys(KEYMAP).filter((id) => !COMMANDS.some((c) => c.id === id))).toEqual([]);
  });
  it('spell keys as events do', () => {
    expect(keyName(key('z', { ctrlKey: true, shiftKey: true }))).toBe('Ctrl+Shift+z');
    expect(keyName(key('Z', { metaKey: true, shiftKey: true }))).toBe('Ctrl+Shift+z');
    expect(keyName(key('Backspace'))).toBe('Delete');
    expect(keyName(key('?', { shiftKey: true }))).toBe('?');
    expect(keyName(key('Shift', { shiftKey: true }))).toBeNull();
    expect(['Ctrl+z', ' ', 'Shift+f', '1', 'Delete'].map(keyLabel)).toEqual([
      'Ctrl+Z',
      'Space',
      'Shift+F',
      '1',
      'Delete',
    ]);
  });
  it('and operations, selections and the recipe are told in the docs as they are', async () => {
    for (const [name, text] of Object.entries(await documents()))
      expect(
        readFileSync(join(import.meta.dirname, '../../docs', name), 'utf8'),
        `docs/${name}: npm run docs`,
      ).toBe(text);
  });
});

describe('keys', () => {
  beforeEach(() => {
    scene = openScene();
  });
  const state = () => scene.store.getState().hand;

  it('take a point back and put the tool away while something is drawn, and mean their commands after', () => {
    scene.store.dispatch(handActions.modeTaken({ is: 'draw', tool: 'face', lines: [[[0, 0, 0], [1, 0, 0]]] })); // prettier-ignore
    expect(runKey(scene, key('Backspace'))).toBe(true);
    expect(modeIn(scene.store.getState(), 'draw')!.lines[0]).toHaveLength(1);
    runKey(scene, key('Delete'));
    runKey(scene, key('Delete'));
    expect(modeIn(scene.store.getState(), 'draw')!.lines.flat()).toEqual([]);
    runKey(scene, key('Escape'));
    expect(state().mode).toBeNull();
    scene.store.dispatch(handActions.selected({ ids: ['x'] }));
    runKey(scene, key('Escape'));
    expect(state().selected).toEqual([]);
  });

  it('of a tool leave other keys alone, and unknown ones to the page', () => {
    scene.store.dispatch(handActions.modeTaken({ is: 'draw', tool: 'knife', lines: [[[0, 0, 0]]] }));
    runKey(scene, key('s'));
    expect([state().tool, modeIn(scene.store.getState(), 'draw')!.tool]).toEqual(['move', 'knife']);
    expect(runKey(scene, key('F9'))).toBe(false);
  });

  describe('of tools', () => {
    const down = (timeStamp: number, more = {}): boolean => runKey(scene, key('d', { timeStamp, ...more }));
    const up = (timeStamp: number): void => releaseKey(scene, key('d', { timeStamp }));

    it('borrow the tool for a gesture while they are held, and keep it when they are tapped', () => {
      down(0);
      expect(state().tool).toBe('turn');
      noteGesture(scene);
      up(900);
      expect(state().tool).toBe('select');
      down(1000);
      up(1080);
      expect(state().tool).toBe('turn');
      up(1090);
      expect(state().tool).toBe('turn');
    });

    it('that repeat are held, with or without a gesture', () => {
      down(0);
      down(500, { repeat: true });
      up(700);
      expect(state().tool).toBe('select');
    });

    it('are not taken for held when the page was busy, nor by a gesture begun while they come up', () => {
      down(0);
      up(2500);
      expect(state().tool).toBe('turn');
      scene.store.dispatch(handActions.toolTaken('select'));
      down(3000);
      noteGesture(scene);
      up(3120);
      expect(state().tool).toBe('turn');
    });
  });

  it('that a person changed count instead of those it came with', async () => {
    const change = (keys: Record<string, string>) =>
      scene.store.dispatch(settingsApi.util.upsertQueryData('setting', 'keys', keys));
    await change({ 'tool-move': 'F7', 'tool-turn': '' });
    for (const k of ['s', 'd']) runKey(scene, key(k));
    expect(state().tool).toBe('select');
    runKey(scene, key('F7'));
    expect(state().tool).toBe('move');
    expect([keyOf('tool-turn', { 'tool-turn': '' }), keyOf('tool-turn', {})]).toEqual([undefined, 'd']);
    await change({});
    runKey(scene, key('d'));
    expect(state().tool).toBe('turn');
  });

  it('clash only where both their commands are in reach', () => {
    const by = (id: string, k: string, changed = {}): string[] =>
      holdersOf(COMMANDS, changed, commandById(id), k).map((c) => c.id);
    expect(by('hide', 'q')).toEqual(['cut-subtract']);
    expect(by('pick-loop', 'q')).toEqual(['edit-knife']);
    expect(by('wire', 'q').sort()).toEqual(['cut-subtract', 'edit-knife']);
    expect(by('hide', 'q', { 'cut-subtract': '' })).toEqual([]);
  });

  it('act only where their command can', () => {
    // No peg stands, so it cannot be taken away; nothing is selected, so nothing is duplicated.
    expect(commandById('take-peg').enabled!(scene)).toBe(false);
    scene.store.dispatch(viewActions.pegSet([1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 5, 6, 7, 1]));
    expect(commandById('take-peg').enabled!(scene)).toBe(true);
    runKey(scene, key('p', { altKey: true }));
    expect(scene.store.getState().view.peg).toBeNull();
    expect(commandById('pivot-peg').enabled!(scene)).toBe(false);
    expect(atLevel(scene, commandById('edit-knife'))).toBe(false);
    expect(atLevel(scene, commandById('edit-drawFace'))).toBe(true);
  });

  it('put new pieces on the peg, or on the grid where no peg stands', () => {
    const add = commandById('add-box');
    const placed = (): Piece['transform'] => scene.store.getState().document.pieces.at(-1)!.transform;
    scene.store.dispatch(viewActions.gridSeated([1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 3, 0, 1]));
    add.run(scene);
    expect(placed()!.move).toEqual([0, 3, 0]);
    scene.store.dispatch(viewActions.pegSet([0, 0, -1, 0, 0, 1, 0, 0, 1, 0, 0, 0, 5, 6, 7, 1]));
    add.run(scene);
    expect(placed()!.move).toEqual([5, 6, 7]);
    expect(placed()!.turn!.map(Math.round)).toEqual([0, 90, 0]);
  });
});

describe('what drags snap to', () => {
  it('is any set of things, each switched by itself', () => {
    scene = openScene();
    expect(scene.store.getState().settings.snapTo).toEqual(['grid']);
    for (const k of ['point', 'face', 'grid', 'point'] as const)
      scene.store.dispatch(settingActions.snapToggled(k));
    expect(scene.store.getState().settings.snapTo).toEqual(['face']);
  });
});
