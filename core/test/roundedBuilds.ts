/** Random builds that are cut and rounded, and what must hold for each of them. */
import assert from 'node:assert/strict';
import fc from 'fast-check';
import { inspectMesh } from '../src/inspect/inspectMesh';
import { checkMesh } from '../src/mesh/checkMesh';
import { stripsMade, tracked } from '../src/mesh/lineage';
import { eulerCharacteristic, faceNormal, sizeOf } from '../src/mesh/measure';
import { faceCount, faceLoop, type PolyMesh } from '../src/mesh/PolyMesh';
import { TOLERANCE } from '../src/mesh/tolerance';
import { topologyOf } from '../src/mesh/Topology';
import { IDENTITY, transformMatrix, transformMesh } from '../src/mesh/transform';
import { cross, distance, dot, length, pointOf, sub, type Vec3 } from '../src/mesh/vec3';
import { bevel, type BevelResult } from '../src/ops/bevel/bevel';
import type { BevelOptions } from '../src/ops/bevel/options';
import { buildPrimitive, type Primitive } from '../src/primitives';
import { rimEdges, sharpEdges } from '../src/select/edges';
import { cut, type CutMode } from '../src/solid/boolean';
import { smooth } from '../src/steps/smooth';
import { LIMITS } from '../src/ops/operation';
import { UNWATCHED } from '../src/watch';
import { deepestCrossing } from './crossings';
import { number, triple } from './anySolid';

const whole = (min: number, max: number) => fc.integer({ min, max });
const sides = fc.constantFrom(12, 16, 24, 32, 48, 96);
const host: fc.Arbitrary<Primitive> = fc.oneof(
  fc.record({ primitive: fc.constant('box' as const), width: number(40, 70), height: number(20, 60), depth: number(40, 70) }),
  fc.record({ primitive: fc.constant('cylinder' as const), radius: number(20, 30), height: number(40, 80), sides }),
  fc.record({ primitive: fc.constant('cone' as const), bottomRadius: number(22, 32), topRadius: number(8, 18), height: number(40, 80), sides }),
  fc.record({ primitive: fc.constant('sphere' as const), radius: fc.constant(30), sides: fc.constantFrom(12, 24, 48), rings: fc.constantFrom(8, 12, 24) }),
  fc.record({ primitive: fc.constant('quadSphere' as const), radius: fc.constant(30), divisions: whole(4, 12) }),
  fc.record({ primitive: fc.constant('torus' as const), radius: fc.constant(30), tubeRadius: number(7, 13), sides: fc.constantFrom(24, 48), tubeSides: fc.constantFrom(12, 24) }),
  fc.record({ primitive: fc.constant('tube' as const), outerRadius: number(24, 30), innerRadius: number(12, 20), height: number(30, 60), sides }),
); // prettier-ignore
const cutter: fc.Arbitrary<Primitive> = fc.oneof(
  fc.record({ primitive: fc.constant('cylinder' as const), radius: number(4, 12), height: fc.constant(150), sides: fc.constantFrom(8, 16, 24, 32) }),
  fc.record({ primitive: fc.constant('box' as const), width: number(6, 16), height: number(60, 140), depth: number(6, 16) }),
  fc.record({ primitive: fc.constant('sphere' as const), radius: number(6, 15), sides: fc.constantFrom(12, 24), rings: fc.constantFrom(8, 12) }),
); // prettier-ignore
const pose = fc.record({
  move: triple(-20, 20),
  turn: fc.oneof(
    triple(-180, 180),
    fc.tuple(...[0, 1, 2].map(() => fc.constantFrom(0, 90))) as fc.Arbitrary<Vec3>,
  ),
});

export interface RoundedBuild {
  host: Primitive;
  cutters: Array<{ base: Primitive; at: { move: Vec3; turn: Vec3 } }>;
  mode: CutMode;
  edges: 'rims' | 'sharp';
  rounding: Pick<BevelOptions, 'width' | 'segments' | 'profile'>;
}

export const anyRoundedBuild: fc.Arbitrary<RoundedBuild> = fc.record({
  host,
  cutters: fc.array(fc.record({ base: cutter, at: pose }), { minLength: 1, maxLength: 3 }),
  mode: fc.constantFrom<CutMode>('subtract', 'subtract', 'union', 'intersect'),
  edges: fc.constantFrom('rims', 'rims', 'sharp'),
  rounding: fc.record({
    width: fc.constantFrom(0.1, 0.25, 0.5, 1, 2, 3, 4),
    segments: whole(1, 8),
    profile: fc.constantFrom(-1, 0, 0.5, 1, 1.5, 2),
  }),
}); // prettier-ignore

export function cutBuild({ host, cutters, mode }: RoundedBuild): PolyMesh {
  return cut(
    { mesh: buildPrimitive(host), name: 'host' },
    cutters.map(({ base, at }, i) => ({
      mesh: transformMesh(buildPrimitive(base), transformMatrix({ ...at, size: [1, 1, 1] })),
      name: `c${i}`,
      id: `c${i}`,
    })),
    mode,
  ).mesh;
}

/** Faults of a rounding, one word each; none for a good one. */
export function faultsOfRounding(
  before: PolyMesh,
  { mesh, report }: BevelResult,
  crossing: (m: PolyMesh) => number = deepestCrossing,
): string[] {
  const faults = inspectMesh(mesh).findings.map((f) => f.code as string);
  if (eulerCharacteristic(mesh) !== eulerCharacteristic(before)) faults.push('another shape');
  const deep = crossing(mesh);
  if (deep > 1e-9) faults.push(`an edge goes ${deep} deep through a face`);
  const near = nearestPoints(mesh);
  if (near <= TOLERANCE.weld * sizeOf(mesh)) faults.push(`two points ${near} apart`);
  const least = Math.min(...report.groups.map((g) => g.reached));
  for (const { face } of stripsMade(mesh)) {
    const thin = thicknessOf(mesh, face);
    if (thin < least / 100) faults.push(`a strip face ${thin} thin`);
    const bent = bendOf(mesh, face);
    if (bent > BENT) faults.push(`a face of a strip with more than four corners bent by ${bent}`);
  }
  return faults;
}

/** Faces of more than four corners may be bent by this much, mm: whoever fans them out gets the same surface. */
const BENT = 1e-3;

/** How far apart the points of a face of more than four corners are across its plane, mm. */
function bendOf(m: PolyMesh, f: number): number {
  const points = faceLoop(m, f).map((v) => pointOf(m.positions, v));
  if (points.length < 5) return 0;
  const heights = points.map((p) => dot(p, faceNormal(m, f)));
  return Math.max(...heights) - Math.min(...heights);
}

/** Least distance between two points of the mesh, among those joined by an edge. */
function nearestPoints(m: PolyMesh): number {
  const { edges, edgeCount } = topologyOf(m);
  let least = Infinity;
  for (let e = 0; e < edgeCount; e++)
    least = Math.min(least, distance(pointOf(m.positions, edges[2 * e]), pointOf(m.positions, edges[2 * e + 1])));
  return least;
} // prettier-ignore

/** Twice the area over the longest side: how thin a face is. */
function thicknessOf(m: PolyMesh, f: number): number {
  const p = faceLoop(m, f).map((v) => pointOf(m.positions, v));
  let area: Vec3 = [0, 0, 0];
  for (let k = 1; k + 1 < p.length; k++) {
    const c = cross(sub(p[k], p[0]), sub(p[k + 1], p[0]));
    area = [area[0] + c[0], area[1] + c[1], area[2] + c[2]];
  }
  const longest = Math.max(...p.map((a, k) => distance(a, p[(k + 1) % p.length])));
  return length(area) / longest;
}

export function tryRounding(build: RoundedBuild): { before: PolyMesh; made: BevelResult } | null {
  const before = tracked(cutBuild(build));
  if (!faceCount(before)) return null;
  const edges = build.edges === 'rims' ? rimEdges(before) : sharpEdges(before, 30);
  return { before, made: bevel(before, edges, build.rounding) };
}

/** No edge through a face, no doubled point, no sliver, the shape it had. */
export const roundedBuilds = () =>
  fc.property(anyRoundedBuild, (build) => {
    const tried = tryRounding(build);
    if (tried) assert.deepEqual(faultsOfRounding(tried.before, tried.made), []);
  });

const smoothing = fc.record({
  crease: fc.option(fc.constant({ rule: 'sharp' as const, angle: 30 }), { nil: undefined }),
  limit: fc.boolean(),
});

/** Smoothed as cut or rounded: nothing goes through itself. @param corners of larger ones none is tried */
export const smoothedBuilds = (corners = Infinity) =>
  fc.property(anyRoundedBuild, fc.boolean(), smoothing, (build, rounded, how) => {
    const before = rounded ? tryRounding(build)?.made.mesh : cutBuild(build);
    if (!before || !faceCount(before) || before.corners.length > corners) return;
    const { mesh } = smooth.run(
      before,
      { kind: 'smooth', levels: 2, ...how },
      { piece: { id: 'p' }, operands: [], formed: before, frame: IDENTITY, final: false, limits: LIMITS, draft: false, watch: UNWATCHED, memory: {}, meshOf: () => before, name: (m) => m },
    ); // prettier-ignore
    assert.deepEqual(checkMesh(mesh).findings, []);
    const deep = deepestCrossing(mesh);
    assert.ok(deep < 1e-9, `an edge goes ${deep} deep through a face`);
  });

const cylinder = (radius: number, height: number, sides: number): Primitive => ({
  primitive: 'cylinder',
  radius,
  height,
  sides,
});

/** Hosts with room for a ball of 2 mm around a hole through their middle; a torus is bored through its tube. */
export const HOSTS: ReadonlyArray<[name: string, host: Primitive, aside: number]> = [
  ...[12, 24, 48, 96, 192].map((n): [string, Primitive, number] => [`cylinder of ${n}`, cylinder(25, 80, n), 0]),
  ['cone', { primitive: 'cone', bottomRadius: 30, topRadius: 18, height: 80, sides: 48 }, 0],
  ['sphere', { primitive: 'sphere', radius: 30, sides: 48, rings: 24 }, 0],
  ['quad sphere', { primitive: 'quadSphere', radius: 30, divisions: 10 }, 0],
  ['torus', { primitive: 'torus', radius: 34, tubeRadius: 16, sides: 48, tubeSides: 24 }, 34],
]; // prettier-ignore

const tilted = fc.record({
  turn: triple(-40, 40),
  move: triple(-6, 6),
  cutter: fc.oneof(
    fc.constantFrom(12, 24, 32, 48).map((n) => cylinder(6, 200, n)),
    fc.constant<Primitive>({ primitive: 'box', width: 11, height: 200, depth: 13 }),
  ),
});

/** Tilted holes through a host, rounded: what is wrong with any, and of each rim the share that has the full width. */
export function tiltedHoles(
  [, host, aside]: (typeof HOSTS)[number],
  width: number,
  numRuns: number,
  seed: number,
): { faults: string[]; full: number[] } {
  const faults: string[] = [];
  const full: number[] = [];
  for (const { turn, move, cutter } of fc.sample(tilted, { numRuns, seed })) {
    const at = {
      move: [move[0] + aside, move[1], move[2]] as Vec3,
      turn: [90 + turn[0], turn[1], turn[2]] as Vec3,
    };
    const build: RoundedBuild = {
      host,
      cutters: [{ base: cutter, at }],
      mode: 'subtract',
      edges: 'rims',
      rounding: { width, segments: 3, profile: 1 },
    };
    const { before, made } = tryRounding(build)!;
    faults.push(...faultsOfRounding(before, made));
    full.push(...made.report.groups.map((g) => g.full));
  }
  return { faults, full };
}

/** Share of numbers that are at least a bound. */
export const shareOf = (list: ReadonlyArray<number>, least: number): number =>
  list.filter((x) => x >= least).length / list.length;
