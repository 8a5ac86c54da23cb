/** A hand at one of many cutters, against the whole cut (bounds: 1/6 at 64, 1/15 at 256). */
import type { Piece } from '@urnsmith/core/document/schema';
import { Evaluator } from '@urnsmith/core/steps/evaluate';
import { ms, ratio, row } from './report';

/** A plate with bores in a square; the one in the middle stands a little aside. */
function plate(n: number, aside: number): Piece[] {
  const side = Math.round(Math.sqrt(n));
  const at = (k: number): number => (k - side / 2 + 0.5) * 20;
  const cutters = Array.from({ length: n }, (_, i): Piece => {
    const by = i === n >> 1 ? aside : 0;
    return {
      id: `c${i}`,
      base: { primitive: 'cylinder', radius: 5, height: 30, sides: 24 },
      transform: { move: [at(i % side) + by, 0, at(Math.floor(i / side))] },
    };
  });
  return [
    {
      id: 'a',
      base: { primitive: 'box', width: side * 20, height: 10, depth: side * 20 },
      steps: [{ id: 's', kind: 'cut', mode: 'subtract', cutters: cutters.map((c) => c.id) }],
    },
    ...cutters,
  ];
}

const median = (list: number[]): number => list.sort((a, b) => a - b)[list.length >> 1];

export function manyCutters(): void {
  console.log('\nMoving one of many cutters against cutting with all of them anew (bounds 0.17× and 0.07×)');
  row('cutters', ['all anew', 'one moved', 'ratio']);
  for (const n of [16, 64, 256]) {
    const whole: number[] = [];
    const moved: number[] = [];
    for (let round = 0; round < 7; round++) {
      const e = new Evaluator({ blob: refuse, file: refuse });
      const timed = (aside: number, draft: boolean): number => {
        e.setPieces(plate(n, aside));
        const start = performance.now();
        e.build('a', undefined, Infinity, draft);
        return performance.now() - start;
      };
      const first = timed(0, false);
      // The first move makes what is kept; it is what those after it go on from.
      timed(0.1, true);
      const after = [0.2, 0.3, 0.4].map((x) => timed(x + 0.01 * round, true));
      if (round < 2) continue;
      whole.push(first);
      moved.push(...after);
    }
    row(String(n), [ms(median(whole)), ms(median(moved)), ratio(median(moved), median(whole))]);
  }
}

function refuse(): never {
  throw new Error('These pieces rest on primitives.');
}
