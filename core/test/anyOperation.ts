/** Random operations on random meshes, for tests of laws that all of them obey. */
import fc from 'fast-check';
import type { PolyMesh } from '../src/mesh/PolyMesh';
import { OPERATIONS } from '../src/ops';
import { runOperation } from '../src/ops/operation';
import { buildPrimitive, type Primitive } from '../src/primitives';
import { everything, grow } from '../src/select/grow';
import { elementCount, selectionOf, type ElementKind, type Selection } from '../src/select/selection';

const primitives: Primitive[] = [
  { primitive: 'box', width: 20, height: 14, depth: 10, segments: [3, 2, 2] },
  { primitive: 'cylinder', radius: 8, height: 20, sides: 10, rings: 3 },
  { primitive: 'quadSphere', radius: 10, divisions: 3 },
  { primitive: 'torus', radius: 12, tubeRadius: 4, sides: 10, tubeSides: 6 },
  { primitive: 'tube', outerRadius: 10, innerRadius: 6, height: 8, sides: 9 },
  { primitive: 'plane', width: 20, depth: 20, segments: [4, 3] },
  { primitive: 'disc', radius: 9, sides: 9 },
];

const everyFace = (m: PolyMesh): Selection => everything(m, 'face');
/** The primitives, and one in triangles. */
export const shapes: PolyMesh[] = [
  ...primitives.map(buildPrimitive),
  runOperation(
    OPERATIONS.triangulate,
    buildPrimitive(primitives[2]),
    everyFace(buildPrimitive(primitives[2])),
    {},
  ).mesh,
];

export interface Draw {
  op: string;
  kind: ElementKind;
  seed: number;
  grown: boolean;
  amount: number;
  pick: number;
}

const kinds: ElementKind[] = ['face', 'edge', 'vertex'];
export const drawn = fc.record({
  op: fc.constantFrom(...Object.keys(OPERATIONS)),
  kind: fc.constantFrom(...kinds),
  seed: fc.nat(10000),
  grown: fc.boolean(),
  amount: fc.double({ min: -3, max: 3, noNaN: true }),
  pick: fc.nat(3),
});

/** A few elements, near each other or strewn about. */
export function selectionFor(mesh: PolyMesh, d: Draw): Selection {
  // Turning over some faces only is meant to fold the edges around them.
  if (d.op === 'turnOver' || d.op === 'pairTriangles') return everyFace(mesh);
  const n = elementCount(mesh, d.kind);
  const some = Array.from({ length: d.pick + 1 }, (_, k) => (d.seed * (k + 1) * 7919) % n);
  const s = selectionOf(d.kind, some);
  return d.grown ? grow(mesh, s) : s;
}

export function paramsFor(d: Draw): Record<string, unknown> {
  const a = Math.abs(d.amount) < 0.05 ? 0.5 : d.amount;
  switch (d.op) {
    case 'transform':
      return {
        move: [a * 0.1, 0.2, -0.1],
        turn: [0, a, 0],
        reach: d.grown ? 6 : 0,
        along: d.pick % 2 ? 'surface' : 'straight',
        ...(d.pick === 3 && { weld: Math.abs(a) }),
        ...(d.seed % 5 === 0 && {
          surface: { base: { primitive: 'sphere', radius: 12 } },
          lay: ['nearest', 'along', 'center'][d.pick % 3],
        }),
      };
    case 'extrude':
      return { distance: Math.abs(a), by: d.grown ? 'region' : 'each', along: d.pick % 2 ? 'normal' : 'own' };
    case 'inset':
      return { thickness: a, by: d.pick % 2 ? 'region' : 'each' };
    case 'bevel':
    case 'supportLoops':
      return d.op === 'bevel'
        ? { width: Math.abs(a) * 0.3, segments: 1 + d.pick }
        : { distance: Math.abs(a) * 0.2 };
    case 'bevelPoints':
      return { width: Math.abs(a), segments: 1 + d.pick, profile: d.grown ? 1 : 0 };
    case 'ringCut':
      return { count: 1 + d.pick, slide: a / 4 };
    case 'knife':
      return { lines: [[[-30, 30, a], [a, 30, 0.3], [30, 30, -a]]], through: d.grown }; // prettier-ignore
    case 'drawFace':
      return { points: [[20, a, 0], [30, a, 0], [30, 0, 9 + a], [20, a, 8]] }; // prettier-ignore
    case 'planeSlice':
      return {
        point: [0, a, 0],
        normal: [0.1, 1, a / 5],
        keep: ['both', 'front', 'back', 'apart'][d.pick],
        cap: d.grown,
      };
    case 'weld':
      return { to: 'near', distance: 4 * Math.abs(a) };
    case 'slide':
      return { share: a / 4 };
    case 'push':
      return { distance: a / 10 };
    case 'relax':
      return { rounds: 2 };
    case 'flatten':
      return { strength: 0.2 };
    case 'makeRound':
      return { flat: false, even: false, radius: 0 };
    case 'thicken':
      return { thickness: Math.abs(a) };
    case 'rank':
      return { as: ['lead', 'plain', 'follow'][d.pick % 3] };
    case 'weigh':
      return { weight: (d.seed * 7) % 101, clear: d.pick === 2 };
    case 'holdNormals':
      return {
        to: [
          'face',
          'away',
          'smooth',
          'direction',
          'release',
          'at',
          'even',
          'mirror',
          'turn',
          'free',
          'cast',
        ][d.seed % 11],
        surface: { base: { primitive: 'sphere', radius: 30, sides: 12, rings: 6 } },
        reach: 20,
        degrees: 7 * a,
        strength: d.grown ? 1 : 0.4,
        point: [a, 3, -a],
      };
    case 'mark':
      return {
        marks: [['hard', 'crease'], ['crease'], ['seam'], ['round', 'seam']][d.pick],
        value: d.grown ? 1 : 0.4,
      };
    default:
      return {};
  }
}
