/** Mirror and repeat as live steps: exact symmetry, bodies that stay closed, copies where they are said to be. */
import fc from 'fast-check';
import { beforeAll, describe, expect, it } from 'vitest';
import type { Piece } from '../src/document/schema';
import { recipeFaults } from '../src/document/validate';
import { checkMesh } from '../src/mesh/checkMesh';
import { boundsOf, eulerCharacteristic, faceNormal, shellCount, volume } from '../src/mesh/measure';
import { faceCount, vertexCount, type PolyMesh } from '../src/mesh/PolyMesh';
import { topologyOf } from '../src/mesh/Topology';
import { dot, type Vec3 } from '../src/mesh/vec3';
import { loadKernel } from '../src/solid/kernel';
import { Evaluator } from '../src/build/evaluate';
import type { Seen } from '../src/steps/define';
import { applyMatrix, IDENTITY, transformMatrix } from '../src/mesh/transform';
import { frameOfStep } from '../src/build/ofPiece';
import { deepCrossings } from '../src/inspect/inspectMesh';
import { repeat } from '../src/steps/repeat';
import { STEPS, type Step } from '../src/steps';
import { number } from './anySolid';

beforeAll(async () => {
  await loadKernel();
});

const none = (): never => {
  throw new Error('no mesh is stored');
};
const built = (pieces: Piece[], id = pieces[0].id) => {
  expect(recipeFaults({ pieces })).toEqual([]);
  const evaluator = new Evaluator({ blob: none, file: none });
  evaluator.setPieces(pieces);
  return evaluator.build(id);
};
const meshOf = (pieces: Piece[], id?: string): PolyMesh => {
  const r = built(pieces, id);
  for (const s of r.steps) expect(s.fault).toBeUndefined();
  return r.mesh;
};
const box = { primitive: 'box' as const, width: 20, height: 10, depth: 8 };
const piece = (steps: Step[], more: Partial<Piece> = {}): Piece => ({ id: 'a', base: box, steps, ...more });
const moved = (by: Vec3): Piece['actions'] => [
  { op: 'transform', select: { rule: 'all', of: 'faces' }, move: by } as never,
];

/** Every point has its image across the axes, as near as 1e-9. */
function isSymmetric(mesh: PolyMesh, axis: number): boolean {
  const key = (p: ArrayLike<number>, s: number): string =>
    [0, 1, 2].map((k) => (Math.round((k === axis ? s : 1) * p[k] * 1e9) + 0).toString()).join();
  const at = (v: number): number[] => [...mesh.positions.subarray(3 * v, 3 * v + 3)];
  const all = new Set(Array.from({ length: vertexCount(mesh) }, (_, v) => key(at(v), 1)));
  return Array.from({ length: vertexCount(mesh) }, (_, v) => key(at(v), -1)).every((k) => all.has(k));
}

describe('a live mirror', () => {
  it('cuts at the plane, keeps a side, and welds its image to it', () => {
    const mesh = meshOf([piece([{ kind: 'mirror', axes: ['x'] }], { actions: moved([3, 0, 0]) })]);
    // From −7 to 13: the side of 13 is kept.
    expect([boundsOf(mesh).min[0], boundsOf(mesh).max[0]]).toEqual([-13, 13]);
    expect(volume(mesh)).toBeCloseTo(26 * 80, 9);
    expect([checkMesh(mesh).closed, isSymmetric(mesh, 0), faceCount(mesh)]).toEqual([true, true, 10]);
    const other = meshOf([
      piece([{ kind: 'mirror', axes: ['x'], keep: 'negative' }], { actions: moved([3, 0, 0]) }),
    ]);
    expect(boundsOf(other).max[0]).toBe(7);
  });

  it('leaves no wall where a face lies in the plane', () => {
    const mesh = meshOf([piece([{ kind: 'mirror', axes: ['x', 'z'] }], { actions: moved([10, 0, 4]) })]);
    expect(volume(mesh)).toBeCloseTo(40 * 10 * 16, 9);
    expect([checkMesh(mesh).closed, eulerCharacteristic(mesh), shellCount(mesh)]).toEqual([true, 2, 1]);
    expect([0, 2].every((axis) => isSymmetric(mesh, axis))).toBe(true);
    // One line of points on the plane.
    const t = topologyOf(mesh);
    for (let e = 0; e < t.edgeCount; e++) expect(t.edgeUse[e]).toBe(2);
  });

  it('works about the world, another piece or a peg', () => {
    const at = { move: [30, 0, 0] as [number, number, number] };
    const world = meshOf([piece([{ kind: 'mirror', axes: ['x'], about: 'world' }], { transform: at })]);
    expect([boundsOf(world).min[0], boundsOf(world).max[0]]).toEqual([-70, 10]);
    expect(shellCount(world)).toBe(2);
    const other = { id: 'b', base: box, transform: { move: [10, 0, 0] as Vec3, turn: [0, 90, 0] as Vec3 } };
    const about = meshOf([
      piece([{ kind: 'mirror', axes: ['z'], about: { piece: 'b' } }], { transform: at }),
      other,
    ]);
    expect([boundsOf(about).min[0], boundsOf(about).max[0]].map((x) => x + 0)).toEqual([expect.closeTo(-50, 9), expect.closeTo(10, 9)]); // prettier-ignore
    const peg = { move: [25, 0, 0] as Vec3, turn: [0, 0, 0] as Vec3 };
    const pegged = meshOf([piece([{ kind: 'mirror', axes: ['x'], about: 'peg', peg }], { transform: at })]);
    expect([boundsOf(pegged).min[0], boundsOf(pegged).max[0]]).toEqual([-20, 10]);
    const lost = built([piece([{ kind: 'mirror', axes: ['x'], about: 'peg' }])]);
    expect(lost.steps[0].fault).toMatchObject({ code: 'no-peg' });
    const gone = built([
      piece([{ kind: 'mirror', axes: ['y'], keep: 'positive' }], { actions: moved([0, -20, 0]) }),
    ]);
    expect(gone.steps[0].fault).toMatchObject({ code: 'nothing-left' });
  });

  it('is symmetric to 1e-9 and closed for anything closed, cut or round', () => {
    const base = fc.constantFrom<Piece['base']>(
      box,
      { primitive: 'cylinder', radius: 9, height: 20, sides: 13 },
      { primitive: 'torus', radius: 12, tubeRadius: 4, sides: 11, tubeSides: 7 },
      { primitive: 'quadSphere', radius: 10, divisions: 3 },
    );
    fc.assert(
      fc.property(
        base,
        fc.tuple(number(-3, 3), number(-3, 3), number(-3, 3)),
        fc.tuple(number(-180, 180), number(-180, 180), number(-180, 180)),
        fc.subarray(['x', 'y', 'z'] as const, { minLength: 1 }),
        fc.constantFrom('positive' as const, 'negative' as const),
        (base, move, turn, axes, keep) => {
          const actions = [{ op: 'transform', select: { rule: 'all', of: 'faces' }, move, turn } as never];
          const mesh = meshOf([
            { id: 'a', base, actions, steps: [{ kind: 'mirror', axes: [...axes], keep }] },
          ]);
          expect(checkMesh(mesh).findings).toEqual([]);
          for (const a of axes) expect(isSymmetric(mesh, ['x', 'y', 'z'].indexOf(a))).toBe(true);
        },
      ),
      { numRuns: 80 },
    );
  });

  it('turns held normals over with the side they are on', () => {
    const mesh = meshOf([
      piece(
        [
          { kind: 'mirror', axes: ['x'] },
          { kind: 'normals', hardAngle: 40 },
        ],
        { actions: moved([3, 0, 0]) },
      ),
    ]);
    const n = mesh.layers.corner.normal.data;
    const { faceOfCorner } = topologyOf(mesh);
    for (let c = 0; c < mesh.corners.length; c++)
      expect(dot(faceNormal(mesh, faceOfCorner[c]), [n[3 * c], n[3 * c + 1], n[3 * c + 2]])).toBeCloseTo(
        1,
        6,
      );
  });
});

describe('live copies', () => {
  it('stand in a line by step, gap or from first to last', () => {
    const row = (more: Partial<Step>) => meshOf([piece([{ kind: 'repeat', pattern: 'linear', count: 4, ...more } as Step])]); // prettier-ignore
    const step = row({ offset: [30, 0, 0] } as never);
    expect([shellCount(step), boundsOf(step).max[0], volume(step)]).toEqual([4, 100, 4 * 1600]);
    expect(boundsOf(row({ offset: [5, 0, 0], spacing: 'gap' } as never)).max[0]).toBe(10 + 3 * 25);
    expect(boundsOf(row({ offset: [90, 0, 0], spacing: 'fit' } as never)).max[0]).toBe(100);
    const refused = built([piece([{ kind: 'repeat', pattern: 'linear', count: 2, offset: [0, 0, 0] }])]);
    expect(refused.steps[0].fault).toMatchObject({ code: 'no-direction' });
  });

  it('stand around an axis, all the way or part of it', () => {
    const ring = meshOf([piece([{ kind: 'repeat', pattern: 'radial', count: 12, axis: 'y', radius: 60 }])]);
    expect([shellCount(ring), faceCount(ring)]).toEqual([12, 72]);
    expect(volume(ring)).toBeCloseTo(12 * 1600, 6);
    const { min, max } = boundsOf(ring);
    expect([min[0] + max[0], min[2] + max[2]].map((x) => Math.round(x * 1e9) + 0)).toEqual([0, 0]);
    const half = meshOf([piece([{ kind: 'repeat', pattern: 'radial', count: 3, axis: 'z', angle: 180 }], { actions: moved([40, 0, 0]) })]); // prettier-ignore
    expect([boundsOf(half).min[0], boundsOf(half).max[0], boundsOf(half).max[1]]).toEqual([-50, 50, 50]);
    const about = meshOf([
      piece([{ kind: 'repeat', pattern: 'radial', count: 4, axis: 'y', about: { piece: 'hub' } }]),
      { id: 'hub', base: box, transform: { move: [100, 0, 0], size: [3, 3, 3] } },
    ]);
    expect([boundsOf(about).min[0], boundsOf(about).max[0]].map((x) => Math.round(x))).toEqual([-10, 210]);
  });

  it('are told when they lie in one place, and begin with a radius at which they clear', () => {
    const ring = (more: object) =>
      built([piece([{ kind: 'repeat', pattern: 'radial', count: 7, axis: 'y', ...more } as Step])]);
    const told = (more: object): string[] => ring(more).steps[0].warnings.map((w) => w.code);
    expect(told({})).toEqual(['in-one-place']);
    expect(told({ radius: 60 })).toEqual([]);
    expect(told({ count: 1 })).toEqual([]);
    const { begins } = repeat.fields.find((f) => f.key === 'pattern')!;
    const row = { kind: 'repeat' as const, pattern: 'radial' as const, count: 7, offset: [30, 0, 0] as Vec3 };
    const { radius } = begins!(row, [20 + 6 * 30, 8, 10]);
    const { mesh } = ring({ radius });
    expect(shellCount(mesh)).toBe(7);
    expect(deepCrossings(mesh)).toEqual([]);
    // About something else, or with a radius of its own, nothing is changed.
    expect(begins!({ ...row, about: 'world' }, [200, 8, 10])).toEqual({});
    expect(begins!({ ...row, radius: 3 }, [200, 8, 10])).toEqual({});
  });

  it('become one body on request', () => {
    const apart = built([piece([{ kind: 'repeat', pattern: 'linear', count: 5, offset: [20, 0, 0] }])]).mesh;
    expect(shellCount(apart)).toBe(5);
    const one = meshOf([
      piece([{ kind: 'repeat', pattern: 'linear', count: 5, offset: [20, 0, 0], merge: true }]),
    ]);
    expect([shellCount(one), faceCount(one)]).toEqual([1, 6]);
    expect(volume(one)).toBeCloseTo(100 * 80, 9);
    expect(one.layers.edge.cut).toBeUndefined();
  });

  it('let one cutter bore twelve holes', () => {
    const plate: Piece = {
      id: 'plate',
      base: { primitive: 'cylinder', radius: 80, height: 12, sides: 64 },
      steps: [{ kind: 'cut', mode: 'subtract', cutters: ['bore'] }],
    };
    const bore: Piece = {
      id: 'bore',
      role: 'cutter',
      base: { primitive: 'cylinder', radius: 4, height: 40, sides: 16 },
      steps: [{ kind: 'repeat', pattern: 'radial', count: 12, axis: 'y', radius: 60 }],
    };
    const mesh = meshOf([plate, bore], 'plate');
    expect(eulerCharacteristic(mesh)).toBe(2 - 2 * 12);
    expect(checkMesh(mesh).closed).toBe(true);
    // The step is done before export too much is asked.
    const many = built([{ ...bore, steps: [{ kind: 'repeat', pattern: 'radial', count: 1000, axis: 'y' }] }]);
    expect(faceCount(many.mesh)).toBe(18000);
  });
});

describe('guides', () => {
  it('of a mirror lie in its planes, of a circle on its axis, wherever the step works about', () => {
    const about = {
      id: 'a',
      base: box,
      transform: { move: [30, 5, -8] as Vec3, turn: [10, 25, 40] as Vec3 },
    };
    const pieces = new Map<string, Piece>([['a', about]]);
    const lines = (step: Step) =>
      STEPS[step.kind].guides!(step as never, frameOfStep(pieces, 'a', step)!, 50);
    // In the world, the plane across x has x = 0.
    const m = transformMatrix({ ...about.transform, size: [1, 1, 1] });
    for (const [p, q] of lines({ kind: 'mirror', axes: ['x'], about: 'world' }))
      for (const end of [p, q]) expect(applyMatrix(m, end)[0]).toBeCloseTo(0, 9);
    expect(lines({ kind: 'mirror', axes: ['x', 'z'], about: 'piece' })).toHaveLength(12);
    const [[a, b]] = lines({ kind: 'repeat', pattern: 'radial', count: 3, axis: 'y', about: 'world' });
    for (const end of [a, b]) expect(applyMatrix(m, end).map((x, k) => (k === 1 ? 0 : x))).toEqual([expect.closeTo(0, 9), 0, expect.closeTo(0, 9)]); // prettier-ignore
    expect(lines({ kind: 'repeat', pattern: 'linear', count: 3, offset: [1, 0, 0] })).toEqual([]);
  });
});

describe('handles of copies', () => {
  it('sit at the copies they move, and a pull changes the number by what was pulled', () => {
    const steps: Array<Step & { kind: 'repeat' }> = [
      { kind: 'repeat', pattern: 'linear', count: 5, offset: [12, 0, 0] },
      { kind: 'repeat', pattern: 'linear', count: 2, offset: [0, -3, 4] },
      { kind: 'repeat', pattern: 'linear', count: 4, offset: [0, 30, 0], spacing: 'fit' },
      { kind: 'repeat', pattern: 'linear', count: 4, offset: [0, 0, 2], spacing: 'gap' },
      { kind: 'repeat', pattern: 'radial', count: 6, axis: 'y', radius: 40, angle: 360 },
      { kind: 'repeat', pattern: 'radial', count: 3, axis: 'x', radius: 25, angle: -90 },
      { kind: 'repeat', pattern: 'radial', count: 5, axis: 'y', about: 'world' },
      { kind: 'repeat', pattern: 'radial', count: 4, axis: 'z', about: 'world', radius: 7, angle: 200 },
    ];
    const piece = (step: Step): Piece => ({
      id: 'a',
      base: { primitive: 'box', width: 0.002, height: 0.002, depth: 0.002 },
      transform: { move: [30, 5, -8], turn: [0, 25, 0] },
      steps: [step],
    });
    const handles = (s: Step) =>
      STEPS[s.kind].handles!(s as never, frameOfStep(new Map([['a', piece(s)]]), 'a', s) ?? IDENTITY);
    const seen: string[] = [];
    for (const step of steps) {
      // A dot at the origin stands for each copy.
      const { mesh } = built([piece(step)]);
      for (const h of handles(step)) {
        seen.push(h.label);
        if (h.label === 'count') {
          expect(Math.hypot(...h.along)).toBeCloseTo(1, 9);
          expect(h.rate).toBeGreaterThan(0);
          continue;
        }
        const value = h.derived?.value ?? (step as unknown as Record<string, number>)[h.key] ?? 0;
        const put = h.derived?.put(value + h.rate) ?? { [h.key]: value + h.rate };
        const after = handles({ ...step, ...put } as Step).find((x) => x.label === h.label)!;
        after.at.forEach((x, k) => expect(x - h.at[k]).toBeCloseTo(h.along[k], 4));
        if (h.label === 'gap') continue;
        let nearest = Infinity;
        for (let v = 0; v < vertexCount(mesh); v++)
          nearest = Math.min(nearest, Math.hypot(...h.at.map((x, k) => x - mesh.positions[3 * v + k])));
        expect([step.pattern, h.label, nearest < 0.01]).toEqual([step.pattern, h.label, true]);
      }
    }
    expect(new Set(seen)).toEqual(new Set(['first', 'last', 'count', 'gap', 'radius']));
  });
});

describe('kinds of step', () => {
  it('have an example that is sound, and fields that name their parameters', () => {
    for (const d of Object.values(STEPS)) {
      const { example } = d;
      const pieces: Piece[] = [
        { id: 'a', base: box, steps: [example] },
        { id: 'hole', role: 'cutter', base: { primitive: 'cylinder', radius: 2, height: 40 } },
      ];
      expect(built(pieces).steps.map((s) => [s.kind, s.fault])).toEqual([[d.kind, undefined]]);
      const { schema, fields, adds } = STEPS[d.kind];
      for (const f of fields) expect(Object.keys(schema.properties)).toContain(f.key);
      for (const a of adds ?? []) {
        const seen: Seen = { name: 'A', steps: [], hasRims: false, others: ['hole'], nameOf: (id) => id, drift: { faces: 1, worst: 3 } }; // prettier-ignore
        const step = typeof a.step === 'function' ? a.step(seen) : a.step;
        expect(recipeFaults({ pieces: [{ ...pieces[0], steps: [step] }, pieces[1]] })).toEqual([]);
        expect([step.kind, a.label?.(seen) ?? a.title]).toEqual([d.kind, expect.stringMatching(/^[A-Z]/)]);
      }
    }
  });
});
