/** How pieces stand to one another. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { matrixBetween, worldMatrix } from '../src/document/placement';
import type { Piece } from '../src/document/schema';
import { invert, multiply, type Matrix } from '../src/mesh/transform';

const box: Piece['base'] = { primitive: 'box', width: 1, height: 1, depth: 1 };
/** As hands and fields leave it: no more than six decimals. */
const mm = fc.integer({ min: -900_000_000, max: 900_000_000 }).map((x) => x / 1e6);
const vec = fc.tuple(mm, mm, mm);
const degrees = fc.integer({ min: -179_000, max: 179_000 }).map((x) => x / 1000);
const place = fc.record({
  move: vec,
  turn: fc.tuple(degrees, degrees, degrees),
  size: fc.tuple(
    ...[0, 1, 2].map(() => fc.integer({ min: 20, max: 300 }).map((x) => x / 100)),
  ) as fc.Arbitrary<[number, number, number]>,
});
/** Pieces of which each stands in an earlier one, or in none. */
const tree = fc.array(fc.record({ place, parent: fc.nat() }), { minLength: 2, maxLength: 7 }).map((list) =>
  list.map(({ place: transform, parent }, i): Piece => ({
    id: `p${i}`,
    base: box,
    transform,
    ...(parent % (i + 1) < i && { parent: `p${parent % (i + 1)}` }),
  })),
);
const byId = (pieces: Piece[]): Map<string, Piece> => new Map(pieces.map((p) => [p.id, p]));
const carriers = (map: Map<string, Piece>, id: string): string[] => {
  const out: string[] = [];
  for (let at: string | undefined = id; at !== undefined; at = map.get(at)!.parent) out.push(at);
  return out;
};

describe('the matrix from one piece to another', () => {
  it('is what the way through the world gives', () => {
    fc.assert(
      fc.property(tree, fc.nat(), fc.nat(), (pieces, a, b) => {
        const map = byId(pieces);
        const [from, to] = [a, b].map((k) => `p${k % pieces.length}`);
        const through: Matrix = multiply(invert(worldMatrix(map, to)), worldMatrix(map, from));
        const size = Math.max(...[from, to].flatMap((id) => worldMatrix(map, id)).map(Math.abs), 1);
        matrixBetween(map, from, to).forEach((x, k) =>
          expect(Math.abs(x - through[k])).toBeLessThan(1e-7 * size),
        );
      }),
      { numRuns: 200 },
    );
  });

  it('is the same to the bit wherever that stands which carries both', () => {
    fc.assert(
      fc.property(tree, fc.nat(), fc.nat(), place, (pieces, a, b, moved) => {
        const map = byId(pieces);
        const [from, to] = [a, b].map((k) => `p${k % pieces.length}`);
        const both = carriers(map, from).filter((id) => carriers(map, to).includes(id));
        const before = matrixBetween(map, from, to);
        for (const id of both) {
          const now = new Map(map).set(id, { ...map.get(id)!, transform: moved });
          expect(matrixBetween(now, from, to)).toEqual(before);
        }
      }),
      { numRuns: 200 },
    );
  });

  it('is the same to the bit where both have gone the same way by themselves', () => {
    const tidy = (x: number): number => Number(x.toFixed(6)) + 0;
    fc.assert(
      fc.property(vec, vec, vec, (host, cutter, by) => {
        const at = (shift: number[]): Matrix =>
          matrixBetween(
            byId([
              { id: 'host', base: box, transform: { move: host.map((x, k) => tidy(x + shift[k])) as never } },
              {
                id: 'cutter',
                base: box,
                transform: { move: cutter.map((x, k) => tidy(x + shift[k])) as never },
              },
            ]),
            'cutter',
            'host',
          );
        expect(at(by)).toEqual(at([0, 0, 0]));
      }),
      { numRuns: 400 },
    );
  });
});
