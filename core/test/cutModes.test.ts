/** Modes of a cut beside subtract, union and intersect: laws of volume on random solids, against bodies made in other ways. */
import { beforeAll, describe, expect, it } from 'vitest';
import fc from 'fast-check';
import '../src/planar/withClipper';
import { cutIn, type CutManner } from '../src/cutting/cutModes';
import { windingNumber } from '../src/cutting/winding';
import { checkMesh } from '../src/mesh/checkMesh';
import {
  boundsOf,
  eulerCharacteristic,
  faceNormal,
  shellCount,
  surfaceArea,
  volume,
} from '../src/mesh/measure';
import { partOf } from '../src/mesh/part';
import { faceCount, type PolyMesh } from '../src/mesh/PolyMesh';
import { topologyOf } from '../src/mesh/Topology';
import { transformMatrix, transformMesh, turnOver } from '../src/mesh/transform';
import { dot, pointOf, scale, type Vec3 } from '../src/mesh/vec3';
import { joinMeshes } from '../src/ops/join';
import { buildPrimitive, type Primitive } from '../src/primitives';
import { rimEdges } from '../src/select/edges';
import { cut, type CutMode } from '../src/solid/boolean';
import { loadKernel } from '../src/solid/kernel';
import { UNWATCHED } from '../src/watch';
import { deepestCrossing } from './crossings';
import { number, triple } from './anySolid';
import { refusal } from './refusal';
import { runs } from './effort';

beforeAll(async () => {
  await loadKernel();
});

const at = (p: Primitive, move: Vec3 = [0, 0, 0], turn: Vec3 = [0, 0, 0]): PolyMesh =>
  transformMesh(buildPrimitive(p), transformMatrix({ move, turn, size: [1, 1, 1] }));
const box = (width: number, height: number, depth: number): Primitive => ({ primitive: 'box', width, height, depth }); // prettier-ignore
const cylinder = (radius: number, height: number, sides: number): Primitive => ({ primitive: 'cylinder', radius, height, sides }); // prettier-ignore

const USUAL: CutManner = {
  mode: 'subtract',
  voids: 'keep',
  keep: 'both',
  gap: 0,
  gapFrom: 'both',
  thickness: 2,
  nearest: false,
  wall: 'inside',
  apart: false,
};
const cutting = (host: PolyMesh, cutters: PolyMesh[], how: Partial<CutManner>) =>
  cutIn(
    { mesh: host, name: 'host', id: 'host' },
    cutters.map((mesh, i) => ({ mesh, name: `cutter ${i}`, id: `c${i}` })),
    { ...USUAL, ...how },
    { joins: true, widest: Infinity, watch: UNWATCHED },
  );
const made = (host: PolyMesh, cutters: PolyMesh[], how: Partial<CutManner>): PolyMesh =>
  cutting(host, cutters, how).result.mesh;
const plain = (host: PolyMesh, cutters: PolyMesh[], mode: CutMode): PolyMesh =>
  cut({ mesh: host, name: 'host' }, cutters.map((mesh, i) => ({ mesh, name: `${i}`, id: `${i}` })), mode).mesh; // prettier-ignore

function expectSound(mesh: PolyMesh): void {
  expect(checkMesh(mesh).findings).toEqual([]);
  expect(deepestCrossing(mesh)).toBeLessThan(1e-9 * Math.max(1, ...boundsOf(mesh).max));
}

/** A convex host, and a cutter that stands in its surface. */
const host = fc.oneof(
  fc.record({ primitive: fc.constant('box' as const), width: number(20, 40), height: number(20, 40), depth: number(20, 40) }), // prettier-ignore
  fc.record({ primitive: fc.constant('cylinder' as const), radius: number(12, 20), height: number(20, 40), sides: fc.integer({ min: 5, max: 24 }) }), // prettier-ignore
  fc.record({ primitive: fc.constant('cone' as const), bottomRadius: number(15, 20), topRadius: number(8, 12), height: number(20, 40), sides: fc.integer({ min: 5, max: 16 }) }), // prettier-ignore
);
const cutter = fc
  .record({
    shape: fc.oneof(
      fc.record({ primitive: fc.constant('box' as const), width: number(8, 14), height: number(10, 40), depth: number(8, 14) }), // prettier-ignore
      fc.record({ primitive: fc.constant('cylinder' as const), radius: number(4, 7), height: number(10, 40), sides: fc.integer({ min: 5, max: 16 }) }), // prettier-ignore
    ),
    turn: triple(-180, 180),
    out: fc.tuple(number(-1, 1), number(-1, 1), number(-1, 1)),
  })
  .map(({ shape, turn, out }) => at(shape, scale(out, 12), turn));
const through = fc
  .record({
    shape: fc.oneof(
      fc.record({ primitive: fc.constant('box' as const), width: number(8, 14), height: fc.constant(120), depth: number(8, 14) }), // prettier-ignore
      fc.record({ primitive: fc.constant('cylinder' as const), radius: number(4, 7), height: fc.constant(120), sides: fc.integer({ min: 5, max: 16 }) }), // prettier-ignore
    ),
    turn: triple(-180, 180),
    beside: triple(-12, 12),
  })
  .map(({ shape, turn, beside }) => at(shape, beside, turn));
const pair = fc.tuple(host.map((p) => at(p)), cutter); // prettier-ignore

/** A convex body with all its planes moved outward, cut out of a block plane by plane. */
function planesMoved(mesh: PolyMesh, by: number): PolyMesh {
  const seen: Array<{ n: Vec3; d: number }> = [];
  for (let f = 0; f < faceCount(mesh); f++) {
    const n = faceNormal(mesh, f);
    const d = dot(n, pointOf(mesh.positions, mesh.corners[mesh.faceStart[f]]));
    if (!seen.some((s) => dot(s.n, n) > 1 - 1e-9 && Math.abs(s.d - d) < 1e-6)) seen.push({ n, d });
  }
  const half = ({ n, d }: { n: Vec3; d: number }): PolyMesh => {
    // A block beyond the plane: turned so that its x runs along the normal.
    const other: Vec3 = Math.abs(n[0]) < 0.9 ? [1, 0, 0] : [0, 1, 0];
    const u = unit3(cross3(n, other));
    const v = cross3(n, u);
    const b = buildPrimitive(box(400, 400, 400));
    const positions = b.positions.slice();
    for (let i = 0; i < positions.length; i += 3) {
      const [x, y, z] = [positions[i] + 200 + d + by, positions[i + 1], positions[i + 2]];
      for (let k = 0; k < 3; k++) positions[i + k] = x * n[k] + y * u[k] + z * v[k];
    }
    return { ...b, positions };
  };
  return plain(at(box(150, 150, 150)), seen.map(half), 'subtract');
}
const cross3 = (a: Vec3, b: Vec3): Vec3 => [a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0]]; // prettier-ignore
const unit3 = (a: Vec3): Vec3 => scale(a, 1 / Math.hypot(...a));

describe('a split', () => {
  it('is the host in two, and the parts add up', () => {
    fc.assert(
      fc.property(pair, ([a, b]) => {
        const both = made(a, [b], { mode: 'split' });
        const [inside, outside] = (['inside', 'outside'] as const).map((keep) =>
          made(a, [b], { mode: 'split', keep }),
        );
        for (const m of [inside, outside]) expectSound(m);
        expect(volume(both)).toBeCloseTo(volume(a), 6);
        expect(volume(inside) + volume(outside)).toBeCloseTo(volume(a), 6);
        expect(faceCount(both)).toBe(faceCount(inside) + faceCount(outside));
        expect(volume(inside)).toBeCloseTo(volume(plain(a, [b], 'intersect')), 6);
      }),
      { numRuns: runs(12, 25), seed: 1 },
    );
  });

  it('has a gap of its width, from either half or from both', () => {
    const plate = at(box(40, 10, 40));
    const wall = at(box(10, 60, 60), [3, 0, 0]);
    for (const [gapFrom, inside] of [
      ['both', 9],
      ['inside', 8],
      ['outside', 10],
    ] as const) {
      // prettier-ignore
      const m = made(plate, [wall], { mode: 'split', gap: 1, gapFrom });
      expectSound(m);
      expect(shellCount(m)).toBe(3);
      expect(volume(m)).toBeCloseTo(400 * (40 - 2), 8);
      const kept = made(plate, [wall], { mode: 'split', gap: 1, gapFrom, keep: 'inside' });
      expect(volume(kept)).toBeCloseTo(400 * inside, 8);
    }
  });

  it('keeps one inside for several cutters that meet', () => {
    const [a, b] = [at(cylinder(5, 60, 24)), at(box(30, 60, 4))];
    const m = made(at(box(40, 20, 40)), [a, b], { mode: 'split', keep: 'inside' });
    expectSound(m);
    expect(shellCount(m)).toBe(1);
    expect(volume(m)).toBeCloseTo(
      volume(plain(plain(a, [b], 'union'), [at(box(90, 20, 90))], 'intersect')),
      6,
    );
  });
});

const whole = (min: number, max: number) => fc.integer({ min, max });

describe('recess and raise', () => {
  it('heed nothing of the host that is far from the cutter, however narrow', () => {
    // A groove narrower than the layer is thick, and a hole, in the face that is recessed beside them.
    const narrow = plain(at(box(120, 40, 80)), [at(box(40, 40, 1), [-20, 20, 30]), at(cylinder(5, 90, 48), [-10, 0, 10])], 'subtract');
    const cutter = at(box(20, 40, 14), [45, 20, 12]);
    for (const mode of ['recess', 'raise'] as const) {
      const m = made(narrow, [cutter], { mode, thickness: 2 });
      expectSound(m);
      expect(volume(m) - volume(narrow)).toBeCloseTo((mode === 'raise' ? 2 : -2) * 20 * 14, 6);
    }
  }); // prettier-ignore

  it('take and add what lies in the cutter and the layer, to the planes moved by the thickness', () => {
    fc.assert(
      // Right through: a cutter that ends just under a wall leaves that wall alone.
      fc.property(
        host.map((p) => at(p)),
        through,
        number(0.3, 3),
        (a, b, thickness) => {
          const inCutter = (m: PolyMesh): number => volume(plain(m, [b], 'intersect'));
          const recess = made(a, [b], { mode: 'recess', thickness });
          expectSound(recess);
          const under = inCutter(a) - inCutter(planesMoved(a, -thickness));
          expect(volume(a) - volume(recess)).toBeCloseTo(under, 5);
          const raise = made(a, [b], { mode: 'raise', thickness });
          expectSound(raise);
          const over = inCutter(planesMoved(a, thickness)) - inCutter(a);
          expect(volume(raise) - volume(a)).toBeCloseTo(over, 5);
        },
      ),
      { numRuns: runs(12, 25), seed: 2 },
    );
  });

  it('run over the rim of a pocket, down its wall and along its floor', () => {
    fc.assert(
      fc.property(whole(8, 30), whole(8, 24), whole(2, 6), whole(-14, 14), whole(-10, 10), whole(6, 20), whole(6, 16), fc.constantFrom(0.3, 0.4, 0.7), (wide, long, deep, x, z, w, l, t) => {
        /** A block with a pocket in its top, all of its planes moved outward. */
        const block = (by: number): PolyMesh =>
          plain(at(box(80 + 2 * by, 20 + 2 * by, 60 + 2 * by)), [at(box(wide - 2 * by, 40, long - 2 * by), [0, 30 - deep + by, 0])], 'subtract');
        // Nowhere flush with a wall, or with a layer of one.
        const cutter = at(box(w + 0.12, deep + 6, l + 0.12), [x, 10 - deep / 2 + 0.1, z]);
        const inCutter = (m: PolyMesh): number => volume(plain(m, [cutter], 'intersect'));
        const a = block(0);
        const raise = made(a, [cutter], { mode: 'raise', thickness: t });
        expectSound(raise);
        expect(volume(raise) - volume(a)).toBeCloseTo(inCutter(block(t)) - inCutter(a), 5);
        const recess = made(a, [cutter], { mode: 'recess', thickness: t });
        expectSound(recess);
        expect(volume(a) - volume(recess)).toBeCloseTo(inCutter(a) - inCutter(block(-t)), 5);
      }),
      { numRuns: runs(25, 60), seed: 4 },
    );
  }); // prettier-ignore

  it('have a floor that is as round as the wall', () => {
    for (const sides of [24, 96]) {
      const wall = at(cylinder(20, 60, sides));
      const m = made(wall, [at(box(30, 20, 16), [20, 0, 0])], { mode: 'recess', thickness: 3 });
      expectSound(m);
      // Floor points lie on a prism three millimetres further in.
      const apothem = 20 * Math.cos(Math.PI / sides) - 3;
      let floor = 0;
      for (let f = 0; f < faceCount(m); f++) {
        const n = faceNormal(m, f);
        const d = dot(n, pointOf(m.positions, m.corners[m.faceStart[f]]));
        if (Math.abs(n[1]) < 1e-9 && Math.abs(d - apothem) < 1e-6) floor++;
      }
      expect(floor).toBeGreaterThan((sides * 16) / (2 * Math.PI * 20) - 2);
    }
  });

  it('leave walls alone that the cutter only comes near', () => {
    const plate = at(box(40, 10, 40));
    const m = made(plate, [at(cylinder(5, 8, 24), [0, 2, 0])], { mode: 'recess' });
    expectSound(m);
    expect([shellCount(m), volume(plate) - volume(m)]).toEqual([1, expect.closeTo(2 * volume(at(cylinder(5, 1, 24))), 6)]); // prettier-ignore
  });

  it('go round what is beside them, however narrow', () => {
    // A pocket whose edge leaves a sliver of a facet: its walls cannot move far.
    const wall = made(at(cylinder(30, 60, 96)), [at(box(30, 26, 40), [0, 8, 30])], { mode: 'recess', thickness: 3 }); // prettier-ignore
    const badge = at(cylinder(8, 60, 48), [30, 8, 9], [0, 0, 90]);
    const m = made(wall, [badge], { mode: 'raise' });
    expectSound(m);
    expect(volume(m)).toBeGreaterThan(volume(wall) + 400);
  });

  it('cover what lies in any of the faces that a face with holes is divided in', () => {
    const holes = [[-40, -25], [-40, 25], [40, -25], [40, 25]].map(([x, z]) => at(cylinder(4, 60, 16), [x, 0, z]));
    const bored = made(at(box(120, 20, 80)), holes, { mode: 'subtract' });
    for (const [x, z] of [[0, 0], [-50, 0], [50, 0], [0, -34], [0, 34], [12, 20]]) {
      const sign = at({ primitive: 'text', text: 'Ai', size: 8, height: 6 }, [x, 10, z]);
      const covered = volume(sign) / 6;
      for (const [mode, way] of [['raise', 1], ['recess', -1]] as const) {
        const { result, warnings } = cutting(bored, [sign], { mode, thickness: 0.8 });
        expect(volume(result.mesh) - volume(bored)).toBeCloseTo(way * 0.8 * covered, 6);
        // Letters are bodies of their own, and each meets one wall.
        expect(warnings).toEqual([]);
        const nearest = cutting(bored, [sign], { mode, thickness: 0.8, nearest: true });
        expect(volume(nearest.result.mesh)).toBeCloseTo(volume(result.mesh), 9);
      }
    }
  }); // prettier-ignore

  it('tell when they reach another wall, and can be held to the nearest', () => {
    const plate = at(box(40, 10, 40));
    const through = at(cylinder(5, 60, 24), [0, 4, 0]);
    const area = volume(plain(through, [at(box(90, 1, 90))], 'intersect'));
    const both = cutting(plate, [through], { mode: 'recess' });
    expect(both.warnings.map((w) => w.code)).toEqual(['several-walls']);
    expect(volume(plate) - volume(both.result.mesh)).toBeCloseTo(4 * area, 6);
    const one = cutting(plate, [through], { mode: 'recess', nearest: true });
    expect(one.warnings).toEqual([]);
    expect(volume(plate) - volume(one.result.mesh)).toBeCloseTo(2 * area, 6);
    expect(boundsOf(one.result.mesh)).toEqual(boundsOf(plate));
  });

  it('leave rims that can be rounded, named by the cutter', () => {
    const { result } = cutting(at(box(40, 20, 40)), [at(cylinder(5, 10, 24), [0, 10, 0])], {
      mode: 'recess',
    });
    expect(rimEdges(result.mesh).length).toBe(24);
    expect([...new Set(result.operandOfFace)].sort()).toEqual([0, 1]);
  });
});

describe('a sleeve', () => {
  const area = (radius: number, sides: number): number => (sides / 2) * radius ** 2 * Math.sin((2 * Math.PI) / sides); // prettier-ignore
  /** Radius of a tube whose walls have moved. */
  const moved = (radius: number, sides: number, by: number): number =>
    radius + by / Math.cos(Math.PI / sides);
  const hollow = joinMeshes([at(box(40, 20, 40)), turnOver(at(box(36, 16, 36)))]);

  it('lines a hole in a solid, inside it or around it, as one body or apart', () => {
    const solid = at(box(40, 20, 40));
    const [r, n] = [6, 24];
    const tool = at(cylinder(r, 60, n));
    const full = 40 * 20 * 40;
    const hole = (by: number): number => 20 * area(moved(r, n, by), n);
    for (const [wall, apart, holes, shells] of [
      ['inside', false, hole(-2), 1],
      ['inside', true, hole(-2), 2],
      ['outside', false, hole(0), 1],
      ['outside', true, hole(0), 2],
    ] as const) {
      // prettier-ignore
      const m = made(solid, [tool], { mode: 'sleeve', wall, apart });
      if (!apart) expectSound(m);
      expect(volume(m)).toBeCloseTo(full - holes, 6);
      expect(shellCount(m)).toBe(shells);
    }
    // A blind hole has a lined floor.
    const blind = made(solid, [at(cylinder(r, 20, n), [0, 10, 0])], { mode: 'sleeve' });
    expect(volume(blind)).toBeCloseTo(full - 8 * area(moved(r, n, -2), n), 6);
  });

  it('runs through hollows from wall to wall, and does not stand out of them', () => {
    fc.assert(
      fc.property(number(3, 7), fc.integer({ min: 5, max: 24 }), number(0.5, 2), fc.constantFrom<'inside' | 'outside'>('inside', 'outside'), number(0, 360), (r, n, t, wall, turn) => {
        const m = made(hollow, [at(cylinder(r, 60, n), [1, 0, 2], [0, turn, 0])], { mode: 'sleeve', thickness: t, wall });
        expectSound(m);
        const [inner, outer] = wall === 'inside' ? [moved(r, n, -t), r] : [r, moved(r, n, t)];
        expect(volume(m)).toBeCloseTo(volume(hollow) - 4 * area(inner, n) + 16 * (area(outer, n) - area(inner, n)), 5);
        const { max } = boundsOf(m);
        boundsOf(hollow).max.forEach((x, k) => expect(max[k]).toBeCloseTo(x, 12));
        expect(eulerCharacteristic(m)).toBe(0);
      }),
      { numRuns: 12, seed: 3 },
    ); // prettier-ignore
  });

  it('meets another, and both stay open', () => {
    const tools = [at(cylinder(5, 60, 24)), at(cylinder(5, 60, 24), [0, 0, 0], [90, 0, 0])];
    const m = made(hollow, tools, { mode: 'sleeve', wall: 'outside', thickness: 1 });
    expectSound(m);
    // Through both, in and out.
    for (const p of [[0, 0, 0], [0, 9, 0], [0, 0, 19]] as Vec3[]) expect(windingNumber(m, p)).toBeCloseTo(0, 6); // prettier-ignore
    expect(windingNumber(m, [5.5, 5.7, 0])).toBeCloseTo(1, 6);
  });

  it('refuses a wall the cutter has no room for, and names it', () => {
    expect(refusal(() => made(hollow, [at(cylinder(5, 60, 24))], { mode: 'sleeve', thickness: 6 }))).toBe('too-thick'); // prettier-ignore
  });
});

describe('cutters that do not touch the piece', () => {
  it('change nothing, in any mode, beside others that do', () => {
    const [block, far, near] = [at(box(40, 20, 40)), at(box(5, 5, 5), [90, 0, 0]), at(cylinder(5, 60, 12))];
    for (const mode of ['subtract', 'split', 'recess', 'raise', 'sleeve', 'imprint'] as const) {
      const alone = cutting(block, [far], { mode });
      expect([mode, alone.result.report.touched, volume(alone.result.mesh)]).toEqual([mode, false, 32_000]);
      const { result } = cutting(block, [far, near], { mode });
      expectSound(result.mesh);
      expect(volume(result.mesh)).toBeCloseTo(volume(made(block, [near], { mode })), 8);
      // Faces named by a cutter are named by the one that cut.
      expect([...new Set(result.operandOfFace)].filter((x) => x === 1)).toEqual([]);
    }
  });
});

describe('an imprint', () => {
  /** Lines on flat faces are no rims to round, but they are marked. */
  const marked = (m: PolyMesh): number => (m.layers.edge.cut?.data ?? []).filter((x: number) => x > 0).length;

  it('divides faces along the line where they meet, and changes nothing else', () => {
    fc.assert(
      fc.property(pair, ([a, b]) => {
        const m = made(a, [b], { mode: 'imprint' });
        expectSound(m);
        expect(volume(m)).toBeCloseTo(volume(a), 6);
        expect(surfaceArea(m)).toBeCloseTo(surfaceArea(a), 6);
        expect(eulerCharacteristic(m)).toBe(2);
        // The line is that of the cut.
        expect(marked(m)).toBe(marked(plain(a, [b], 'subtract')));
        if (marked(m)) expect(faceCount(m)).toBeGreaterThan(faceCount(a));
      }),
      { numRuns: runs(12, 25), seed: 4 },
    );
  });

  it('takes several cutters, one after the other', () => {
    const m = made(at(box(40, 20, 40)), [at(cylinder(8, 60, 24)), at(box(60, 10, 6))], { mode: 'imprint' });
    expectSound(m);
    expect(marked(m)).toBe(2 * 24 + 8);
  });
});

describe('a union', () => {
  const shell = (outer: number, inner: number): PolyMesh => joinMeshes([at(box(outer, outer, outer)), turnOver(at(box(inner, inner, inner)))]); // prettier-ignore

  it('keeps hollows, or drops all that cannot be reached from outside', () => {
    // A kernel in a hollow, and a bar through the wall that ends in it.
    const [crate, bar] = [shell(40, 30), at(box(30, 4, 4), [25, 0, 0])];
    const core = at(box(6, 6, 6), [-5, 0, 0]);
    const kept = made(crate, [bar, core], { mode: 'union' });
    const dropped = made(crate, [bar, core], { mode: 'union', voids: 'drop' });
    for (const m of [kept, dropped]) expectSound(m);
    expect([shellCount(kept), shellCount(dropped)]).toEqual([3, 1]);
    expect(volume(kept)).toBeCloseTo(40 ** 3 - 30 ** 3 + 16 * 25 + 6 ** 3, 6);
    expect(volume(dropped)).toBeCloseTo(40 ** 3 + 16 * 20, 6);
  });

  it('leaves bodies beside each other alone', () => {
    const m = made(at(box(10, 10, 10)), [at(box(10, 10, 10), [30, 0, 0])], { mode: 'union', voids: 'drop' });
    expect([shellCount(m), volume(m)]).toEqual([2, 2000]);
  });
});

describe('an open sheet', () => {
  /** A solid with some of its faces gone. */
  const open = (m: PolyMesh, gone: number[]): PolyMesh =>
    partOf(
      m,
      Uint8Array.from({ length: faceCount(m) }, (_, f) => Number(!gone.includes(f))),
    ).mesh;
  const openEdges = (m: PolyMesh): number => topologyOf(m).edgeUse.filter((n) => n === 1).length;

  it('is trimmed, keeps its faces where they were, and gets no walls', () => {
    fc.assert(
      fc.property(host.map((p) => open(at(p), [0])), cutter, (sheet, tool) => {
        const outside = made(sheet, [tool], { mode: 'subtract' });
        const inside = made(sheet, [tool], { mode: 'intersect' });
        expect(surfaceArea(outside) + surfaceArea(inside)).toBeCloseTo(surfaceArea(sheet), 6);
        for (const m of [outside, inside]) {
          expect(checkMesh(m).findings.filter((f) => f.code !== 'open-edge')).toEqual([]);
          // Every face lies in a plane of the sheet.
          for (let f = 0; f < faceCount(m); f++) {
            const [n, p] = [faceNormal(m, f), pointOf(m.positions, m.corners[m.faceStart[f]])];
            const lies = Array.from({ length: faceCount(sheet) }, (_, g) => g).some((g) => {
              const q = pointOf(sheet.positions, sheet.corners[sheet.faceStart[g]]);
              return dot(n, faceNormal(sheet, g)) > 1 - 1e-9 && Math.abs(dot(n, p) - dot(n, q)) < 1e-6;
            });
            expect(lies).toBe(true);
          }
        }
        const both = made(sheet, [tool], { mode: 'imprint' });
        expect(surfaceArea(both)).toBeCloseTo(surfaceArea(sheet), 6);
        expect(faceCount(both)).toBe(faceCount(outside) + faceCount(inside));
      }),
      { numRuns: runs(10, 20), seed: 5 },
    ); // prettier-ignore
  });

  it('has the rim of the cutter, and a warning that says what was done', () => {
    const plane = at({ primitive: 'plane', width: 40, depth: 40, segments: [2, 2] });
    const { result, warnings } = cutting(plane, [at(cylinder(5, 20, 24), [7, 0, 8])], { mode: 'subtract' });
    expect(warnings.map((w) => w.code)).toEqual(['trimmed']);
    const hole = volume(at(cylinder(5, 1, 24)));
    expect(surfaceArea(result.mesh)).toBeCloseTo(1600 - hole, 9);
    // The outline with the points of its divisions, and the rim.
    expect(openEdges(result.mesh)).toBe(8 + 24);
    const halves = made(plane, [at(box(60, 20, 10))], { mode: 'split', gap: 1 });
    expect(surfaceArea(halves)).toBeCloseTo(1600 - 2 * 40, 9);
    expect(refusal(() => made(plane, [at(box(9, 9, 9))], { mode: 'union' }))).toBe('open-operand');
  });
});
