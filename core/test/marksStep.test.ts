/** The live marks of a build: they follow what is before them, and what is after them goes by them. */
import { beforeAll, describe, expect, it } from 'vitest';
import type { Piece } from '../src/document/schema';
import { OperationError } from '../src/mesh/errors';
import { volume } from '../src/mesh/measure';
import type { PolyMesh } from '../src/mesh/PolyMesh';
import { topologyOf } from '../src/mesh/Topology';
import { rimEdges, sharpEdges } from '../src/select/edges';
import { loadKernel } from '../src/solid/kernel';
import { Evaluator } from '../src/build/evaluate';
import { STEPS, type Step } from '../src/steps';

beforeAll(async () => {
  await loadKernel();
});

const none = (): never => {
  throw new OperationError('no-file', 'None.');
};
const plate = (steps: Step[], x = 0): Piece[] => [
  {
    id: 'plate',
    base: { primitive: 'box', width: 40, height: 10, depth: 40 },
    steps: [{ kind: 'cut', mode: 'subtract', cutters: ['hole'] } as Step, ...steps],
  },
  {
    id: 'hole',
    role: 'cutter',
    base: { primitive: 'cylinder', radius: 6, height: 40, sides: 24 },
    transform: { move: [x, 0, 0] },
  },
];
const marks = (m: Partial<Step>): Step => ({ kind: 'marks', marks: ['hard'], ...m }) as Step;
const on = (mesh: PolyMesh, mark: string): number[] =>
  [...(mesh.layers.edge[mark]?.data ?? [])].flatMap((x, e) => (x ? [e] : []));

describe('marks in a build', () => {
  it('lie on open edges, which a rounding leaves as they are and says so', () => {
    const e = new Evaluator({ blob: none, file: none });
    const round: Step = { kind: 'bevel', scope: { rule: 'open' }, width: 1 };
    e.setPieces([
      {
        id: 'sheet',
        base: { primitive: 'plane', width: 40, depth: 20, segments: [2, 2] },
        steps: [marks({ scope: { rule: 'open' }, marks: ['seam'] }), round],
      },
    ]);
    const { mesh, steps } = e.build('sheet');
    expect(on(mesh, 'seam')).toHaveLength(8);
    expect(steps[1].warnings.map((w) => w.message)).toEqual([
      'No edge in scope can be rounded: open and flat ones stay.',
    ]);
  });

  it('lie on the edges in scope, and on those there are after a change', () => {
    const e = new Evaluator({ blob: none, file: none });
    // The second hole stands out of the side: other rims, other sharp edges.
    for (const x of [0, 18]) {
      const steps = [
        marks({ scope: { rule: 'rims' }, marks: ['hard', 'crease'], value: 3 }),
        marks({ scope: { rule: 'sharp', angle: 60 }, marks: ['seam'] }),
      ];
      e.setPieces(plate(steps, x));
      const { mesh, steps: reports } = e.build('plate');
      expect(on(mesh, 'hard')).toEqual(rimEdges(mesh));
      expect(on(mesh, 'crease')).toEqual(rimEdges(mesh));
      expect(new Set(mesh.layers.edge.crease.data)).toEqual(new Set([0, 3]));
      expect(on(mesh, 'seam')).toEqual(sharpEdges(mesh, 60));
      expect(reports[1].counts).toEqual({ edges: rimEdges(mesh).length });
    }
  });

  it('are cleared by a strength of nought, and say when nothing is in scope', () => {
    const e = new Evaluator({ blob: none, file: none });
    const hard = marks({ scope: { rule: 'all', of: 'edges' } });
    e.setPieces(plate([hard, marks({ scope: { rule: 'all', of: 'edges' }, value: 0 })]));
    expect(e.build('plate').mesh.layers.edge.hard).toBeUndefined();
    e.setPieces(plate([marks({ scope: { rule: 'sharp', angle: 179 } })]));
    expect(e.build('plate').steps[1].warnings.map((w) => w.code)).toEqual(['none-in-scope']);
  });

  it('hold under smoothing like its own creases', () => {
    const e = new Evaluator({ blob: none, file: none });
    const volumeOf = (steps: Step[]): number => {
      e.setPieces(plate(steps));
      return volume(e.build('plate').mesh);
    };
    const smooth = { kind: 'smooth', levels: 2 } as Step;
    const scope = { rule: 'sharp', angle: 30 } as const;
    const held = volumeOf([{ ...smooth, crease: scope } as Step]);
    expect(volumeOf([marks({ scope, marks: ['crease'], value: 10 }), smooth])).toBeCloseTo(held, 9);
    expect(volumeOf([smooth])).toBeLessThan(0.9 * held);
  });
});

describe('chamfers and support loops in a build', () => {
  it('are roundings of their own name', () => {
    const label = (step: object): string => STEPS.bevel.label!(step as never, (id) => id);
    const scope = { rule: 'rims' };
    expect(label({ scope, segments: 1, profile: 0 })).toBe('Chamfer, rims');
    expect(label({ scope, segments: 2, profile: 2 })).toBe('Loops, rims');
    expect(label({ scope, segments: 3, profile: 1 })).toBe('Rims');
    const e = new Evaluator({ blob: none, file: none });
    e.setPieces(plate([{ kind: 'bevel', width: 1, segments: 1, profile: 0, scope } as Step]));
    const { mesh } = e.build('plate');
    e.setPieces(plate([]));
    // Two rims lose a triangle all round: its area times the way of its middle, on the outside of the hole.
    const [n, r] = [24, 6];
    const ring = (k: number): number => (n / 2) * k ** 2 * Math.sin((2 * Math.PI) / n);
    const c = Math.cos(Math.PI / n);
    const frustum = (ring(r) + ring(r + 1 / c) + Math.sqrt(ring(r) * ring(r + 1 / c))) / 3 - ring(r);
    expect(volume(e.build('plate').mesh) - volume(mesh)).toBeCloseTo(2 * frustum, 9);
  });
});

describe('the scope of what an earlier step made', () => {
  const build = (steps: Step[]) => {
    const e = new Evaluator({ blob: none, file: none });
    e.setPieces([
      { id: 'a', base: { primitive: 'box', width: 60, height: 20, depth: 40 }, steps },
      { id: 'hole', parent: 'a', base: { primitive: 'cylinder', radius: 8, height: 60, sides: 24 } },
    ]);
    return e.build('a');
  };
  const cut: Step = { id: 'c', kind: 'cut', mode: 'subtract', cutters: ['hole'] };
  const chamfer: Step = {
    id: 'f',
    kind: 'bevel',
    scope: { rule: 'rims' },
    width: 3,
    segments: 1,
    profile: 0,
  };

  it('is the rims of a cut, and both sides of a chamfer', () => {
    const made = (step: string): Step => ({ kind: 'marks', scope: { rule: 'made', step }, marks: ['seam'] });
    expect(on(build([cut, made('c')]).mesh, 'seam')).toHaveLength(48);
    const { mesh } = build([cut, chamfer, made('f')]);
    const marked = on(mesh, 'seam');
    expect(marked).toHaveLength(96);
    // On the faces and on the wall, 3 mm from where the rims were.
    const t = topologyOf(mesh);
    for (const e of marked) {
      const [x, y, z] = [0, 1, 2].map((k) => mesh.positions[3 * t.edges[2 * e] + k]);
      const radius = Math.hypot(x, z);
      const onFace = Math.abs(Math.abs(y) - 10) < 1e-9;
      if (onFace) expect(radius).toBeGreaterThan(10.9);
      else expect([Math.abs(y).toFixed(6), radius.toFixed(6)]).toEqual(['7.000000', '8.000000']);
    }
  });

  it('follows the step through later changes, and rounds nothing else', () => {
    const round: Step = { kind: 'bevel', scope: { rule: 'made', step: 'f' }, width: 0.5, segments: 2 };
    const [four, six] = [24, 36].map((sides) => {
      const e = new Evaluator({ blob: none, file: none });
      e.setPieces([
        {
          id: 'a',
          base: { primitive: 'box', width: 60, height: 20, depth: 40 },
          steps: [{ ...cut, cutters: ['hole', 'other'] }, chamfer, round],
        },
        { id: 'hole', parent: 'a', base: { primitive: 'cylinder', radius: 6, height: 60, sides } },
        { id: 'other', parent: 'a', base: { primitive: 'cylinder', radius: 4, height: 60, sides: 12 }, transform: { move: [20, 0, 0] } },
      ]); // prettier-ignore
      return e.build('a').steps[2];
    });
    expect(four.counts.edges).toBe(4 * (24 + 12));
    expect(six.counts.edges).toBe(4 * (36 + 12));
    expect(four.warnings).toEqual([]);
  });

  it('says which step it misses', () => {
    const round: Step = { kind: 'bevel', scope: { rule: 'made', step: 'gone' }, width: 0.5 };
    const [, fault] = build([cut, round]).steps;
    expect(fault.fault?.message).toBe('No step “gone” before this one made anything here.');
    const off = build([cut, { ...chamfer, off: true }, { ...round, scope: { rule: 'made', step: 'f' } }]);
    expect(off.steps.at(-1)?.fault?.code).toBe('no-step');
  });
});
