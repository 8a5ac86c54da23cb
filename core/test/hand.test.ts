/** By hand: edits on what is built, whose picks are found again when what is before them changes. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { hashOf } from '../src/births/hash';
import type { Piece } from '../src/document/schema';
import { recipeFaults } from '../src/document/validate';
import { checkMesh } from '../src/mesh/checkMesh';
import { faceNormal, volume } from '../src/mesh/measure';
import { faceCorners, faceCount, type PolyMesh } from '../src/mesh/PolyMesh';
import { topologyOf } from '../src/mesh/Topology';
import { bornOf, findBorn } from '../src/select/born';
import { elementCount, selectionOf, type ElementKind } from '../src/select/selection';
import { loadKernel } from '../src/solid/kernel';
import { Evaluator } from '../src/build/evaluate';
import { STEPS } from '../src/steps';
import { runs } from './effort';

await loadKernel();

const none = (): never => {
  throw new Error('no mesh is stored');
};
function evaluated(pieces: Piece[]) {
  expect(recipeFaults({ pieces })).toEqual([]);
  const evaluator = new Evaluator({ blob: none, file: none });
  evaluator.setPieces(pieces);
  return evaluator.build('a');
}
const KINDS: ElementKind[] = ['face', 'edge', 'vertex'];

/** Identifies each face by its neighbours and its source face, whatever its name. */
function marksOf(mesh: PolyMesh): number[] {
  const t = topologyOf(mesh);
  const corners = (f: number): number[] => faceCorners(mesh, f);
  const valence = (c: number): number => t.vertexStart[mesh.corners[c] + 1] - t.vertexStart[mesh.corners[c]];
  const faces = Array.from({ length: faceCount(mesh) }, (_, f) => f);
  const origin = mesh.layers.face.origin?.data;
  const from = (f: number): number[] => (origin ? [origin[2 * f], origin[2 * f + 1]] : []);
  let marks = faces.map((f) => hashOf(...from(f), ...corners(f).map(valence).sort()));
  for (let round = 0; round < 8; round++)
    marks = faces.map((f) => {
      const beside = corners(f).map((c) => (t.twin[c] < 0 ? 0 : marks[t.faceOfCorner[t.twin[c]]]));
      return hashOf(marks[f], ...beside.sort());
    });
  return marks;
}
/** The marks of the faces at each element of a kind. */
function marksAt(mesh: PolyMesh, marks: number[], kind: ElementKind): string[] {
  const t = topologyOf(mesh);
  const faces = Array.from({ length: elementCount(mesh, kind) }, () => new Set<number>());
  for (let c = 0; c < mesh.corners.length; c++) {
    const at = kind === 'face' ? t.faceOfCorner[c] : kind === 'edge' ? t.edgeOfCorner[c] : mesh.corners[c];
    faces[at].add(t.faceOfCorner[c]);
  }
  return faces.map((fs) => [...fs].map((f) => marks[f]).sort().join()); // prettier-ignore
}

const num = (min: number, max: number) => fc.integer({ min: min * 16, max: max * 16 }).map((x) => x / 16);
const host = fc.oneof(
  fc.record({ primitive: fc.constant('box' as const), width: num(50, 70), height: num(20, 40), depth: num(50, 70) }),
  fc.record({ primitive: fc.constant('cylinder' as const), radius: num(25, 32), height: num(30, 60), sides: fc.constantFrom(6, 12, 17) }),
  fc.record({ primitive: fc.constant('tube' as const), outerRadius: num(28, 32), innerRadius: num(8, 14), height: num(20, 40), sides: fc.constantFrom(8, 12) }),
); // prettier-ignore
const tool = fc.record({
  base: fc.oneof(
    fc.record({ primitive: fc.constant('cylinder' as const), radius: num(3, 7), height: num(30, 90), sides: fc.constantFrom(5, 8, 12) }),
    fc.record({ primitive: fc.constant('box' as const), width: num(5, 14), height: num(20, 90), depth: num(5, 14) }),
  ),
  transform: fc.record({ move: fc.tuple(num(-20, 20), num(-10, 10), num(-20, 20)), turn: fc.tuple(num(0, 40), num(0, 90), num(0, 40)) }),
}); // prettier-ignore
const anyBuild = fc.record({
  host,
  tools: fc.array(tool, { minLength: 1, maxLength: 3 }),
  mode: fc.constantFrom('subtract' as const, 'subtract' as const, 'union' as const),
  width: num(0, 1),
  after: fc.constantFrom('nothing', 'mirror', 'repeat'),
});
type Build = typeof anyBuild extends fc.Arbitrary<infer B> ? B : never;

const piecesOf = ({ host: base, tools, mode, width, after }: Build): Piece[] => [
  {
    id: 'a',
    base,
    steps: [
      { id: 'cut', kind: 'cut', mode, cutters: tools.map((_, i) => `t${i}`) },
      ...(width > 0 ? [{ id: 'round', kind: 'bevel' as const, scope: { rule: 'rims' as const }, width, segments: 2 }] : []),
      ...(after === 'mirror' ? [{ id: 'm', kind: 'mirror' as const, axes: ['x' as const] }] : []),
      ...(after === 'repeat' ? [{ id: 'r', kind: 'repeat' as const, pattern: 'linear' as const, count: 2, offset: [200, 0, 0] as [number, number, number] }] : []),
    ],
  },
  ...tools.map((t, i): Piece => ({ id: `t${i}`, parent: 'a', ...t })),
]; // prettier-ignore

/** Every number of a build as a way to another build with that number changed. */
function numbersOf(build: Build): Array<(by: number) => Build> {
  const ways: Array<(by: number) => Build> = [];
  const walk = (value: unknown, path: Array<string | number>): void => {
    if (typeof value === 'number' && !path.includes('sides') && value !== 0)
      ways.push((by) => {
        const copy = structuredClone(build) as unknown as Record<string | number, unknown>;
        let at = copy;
        for (const key of path.slice(0, -1)) at = at[key] as Record<string | number, unknown>;
        at[path.at(-1)!] = value * by;
        return copy as unknown as Build;
      });
    else if (typeof value === 'object' && value)
      for (const [k, v] of Object.entries(value)) walk(v, [...path, Array.isArray(value) ? Number(k) : k]);
  };
  walk(build, []);
  return ways;
}

describe('picks by birth', () => {
  it('are all found again, and each as what it was, when a number upstream changes and nothing touches otherwise', () => {
    const most = runs(24, 200);
    let builds = 0;
    let picks = 0;
    fc.assert(
      fc.property(anyBuild, fc.nat(), fc.double({ min: 0.8, max: 1.2, noNaN: true }), (build, which, by) => {
        if (builds >= most) return;
        const before = evaluated(piecesOf(build)).mesh;
        const ways = numbersOf(build);
        const after = evaluated(piecesOf(ways[which % ways.length](by))).mesh;
        const [was, is] = [marksOf(before), marksOf(after)];
        if ([...was].sort().join() !== [...is].sort().join()) return;
        builds++;
        for (const kind of KINDS) {
          const n = elementCount(before, kind);
          const some = selectionOf(kind, Array.from({ length: Math.min(n, 12) }, (_, k) => Math.floor((k * n) / 12) % n)); // prettier-ignore
          // On the mesh they were picked on they are what was picked.
          expect(findBorn(before, bornOf(before, some)).selection).toEqual(some);
          const [at, now] = [marksAt(before, was, kind), marksAt(after, is, kind)];
          const born = bornOf(before, some);
          for (const [k, i] of some.indices.entries()) {
            const { selection, byPlace, lost } = findBorn(after, { of: born.of, picks: [born.picks[k]] });
            expect([kind, i, lost.length, byPlace.length, selection.indices.length]).toEqual([
              kind,
              i,
              0,
              0,
              1,
            ]);
            expect(now[selection.indices[0]]).toBe(at[i]);
            picks++;
          }
        }
      }),
      { numRuns: 4 * most, seed: 11 },
    );
    expect(builds).toBe(most);
    expect(picks).toBeGreaterThan(20 * most);
  });
});

/** A plate with a hole through it, and edits on what is built. */
const plate = (radius: number, actions: unknown[], more: { width?: number; slot?: boolean } = {}): Piece[] =>
  [
    {
      id: 'a',
      base: { primitive: 'box', width: more.width ?? 60, height: 10, depth: 40 },
      steps: [
        { id: 'cut', kind: 'cut', mode: 'subtract', cutters: ['hole'] },
        { id: 'slot', kind: 'cut', mode: 'subtract', cutters: ['slot'], off: !more.slot },
        { id: 'hand', kind: 'hand', pin: 'Cut', actions },
      ],
    },
    { id: 'hole', parent: 'a', base: { primitive: 'cylinder', radius, height: 40, sides: 16 } },
    { id: 'slot', parent: 'a', base: { primitive: 'box', width: 4, height: 40, depth: 90 }, transform: { move: [20, 0, 0] } },
  ] as Piece[]; // prettier-ignore

const facesLooking = (mesh: PolyMesh, test: (f: number) => boolean): number[] =>
  Array.from({ length: faceCount(mesh) }, (_, f) => f).filter(test);
const lost = (codes: ReadonlyArray<{ code: string }>): string[] => codes.map((w) => w.code);

describe('a step of edits by hand', () => {
  const bare = evaluated(plate(8, [])).mesh;
  const top = facesLooking(bare, (f) => faceNormal(bare, f)[1] > 0.9);
  const wall = facesLooking(bare, (f) => Math.abs(faceNormal(bare, f)[1]) < 0.1 && Math.abs(faceNormal(bare, f)[0]) < 0.99 && Math.abs(faceNormal(bare, f)[2]) < 0.99); // prettier-ignore
  const born = (faces: number[]) => ({ rule: 'picked', ...bornOf(bare, { kind: 'face', indices: faces }) });
  const out = volume(bare);

  it('acts on what the steps before have made, where no base has such a face', () => {
    expect(wall.length).toBe(16);
    const { mesh, steps } = evaluated(plate(8, [{ op: 'extrude', select: born([wall[0]]), distance: 1 }]));
    expect(steps.at(-1)).toMatchObject({ kind: 'hand', key: '1 edit', warnings: [] });
    expect(checkMesh(mesh).findings).toEqual([]);
    const side = 2 * 8 * Math.sin(Math.PI / 16);
    expect(volume(mesh) - out).toBeCloseTo(side * 10 * 1, 6);
  });

  it('follows numbers before it, edits of it that lean on earlier ones too', () => {
    const first = evaluated(plate(8, [{ op: 'inset', select: born(top), thickness: 3 }]));
    const inner = first.steps.at(-1)!.picked!;
    const again = { rule: 'picked', ...bornOf(first.mesh, inner) };
    const actions = [
      { op: 'inset', select: born(top), thickness: 3 },
      { op: 'extrude', select: again, distance: 2 },
    ];
    for (const [radius, width] of [[8, 60], [6, 60], [9.5, 71]]) {
      const { mesh, steps } = evaluated(plate(radius, actions, { width }));
      expect(steps.at(-1)!.warnings).toEqual([]);
      const hole = 16 * 0.5 * (radius + 3 / Math.cos(Math.PI / 16)) ** 2 * Math.sin(Math.PI / 8);
      const raised = (width - 6) * (40 - 6) - hole;
      const before = volume(evaluated(plate(radius, [], { width })).mesh);
      expect(volume(mesh) - before).toBeCloseTo(2 * raised, 4);
    }
  }); // prettier-ignore

  it('goes on with all parts of a face that was divided since', () => {
    const { mesh, steps } = evaluated(plate(8, [{ op: 'extrude', select: born(top), distance: 1 }], { slot: true })); // prettier-ignore
    expect(steps.at(-1)!.warnings).toEqual([]);
    const before = evaluated(plate(8, [], { slot: true })).mesh;
    const hole = 16 * 0.5 * 64 * Math.sin(Math.PI / 8);
    expect(volume(mesh) - volume(before)).toBeCloseTo(56 * 40 - hole, 6);
  });

  it('says which picks are gone and where they were, and acts on the others', () => {
    const select = born([wall[0], top[0]]);
    const actions = [{ op: 'extrude', select, distance: 1 }];
    const pieces = plate(8, actions).map((p) => ({ ...p, steps: p.steps?.map((s) => (s.id === 'cut' ? { ...s, off: true } : s)) })) as Piece[]; // prettier-ignore
    const { mesh, steps } = evaluated(pieces);
    const [warning] = steps.at(-1)!.warnings;
    expect(warning).toMatchObject({ code: 'picks-lost', message: 'Extrude: 1 of 2 picked faces is not there any more.' }); // prettier-ignore
    // The middle of the mark lies where the face was.
    const at = [0, 1, 2].map((a) => warning.lines!.reduce((sum, x, i) => sum + (i % 3 === a ? x : 0), 0) / (warning.lines!.length / 3)); // prettier-ignore
    select.picks[0].at.forEach((x, k) => expect(at[k]).toBeCloseTo(x, 6));
    expect(volume(mesh)).toBeCloseTo(60 * 40 * 11, 6);
    const only = evaluated(pieces.map((p) => ({ ...p, steps: p.steps?.map((s) => (s.kind === 'hand' ? { ...s, actions: [{ ...actions[0], select: born([wall[0]]) }] } : s)) })) as Piece[]); // prettier-ignore
    expect(lost(only.steps.at(-1)!.warnings)).toEqual(['picks-lost']);
    expect(only.steps.at(-1)!.counts).toEqual({ edits: 0 });
    expect(volume(only.mesh)).toBeCloseTo(60 * 40 * 10, 6);
  });

  it('finds by place what nothing else tells, and says so', () => {
    const [pick] = bornOf(bare, { kind: 'face', indices: top }).picks;
    const stranger = { ...pick, names: [1], families: [2] };
    expect(findBorn(bare, { of: 'faces', picks: [stranger] })).toMatchObject({ byPlace: [top[0]], lost: [] });
    const away = { ...stranger, facing: [0, -1, 0] as [number, number, number] };
    expect(findBorn(bare, { of: 'faces', picks: [away] })).toMatchObject({ byPlace: [], lost: [pick.at] });
  });

  it('is refused with the place of what is wrong in it', () => {
    expect(recipeFaults({ pieces: plate(8, [{ op: 'extrude', select: { rule: 'picked', of: 'faces' } }]) })).toEqual([
      { path: 'pieces/0/steps/2/actions/0/select', message: 'The key “picks” is missing.' },
    ]); // prettier-ignore
  });

  it('can be what a rounding goes by: edges picked on the result', () => {
    const t = topologyOf(bare);
    const rim = selectionOf('edge', facesLooking(bare, (f) => wall.includes(f)).map((f) => t.edgeOfCorner[bare.faceStart[f]])); // prettier-ignore
    const scope = { rule: 'picked', ...bornOf(bare, rim) };
    const [a, ...others] = plate(7, []);
    const { steps } = evaluated([{ ...a, steps: [...a.steps!, { id: 'round', kind: 'bevel', scope, width: 1, segments: 2 }] } as Piece, ...others]); // prettier-ignore
    expect(steps.at(-1)).toMatchObject({ kind: 'bevel', counts: { edges: rim.indices.length } });
  });
});

describe('a further rounding', () => {
  it('takes what the first one left sharp, not the rims again', () => {
    const scopeAfter = (...steps: Array<{ kind: string }>): unknown => {
      const seen = { name: 'a', steps, hasRims: true, others: [], nameOf: (x: string) => x, drift: { faces: 0, worst: 0 } }; // prettier-ignore
      const { step } = STEPS.bevel.adds![0];
      return (typeof step === 'function' ? step(seen) : step) as { scope: unknown };
    };
    expect(scopeAfter({ kind: 'cut' })).toMatchObject({ scope: { rule: 'rims' } });
    expect(scopeAfter({ kind: 'cut' }, { kind: 'bevel' })).toMatchObject({ scope: { rule: 'sharp' } });
  });
});
