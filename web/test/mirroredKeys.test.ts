/** The keys for the other hand. */
import { describe, expect, it } from 'vitest';
import { KEYMAP, keyName, keyOf } from '../src/commands/keymap';
import { mirroredKeys, opposite } from '../src/commands/mirroredKeys';

describe('swapping the hands', () => {
  it('puts every key at the other end of its row, and back again', () => {
    expect(opposite('q')).toBe('p');
    expect(opposite('Alt+a')).toBe('Alt+;');
    expect(opposite('Shift+a')).toBe(':');
    expect(opposite('Alt+.')).toBe('Alt+x');
    expect(opposite('?')).toBe('Shift+z');
    expect(opposite('7')).toBe('4');
    for (const key of Object.values(KEYMAP)) expect(opposite(opposite(key))).toBe(key);
    expect(mirroredKeys(mirroredKeys({}))).toEqual({});
  });

  it('leaves alone what every program has: Control, Space, Enter, arrows', () => {
    for (const key of ['Ctrl+z', ' ', 'Enter', 'Escape', 'Delete', 'Alt+ArrowRight', 'F6'])
      expect(opposite(key)).toBe(key);
  });

  it('keeps a key a person chose theirs, at the other hand', () => {
    expect(mirroredKeys({ round: 'Shift+g' })).toMatchObject({ round: 'Shift+h' });
    expect(mirroredKeys({ round: '' })).toMatchObject({ round: '' });
  });

  it('makes no clash, and only names that a keyboard gives', () => {
    const changed = mirroredKeys({});
    for (const id of Object.keys(KEYMAP)) {
      const key = keyOf(id, changed)!;
      // Who shares a key, at different levels, shares the opposite one.
      const sharing = (map: (id: string) => string): string[] =>
        Object.keys(KEYMAP).filter((other) => map(other) === map(id));
      expect(sharing((x) => keyOf(x, changed)!)).toEqual(sharing((x) => KEYMAP[x]));
      const cap = key.slice(key.lastIndexOf('+', key.length - 2) + 1);
      const e = {
        key: cap,
        ctrlKey: key.includes('Ctrl+'),
        altKey: key.includes('Alt+'),
        metaKey: false,
        shiftKey: key.includes('Shift+') || /[:<>?]/.test(cap),
      };
      expect(keyName(e)).toBe(key);
    }
  });
});
