/** Maps and progress of steps. */
import fc from 'fast-check';
import { beforeAll, describe, expect, it } from 'vitest';
import type { Piece } from '../src/document/schema';
import type { ElementKind } from '../src/mesh/elements';
import { OperationError } from '../src/mesh/errors';
import { faceNormal } from '../src/mesh/measure';
import type { PolyMesh } from '../src/mesh/PolyMesh';
import { distance, dot, pointOf } from '../src/mesh/vec3';
import { elementCount, pointsOf } from '../src/select/selection';
import { loadKernel } from '../src/solid/kernel';
import { Evaluator } from '../src/build/evaluate';
import { laneOf, LANES, STEPS, type Step } from '../src/steps';
import { Stopped } from '../src/watch';
import { runs } from './effort';

beforeAll(async () => {
  await loadKernel();
});

const none = (): never => {
  throw new Error('no mesh is stored');
};
const KINDS: ElementKind[] = ['vertex', 'edge', 'face'];
const num = (min: number, max: number) => fc.integer({ min: min * 8, max: max * 8 }).map((x) => x / 8);
const step: fc.Arbitrary<Step> = fc.oneof(
  fc.constantFrom('subtract' as const, 'union' as const, 'intersect' as const).map((mode): Step => ({ kind: 'cut', mode, cutters: ['tool'] })),
  fc.constantFrom('split' as const, 'recess' as const, 'raise' as const, 'sleeve' as const, 'imprint' as const).map((mode): Step => ({ kind: 'cut', mode, thickness: 1, gap: 0.5, cutters: ['tool'] })),
  fc.constantFrom('face' as const, 'edge' as const).map((of): Step => ({ kind: 'hand', pin: 'Edge', actions: [
    { op: 'inset', select: { rule: 'facing', direction: [0, 1, 0] }, thickness: of === 'face' ? 0.5 : 0.2 },
    of === 'face' ? { op: 'extrude', select: { rule: 'last' }, distance: 2 } : { op: 'mark', select: { rule: 'open' }, marks: ['hard'] },
  ] })),
  num(20, 80).map((angle): Step => ({ kind: 'marks', scope: { rule: 'sharp', angle }, marks: ['hard'] })),
  num(0.5, 3).map((width): Step => ({ kind: 'bevel', scope: { rule: 'sharp', angle: 40 }, width, segments: 2 })),
  fc.constantFrom('x' as const, 'y' as const, 'z' as const).map((a): Step => ({ kind: 'mirror', axes: [a], keep: 'positive' })),
  num(5, 60).map((x): Step => ({ kind: 'repeat', pattern: 'linear', count: 3, offset: [x, 1, 0] })),
  fc.constant<Step>({ kind: 'smooth', levels: 1, crease: { rule: 'sharp', angle: 40 } }),
  fc.constant<Step>({ kind: 'normals', weight: 'area' }),
  fc
    .tuple(num(0.5, 20), fc.boolean())
    .map(([reach, near]): Step => ({ kind: 'cast', reach, ...(near && { near: { rule: 'rims' }, within: reach }) })),
  num(1, 40).map((reach): Step => ({ kind: 'bent', rays: 8, reach })),
); // prettier-ignore
const base = fc.constantFrom<Piece['base']>(
  { primitive: 'box', width: 40, height: 20, depth: 30, segments: [2, 1, 2] },
  { primitive: 'cylinder', radius: 15, height: 30, sides: 14 },
);
const build = fc.record({
  base,
  steps: fc.array(step, { minLength: 1, maxLength: 4 }),
  at: fc.tuple(num(-18, 18), num(-10, 10), num(-14, 14)),
});

/** Where elements are, to the bit. */
const placeOf = (mesh: PolyMesh, kind: ElementKind, i: number): string =>
  pointsOf(mesh, { kind, indices: [i] })
    .map((v) => mesh.positions.subarray(3 * v, 3 * v + 3).join())
    .sort()
    .join('|');

describe('maps of every step', () => {
  it('have an entry for each element, lead from what stayed to itself, and new faces of old ones lie on them', () => {
    const seen = new Set<string>();
    let stayed = 0;
    fc.assert(
      fc.property(build, ({ base: b, steps, at }) => {
        const pieces: Piece[] = [
          { id: 'a', base: b, steps },
          { id: 'tool', base: { primitive: 'box', width: 9, height: 60, depth: 9 }, transform: { move: at, turn: [0, 20, 0] } }, // prettier-ignore
        ];
        const evaluator = new Evaluator({ blob: none, file: none });
        const order = steps.map((s, index) => ({ s, index })).sort((x, y) => lane(x.s) - lane(y.s) || x.index - y.index); // prettier-ignore
        order.forEach(({ s, index }, k) => {
          evaluator.setPieces(pieces);
          const whole = evaluator.build('a');
          if (whole.steps.some((r) => r.fault)) return;
          const before = evaluator.build('a', undefined, k).mesh;
          const after = evaluator.build('a', undefined, k + 1).mesh;
          const maps = evaluator.stepMaps('a', index);
          seen.add(s.kind);
          for (const kind of KINDS) {
            const map = maps[kind];
            expect([s.kind, kind, map.size, map.before]).toEqual([
              s.kind,
              kind,
              elementCount(after, kind),
              elementCount(before, kind),
            ]);
            // Images, copies and smoothed points come to lie where other old ones were.
            if (s.kind === 'smooth' || s.kind === 'mirror' || s.kind === 'repeat') continue;
            const old = new Map<string, number>();
            for (let i = 0; i < map.before; i++) old.set(placeOf(before, kind, i), i);
            for (let i = 0; i < map.size; i++) {
              const o = old.get(placeOf(after, kind, i));
              if (o === undefined || map.isMade(i)) continue;
              expect([s.kind, kind, i, map.of(i).includes(o)]).toEqual([s.kind, kind, i, true]);
              stayed++;
            }
          }
          if (s.kind !== 'cut') return;
          // A part of one old face lies in its plane.
          for (let f = 0; f < maps.face.size; f++) {
            const [o, ...more] = maps.face.of(f);
            if (o === undefined || more.length || maps.face.isMade(f)) continue;
            const n = faceNormal(before, o);
            const on = pointOf(before.positions, before.corners[before.faceStart[o]]);
            expect(Math.abs(dot(n, faceNormal(after, f)))).toBeGreaterThan(0.999);
            const v = after.corners[after.faceStart[f]];
            const p = pointOf(after.positions, v);
            expect(Math.abs(dot(n, p) - dot(n, on))).toBeLessThan(1e-4 * (1 + distance(p, on)));
          }
        });
      }),
      { numRuns: runs(25, 60), seed: 21 },
    );
    expect([...seen].sort()).toEqual(Object.keys(STEPS).sort());
    expect(stayed).toBeGreaterThan(5000);
  }, 120_000);

  it('are refused for a step that has no result', () => {
    const evaluator = new Evaluator({ blob: none, file: none });
    evaluator.setPieces([{ id: 'a', base: { primitive: 'box', width: 9, height: 9, depth: 9 }, steps: [{ kind: 'smooth', off: true }] }]); // prettier-ignore
    for (const index of [0, 1]) expect(() => evaluator.stepMaps('a', index)).toThrow(OperationError);
  });
});

const lane = (s: Step): number => LANES.indexOf(laneOf(s));

describe('a watched build', () => {
  const holes = Array.from({ length: 9 }, (_, i): Piece => ({
    id: `h${i}`,
    base: { primitive: 'cylinder', radius: 3, height: 40, sides: 24 },
    transform: { move: [10 * (i % 3) - 10, 0, 10 * Math.floor(i / 3) - 10] },
  })); // prettier-ignore
  const pieces: Piece[] = [
    {
      id: 'a',
      base: { primitive: 'box', width: 60, height: 10, depth: 60 },
      steps: [
        { kind: 'cut', mode: 'subtract', cutters: holes.map((h) => h.id) },
        { kind: 'bevel', scope: { rule: 'rims' }, width: 0.5, segments: 2 },
        { kind: 'smooth', levels: 2 },
      ],
    },
    ...holes,
  ];

  it('says how far it is inside each step, going on only', () => {
    const evaluator = new Evaluator({ blob: none, file: none });
    evaluator.setPieces(pieces);
    const told: number[] = [];
    evaluator.build('a', (done, total, label) => {
      if (label === 'a') told.push(done);
      expect(total).toBeGreaterThanOrEqual(done);
    });
    expect(told).toEqual([...told].sort((x, y) => x - y));
    for (const k of [0, 1, 2]) expect(told.filter((x) => x > k && x < k + 1).length).toBeGreaterThan(1);
  });

  it('ends where its watch throws, and goes on from what it had built', () => {
    const plain = new Evaluator({ blob: none, file: none });
    plain.setPieces(pieces);
    const whole = plain.build('a').mesh;
    for (const at of [0.1, 0.5, 1.02, 1.6, 2.1]) {
      const evaluator = new Evaluator({ blob: none, file: none });
      evaluator.setPieces(pieces);
      const stop = (done: number, _: number, label: string): void => {
        if (label === 'a' && done > at) throw new Stopped();
      };
      expect(() => evaluator.build('a', stop)).toThrow(Stopped);
      const inside: number[] = [];
      const { mesh } = evaluator.build(
        'a',
        (done, _, label) => label === 'a' && done % 1 && inside.push(done),
      );
      // Whole steps before the place are not done again.
      expect(Math.min(...inside)).toBeGreaterThan(Math.floor(at));
      expect(mesh.positions).toEqual(whole.positions);
    }
  });
});
