/** Normals as built: exact on all bodies, carried through what comes after, and shaded so in what is written. */
import fc from 'fast-check';
import { beforeAll, describe, expect, it } from 'vitest';
import { decodeMesh, encodeMesh } from '../src/formats/meshBlob';
import { writeParts } from '../src/formats';
import type { Piece } from '../src/document/schema';
import { faceNormal } from '../src/mesh/measure';
import { faceCount, type PolyMesh } from '../src/mesh/PolyMesh';
import { IDENTITY } from '../src/mesh/transform';
import { dot, length, pointOf, unit, type Vec3 } from '../src/mesh/vec3';
import { buildPrimitive, type Primitive } from '../src/primitives';
import { residual } from '../src/shading/residual';
import { shadingNormals } from '../src/shading/shadingNormals';
import { loadKernel } from '../src/solid/kernel';
import type { Step } from '../src/steps';
import { act } from './acting';
import { builtPiece } from './builtPiece';
import {
  coneWall,
  exactError,
  roundedBox,
  roundedCylinder,
  roundedPlate,
  trianglesOfGlb,
  type Body,
} from './exactBodies';

beforeAll(() => loadKernel());

/** The worst a known normal is off that of a body, degrees; and how many are known. */
function offExact(
  mesh: PolyMesh,
  exact: (p: Vec3, f: number) => Vec3 | null,
): { worst: number; known: number } {
  const surface = mesh.layers.corner.surface.data;
  let [worst, known] = [0, 0];
  for (let f = 0; f < faceCount(mesh); f++)
    for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) {
      const n = pointOf(surface, c);
      if (length(n) === 0) continue;
      known++;
      expect(length(n)).toBeCloseTo(1, 6);
      const is = exact(pointOf(mesh.positions, mesh.corners[c]), f);
      if (is) worst = Math.max(worst, Math.acos(Math.min(1, dot(n, is))));
    }
  return { worst: (worst * 180) / Math.PI, known };
}
/** The rounding error of single precision, degrees. */
const ROUNDING = 0.05;

const ball = (p: Vec3): Vec3 => unit(p);
const ring =
  (radius: number) =>
  ([x, y, z]: Vec3): Vec3 => {
    const out = Math.hypot(x, z);
    return unit([x - (radius * x) / out, y, z - (radius * z) / out]);
  };
/** Out of a hole's wall is to its axis. */
const wall =
  (mesh: PolyMesh, rise = 0) =>
  (p: Vec3, f: number): Vec3 | null => {
    const own = faceNormal(mesh, f);
    const out = unit([p[0], rise * Math.hypot(p[0], p[2]), p[2]]);
    if (Math.hypot(p[0], p[2]) < 1e-9) return null;
    return dot(own, out) < 0 ? (out.map((x) => -x) as Vec3) : out;
  };

const cutter = (base: Primitive, transform: Piece['transform'] = {}): Piece => ({
  id: 'x',
  role: 'cutter',
  base,
  transform,
});
const cut: Step = { kind: 'cut', mode: 'subtract', cutters: ['x'] };
const round = (width: number, segments: number, more: object = {}): Step => ({
  kind: 'bevel',
  scope: { rule: 'sharp', angle: 50 },
  width,
  segments,
  ...more,
});

describe('a body', () => {
  it.each([3, 6, 12, 48])('of %i sides has the normals of the surface it stands for', (sides) => {
    const cylinder = buildPrimitive({ primitive: 'cylinder', radius: 20, height: 30, sides, rings: 2 });
    expect(offExact(cylinder, wall(cylinder))).toEqual({ worst: expect.closeTo(0, 1), known: 8 * sides });
    const tube = buildPrimitive({ primitive: 'tube', outerRadius: 20, innerRadius: 9, height: 30, sides });
    expect(offExact(tube, wall(tube))).toEqual({ worst: expect.closeTo(0, 1), known: 8 * sides });
    for (const [bottomRadius, topRadius] of [[20, 5], [5, 20], [20, 0], [0, 20]]) {
      const cone = buildPrimitive({ primitive: 'cone', bottomRadius, topRadius, height: 30, sides });
      const { worst, known } = offExact(cone, wall(cone, (bottomRadius - topRadius) / 30));
      expect([worst < ROUNDING, known]).toEqual([true, (bottomRadius && topRadius ? 4 : 3) * sides]);
    } // prettier-ignore
    if (sides < 6) return;
    for (const base of [
      { primitive: 'sphere', radius: 20, sides, rings: sides / 2 },
      { primitive: 'quadSphere', radius: 20, divisions: sides / 3 },
    ] as const)
      expect(offExact(buildPrimitive(base), ball).worst).toBeLessThan(ROUNDING);
    const torus = buildPrimitive({ primitive: 'torus', radius: 20, tubeRadius: 6, sides, tubeSides: sides });
    expect(offExact(torus, ring(20)).worst).toBeLessThan(ROUNDING);
  });

  it('looks the way of each side at the point of a cone, and nowhere between', () => {
    const cone = builtPiece({ primitive: 'cone', bottomRadius: 20, topRadius: 0, height: 60, sides: 16 });
    const shown = shadingNormals(cone);
    for (let f = 0; f < 16; f++) {
      const own = faceNormal(cone, f);
      const tip = cone.faceStart[f] + 2;
      const flat = (n: Vec3): Vec3 => unit([n[0], 0, n[2]]);
      expect(dot(flat(pointOf(shown, tip)), flat(own))).toBeCloseTo(1, 6);
    }
  });

  it('over an outline knows which of its sides are arcs', () => {
    const square: Array<[number, number]> = [[-30, -20], [30, -20], [30, 20], [-30, 20]]; // prettier-ignore
    const hole: Array<[number, number]> = [[-10, -8], [10, -8], [10, 8], [-10, 8]]; // prettier-ignore
    for (const contours of [[square], [[...square].reverse()], [square, hole]]) {
      const plate = buildPrimitive({
        primitive: 'outline',
        contours,
        height: 10,
        corner: 6,
        cornerSides: 5,
      } as Primitive);
      const arcs = (p: Vec3, f: number): Vec3 => {
        const [w, d] = Math.abs(p[0]) > 10.1 || Math.abs(p[2]) > 8.1 ? [30, 20] : [10, 8];
        const out: Vec3 = [p[0] - Math.sign(p[0]) * (w - 6), 0, p[2] - Math.sign(p[2]) * (d - 6)];
        return unit(dot(out, faceNormal(plate, f)) < 0 ? (out.map((x) => -x) as Vec3) : out);
      };
      // Four corners of five sides, each a quad.
      expect(offExact(plate, arcs)).toEqual({ worst: expect.closeTo(0, 1), known: contours.length * 80 });
    }
    const letter = (text: string): PolyMesh =>
      buildPrimitive({ primitive: 'text', text, sides: 6 } as Primitive);
    expect(letter('X').layers.corner.surface).toBeUndefined();
    const { worst, known } = offExact(letter('O'), (_, f) => faceNormal(letter('O'), f));
    expect(known).toBeGreaterThan(100);
    expect(worst).toBeLessThan(25);
  });
});

describe('a rounding', () => {
  it('has the normals of its body at every row, whatever its width and its segments', () => {
    for (const segments of [1, 2, 3, 4, 7])
      for (const [size, width] of [[[60, 40, 30], 3], [[60, 40, 30], 12], [[20, 90, 20], 8]] as Array<[Vec3, number]>) {
        const [w, height, depth] = size;
        const m = builtPiece({ primitive: 'box', width: w, height, depth }, [round(width, segments)]);
        const body = roundedBox(size, width);
        expect(offExact(m, (p, f) => body(p, faceNormal(m, f))).worst).toBeLessThan(ROUNDING);
        expect(exactError(m, body).worst).toBeLessThan(ROUNDING);
      } // prettier-ignore
  });

  it('goes on over the arcs of a plate and the rims of a cylinder, and over walls that are cut', () => {
    const plate = builtPiece(
      { primitive: 'outline', contours: [[[-30, -20], [30, -20], [30, 20], [-30, 20]]], height: 10, corner: 8, cornerSides: 12 } as Primitive,
      [round(1.5, 3)],
    ); // prettier-ignore
    const body = roundedPlate(60, 40, 8, 10, 1.5);
    expect(offExact(plate, (p, f) => body(p, faceNormal(plate, f))).worst).toBeLessThan(0.2);
    const rod = builtPiece({ primitive: 'cylinder', radius: 20, height: 60, sides: 48 }, [round(3, 4)]);
    const exact = roundedCylinder(20, 60, 3);
    expect(offExact(rod, (p, f) => exact(p, faceNormal(rod, f))).worst).toBeLessThan(0.2);
    const bored = builtPiece(
      { primitive: 'cylinder', radius: 40, height: 80, sides: 24 },
      [cut, { ...round(1, 3), scope: { rule: 'rims' } } as Step],
      [cutter({ primitive: 'cylinder', radius: 10, height: 120, sides: 24 }, { turn: [90, 0, 0] })],
    );
    const onWall: Body = (p, facing) => {
      const out = unit([p[0], 0, p[2]]);
      return Math.hypot(p[0], p[2]) > 39.6 && dot(out, facing) > Math.cos(0.14) ? out : null;
    };
    expect(exactError(bored, onWall).worst).toBeLessThan(ROUNDING);
  });

  it('is flat where a chamfer is asked for, and shades as a rounding where one segment of an arc is', () => {
    const base: Primitive = { primitive: 'box', width: 60, height: 40, depth: 30 };
    const chamfer = builtPiece(base, [round(3, 1, { profile: 0 })]);
    expect([...chamfer.layers.corner.surface.data].every((x) => x === 0)).toBe(true);
    expect(Math.max(...residual(chamfer).ofFace)).toBeLessThan(ROUNDING);
    expect(exactError(builtPiece(base, [round(3, 1)]), roundedBox([60, 40, 30], 3)).worst).toBeLessThan(
      ROUNDING,
    );
  });

  it('follows its profile: the normals of a scooped and of a half flat one are square to it', () => {
    for (const profile of [-1, -0.5, 0.5, 1.5]) {
      const m = builtPiece({ primitive: 'box', width: 60, height: 40, depth: 30 }, [
        round(6, 16, { profile }),
      ]);
      const surface = m.layers.corner.surface.data;
      let checked = 0;
      // In the middle of a strip the surface's normal at a row lies between those of the faces on either side.
      for (let f = 0; f < faceCount(m); f++) {
        if (m.layers.face.rank.data[f] !== 2) continue;
        const own = faceNormal(m, f);
        for (let c = m.faceStart[f]; c < m.faceStart[f + 1]; c++) {
          expect(dot(own, pointOf(surface, c))).toBeGreaterThan(Math.cos((20 * Math.PI) / 180));
          checked++;
        }
      }
      expect(checked).toBeGreaterThan(500);
    }
  });
});

describe('what is known of a surface', () => {
  const number = fc.integer({ min: 4, max: 20 });
  const bodies = fc.constantFrom(
    { base: { primitive: 'sphere', radius: 40, sides: 24, rings: 12 } as Primitive, exact: () => ball, tolerance: ROUNDING },
    { base: { primitive: 'quadSphere', radius: 40, divisions: 6 } as Primitive, exact: () => ball, tolerance: ROUNDING },
    { base: { primitive: 'cylinder', radius: 40, height: 80, sides: 16 } as Primitive, exact: wall, tolerance: ROUNDING },
  ); // prettier-ignore

  it('stays exact on what a cut leaves, and is the cutter’s on the walls it makes', () => {
    fc.assert(
      fc.property(
        bodies,
        number,
        fc.tuple(number, number, number),
        ({ base, exact, tolerance }, radius, turn) => {
          const m = builtPiece(
            base,
            [cut],
            [cutter({ primitive: 'cylinder', radius, height: 200, sides: 12 }, { turn })],
          );
          const own = exact(m);
          const host = (p: Vec3, f: number): Vec3 | null =>
            m.layers.face.origin?.data[2 * f] ? null : own(p, f);
          const { worst, known } = offExact(m, host);
          expect(known).toBeGreaterThan(24);
          expect(worst).toBeLessThan(tolerance);
          expect(residual(m).over2).toBe(0);
        },
      ),
      { numRuns: 40 },
    );
  });

  it('stays exact on a cone that is cut through its wall and below its point', () => {
    for (const sides of [12, 32]) {
      const cone: Primitive = { primitive: 'cone', bottomRadius: 20, topRadius: 0, height: 60, sides };
      for (const [base, transform] of [
        [{ primitive: 'box', width: 90, height: 20, depth: 90 }, { move: [0, 25, 0] }],
        [
          { primitive: 'box', width: 9, height: 90, depth: 90 },
          { move: [1, 0, 0], turn: [0, 10, 20] },
        ],
      ] as Array<[Primitive, Piece['transform']]>) {
        const m = builtPiece(cone, [cut], [cutter(base, transform)]);
        const exact = wall(m, 20 / 60);
        const onWall = (p: Vec3, f: number): Vec3 | null => {
          const isTip = Math.hypot(p[0], p[2]) < 1e-6;
          return isTip || m.layers.face.origin?.data[2 * f] ? null : exact(p, f);
        };
        // Between its corners a facet is nearer to the axis, and what is mixed there looks up by as much more.
        const chord = (180 * (Math.atan(1 / 3 / Math.cos(Math.PI / sides)) - Math.atan(1 / 3))) / Math.PI;
        expect(offExact(m, onWall).worst).toBeLessThan(chord + ROUNDING);
      }
    }
  });

  it('turns with mirrored and repeated pieces, and is there again after it was stored', () => {
    const base: Primitive = { primitive: 'box', width: 20, height: 20, depth: 20 };
    const steps: Step[] = [round(3, 3), { kind: 'repeat', pattern: 'linear', count: 3, offset: [40, 0, 0] }];
    const body = roundedBox([20, 20, 20], 3);
    const m = builtPiece(base, steps);
    const near = (p: Vec3): Vec3 => [p[0] - 40 * Math.round(p[0] / 40), p[1], p[2]];
    expect(offExact(m, (p, f) => body(near(p), faceNormal(m, f))).worst).toBeLessThan(ROUNDING);
    const mirrored = builtPiece({ primitive: 'cylinder', radius: 10, height: 20, sides: 16 }, [
      { kind: 'mirror', axes: ['x'] },
    ]);
    for (let f = 0; f < faceCount(mirrored); f++)
      for (let c = mirrored.faceStart[f]; c < mirrored.faceStart[f + 1]; c++)
        expect(dot(pointOf(shadingNormals(mirrored), c), faceNormal(mirrored, f))).toBeGreaterThan(0.97);
    const again = decodeMesh(encodeMesh(m));
    expect([...again.layers.corner.surface.data]).toEqual([...m.layers.corner.surface.data]);
  });

  it('is dropped where points are moved by hand, and only there', () => {
    const sphere = buildPrimitive({ primitive: 'sphere', radius: 20, sides: 24, rings: 12 });
    const { mesh } = act(sphere, { op: 'transform', select: { points: [100] }, move: [0, 3, 0] } as never);
    const known = (m: PolyMesh): number => offExact(m, () => null).known;
    expect(known(sphere) - known(mesh)).toBe(16);
    // The shading goes on over the facets about it, and the point that was moved is told.
    expect(residual(mesh).wrong.length).toBeLessThanOrEqual(16);
  });
});

describe('what is written', () => {
  const glb = async (mesh: PolyMesh): Promise<ReturnType<typeof trianglesOfGlb>> =>
    trianglesOfGlb(await writeParts('glb', [{ name: 'a', mesh, matrix: IDENTITY }], { unit: 'm', up: 'y' }));

  it('is shaded as the exact body, and what is told of weighed shading is what a reader finds', async () => {
    const shapes: Array<[Primitive, Step[], Body]> = [];
    for (const [width, segments] of [[3, 3], [3, 2], [8, 3], [3, 1], [5, 6]])
      shapes.push([
        { primitive: 'box', width: 60, height: 40, depth: 30 },
        [round(width, segments)],
        roundedBox([60, 40, 30], width),
      ]); // prettier-ignore
    shapes.push([
      { primitive: 'cone', bottomRadius: 20, topRadius: 14, height: 60, sides: 32 },
      [],
      coneWall(20, 14, 60),
    ]);
    for (const [base, steps, body] of shapes) {
      const built = await glb(builtPiece(base, [...steps, { kind: 'normals', weight: 'built' }]));
      // A triangle of a tapered wall mixes its corners a little otherwise than the wall turns.
      if (base.primitive === 'cone') expect(exactError(built, body).worst).toBeLessThan(1);
      else expect(exactError(built, body).worst).toBeLessThan(ROUNDING);
      for (const weight of ['area', 'angle'] as const) {
        const weighed = builtPiece(base, [...steps, { kind: 'normals', weight, hardAngle: 40 }]);
        const [told, found] = [residual(weighed), exactError(await glb(weighed), body)];
        const share = base.primitive === 'box' ? 1 : found.area / told.areas.reduce((sum, a) => sum + a, 0);
        for (const k of ['over2', 'over10'] as const)
          expect(Math.abs(told[k] - share * found[k])).toBeLessThan(0.02);
      }
    }
  });
});
