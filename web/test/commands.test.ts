import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import { COMMANDS, keyLabel, keyName } from '../src/commands/commands';

const key = (k: string, m: Partial<KeyboardEvent> = {}): KeyboardEvent =>
  ({ key: k, ctrlKey: false, altKey: false, shiftKey: false, metaKey: false, ...m }) as KeyboardEvent;

describe('commands', () => {
  it('have one name, one id and one key each', () => {
    for (const pick of [(c: { id: string }) => c.id, (c: { title: string }) => c.title]) {
      const all = COMMANDS.map(pick as (c: (typeof COMMANDS)[number]) => string);
      expect(new Set(all).size).toBe(all.length);
    }
    const keys = COMMANDS.flatMap((c) => c.keys ?? []);
    expect(new Set(keys).size).toBe(keys.length);
  });
  it('spell keys as events do', () => {
    expect(keyName(key('z', { ctrlKey: true, shiftKey: true }))).toBe('Ctrl+Shift+z');
    expect(keyName(key('Z', { metaKey: true, shiftKey: true }))).toBe('Ctrl+Shift+z');
    expect(keyName(key('Delete'))).toBe('Delete');
    expect(['Ctrl+z', ' ', 'Shift+f', '1', 'Delete'].map(keyLabel)).toEqual([
      'Ctrl+Z',
      'Space',
      'Shift+F',
      '1',
      'Delete',
    ]);
  });
  it('have all their keys told in the docs', () => {
    const doc = readFileSync(join(import.meta.dirname, '../../docs/keyboard.md'), 'utf8');
    for (const c of COMMANDS)
      if (c.keys && !/^[2-5]$/.test(c.keys))
        expect([c.id, doc.includes('`' + keyLabel(c.keys) + '`')]).toEqual([c.id, true]);
  });
});
