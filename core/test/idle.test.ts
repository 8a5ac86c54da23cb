/** Cutters that do nothing are told one by one, with why; those that do something never are. */
import { beforeAll, describe, expect, it } from 'vitest';
import type { Piece } from '../src/document/schema';
import { loadKernel } from '../src/solid/kernel';
import type { StepReport } from '../src/build/report';
import { Evaluator } from '../src/build/evaluate';
import type { CutStep, Step } from '../src/steps';

beforeAll(() => loadKernel());

const none = (): never => {
  throw new Error('no file is used');
};
const box = (id: string, size: [number, number, number], move: [number, number, number]): Piece => ({
  id,
  role: 'cutter',
  base: { primitive: 'box', width: size[0], height: size[1], depth: size[2] },
  transform: { move },
});
const cutters: Piece[] = [
  box('through', [10, 60, 10], [0, 0, 0]),
  box('blind', [6, 10, 6], [20, 10, 0]),
  box('inOther', [4, 50, 4], [0, 0, 0]),
  box('inside', [5, 5, 5], [-20, 0, 0]),
  box('beside', [5, 5, 5], [0, 0, 80]),
  box('near', [5, 5, 5], [34, 0, 0]),
];

function told(mode: CutStep['mode'], ids: string[]): StepReport {
  const e = new Evaluator({ blob: none, file: none });
  const host: Piece = {
    id: 'host',
    base: { primitive: 'box', width: 60, height: 20, depth: 40 },
    steps: [{ id: 's', kind: 'cut', mode, cutters: ids, thickness: 1 }],
  };
  e.setPieces([host, ...cutters]);
  return e.build('host').steps[0];
}
const ALL = cutters.map((p) => p.id);
const idle = (mode: CutStep['mode'], ids = ALL): string[] =>
  (told(mode, ids).idle ?? []).map((x) => `${x.operand} ${x.why}`);
const warned = (mode: CutStep['mode'], ids = ALL): string[] => told(mode, ids).warnings.map((w) => w.message);

describe('cutters that do nothing', () => {
  it('miss, lie within another, or leave a hollow', () => {
    expect(idle('subtract')).toEqual(['inOther within', 'beside misses', 'near misses', 'inside hollow']);
    expect(idle('split')).toEqual(['inOther within', 'beside misses', 'near misses']);
    expect(warned('subtract')).toEqual([
      '“beside” does not touch the piece.',
      '“near” does not touch the piece.',
      '“inside” lies entirely inside the piece: it leaves a closed hollow.',
    ]);
    // Added to the host: what stands beside it is a body of its own, what lies in it changes nothing.
    expect(idle('union')).toEqual(['inOther within', 'inside within']);
  });

  it('leave no hollow where a later cut opens it, and twins are told by their own names', () => {
    const e = new Evaluator({ blob: none, file: none });
    const inner = box('inner', [10, 10, 10], [-15, 0, 0]);
    const twin: Piece = {
      id: 'twin',
      role: 'cutter',
      base: { twin: 'inner' },
      transform: { move: [15, 0, 0] },
    };
    const lid = box('lid', [25, 40, 60], [-15, 20, 0]);
    const cut = (id: string, ...by: string[]): Step => ({ id, kind: 'cut', mode: 'subtract', cutters: by });
    const toldOf = (...steps: Step[]): string[][] => {
      const host: Piece = { id: 'host', base: { primitive: 'box', width: 60, height: 40, depth: 40 }, steps };
      e.setPieces([host, inner, twin, lid]);
      return e.build('host').steps.map((s) => [...(s.idle ?? []).map((i) => i.operand), ...s.warnings.map((w) => w.message.split('”')[0].slice(1))]); // prettier-ignore
    };
    expect(toldOf(cut('a', 'inner'))).toEqual([['inner', 'inner']]);
    expect(toldOf(cut('a', 'inner'), cut('b', 'lid'))).toEqual([[], []]);
    expect(toldOf(cut('a', 'twin'), cut('b', 'lid'))).toEqual([['twin', 'twin'], []]);
  });

  it('are none where all of them do something', () => {
    expect(idle('subtract', ['through', 'blind'])).toEqual([]);
    expect(warned('subtract', ['through', 'blind'])).toEqual([]);
    expect(idle('recess', ['through', 'blind'])).toEqual([]);
  });
});
