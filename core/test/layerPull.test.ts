/** The handle of a recess or a raise: zero on the surface it follows, its value at the floor or the top. */
import { beforeAll, describe, expect, it } from 'vitest';
import { Evaluator } from '../src/build/evaluate';
import { addScaled } from '../src/mesh/vec3';
import type { Pull } from '../src/ops/pulls';
import type { Primitive } from '../src/primitives';
import { loadKernel } from '../src/solid/kernel';
import type { CutStep } from '../src/steps';

beforeAll(() => loadKernel());

const none = (): never => {
  throw new Error('no file is used');
};
function pullsOf(host: Primitive, more: Partial<CutStep>, at: [number, number, number]): Pull[] | undefined {
  const e = new Evaluator({ blob: none, file: none });
  const cutter: Primitive = { primitive: 'cylinder', radius: 4, height: 12, sides: 16 };
  e.setPieces([
    { id: 'h', base: host, steps: [{ kind: 'cut', cutters: ['c'], ...more } as CutStep] },
    { id: 'c', role: 'cutter', base: cutter, transform: { move: at } },
  ]);
  const { steps } = e.build('h');
  expect(steps[0].fault).toBeUndefined();
  return steps[0].pulls;
}
const plate: Primitive = { primitive: 'box', width: 60, height: 10, depth: 40 };

describe('the thickness of a layer', () => {
  it.each([
    ['recess', 3, 2],
    ['raise', 2.5, 7.5],
  ] as const)('of a %s of %d mm is pulled from the surface to %d', (mode, thickness, end) => {
    const [pull, ...others] = pullsOf(plate, { mode, thickness }, [8, 5, -4])!;
    expect([pull.key, others]).toEqual(['thickness', []]);
    expect(pull.zero[1]).toBeCloseTo(5, 9);
    const held = addScaled(pull.zero, pull.along, thickness / pull.rate);
    // In the middle of what the cutter covers.
    [8, end, -4].forEach((x, k) => expect(held[k]).toBeCloseTo(x, 6));
  });

  it('goes out along the mean of a curved wall', () => {
    const rod: Primitive = { primitive: 'cylinder', radius: 20, height: 30, sides: 48 };
    const [pull] = pullsOf(rod, { mode: 'raise', thickness: 2 }, [20, 0, 0])!;
    expect(pull.along[0]).toBeCloseTo(1, 6);
    expect(pull.zero[0]).toBeGreaterThan(19);
    expect(pull.zero[0]).toBeLessThan(20.1);
  });

  it('has no handle where there is no layer', () => {
    expect(pullsOf(plate, { mode: 'subtract' }, [8, 5, -4])).toBeUndefined();
    expect(pullsOf(plate, { mode: 'recess', thickness: 2 }, [200, 5, 0])).toBeUndefined();
  });
});
