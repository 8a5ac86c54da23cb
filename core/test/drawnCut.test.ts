/** Cuts as they are drawn: the cutter of every shape, reach and mode takes what the drawing says. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { cutterOfDrawn, drawnFault, outlineOfDrawn, outlinesOfDrawn, repeatOfDrawn, withDrawnSize, boxOfDrawn, sizesOfDrawn, DRAWN_SHAPES, type DrawnCut, type DrawnRepeat } from '../src/document/drawnCut'; // prettier-ignore
import { deeper, depthOf, entryOf } from '../src/document/drawnDepth';
import type { Piece } from '../src/document/schema';
import { recipeFaults } from '../src/document/validate';
import { checkMesh } from '../src/mesh/checkMesh';
import { boundsOf, volume } from '../src/mesh/measure';
import {
  applyMatrix,
  invert,
  multiply,
  transformMatrix,
  transformMesh,
  transformOf,
} from '../src/mesh/transform';
import type { Vec3 } from '../src/mesh/vec3';
import { buildPrimitive, primitiveFault, type Primitive } from '../src/primitives';
import { loadKernel } from '../src/solid/kernel';
import { Evaluator } from '../src/build/evaluate';

await loadKernel();
const none = (): never => {
  throw new Error('no mesh is stored');
};
const DRAWN: DrawnCut = {
  shape: 'rectangle',
  sides: 6,
  fromCentre: false,
  corner: 0,
  from: [-10, -5],
  to: [8, 6],
  points: [[-8, -6], [9, -5], [1, 8]],
  mode: 'subtract',
  reach: 'blind',
  depth: 4,
}; // prettier-ignore
const on = { size: 100, next: 30, gap: Infinity };

/** Area of a drawn outline by the shoelace. */
function areaOf(d: DrawnCut): number {
  const p = outlineOfDrawn(d);
  const sum = p.reduce((s, [x, z], i) => s + x * p[(i + 1) % p.length][1] - p[(i + 1) % p.length][0] * z, 0);
  return Math.abs(sum) / 2;
}
/** Drawn on top of a block 60 × 30 × 50 that stands anywhere: its volume before less what it is then. */
function taken(d: DrawnCut, turn: [number, number, number], again: Piece['steps'] = []): number {
  const { base, at, turned } = cutterOfDrawn(d, on);
  expect(primitiveFault(base)).toBeNull();
  const host = { move: [7, -3, 11] as [number, number, number], turn };
  const face = multiply(transformMatrix({ ...host, size: [1, 1, 1] }), transformMatrix({ move: [0, 15, 0], turn: [0, 0, 0], size: [1, 1, 1] })); // prettier-ignore
  const place = transformOf(
    multiply(face, transformMatrix({ move: at, turn: [0, turned, 0], size: [1, 1, 1] })),
  );
  const pieces: Piece[] = [
    { id: 'a', base: { primitive: 'box', width: 60, height: 30, depth: 50 }, transform: host, steps: [{ kind: 'cut', mode: d.mode, cutters: ['c'] }] },
    { id: 'c', role: 'cutter', base, transform: { move: place.move, turn: place.turn }, steps: again },
  ]; // prettier-ignore
  expect(recipeFaults({ pieces })).toEqual([]);
  const evaluator = new Evaluator({ blob: none, file: none });
  evaluator.setPieces(pieces);
  const { mesh, steps } = evaluator.build('a');
  expect(steps[0].fault).toBeUndefined();
  expect(checkMesh(mesh).findings).toEqual([]);
  return 60 * 30 * 50 - volume(mesh);
}

describe('a drawn cut', () => {
  it('takes its outline times its depth, on a face that lies any way', () => {
    const seen = new Set<string>();
    fc.assert(
      fc.property(
        fc.constantFrom(...DRAWN_SHAPES),
        fc.constantFrom('blind' as const, 'through' as const),
        fc.boolean(),
        fc.integer({ min: 3, max: 9 }),
        fc.tuple(fc.integer({ min: -180, max: 180 }), fc.integer({ min: -180, max: 180 }), fc.integer({ min: -180, max: 180 })), // prettier-ignore
        (shape, reach, fromCentre, sides, turn) => {
          const d = { ...DRAWN, shape, reach, fromCentre, sides, from: fromCentre ? [1, 2] : DRAWN.from } as DrawnCut; // prettier-ignore
          expect(drawnFault(d)).toBeNull();
          let area = areaOf(d);
          if (shape === 'slot') {
            const { width, length } = boxOfDrawn(d);
            const r = Math.min(width, length) / 2;
            area -= 4 * r * r - 24 * r * r * Math.sin(Math.PI / 24);
          }
          expect(taken(d, turn)).toBeCloseTo(area * (reach === 'blind' ? 4 : 30), 3);
          seen.add(shape);
        },
      ),
      { numRuns: 60, seed: 3 },
    );
    expect([...seen].sort()).toEqual([...DRAWN_SHAPES].sort());
  });

  it('is made as often as it is repeated: in a line, in rows, around its place', () => {
    const small = { ...DRAWN, from: [-24, -20], to: [-20, -17] } as DrawnCut;
    const one = taken(small, [20, 30, 40]);
    const times = (r: Partial<DrawnRepeat>): number =>
      taken(
        small,
        [20, 30, 40],
        repeatOfDrawn({ pattern: 'line', count: 5, rows: 3, gap: 3, radius: 4, ...r }),
      ) / one;
    expect(times({})).toBeCloseTo(5, 6);
    expect(times({ pattern: 'once' })).toBeCloseTo(1, 6);
    expect(times({ pattern: 'grid' })).toBeCloseTo(15, 6);
    expect(times({ pattern: 'grid', rows: 1 })).toBeCloseTo(5, 6);
    const middle = { ...small, from: [-1, -1], to: [1, 1] } as DrawnCut;
    expect(
      taken(middle, [0, 0, 0], repeatOfDrawn({ pattern: 'circle', count: 6, rows: 1, gap: 0, radius: 10 })) /
        taken(middle, [0, 0, 0]),
    ).toBeCloseTo(6, 6);
  });

  it('stands out of the face where it adds, and ends between two walls where it goes to the next', () => {
    expect(taken({ ...DRAWN, mode: 'union' }, [10, 20, 30])).toBeCloseTo(-18 * 11 * 4, 3);
    const { base, at } = cutterOfDrawn({ ...DRAWN, reach: 'next' }, { size: 100, next: 3, gap: 0.4 });
    expect(at[1] - (base as { height: number }).height / 2).toBeCloseTo(-3.2, 9);
  });

  it('has the size that is typed, larger or smaller than the drag, from where it was begun', () => {
    for (const shape of ['rectangle', 'slot', 'round', 'regular'] as const)
      for (const fromCentre of [false, true])
        for (const to of [[8, 6], [-30, 6], [-30, -40]] as Array<[number, number]>) {
          const drag = { ...DRAWN, shape, fromCentre, to };
          const d = withDrawnSize(drag, { width: 7, length: 12 });
          const box = boxOfDrawn(d);
          const whole = shape === 'round' || shape === 'regular';
          expect(sizesOfDrawn(d)).toEqual({ width: expect.closeTo(7, 9), length: expect.closeTo(whole ? 7 : 12, 9) });
          if (fromCentre) expect(box.middle).toEqual(DRAWN.from);
          else expect(Math.abs(box.middle[0] - DRAWN.from[0])).toBeCloseTo(box.width / 2, 9);
          // One of the two alone: the other stays as it is pulled.
          const one = sizesOfDrawn(withDrawnSize(drag, { width: 0.5 }));
          expect(one).toEqual({ width: expect.closeTo(0.5, 9), length: expect.closeTo(whole ? 0.5 : sizesOfDrawn(drag).length, 9) });
        }
  }); // prettier-ignore

  it('leaves a cutter with the sizes it was drawn with, a slot along its longer side', () => {
    const shapes = { corner: 2, depth: 4 };
    const { base: plate } = cutterOfDrawn({ ...DRAWN, ...shapes }, on);
    expect(plate).toMatchObject({ primitive: 'plate', width: 18, depth: 11, corner: 2 });
    const { base: prism } = cutterOfDrawn({ ...DRAWN, ...shapes, shape: 'regular' }, on);
    expect(prism).toMatchObject({ primitive: 'prism', across: 18, sides: 6, corner: 2 });
    const along = cutterOfDrawn({ ...DRAWN, shape: 'slot' }, on);
    expect(along).toMatchObject({ base: { primitive: 'slot', length: 18, width: 11 }, turned: 0 });
    const across = cutterOfDrawn({ ...DRAWN, shape: 'slot', to: [0, 9] }, on);
    expect(across).toMatchObject({ base: { primitive: 'slot', length: 14, width: 10 }, turned: 90 });
    expect(primitiveFault(cutterOfDrawn({ ...DRAWN, shape: 'slot', to: [0, 5] }, on).base)).toMatch(/longer than wide/);
    expect(primitiveFault(cutterOfDrawn({ ...DRAWN, corner: 9 }, on).base)).toMatch(/5\.5 mm is the most/);
  }); // prettier-ignore

  it('is refused without area or depth, with what would help', () => {
    expect(drawnFault({ ...DRAWN, to: [-10, 6] })).toMatch(/no area; drag it wider/);
    expect(drawnFault({ ...DRAWN, depth: 0 })).toMatch(/no depth; pull it/);
    expect(drawnFault({ ...DRAWN, depth: 0, reach: 'through' })).toBeNull();
    expect(drawnFault({ ...DRAWN, shape: 'free', points: [[0, 0], [1, 1]] })).toMatch(/three corners/);
  }); // prettier-ignore
});

describe('the copies of a drawn cut', () => {
  const on100 = { size: 100, next: 30, gap: Infinity };
  it('lie where their outlines say, whichever way a slot lies', () => {
    const patterns: DrawnRepeat[] = (['once', 'line', 'grid', 'circle'] as const).map((pattern) => ({
      pattern,
      count: 5,
      rows: 3,
      gap: 4,
      radius: 31,
    }));
    for (const shape of DRAWN_SHAPES)
      for (const to of [[8, 6], [-2, 12]] as Array<[number, number]>)
        for (const repeat of patterns) {
          const d: DrawnCut = { ...DRAWN, shape, to };
          const { base, at, turned } = cutterOfDrawn(d, on100);
          const evaluator = new Evaluator({ blob: none, file: none });
          const transform = { move: at, turn: [0, turned, 0] as [number, number, number] };
          evaluator.setPieces([{ id: 'c', base, transform, steps: repeatOfDrawn(repeat, turned) }]);
          const { min, max } = boundsOf(transformMesh(evaluator.build('c').mesh, transformMatrix({ ...transform, size: [1, 1, 1] })));
          const outlines = outlinesOfDrawn(d, repeat).flat();
          const [xs, zs] = [0, 1].map((k) => outlines.map((p) => p[k]));
          // The corners of a slot's outline lie outside its round ends, those of the others on it.
          const slack = shape === 'slot' && repeat.pattern === 'circle' ? 5 : 1e-6;
          for (const [found, want] of [[min[0], Math.min(...xs)], [max[0], Math.max(...xs)], [min[2], Math.min(...zs)], [max[2], Math.max(...zs)]])
            expect(Math.abs(found - want)).toBeLessThan(slack);
        }
  }); // prettier-ignore
});

describe('the depth of a cutter', () => {
  it('counts from the face it goes in by, and changes at the lower end alone', () => {
    fc.assert(
      fc.property(
        fc.tuple(...[0, 1, 2].map(() => fc.integer({ min: -90, max: 90 }))),
        fc.integer({ min: 1, max: 40 }),
        fc.integer({ min: 1, max: 60 }),
        fc.constantFrom('middle', 'foot'),
        (turn, depth, wanted, origin) => {
          const place = transformMatrix({ move: [5, -3, 8], turn: turn as Vec3, size: [1, 1, 1] });
          const up: Vec3 = [place[4], place[5], place[6]];
          const height = depth + 2;
          // Two millimetres stand out of a face through (5, −3, 8).
          const from = origin === 'foot' ? -depth : 2 - height / 2;
          const piece: Piece = {
            id: 'c',
            base: { primitive: 'plate', width: 9, depth: 7, height, corner: 1, origin } as Piece['base'],
            transform: { move: applyMatrix(place, [0, from, 0]), turn: turn as Vec3 },
            anchors: [{ hold: 'distance', to: [{ of: 'faces', picks: [], at: [5, -3, 8] }], facing: up }],
          };
          const entry = entryOf(piece)!;
          expect(depthOf(piece, entry)).toBeCloseTo(depth, 6);
          const now = deeper(piece, entry, wanted - depth)!;
          expect(depthOf(now, entry)).toBeCloseTo(wanted, 6);
          const topOf = (p: Piece): number => boundsOf(transformMesh(buildPrimitive(p.base as Primitive), multiply(invert(place), transformMatrix({ move: p.transform!.move!, turn: p.transform!.turn!, size: [1, 1, 1] })))).max[1];
          expect(topOf(now)).toBeCloseTo(2, 6);
        },
      ),
      { numRuns: 50 },
    );
    expect(entryOf({ id: 'c', base: { primitive: 'box', width: 1, height: 1, depth: 1 } } as Piece)).toBeNull();
    const flat = { id: 'c', base: { primitive: 'sphere', radius: 4 } } as Piece;
    expect(deeper(flat, { hold: 'distance', to: [{ of: 'faces', picks: [], at: [0, 0, 0] }], facing: [0, 1, 0] }, 2)).toBeNull();
  }); // prettier-ignore
});
