/** Anchored cutters keep what they hold to, whatever becomes of the host's numbers; dragged, they hold the new distance. */
import fc from 'fast-check';
import { beforeAll, describe, expect, it } from 'vitest';
import { targetAt } from '../src/document/anchors';
import type { Anchor, AnchoredPiece } from '../src/select/anchor';
import type { Piece } from '../src/document/schema';
import { pieceListFaults } from '../src/document/validate';
import { boundsOf, faceNormal, volume } from '../src/mesh/measure';
import { completeTransform } from '../src/document/placement';
import { faceLoop, type PolyMesh } from '../src/mesh/PolyMesh';
import {
  applyMatrix,
  invert,
  multiply,
  transformMatrix,
  transformOf,
  type Matrix,
} from '../src/mesh/transform';
import { add, cross, pointOf, scale, sub, unit, type Vec3 } from '../src/mesh/vec3';
import { loadKernel } from '../src/solid/kernel';
import { Evaluator } from '../src/build/evaluate';
import type { StepReport } from '../src/build/report';
import './seed';
import { runs } from './effort';

beforeAll(() => loadKernel());

const none = (): never => {
  throw new Error('no file is used');
};
const fresh = (pieces: Piece[]): Evaluator => {
  const e = new Evaluator({ blob: none, file: none });
  e.setPieces(pieces);
  return e;
};

interface Sizes {
  width: number;
  height: number;
  depth: number;
}
const sizes: fc.Arbitrary<Sizes> = fc.record({
  width: fc.integer({ min: 60, max: 140 }),
  height: fc.integer({ min: 20, max: 50 }),
  depth: fc.integer({ min: 50, max: 90 }),
});

/** A hollow box with a slot in one side; its third cut is the one that is anchored. */
function box({ width, height, depth }: Sizes, bore: Partial<Piece> = {}): Piece[] {
  return [
    {
      id: 'box',
      base: { primitive: 'box', width, height, depth },
      steps: [
        { id: 'hollow', kind: 'cut', mode: 'subtract', cutters: ['inner'] },
        { id: 'slot', kind: 'cut', mode: 'subtract', cutters: ['slot'] },
        { id: 'bore', kind: 'cut', mode: 'subtract', cutters: ['bore'] },
      ],
    },
    { id: 'inner', role: 'cutter', parent: 'box', base: { primitive: 'box', width: width - 8, height: height - 8, depth: depth - 8 } },
    { id: 'slot', role: 'cutter', parent: 'box', base: { primitive: 'box', width: 6, height: 200, depth: 6 }, transform: { move: [-20, 0, 15] } },
    { id: 'bore', role: 'cutter', parent: 'box', base: { primitive: 'cylinder', radius: 3, height: 30, sides: 16 }, ...bore },
  ]; // prettier-ignore
}

/** The host before its last cut. */
const stage = (pieces: Piece[]): PolyMesh => fresh(pieces).build('box', undefined, 2).mesh;
const holdTo = (pieces: Piece[], hold: Anchor['hold'], point: Vec3): Anchor => {
  const { target, facing, opposite } = targetAt(stage(pieces), point)!;
  return { hold, to: hold === 'middle' ? [target, opposite!] : [target], facing };
};

const placed = (e: Evaluator): AnchoredPiece => {
  const report: StepReport = e.build('box').steps[2];
  expect(report.warnings).toEqual([]);
  return report.anchored![0];
};

describe('an anchored cutter', () => {
  it('keeps its distance from one side and the middle between two, over 100 random changes of the host', () => {
    fc.assert(
      fc.property(sizes, sizes, fc.integer({ min: 8, max: 20 }), (before, after, away) => {
        // 8 … 20 mm from the right side, in the middle of front and back, whatever it was when it was anchored.
        const bore = { transform: { move: [before.width / 2 - away, before.height / 2, 7] as Vec3 } };
        const plain = box(before, bore);
        const anchors = [
          holdTo(plain, 'distance', [before.width / 2, 0, 0]),
          holdTo(plain, 'middle', [0, 0, before.depth / 2]),
          holdTo(plain, 'distance', [10, before.height / 2, 0]),
        ];
        expect(pieceListFaults(box(before, { ...bore, anchors }))).toEqual([]);
        expect(placed(fresh(box(before, { ...bore, anchors }))).transform.move).toEqual(bore.transform.move);
        const e = fresh(box(after, { ...bore, anchors }));
        const now = placed(e);
        const want = [after.width / 2 - away, after.height / 2, 7];
        now.transform.move!.forEach((x, k) => expect(x).toBeCloseTo(want[k], 9));
        // The cut is the same as with a cutter placed there by hand.
        const byHand = fresh(box(after, { transform: { move: want as Vec3 } })).build('box').mesh;
        expect(volume(e.build('box').mesh)).toBeCloseTo(volume(byHand), 6);
        // Where it stands now, its anchors hold it just so; and back again it is where it was.
        const settled = box(after, { transform: now.transform, anchors: now.anchors });
        placed(fresh(settled)).transform.move!.forEach((x, k) => expect(x).toBeCloseTo(want[k], 9));
        const back = box(before, { transform: now.transform, anchors: now.anchors });
        placed(fresh(back)).transform.move!.forEach((x, k) =>
          expect(x).toBeCloseTo(bore.transform.move[k], 9),
        );
      }),
      { numRuns: runs(30, 100) },
    );
  });

  it('keeps its distance from an edge, and from a corner along both directions, over random changes', () => {
    fc.assert(
      fc.property(sizes, sizes, fc.integer({ min: 8, max: 20 }), (before, after, away) => {
        const at = (s: Sizes): Vec3 => [s.width / 2 - away, s.height / 2, s.depth / 2 - away - 2];
        const bore = { transform: { move: at(before) } };
        const mesh = stage(box(before, bore));
        const [x, y, z] = [before.width / 2, before.height / 2, before.depth / 2];
        const to = (place: Vec3, along: Vec3[] = []): Anchor => {
          const held = { at: at(before), axis: [0, 1, 0] as Vec3, along };
          const { target, facing } = targetAt(mesh, place, { reach: 1, held })!;
          return { hold: 'distance', to: [target], facing };
        };
        // The edge on top at the right; the corner there in front, which gives one direction a click.
        const edge = to([x - 0.3, y, 5]);
        const first = to([x - 0.4, y, z - 0.5]);
        const second = to([x - 0.4, y, z - 0.5], [first.facing]);
        const of = [edge, first, second].map((a) => a.to[0].of);
        expect(of).toEqual(['edges', 'points', 'points']);
        expect(edge.facing.map((v) => v + 0)).toEqual([1, 0, 0]);
        expect([first.facing, second.facing].map((f) => f.indexOf(1)).sort()).toEqual([0, 2]);
        for (const anchors of [
          [edge, second.facing[2] === 1 ? second : first],
          [first, second],
        ]) {
          expect(pieceListFaults(box(before, { ...bore, anchors }))).toEqual([]);
          const now = placed(fresh(box(after, { ...bore, anchors }))).transform.move!;
          expect(now[0]).toBeCloseTo(at(after)[0], 9);
          expect(now[2]).toBeCloseTo(at(after)[2], 9);
        }
        // Away from both a face is meant.
        expect(to([x - 5, y, 0]).to[0].of).toBe('faces');
      }),
      { numRuns: 40 },
    );
  });

  it('stays in the centre of a face that holes are cut in, and moves with it', () => {
    const [before, after] = [
      { width: 80, height: 30, depth: 60 },
      { width: 110, height: 44, depth: 52 },
    ];
    const bore = { transform: { move: [3, 15, -2] as Vec3 } };
    const centre = holdTo(box(before, bore), 'centre', [25, 15, 10]);
    const host = (s: Sizes, by: number): Piece[] =>
      box(s, { ...bore, anchors: [centre] }).map((p) =>
        p.id === 'box'
          ? { ...p, actions: [{ op: 'transform', select: { rule: 'all', of: 'points' }, about: 'point', point: [0, 0, 0], move: [by, 0, 0] }] }
          : p,
      ); // prettier-ignore
    expect(placed(fresh(host(before, 12))).transform.move).toEqual([15, 15, -2]);
    expect(placed(fresh(host(after, 0))).transform.move).toEqual([3, 15, -2]);
  });

  it('stretches between two opposite sides, so that walls keep their thickness', () => {
    fc.assert(
      fc.property(sizes, sizes, fc.boolean(), (before, after, turned) => {
        const long = before.width - 20;
        const bore: Partial<Piece> = {
          base: {
            primitive: 'box',
            height: 10,
            ...(turned ? { width: 4, depth: long } : { width: long, depth: 4 }),
          },
          transform: { move: [3, before.height / 2, 0], ...(turned && { turn: [0, 90, 0] }) },
        };
        const plain = box(before, bore);
        const anchors = [before.width / 2, -before.width / 2].map((x) =>
          holdTo(plain, 'distance', [x, 0, 0]),
        );
        const [{ transform }] = fresh(box(after, { ...bore, anchors })).build('box').steps[2].anchored!;
        // 7 mm from the right and 13 from the left.
        expect(transform.move![0]).toBeCloseTo(3, 9);
        expect(transform.size![turned ? 2 : 0] * long).toBeCloseTo(after.width - 20, 9);
      }),
      { numRuns: 30 },
    );
  });

  it('goes through whatever the host has become, or through its first wall', () => {
    fc.assert(
      fc.property(sizes, fc.integer({ min: -10, max: 10 }), (s, tilt) => {
        const bore: Partial<Piece> = {
          base: { primitive: 'cylinder', radius: 3, height: 4, sides: 16 },
          transform: { move: [5, s.height / 2, 5], turn: [tilt, 0, tilt / 2] },
        };
        const cutBy = (reach?: 'through' | 'next'): number => volume(fresh(box(s, { ...bore, ...(reach && { reach }) })).build('box').mesh); // prettier-ignore
        const whole = fresh(box(s, bore)).build('box', undefined, 2).mesh;
        const one = volume(whole) - cutBy('next');
        const both = volume(whole) - cutBy('through');
        expect(one).toBeGreaterThan(0);
        expect(both).toBeCloseTo(2 * one, 6);
        // Its upper end stays where it was.
        const now = placed(fresh(box(s, { ...bore, reach: 'through' }))).transform;
        const top = (t: typeof now, y: number): number => {
          const up = Math.cos((tilt * Math.PI) / 180) * Math.cos((tilt * Math.PI) / 360);
          return t.move![1] + up * y * (t.size?.[1] ?? 1);
        };
        expect(top(now, 2)).toBeCloseTo(top(bore.transform!, 2), 6);
      }),
      { numRuns: 30 },
    );
  });

  it('says what is lost, what cannot be held, and where there is no wall', () => {
    const s = { width: 80, height: 30, depth: 60 };
    const plain = box(s, { transform: { move: [20, 15, 0] } });
    const right = holdTo(plain, 'distance', [40, 0, 0]);
    const left = holdTo(plain, 'distance', [-40, 0, 0]);
    const codes = (pieces: Piece[]): string[] =>
      fresh(pieces)
        .build('box')
        .steps[2].warnings.map((w) => w.code);
    const wide = { ...s, width: 100 };
    const askew = { transform: { move: [20, 15, 0] as Vec3, turn: [0, 30, 0] as Vec3 } };
    expect(codes(box(wide, { ...askew, anchors: [right, left] }))).toEqual(['anchored-twice']);
    // Those that come first are held.
    const { anchored } = fresh(box(wide, { ...askew, anchors: [right, left] })).build('box').steps[2];
    expect(anchored![0].transform.move).toEqual([30, 15, 0]);
    const same = {
      transform: { move: [20, 15, 0] as Vec3 },
      anchors: [right, holdTo(plain, 'middle', [40, 0, 0])],
    };
    expect(codes(box(wide, same))).toEqual(['anchored-twice']);
    expect(codes(box(s, same))).toEqual([]);
    const gone: Anchor = {
      ...right,
      to: [{ ...right.to[0], picks: right.to[0].picks.map((p) => ({ ...p, names: [1], families: [2] })) }],
    };
    expect(codes(box(wide, { transform: { move: [20, 15, 0] }, anchors: [gone] }))).toEqual(['anchor-lost']);
    expect(codes(box(s, { transform: { move: [200, 15, 0] }, reach: 'next' }))).toEqual([
      'reach-nothing',
      'touches-nothing',
    ]);
  });

  it('is left alone where it is not nested in what it cuts', () => {
    const s = { width: 80, height: 30, depth: 60 };
    const right = holdTo(box(s), 'distance', [40, 0, 0]);
    const free = box(
      { ...s, width: 120 },
      { transform: { move: [20, 15, 0] }, anchors: [right], parent: undefined },
    );
    expect(fresh(free).build('box').steps[2].anchored).toBeUndefined();
    expect(boundsOf(fresh(free).build('bore').mesh).max[0]).toBeCloseTo(3, 9);
  });

  it('gives its place on a face up for what else is held, without a word', () => {
    fc.assert(
      fc.property(sizes, sizes, (before, after) => {
        const bore = { transform: { move: [before.width / 2 - 9, before.height / 2, 7] as Vec3 } };
        const plain = box(before, bore);
        const top: Vec3 = [10, before.height / 2, 0];
        // As a drawn cut has them first, with one more that was added by hand.
        const anchors = [
          holdTo(plain, 'distance', top),
          holdTo(plain, 'centre', top),
          holdTo(plain, 'distance', [before.width / 2, 0, 0]),
        ];
        const now = placed(fresh(box(after, { ...bore, anchors })));
        const want = [after.width / 2 - 9, after.height / 2, 7];
        now.transform.move!.forEach((x, k) => expect(x).toBeCloseTo(want[k], 9));
        expect(now.anchors!.map((a) => a.hold)).toEqual(['distance', 'centre', 'distance']);
      }),
      { numRuns: runs(20, 200) },
    );
  });

  it('turns with the face it has its place on, and keeps that place', () => {
    // The walls of a cone lean otherwise when one of its ends has another radius.
    const cone = (topRadius: number, height: number, peg: Partial<Piece> = {}): Piece[] => [
      {
        id: 'box',
        base: { primitive: 'cone', bottomRadius: 40, topRadius, height, sides: 7 },
        steps: [{ id: 'bore', kind: 'cut', mode: 'subtract', cutters: ['bore'] }],
      },
      { id: 'bore', role: 'cutter', parent: 'box', base: { primitive: 'prism', across: 6, height: 9, sides: 5 }, ...peg },
    ];
    const wallOf = (pieces: Piece[]): PolyMesh => fresh(pieces).build('box', undefined, 0).mesh;
    fc.assert(
      fc.property(
        fc.integer({ min: 5, max: 39 }),
        fc.integer({ min: 5, max: 39 }),
        fc.integer({ min: 20, max: 60 }),
        fc.integer({ min: 0, max: 6 }),
        (before, after, height, side) => {
          // The frame of one wall: its middle, its normal, and the direction of its lower edge.
          const frameOf = (mesh: PolyMesh): Matrix => {
            const [a, b, c, d] = [...faceLoop(mesh, side)].map((v) => pointOf(mesh.positions, v));
            const y = faceNormal(mesh, side);
            const x = unit(sub(b, a));
            const middle = scale(add(add(a, b), add(c, d)), 1 / 4);
            return [...x, 0, ...y, 0, ...cross(x, y), 0, ...middle, 1];
          };
          const plain = cone(before, height);
          const mesh = wallOf(plain);
          const was = frameOf(mesh);
          const { target, facing } = targetAt(mesh, applyMatrix(was, [0, 0, 0]))!;
          const transform = transformOf(multiply(was, transformMatrix({ move: [1.5, -2, 0.5], turn: [0, 11, 0], size: [1, 1, 1] })));
          const anchors = (['distance', 'centre'] as const).map((hold): Anchor => ({ hold, to: [target], facing }));
          const e = fresh(cone(after, height, { transform, anchors }));
          const [now] = e.build('box').steps[0].anchored!;
          const frame = frameOf(wallOf(cone(after, height)));
          // Where it is seen from the face: as far from it, and square to it as before.
          const seen = multiply(invert(frame), transformMatrix(completeTransform(now.transform)));
          const want = multiply(invert(was), transformMatrix(transform));
          [4, 5, 6].forEach((k) => expect(seen[k]).toBeCloseTo(want[k], 7));
          [13].forEach((k) => expect(seen[k]).toBeCloseTo(want[k], 7));
          // Stated again from there, it stays there.
          const again = fresh(cone(after, height, { transform: now.transform, anchors: now.anchors })).build('box').steps[0];
          again.anchored![0].transform.move!.forEach((x, k) => expect(x).toBeCloseTo(now.transform.move![k], 7));
          again.anchored![0].transform.turn!.forEach((x, k) => expect(x).toBeCloseTo(now.transform.turn![k], 6));
        },
      ),
      { numRuns: runs(20, 200) },
    );
  }); // prettier-ignore
});
