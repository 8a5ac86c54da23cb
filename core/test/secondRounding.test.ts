/** A rounding that comes after another: it takes its own edges only, in full, and meets the first whichever came first. */
import fc from 'fast-check';
import { beforeAll, describe, expect, it } from 'vitest';
import { Evaluator } from '../src/build/evaluate';
import type { BuildResult } from '../src/build/report';
import type { Action } from '../src/actions/actions';
import type { Piece } from '../src/document/schema';
import { selfCrossings } from '../src/inspect/selfCross';
import { volume } from '../src/mesh/measure';
import { faceCount } from '../src/mesh/PolyMesh';
import { isClosed, topologyOf } from '../src/mesh/Topology';
import { distance, pointOf } from '../src/mesh/vec3';
import { bevel } from '../src/ops/bevel/bevel';
import type { Primitive } from '../src/primitives';
import { outerEdges, sharpEdges } from '../src/select/edges';
import { edgesInScope, type Scope, type Select } from '../src/select/rules';
import { residual } from '../src/shading/residual';
import { loadKernel } from '../src/solid/kernel';
import type { Step } from '../src/steps';
import { thinner } from './thinner';

beforeAll(() => loadKernel());

const none = (): never => {
  throw new Error('no file is used');
};
type Cutter = Pick<Piece, 'base' | 'transform'>;
function built(base: Primitive, cutters: Cutter[], steps: Step[], actions: Action[] = []): BuildResult {
  const e = new Evaluator({ blob: none, file: none });
  const ids = cutters.map((_, i) => `c${i}`);
  e.setPieces([
    { id: 'h', base, actions, steps: [{ kind: 'cut', id: 'cut', mode: 'subtract', cutters: ids }, ...steps] },
    ...cutters.map((c, i): Piece => ({ id: ids[i], role: 'cutter', ...c })),
  ]);
  return e.build('h');
}
const round = (scope: Scope, width: number, segments: number, profile = 1): Step => ({
  kind: 'bevel',
  scope,
  width,
  segments,
  profile,
});
const RIMS: Scope = { rule: 'rims' };
const OUTER: Scope = { rule: 'outer' };

function expectFull({ steps }: BuildResult): void {
  for (const { groups = [], fault } of steps) {
    expect(fault).toBeUndefined();
    for (const g of groups) expect(g.least).toBeCloseTo(g.asked, 9);
  }
}

/** A host with the number of edges it has by itself. */
const sides = fc.constantFrom(10, 12, 15, 24, 48, 96);
const host: fc.Arbitrary<{ base: Primitive; own: number }> = fc.oneof(
  sides.map((n) => ({
    base: { primitive: 'cylinder' as const, radius: 25, height: 60, sides: n },
    own: 2 * n,
  })),
  sides.map((n) => ({
    base: { primitive: 'cone' as const, bottomRadius: 30, topRadius: 20, height: 60, sides: n },
    own: 2 * n,
  })),
  sides.map((n) => ({
    base: { primitive: 'tube' as const, outerRadius: 28, innerRadius: 18, height: 60, sides: n },
    own: 4 * n,
  })),
  fc.constant({ base: { primitive: 'box' as const, width: 50, height: 60, depth: 44 }, own: 12 }),
);

describe('a rounding of the outer edges after one of the rims', () => {
  it('takes the edges the base had, all of them in full, on any host, by any rule for them', () => {
    const rules: Scope[] = [OUTER, { rule: 'sharp', angle: 30 }, { rule: 'sharp', angle: 30, rims: 'without' }, { rule: 'sharp', angle: 30, made: 'base' }]; // prettier-ignore
    fc.assert(
      fc.property(
        host,
        fc.integer({ min: 1, max: 4 }),
        fc.constantFrom(-1, 0, 0.5, 1, 2),
        fc.integer({ min: 5, max: 9 }),
        fc.constantFrom(...rules),
        ({ base, own }, segments, profile, radius, rule) => {
          const bore: Cutter = {
            base: { primitive: 'cylinder', radius, height: 90, sides: 24 },
            transform: { turn: [90, 0, 0] },
          };
          const r = built(base, [bore], [round(RIMS, 1.5, segments, profile), round(rule, 1.2, segments, profile)]); // prettier-ignore
          expect(r.steps[2].counts.edges).toBe(own);
          expectFull(r);
          expect(isClosed(r.mesh)).toBe(true);
          expect(selfCrossings(r.mesh).edges).toEqual([]);
          expect(thinner(r.mesh, 0.006)).toBe(0);
          // Nothing is left to take.
          expect(outerEdges(r.mesh, 30)).toEqual([]);
        },
      ),
      { numRuns: 25 },
    );
  });

  it('leaves pockets alone, and steps of hand work are told from the base', () => {
    const pocket: Cutter = {
      base: { primitive: 'box', width: 20, height: 20, depth: 14 },
      transform: { move: [4, 20, -3] },
    };
    const base: Primitive = { primitive: 'box', width: 60, height: 40, depth: 30 };
    const up: Select = { rule: 'facing', direction: [1, 0, 0] };
    const boss: Action[] = [
      { op: 'inset', select: up, thickness: 4 },
      { op: 'extrude', select: { rule: 'last' }, distance: 3 },
    ];
    const { mesh } = built(base, [pocket], [], boss);
    const of = (made: 'base' | 'hand' | 'cuts'): readonly number[] =>
      edgesInScope(mesh, { rule: 'sharp', angle: 30, made });
    expect([of('base').length, of('hand').length, of('cuts').length]).toEqual([8, 16, 12]);
    const all = [...of('base'), ...of('hand'), ...of('cuts')].sort((a, b) => a - b);
    expect(all).toEqual(sharpEdges(mesh, 30));
    expect(outerEdges(mesh, 30)).toHaveLength(24);
    const r = built(base, [pocket], [round(OUTER, 1, 2)], boss);
    expect(r.steps[1].counts.edges).toBe(24);
    expectFull(r);
  });
});

describe('two roundings that meet', () => {
  const block: Primitive = { primitive: 'box', width: 60, height: 40, depth: 30 };
  const size = fc.integer({ min: 8, max: 14 });
  /** Over an edge of the block, across it from side to side, or at one of its corners. */
  const across: fc.Arbitrary<Cutter> = fc.oneof(
    fc.tuple(size, size, size).map(([width, height, depth]): Cutter => ({ base: { primitive: 'box', width, height, depth }, transform: { move: [3, 20, 15] } })), // prettier-ignore
    fc.tuple(size, size).map(([width, height]): Cutter => ({ base: { primitive: 'box', width, height, depth: 90 }, transform: { move: [-4, 20, 0] } })), // prettier-ignore
    fc.tuple(size, size, size).map(([width, height, depth]): Cutter => ({ base: { primitive: 'box', width, height, depth }, transform: { move: [30, 20, -15] } })), // prettier-ignore
  );

  it('come to the same shape whichever is first, in full and shaded true', () => {
    fc.assert(
      fc.property(
        across,
        fc.integer({ min: 1, max: 4 }),
        fc.constantFrom([1, 1], [1.5, 0.6], [0.6, 1.5]),
        (crossing, segments, [a, b]) => {
          const [rims, outer] = [round(RIMS, a, segments), round(OUTER, b, segments)];
          const one = built(block, [crossing], [rims, outer]);
          const other = built(block, [crossing], [outer, rims]);
          for (const r of [one, other]) {
            expectFull(r);
            expect(isClosed(r.mesh)).toBe(true);
            expect(selfCrossings(r.mesh).edges).toEqual([]);
            expect(residual(r.mesh).over2).toBeLessThan(0.001);
          }
          expect(faceCount(one.mesh)).toBe(faceCount(other.mesh));
          expect(volume(one.mesh)).toBeCloseTo(volume(other.mesh), 6);
          expect(one.steps[1].says).toBe('Rounded after “Outer edges”, so that the two meet in one corner.');
          expect(other.steps.map((s) => s.says ?? '')).not.toContain(one.steps[1].says);
        },
      ),
      { numRuns: 25 },
    );
  });

  it('meet in a part of a ball where three edges of one width do', () => {
    const notch: Cutter = {
      base: { primitive: 'box', width: 20, height: 20, depth: 20 },
      transform: { move: [0, 20, 15] },
    };
    const { mesh } = built(block, [notch], [round(RIMS, 2, 4), round(OUTER, 2, 4)]);
    // The block's edge above the notch's wall x = 10: a ball touches its three sides.
    const [x, y, z] = [12, 18, 13];
    let count = 0;
    for (let v = 0; v < mesh.positions.length / 3; v++) {
      const p = pointOf(mesh.positions, v);
      if (p[0] < 10 - 1e-9 || p[0] > x - 1e-9 || p[1] < y + 1e-9 || p[2] < z + 1e-9) continue;
      count++;
      // Points of strips lie on the chords of arcs of 22.5°.
      expect(distance(p, [x, y, z])).toBeLessThan(2 + 1e-9);
      expect(distance(p, [x, y, z])).toBeGreaterThan(2 * Math.cos(Math.PI / 16) - 1e-9);
    }
    expect(count).toBeGreaterThan(5);
  });

  it('keep their names: what was picked on the first stays picked when the second comes', () => {
    const notch: Cutter = {
      base: { primitive: 'box', width: 20, height: 20, depth: 20 },
      transform: { move: [0, 20, 15] },
    };
    const [rims, outer] = [
      { ...round(RIMS, 2, 2), id: 'rims' },
      { ...round(OUTER, 1, 2), id: 'outer' },
    ];
    const { mesh, makers } = built(block, [notch], [rims, outer]);
    const stories = new Set<string>();
    for (let f = 0; f < faceCount(mesh); f++)
      stories.add(makers.story(mesh.layers.face.birth.data[3 * f + 1])[0]);
    expect([...stories].sort()).toEqual(['h', 'h/cut', 'h/outer', 'h/rims']);
  });
});

describe('a strip whose edge runs on unrounded', () => {
  it('runs out within twice its width, and is as wide as asked before', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 4 }), fc.integer({ min: 1, max: 5 }), (width, segments) => {
        const { mesh } = built({ primitive: 'box', width: 100, height: 30, depth: 30 }, [], [], [
          { op: 'planeSlice', select: { rule: 'all', of: 'faces' }, point: [0, 0, 0], normal: [1, 0, 0] },
        ]); // prettier-ignore
        const t = topologyOf(mesh);
        const at = (v: number) => pointOf(mesh.positions, v);
        const right = (v: number): boolean => at(v)[0] > -1e-9 && at(v)[1] > 14 && at(v)[2] > 14;
        const e = [...Array(t.edgeCount).keys()].find((x) => right(t.edges[2 * x]) && right(t.edges[2 * x + 1]))!; // prettier-ignore
        const { mesh: out, report } = bevel(mesh, [e], { width, segments });
        expect(report.groups[0].stops).toEqual([]);
        const xs = new Set<number>();
        for (let v = 0; v < out.positions.length / 3; v++) {
          const [x, y, z] = pointOf(out.positions, v);
          if (Math.abs(y - 15) < 1e-9 && Math.abs(z - (15 - width)) < 1e-9) xs.add(Math.round(1e6 * x) / 1e6);
        }
        expect([...xs].sort((p, q) => p - q)).toEqual([2 * width, 50]);
      }),
      { numRuns: 12 },
    );
  });
});
