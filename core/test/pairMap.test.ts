/** Numbers by pairs, against a map by text. */
import fc from 'fast-check';
import { expect, it } from 'vitest';
import { PairMap } from '../src/spatial/PairMap';

it('a map by pairs holds what a map by text does, whatever is put in and taken out', () => {
  const number = fc.oneof(fc.nat(6), fc.nat(40_000), fc.constantFrom(2 ** 25, 2 ** 31 - 1));
  const change = fc.record({ a: number, b: number, value: fc.nat(), out: fc.boolean() });
  fc.assert(
    fc.property(fc.array(change, { maxLength: 300 }), fc.nat(50), (changes, expected) => {
      const map = new PairMap(expected);
      const known = new Map<string, number>();
      for (const { a, b, value, out } of changes) {
        const key = `${a} ${b}`;
        expect(map.get(a, b)).toBe(known.get(key) ?? -1);
        if (out) {
          expect(map.delete(a, b)).toBe(known.get(key) ?? -1);
          known.delete(key);
        } else {
          map.set(a, b, value);
          known.set(key, value);
        }
        expect(map.has(a, b)).toBe(known.has(key));
        expect(map.has(b, a)).toBe(known.has(`${b} ${a}`));
      }
      const all: Array<[string, number]> = [];
      map.each((a, b, value) => all.push([`${a} ${b}`, value]));
      expect(all.sort()).toEqual([...known].sort());
    }),
    { numRuns: 200 },
  );
});
