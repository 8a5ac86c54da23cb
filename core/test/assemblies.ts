/** Random assemblies to be cut: those in each other's faces come out as can be reckoned, all others without crossings. */
import assert from 'node:assert/strict';
import fc from 'fast-check';
import { checkMesh } from '../src/mesh/checkMesh';
import { surfaceArea, volume } from '../src/mesh/measure';
import type { PolyMesh } from '../src/mesh/PolyMesh';
import { transformMatrix, transformMesh } from '../src/mesh/transform';
import { buildPrimitive, type Primitive } from '../src/primitives';
import { cut, type CutMode } from '../src/solid/boolean';
import { deepestCrossing } from './crossings';

export type Turn = [number, number, number];
export interface Placed {
  base: Primitive;
  at?: Turn;
}
export const box = (width: number, height: number, depth: number, at?: Turn): Placed => ({
  base: { primitive: 'box', width, height, depth },
  at,
});
export const cylinder = (radius: number, height: number, sides: number, at?: Turn): Placed => ({
  base: { primitive: 'cylinder', radius, height, sides },
  at,
});
export const still: Turn = [0, 0, 0];

/** All placed in one frame that is baked into the points. */
export function assembled(parts: Placed[], mode: CutMode, frame: { turn: Turn; move: Turn }, joins = true) {
  const whole = transformMatrix({ ...frame, size: [1, 1, 1] });
  const [host, ...cutters] = parts.map(({ base, at }, i) => ({
    mesh: transformMesh(
      transformMesh(
        buildPrimitive(base),
        transformMatrix({ move: at ?? still, turn: still, size: [1, 1, 1] }),
      ),
      whole,
    ),
    name: `part ${i}`,
    id: `part${i}`,
  }));
  return cut(host, cutters, mode, joins);
}

const place = fc.record({
  turn: fc.tuple(...[0, 1, 2].map(() => fc.double({ min: -180, max: 180, noNaN: true }))),
  move: fc.tuple(...[0, 1, 2].map(() => fc.double({ min: -50, max: 50, noNaN: true }))),
}) as fc.Arbitrary<{ turn: Turn; move: Turn }>;
const frame = fc.oneof({ arbitrary: fc.constant({ turn: still, move: still }), weight: 1 }, { arbitrary: place, weight: 3 }); // prettier-ignore
const mode = fc.constantFrom<CutMode>('subtract', 'union', 'intersect');

export function soundSolid(mesh: PolyMesh, want: { volume: number; area: number }): void {
  assert.deepEqual(checkMesh(mesh).findings, []);
  const [hasVolume, hasArea] = [volume(mesh), surfaceArea(mesh)];
  assert.ok(Math.abs(hasVolume - want.volume) < 1e-5, `volume ${hasVolume}, not ${want.volume}`);
  assert.ok(Math.abs(hasArea - want.area) < 1e-5, `area ${hasArea}, not ${want.area}`);
}

const among = (mode: CutMode, inside: boolean[]): boolean =>
  mode === 'subtract'
    ? inside[0] && !inside.slice(1).some(Boolean)
    : mode === 'union'
      ? inside.some(Boolean)
      : inside.every(Boolean);

/** Boxes on a grid of six cells a side, in any frame: counting cells gives volume and area. */
export function boxesOnGrid() {
  const span = fc
    .tuple(fc.nat(5), fc.integer({ min: 1, max: 6 }))
    .map(([lo, n]) => [lo, Math.min(6, lo + n)]);
  const block = fc.tuple(span, span, span);
  return fc.property(fc.array(block, { minLength: 2, maxLength: 10 }), mode, frame, (blocks, mode, frame) => {
    const cell = (x: number, y: number, z: number): boolean =>
      among(
        mode,
        blocks.map((b) => [x, y, z].every((v, k) => v >= b[k][0] && v < b[k][1])),
      );
    const want = { volume: 0, area: 0 };
    for (let x = 0; x < 6; x++)
      for (let y = 0; y < 6; y++)
        for (let z = 0; z < 6; z++) {
          if (!cell(x, y, z)) continue;
          want.volume++;
          for (const s of [-1, 1])
            want.area += [cell(x + s, y, z), cell(x, y + s, z), cell(x, y, z + s)].filter(
              (in_) => !in_,
            ).length;
        }
    const parts = blocks.map((b) => {
      const [w, h, d] = b.map(([lo, hi]) => hi - lo);
      return box(w, h, d, b.map(([lo, hi]) => (lo + hi) / 2) as Turn);
    });
    soundSolid(assembled(parts, mode, frame).mesh, want);
  });
}

/** Cylinders and tubes on one axis, in any frame: rings give volume and area. */
export function ringsOnAxis() {
  const radii = [0, 3, 5, 7, 10];
  const ring = fc.record({ in_: fc.nat(3), wide: fc.integer({ min: 1, max: 4 }), low: fc.nat(5), high: fc.integer({ min: 1, max: 6 }) }); // prettier-ignore
  return fc.property(
    fc.array(ring, { minLength: 2, maxLength: 8 }),
    fc.constantFrom(6, 7, 12, 24),
    mode,
    frame,
    (rings, sides, mode, frame) => {
      const spans = rings.map((r) => ({
        ...r,
        out: Math.min(4, r.in_ + r.wide),
        top: Math.min(6, r.low + r.high),
      }));
      const cell = (c: number, z: number): boolean =>
        among(
          mode,
          spans.map((r) => c >= r.in_ && c < r.out && z >= r.low && z < r.top),
        );
      const disc = (r: number): number => (sides / 2) * r * r * Math.sin((2 * Math.PI) / sides);
      const wall = (r: number): number => 2 * sides * r * Math.sin(Math.PI / sides);
      const want = { volume: 0, area: 0 };
      for (let c = 0; c < 4; c++)
        for (let z = 0; z < 6; z++) {
          if (!cell(c, z)) continue;
          const floor = disc(radii[c + 1]) - disc(radii[c]);
          want.volume += floor;
          want.area += floor * [cell(c, z - 1), cell(c, z + 1)].filter((in_) => !in_).length;
          if (!cell(c + 1, z)) want.area += wall(radii[c + 1]);
          if (c > 0 && !cell(c - 1, z)) want.area += wall(radii[c]);
        }
      const parts = spans.map(({ in_, out, low, top }): Placed => ({
        base: in_
          ? {
              primitive: 'tube',
              outerRadius: radii[out],
              innerRadius: radii[in_],
              height: top - low,
              sides,
            }
          : { primitive: 'cylinder', radius: radii[out], height: top - low, sides },
        at: [0, (low + top) / 2, 0],
      }));
      soundSolid(assembled(parts, mode, frame).mesh, want);
    },
  );
}

const bases: Array<fc.Arbitrary<Primitive>> = [
  fc.record({ w: fc.integer({ min: 10, max: 60 }), h: fc.integer({ min: 10, max: 60 }) }).map(({ w, h }) => ({ primitive: 'box', width: w, height: h, depth: 30 })), // prettier-ignore
  fc.integer({ min: 6, max: 32 }).map((sides) => ({ primitive: 'cylinder', radius: 18, height: 50, sides })),
  fc.integer({ min: 6, max: 24 }).map((sides) => ({ primitive: 'cone', bottomRadius: 22, topRadius: 0, height: 45, sides })), // prettier-ignore
  fc.integer({ min: 2, max: 6 }).map((divisions) => ({ primitive: 'quadSphere', radius: 30, divisions })),
  fc.integer({ min: 8, max: 20 }).map((sides) => ({ primitive: 'torus', radius: 24, tubeRadius: 7, sides, tubeSides: 10 })), // prettier-ignore
];
const number = (min: number, max: number) => fc.double({ min, max, noNaN: true });
const pose = fc.record({
  move: fc.tuple(number(-20, 20), number(-20, 20), number(-20, 20)),
  turn: fc.tuple(number(-180, 180), number(-180, 180), number(-180, 180)),
  size: fc.tuple(fc.constantFrom(-1, 0.4, 1, 2), number(0.4, 2), number(0.4, 2)),
}) as fc.Arbitrary<{ move: Turn; turn: Turn; size: Turn }>;

/** Primitives turned, uneven or mirrored, so that nothing lies in one plane but by chance. @param most cutters */
export function anyAssembly(most = 5) {
  return fc.property(
    fc.oneof(...bases),
    fc.array(fc.tuple(fc.oneof(...bases), pose), { minLength: 1, maxLength: most }),
    mode,
    (base, others, mode) => {
      const cutters = others.map(([b, at], i) => ({
        mesh: transformMesh(buildPrimitive(b), transformMatrix(at)),
        name: `c${i}`,
        id: `c${i}`,
      }));
      const { mesh } = cut({ mesh: buildPrimitive(base), name: 'host' }, cutters, mode);
      assert.deepEqual(checkMesh(mesh).findings, []);
      assert.ok(deepestCrossing(mesh) < 1e-9, `an edge goes ${deepestCrossing(mesh)} deep through a face`);
    },
  );
}
