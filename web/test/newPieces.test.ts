import { describe, expect, it } from 'vitest';
import type { Piece } from '@urnsmith/core/document/schema';
import { transformMatrix } from '@urnsmith/core/mesh/transform';
import { placeOfNew, scaleFor, standing } from '../src/state/newPieces';

describe('the place of a new piece', () => {
  const at = (view: object, base: Piece['base']): Piece['transform'] | null =>
    placeOfNew({ store: { getState: () => ({ view }) } } as never, base);
  const seat = transformMatrix({ move: [1, 2, 3], turn: [0, 0, 90], size: [1, 2, 1] });
  const peg = transformMatrix({ move: [0, 0.1234567, 0], turn: [0, 0, 0], size: [1, 1, 1] });
  const tall: Piece['base'] = { primitive: 'box', width: 4, height: 10, depth: 4 };

  it('is on the seated grid, as high as it reaches below its origin, however the grid is stretched', () => {
    expect(at({ peg: null, gridFrame: seat }, tall)).toEqual({ move: [-4, 2, 3], turn: [0, 0, 90] });
    expect(at({ peg: null, gridFrame: seat }, { ...tall, origin: 'foot' })).toEqual({
      move: [1, 2, 3],
      turn: [0, 0, 90],
    });
  });

  it('is on the peg before that, to a millionth of a millimetre', () => {
    expect(at({ peg, gridFrame: seat }, tall)).toEqual({ move: [0, 5.123457, 0], turn: [0, 0, 0] });
    expect(at({ peg, gridFrame: null }, { group: true })).toEqual({
      move: [0, 0.123457, 0],
      turn: [0, 0, 0],
    });
  });
});

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
