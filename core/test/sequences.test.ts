/** Random builds on random pieces: whatever is done, the mesh stays sound and comes back alike. */
import { beforeAll, describe, expect, it } from 'vitest';
import fc from 'fast-check';
import type { Piece } from '../src/document/schema';
import { pieceListFaults } from '../src/document/validate';
import { decodeMesh, encodeMesh } from '../src/formats/meshBlob';
import { checkMesh } from '../src/mesh/checkMesh';
import { surfaceArea, volume } from '../src/mesh/measure';
import type { PolyMesh } from '../src/mesh/PolyMesh';
import type { Primitive } from '../src/primitives';
import { loadKernel } from '../src/solid/kernel';
import { displayOf } from '../src/build/display';
import { Evaluator } from '../src/build/evaluate';
import type { Step } from '../src/steps';
import { runs } from './effort';

beforeAll(async () => {
  await loadKernel();
});

const base = fc.constantFrom<Primitive>(
  { primitive: 'box', width: 40, height: 30, depth: 50 },
  { primitive: 'box', width: 30, height: 30, depth: 30, segments: [2, 3, 2] },
  { primitive: 'cylinder', radius: 20, height: 40, sides: 16, rings: 2 },
  { primitive: 'cylinder', radius: 18, height: 30, sides: 10, caps: 'fan' },
  { primitive: 'cone', bottomRadius: 22, topRadius: 0, height: 40, sides: 10 },
  { primitive: 'sphere', radius: 22, sides: 14, rings: 8 },
  { primitive: 'quadSphere', radius: 22, divisions: 4 },
  { primitive: 'torus', radius: 20, tubeRadius: 8, sides: 16, tubeSides: 8 },
  { primitive: 'tube', outerRadius: 24, innerRadius: 12, height: 26, sides: 18 },
);
const step = fc.oneof(
  fc.record({
    kind: fc.constant('cut' as const),
    mode: fc.constantFrom('subtract', 'union', 'intersect' as const),
    cutters: fc.subarray(['b', 'c'], { minLength: 1 }),
  }),
  fc.record({
    kind: fc.constant('bevel' as const),
    scope: fc.constantFrom({ rule: 'rims' as const }, { rule: 'sharp' as const, angle: 40 }),
    width: fc.constantFrom(0.3, 1, 2.5),
    segments: fc.integer({ min: 1, max: 3 }),
    profile: fc.constantFrom(0, 0.5, 1),
  }),
  fc.record({
    kind: fc.constant('normals' as const),
    weight: fc.constantFrom('angle', 'area', 'both' as const),
    hardAngle: fc.constantFrom(20, 40, 80),
  }),
) as fc.Arbitrary<Step>;
const shift = fc.tuple(
  ...[0, 1, 2].map(() => fc.integer({ min: -150, max: 150 }).map((x) => x / 10)),
) as fc.Arbitrary<[number, number, number]>;
const turn = fc.tuple(...[0, 1, 2].map(() => fc.constantFrom(0, 15, 40, 90, 133))) as fc.Arbitrary<
  [number, number, number]
>;

const same = (a: PolyMesh, b: PolyMesh): boolean =>
  Buffer.from(encodeMesh(a)).equals(Buffer.from(encodeMesh(b)));

describe('any build', () => {
  it('gives a sound mesh, whose display, bytes and repetition agree', () => {
    fc.assert(
      fc.property(
        base,
        base,
        base,
        fc.array(step, { maxLength: 4 }),
        fc.array(step, { maxLength: 1 }),
        shift,
        turn,
        shift,
        turn,
        (a, b, c, steps, inner, m1, t1, m2, t2) => {
          const pieces: Piece[] = [
            { id: 'a', base: a, steps },
            {
              id: 'b',
              base: b,
              transform: { move: m1, turn: t1 },
              steps: inner.filter((s) => s.kind !== 'cut'),
            },
            { id: 'c', base: c, transform: { move: m2, turn: t2, size: [1, 0.8, 1.2] } },
          ];
          expect(pieceListFaults(pieces)).toEqual([]);
          const e = new Evaluator({ blob: () => { throw new Error(); }, file: () => { throw new Error(); } }); // prettier-ignore
          e.setPieces(pieces);
          const r = e.build('a');
          expect(r.steps.map((s) => s.fault?.message)).toEqual(r.steps.map(() => undefined));
          const check = checkMesh(r.mesh);
          // Not finite, folded, crowded or torn: never. (A sliver of no area may be left by the tightest clamps.)
          expect(check.findings.filter((f) => f.code !== 'zero-area')).toEqual([]);
          // Never inside out. (A quad sphere's quads are not flat: their volume depends on how they are divided.)
          const flat = pieces.every((p) => !('primitive' in p.base) || p.base.primitive !== 'quadSphere');
          if (flat) expect(volume(r.mesh)).toBeGreaterThanOrEqual(-1e-6 * surfaceArea(r.mesh));
          const d = displayOf(r, 0);
          expect(d.indices.length).toBe(3 * d.counts.triangles);
          expect(d.counts.tris + d.counts.quads + d.counts.ngons).toBe(d.counts.faces);
          for (const n of d.normals) expect(Number.isFinite(n)).toBe(true);
          expect(same(decodeMesh(encodeMesh(r.mesh)), r.mesh)).toBe(true);
          const again = new Evaluator({ blob: () => r.mesh, file: () => r.mesh });
          again.setPieces(structuredClone(pieces));
          expect(same(again.build('a').mesh, r.mesh)).toBe(true);
        },
      ),
      { numRuns: runs(24, 120), seed: 21 },
    );
  });

  it('comes back to the same bytes when a change is undone', () => {
    fc.assert(
      fc.property(
        base,
        base,
        fc.array(step, { minLength: 1, maxLength: 3 }),
        shift,
        shift,
        (a, b, steps, m1, m2) => {
          const at = (move: [number, number, number]): Piece[] => [
            { id: 'a', base: a, steps: steps.map((s) => (s.kind === 'cut' ? { ...s, cutters: ['b'] } : s)) },
            { id: 'b', base: b, transform: { move } },
          ];
          const e = new Evaluator({ blob: () => { throw new Error(); }, file: () => { throw new Error(); } }); // prettier-ignore
          e.setPieces(at(m1));
          const before = e.build('a').mesh;
          e.setPieces(at(m2));
          e.build('a');
          e.setPieces(at(m1));
          expect(same(e.build('a').mesh, before)).toBe(true);
        },
      ),
      { numRuns: runs(14, 40), seed: 22 },
    );
  });
});
