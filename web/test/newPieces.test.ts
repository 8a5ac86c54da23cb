import { describe, expect, it } from 'vitest';
import { scaleFor, standing } from '../src/state/newPieces';

describe('the size of new pieces', () => {
  it('is the first one, times 1, 2 or 5 and a power of ten, whichever is nearest to what is seen', () => {
    expect([230, 300, 420, 900, 2300, 110, 23, 2.2].map(scaleFor)).toEqual([1, 1, 2, 5, 10, 0.5, 0.1, 0.01]);
    for (let seen = 0.05; seen < 1e5; seen *= 1.37) {
      const scale = scaleFor(seen);
      const digits = scale / 10 ** Math.floor(Math.log10(scale) + 1e-9);
      expect([1, 2, 5]).toContain(Math.round(digits));
      expect(scale / (seen / 230)).toBeGreaterThan(0.6);
      expect(scale / (seen / 230)).toBeLessThan(1.6);
    }
  });

  it('stands on its foot where it has one', () => {
    const box = { primitive: 'box', width: 1, height: 1, depth: 1 } as const;
    expect(standing(box)).toEqual({ ...box, origin: 'foot' });
    expect(standing({ group: true })).toEqual({ group: true });
  });
});
