/** How benchmarks measure and print: medians taken in turns, ratios, rows. */
import { makeMesh, type PolyMesh } from '@urnsmith/core/mesh/PolyMesh';
import { markSound } from '@urnsmith/core/solid/Solid';

/** A mesh with new arrays, so that nothing cached by identity helps. */
export const fresh = (m: PolyMesh): PolyMesh =>
  markSound(makeMesh(m.positions.slice(), m.faceStart.slice(), m.corners.slice(), m.layers));

/** Median milliseconds of both, taken in turns so that whatever else the machine does falls on both alike. */
export function compare(a: () => void, b: () => void, rounds: number, warmUp = WARM_UP): [number, number] {
  const times: [number[], number[]] = [[], []];
  for (let r = -warmUp; r < rounds; r++)
    [a, b].forEach((work, i) => {
      const start = performance.now();
      work();
      if (r >= 0) times[i].push(performance.now() - start);
    });
  return times.map((t) => t.sort((x, y) => x - y)[t.length >> 1]) as [number, number];
}
const WARM_UP = 4;

export function row(title: string, cells: Array<string | number>): void {
  console.log(title.padEnd(46) + cells.map((c) => String(c).padStart(14)).join(''));
}
export const ms = (x: number): string => `${x.toFixed(x < 10 ? 2 : 1)} ms`;
export const ratio = (a: number, b: number): string => `${(a / b).toFixed(2)}×`;
