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

  it('are told by their parts where only some of them do nothing', () => {
    const row: Piece = {
      ...box('row', [6, 30, 6], [-20, 0, 0]),
      steps: [{ kind: 'repeat', pattern: 'linear', count: 5, offset: [12, 0, 0] }],
    };
    // At −20, −8, 4, 16 and 28 in a host that ends at 30; moved on by 21 two of them stand beside it.
    const of = (mode: CutStep['mode'], x: number, y = 0): string[] => {
      const e = new Evaluator({ blob: none, file: none });
      const host: Piece = {
        id: 'host',
        base: { primitive: 'box', width: 60, height: 40, depth: 40 },
        steps: [{ id: 's', kind: 'cut', mode, cutters: ['row', 'far'], thickness: 1 }],
      };
      e.setPieces([host, { ...row, transform: { move: [x, y, 0] } }, box('far', [5, 5, 5], [0, 20, 15])]);
      const { steps } = e.build('host');
      return steps[0].warnings.map((w) => w.message);
    };
    for (const mode of ['subtract', 'split', 'recess', 'raise', 'sleeve', 'imprint'] as const) {
      expect(of(mode, -20, 15)).toEqual([]);
      expect(of(mode, 1, 15)).toEqual(['2 of the 5 parts of “row” do not touch the piece.']);
      expect(of(mode, 40, 15)).toEqual(['“row” does not touch the piece.']);
    }
    expect(of('subtract', 1)).toEqual([
      '2 of the 5 parts of “row” do not touch the piece.',
      '3 of the 5 parts of “row” lie entirely inside the piece: they leave closed hollows.',
    ]);
  }); // prettier-ignore

  it('lie too deep for what works on the surface', () => {
    const short = '“inside” lies inside the piece and does not reach its surface.';
    for (const mode of ['recess', 'imprint'] as const) {
      expect(idle(mode, ['through', 'inside', 'near'])).toEqual(['inside short', 'near misses']);
      expect(warned(mode, ['blind', 'inside'])).toEqual([short]);
    }
    expect(idle('sleeve', ['through', 'inside'])).toEqual(['inside hollow']);
  });
});
