/** Random sequences of all operations on random meshes keep every invariant, and come back when undone. */
import fc from 'fast-check';
import { beforeAll, describe, expect, it } from 'vitest';
import { ActionRun, type Action } from '../src/document/actions';
import { encodeMesh } from '../src/formats/meshBlob';
import { checkMesh } from '../src/mesh/checkMesh';
import { LAYER_KINDS } from '../src/mesh/layerKinds';
import type { Domain, Layer } from '../src/mesh/layers';
import { OperationError } from '../src/mesh/errors';
import { faceCount, type PolyMesh } from '../src/mesh/PolyMesh';
import { topologyOf } from '../src/mesh/Topology';
import { OPERATIONS } from '../src/ops';
import { runOperation } from '../src/ops/operation';
import { buildPrimitive, type Primitive } from '../src/primitives';
import { everything, grow } from '../src/select/grow';
import { listed } from '../src/select/rules';
import { elementCount, selectionOf, type ElementKind, type Selection } from '../src/select/selection';
import { loadKernel } from '../src/solid/kernel';

beforeAll(async () => {
  await loadKernel();
});

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
const shapes: PolyMesh[] = [
  ...primitives.map(buildPrimitive),
  runOperation(
    OPERATIONS.triangulate,
    buildPrimitive(primitives[2]),
    everyFace(buildPrimitive(primitives[2])),
    {},
  ).mesh,
];

/** Operations defined to open a mesh, or to leave loose faces. */
const OPENS = new Set([
  'openAlong',
  'drawFace',
  'deleteFaces',
  'keepFaces',
  'splitApart',
  'copyFaces',
  'planeSlice',
  'turnOver',
  'mirrorOnce',
  'thicken',
]);

interface Draw {
  op: string;
  kind: ElementKind;
  seed: number;
  grown: boolean;
  amount: number;
  pick: number;
}

const kinds: ElementKind[] = ['face', 'edge', 'vertex'];
const drawn = fc.record({
  op: fc.constantFrom(...Object.keys(OPERATIONS)),
  kind: fc.constantFrom(...kinds),
  seed: fc.nat(10000),
  grown: fc.boolean(),
  amount: fc.double({ min: -3, max: 3, noNaN: true }),
  pick: fc.nat(3),
});

/** A few elements, near each other or strewn about. */
function selectionFor(mesh: PolyMesh, d: Draw): Selection {
  // Turning over some faces only is meant to fold the edges around them.
  if (d.op === 'turnOver' || d.op === 'pairTriangles') return everyFace(mesh);
  const n = elementCount(mesh, d.kind);
  const some = Array.from({ length: d.pick + 1 }, (_, k) => (d.seed * (k + 1) * 7919) % n);
  const s = selectionOf(d.kind, some);
  return d.grown ? grow(mesh, s) : s;
}

function paramsFor(d: Draw): Record<string, unknown> {
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
    case 'mark':
      return {
        marks: [['hard', 'crease'], ['crease'], ['seam'], ['round', 'seam']][d.pick],
        value: d.grown ? 1 : 0.4,
      };
    default:
      return {};
  }
}

/** Findings that are no fault of an operation on this input. */
function faults(mesh: PolyMesh, opened: boolean): string[] {
  return checkMesh(mesh)
    .findings.map((f) => f.code)
    .filter((c) => !(opened && (c === 'open-edge' || c === 'folded-edge')) && c !== 'zero-area');
}

describe('random sequences of operations', () => {
  it('keep a mesh sound and closed, and refuse with a sentence', () => {
    const acted = new Map<string, number>();
    fc.assert(
      fc.property(
        fc.nat(shapes.length - 1),
        fc.array(drawn, { minLength: 1, maxLength: 5 }),
        (shape, draws) => {
          let mesh = shapes[shape];
          let opened = checkMesh(mesh).findings.length > 0;
          for (const d of draws) {
            if (faceCount(mesh) > 3000) return;
            try {
              const out = runOperation(OPERATIONS[d.op], mesh, selectionFor(mesh, d), paramsFor(d));
              opened ||= OPENS.has(d.op);
              expect([d.op, faults(out.mesh, opened)]).toEqual([d.op, []]);
              for (const i of out.selection.indices)
                expect(i).toBeLessThan(elementCount(out.mesh, out.selection.kind));
              expect(out.report).toMatch(/\.$/);
              acted.set(d.op, (acted.get(d.op) ?? 0) + 1);
              mesh = out.mesh;
            } catch (e) {
              if (!(e instanceof OperationError)) throw e;
              expect(e.message).toMatch(/[.!]$/);
            }
          }
        },
      ),
      { numRuns: 500, seed: 20261125 },
    );
    // The test is about all of them: none may only ever refuse.
    expect([...acted.keys()].sort()).toEqual(Object.keys(OPERATIONS).sort());
  });

  it('give the same bytes again, and those of before when taken back', () => {
    fc.assert(
      fc.property(
        fc.nat(shapes.length - 1),
        fc.array(drawn, { minLength: 2, maxLength: 4 }),
        (shape, draws) => {
          const base = shapes[shape];
          const run = new ActionRun();
          const actions: Action[] = [];
          const bytes: Uint8Array[] = [encodeMesh(base)];
          for (const d of draws) {
            const { mesh } = run.run(base, actions);
            actions.push({ op: d.op, select: listed(selectionFor(mesh, d)), ...paramsFor(d) });
            bytes.push(encodeMesh(run.run(base, actions).mesh));
          }
          expect(encodeMesh(new ActionRun().run(base, actions).mesh)).toEqual(bytes[bytes.length - 1]);
          for (let k = actions.length; k >= 0; k--)
            expect(encodeMesh(run.run(base, actions.slice(0, k)).mesh)).toEqual(bytes[k]);
        },
      ),
      { numRuns: 60, seed: 7 },
    );
  });
});

describe('layers', () => {
  /** Every layer of the registry with values that can be told apart, and two that are in none. */
  function layered(m: PolyMesh): PolyMesh {
    const counts = {
      vertex: m.positions.length / 3,
      edge: topologyOf(m).edgeCount,
      corner: m.corners.length,
      face: faceCount(m),
    };
    const layers: Record<Domain, Record<string, Layer>> = { vertex: {}, edge: {}, corner: {}, face: {} };
    const put = (on: Domain, name: string, size: number, at: (i: number, k: number) => number): void => {
      const data = Float32Array.from({ length: counts[on] * size }, (_, i) => at((i / size) | 0, i % size));
      layers[on][name] = { size, data };
    };
    for (const { name, on, size, value } of LAYER_KINDS)
      if (value === 'code') put(on, name, size, (i) => 1 + (i % 2));
      else if (value === 'number') put(on, name, size, (i) => (i % 5) / 4);
      else put(on, name, size, (i, k) => (k === i % 3 ? 1 : 0));
    put('vertex', 'warmth', 1, (i) => i % 7);
    put('face', 'mossiness', 2, (i) => i % 3);
    return { ...m, layers };
  }
  const rangeOf = (l: Layer): [number, number] => [Math.min(0, ...l.data), Math.max(0, ...l.data)];

  it('go through every operation by the word of their registry, known or not', () => {
    const acted = new Set<string>();
    // Rims to fill and to bridge as well.
    const open: Primitive = { primitive: 'cylinder', radius: 8, height: 20, sides: 10, caps: 'none' };
    const all = [...shapes, buildPrimitive(open)];
    fc.assert(
      fc.property(drawn, fc.nat(shapes.length), (d, shape) => {
        const before = layered(all[shape]);
        let after: PolyMesh;
        try {
          // No two points of these lie near each other.
          const params = d.op === 'weld' ? { to: 'middle' } : paramsFor(d);
          after = runOperation(OPERATIONS[d.op], before, selectionFor(before, d), params).mesh;
        } catch (e) {
          if (!(e instanceof OperationError)) throw e;
          return;
        }
        acted.add(d.op);
        const wrong: string[] = [];
        for (const { name, on, size, value } of LAYER_KINDS) {
          const layer = after.layers[on][name];
          if (!layer) continue;
          const [lo, hi] = rangeOf(before.layers[on][name]);
          if (layer.size !== size) wrong.push(`${name}: size`);
          if (value === 'code' && layer.data.some((x) => x < 0 || x > hi || x % 1))
            wrong.push(`${name}: no code`);
          if (value === 'direction')
            for (let i = 0; i < layer.data.length; i += 3) {
              const l = Math.hypot(...layer.data.subarray(i, i + 3));
              if (l > 1e-12 && Math.abs(l - 1) > 1e-5) wrong.push(`${name}: length ${l}`);
            }
          // UVs are laid on beside an edge, and a strength can be set.
          if (value === 'number' && name !== 'uv' && d.op !== 'mark')
            if (layer.data.some((x) => x < lo - 1e-6 || x > hi + 1e-6)) wrong.push(`${name}: out of range`);
        }
        for (const [on, name] of [
          ['vertex', 'warmth'],
          ['face', 'mossiness'],
        ] as const) {
          const layer = after.layers[on][name];
          const [lo, hi] = rangeOf(before.layers[on][name]);
          if (!layer || layer.data.some((x) => x < lo - 1e-5 || x > hi + 1e-5)) wrong.push(`${name} is lost`);
        }
        expect([d.op, wrong.slice(0, 3)]).toEqual([d.op, []]);
      }),
      { numRuns: 1500 },
    );
    expect([...acted].sort()).toEqual(Object.keys(OPERATIONS).sort());
  });
});
