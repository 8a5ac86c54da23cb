import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import { documents } from '../../scripts/writeDocs';
import { COMMANDS, keyLabel, keyName } from '../src/commands/commands';

const key = (k: string, m: Partial<KeyboardEvent> = {}): KeyboardEvent =>
  ({ key: k, ctrlKey: false, altKey: false, shiftKey: false, metaKey: false, ...m }) as KeyboardEvent;

describe('commands', () => {
  it('have one name, one id and one key each', () => {
    for (const pick of [(c: { id: string }) => c.id, (c: { title: string }) => c.title]) {
      const all = COMMANDS.map(pick as (c: (typeof COMMANDS)[number]) => string);
      expect(new Set(all).size).toBe(all.length);
    }
    // A key may mean one thing for pieces and another for their elements, but just one at each.
    for (const level of ['pieces', 'elements']) {
      const keys = COMMANDS.filter((c) => !c.when || c.when === level).flatMap((c) => c.keys ?? []);
      expect(keys.filter((k, i) => keys.indexOf(k) !== i)).toEqual([]);
    }
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
  it('and operations, selections and the recipe are told in the docs as they are', async () => {
    for (const [name, text] of Object.entries(await documents()))
      expect(
        readFileSync(join(import.meta.dirname, '../../docs', name), 'utf8'),
        `docs/${name}: npm run docs`,
      ).toBe(text);
  });
});
