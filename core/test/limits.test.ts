/** Results have bounds, and operations that would leave nothing sensible say so. */
import { beforeAll, describe, expect, it } from 'vitest';
import { OperationError } from '../src/mesh/errors';
import { checkMesh } from '../src/mesh/checkMesh';
import { faceCount } from '../src/mesh/PolyMesh';
import { topologyOf } from '../src/mesh/Topology';
import { eulerCharacteristic, volume } from '../src/mesh/measure';
import { OPERATIONS } from '../src/ops';
import { runOperation } from '../src/ops/operation';
import { buildPrimitive, type Primitive } from '../src/primitives';
import { everything } from '../src/select/grow';
import { selectionOf } from '../src/select/selection';
import { loadKernel } from '../src/solid/kernel';
import { Evaluator } from '../src/build/evaluate';
import type { Piece } from '../src/document/schema';
import { soakOperations } from '../../soak/operations';
import { soakRecipes } from '../../soak/recipes';
import { refusal } from './refusal';
import { runs } from './effort';

beforeAll(async () => {
  await loadKernel();
});

const box = (segments: [number, number, number]) =>
  buildPrimitive({ primitive: 'box', width: 10, height: 10, depth: 10, segments });
const cube = box([1, 1, 1]);
const noFiles = {
  blob: () => { throw new OperationError('no-blob', 'None.'); },
  file: () => { throw new OperationError('no-file', 'None.'); },
}; // prettier-ignore

describe('bounds of results', () => {
  it('are told with the number there would be, before anything is made', () => {
    const many = box([64, 64, 64]);
    const edges = selectionOf(
      'edge',
      Array.from({ length: 40 }, (_, k) => k),
    );
    const told = (): string => {
      try {
        runOperation(OPERATIONS.ringCut, many, edges, { count: 256 }, { limits: { faces: 100_000 } });
        return '';
      } catch (e) {
        return (e as OperationError).message;
      }
    };
    expect(told()).toMatch(/^Ring cut would make about \d[\d ]+ faces; the limit is 100 000\.$/);
    // Rings that cross are longer by what those before them added: counted as they come.
    const crossing = selectionOf('edge', [...Array(topologyOf(cube).edgeCount).keys()]);
    expect(
      refusal(() =>
        runOperation(OPERATIONS.ringCut, cube, crossing, { count: 60 }, { limits: { faces: 9000 } }),
      ),
    ).toBe('too-many-faces');
    for (const [op, params] of [
      ['bevel', { width: 1, segments: 32 }],
      ['bevelPoints', { width: 1, segments: 32 }],
      ['fan', {}],
      ['triangulate', {}],
      ['copyFaces', {}],
      ['mirrorOnce', {}],
      ['thicken', {}],
      ['extrude', { by: 'each' }],
      ['inset', { by: 'each' }],
    ] as const)
      // prettier-ignore
      expect([op, refusal(() => runOperation(OPERATIONS[op], cube, everything(cube, OPERATIONS[op].on[0]), params, { limits: { faces: 7 } }))]).toEqual([op, 'too-many-faces']);
  });

  it('hold for chains of actions and for steps', () => {
    const build = (piece: Partial<Piece>, faces: number) => {
      const e = new Evaluator(noFiles, false, { faces });
      e.setPieces([{ id: 'a', base: { primitive: 'box', width: 10, height: 10, depth: 10 }, ...piece }]);
      return e.build('a');
    };
    const chain = Array.from({ length: 40 }, () => ({ op: 'ringCut', select: { edges: [0] }, count: 16 }));
    const long = build({ actions: chain }, 2000);
    expect(long.actions.filter((a) => a.fault?.code === 'too-many-faces').length).toBeGreaterThan(5);
    expect(faceCount(long.mesh)).toBeLessThanOrEqual(2000);
    const round = build({ steps: [{ kind: 'bevel', width: 1, segments: 32, scope: { rule: 'all' } }] }, 1000);
    expect(round.steps[0].fault).toMatchObject({ code: 'too-many-faces' });
    const soft = build({ steps: [{ kind: 'smooth', levels: 6 }] }, 2000);
    expect(soft.steps[0].warnings[0].message).toMatch(/more would make over 0.002 million faces/);
  });
});

describe('cutter graphs', () => {
  it('are built once per piece, deep and wide', () => {
    const count = (pieces: Piece[]): { faces: number; builds: number } => {
      const e = new Evaluator(noFiles);
      e.setPieces(pieces);
      const built = new Set<string>();
      let builds = 0;
      const { mesh } = e.build('p0', (done, _, label) => {
        if (done === 0) builds++;
        built.add(label);
      });
      return { faces: faceCount(mesh), builds };
    };
    const joined = (n: number, next: (i: number) => number[]): Piece[] =>
      Array.from({ length: n }, (_, i) => ({
        id: `p${i}`,
        base: { primitive: 'box', width: 1, height: 1, depth: 1 },
        transform: { move: [0.1, 0.05, 0] },
        steps: next(i).length
          ? [{ kind: 'cut', mode: 'intersect', cutters: next(i).map((k) => `p${k}`) }]
          : [],
      }));
    expect(count(joined(60, (i) => [i + 1, i + 2].filter((k) => k < 60)))).toEqual({ faces: 6, builds: 59 });
    expect(count(joined(1000, (i) => (i < 999 ? [i + 1, i + 1] : []))).builds).toBe(999);
  });
});

describe('operations', () => {
  it('that would leave faces without area are refused, not called done', () => {
    const top = selectionOf('face', [0]);
    for (const [op, params] of [
      ['extrude', { distance: 0 }],
      ['inset', { thickness: 0 }],
      ['transform', { size: [0, 0, 0] }],
    ] as const)
      expect([op, refusal(() => runOperation(OPERATIONS[op], cube, top, params))]).toEqual([op, 'no-area']);
  });

  it('refuse rounding beside faces that are turned over, and name the edges', () => {
    const turned = runOperation(OPERATIONS.turnOver, cube, selectionOf('face', [0]), {}).mesh;
    try {
      runOperation(OPERATIONS.bevel, turned, everything(turned, 'edge'), { width: 1 });
      expect('nothing').toBe('refused');
    } catch (e) {
      expect(e).toMatchObject({ code: 'bevel-folded', elements: { domain: 'edge' } });
      expect((e as OperationError).elements!.indices.length).toBeGreaterThan(0);
    }
  });

  it('set support loops along any edge of a torus without a sliver', () => {
    for (const [sides, tubeSides] of [
      [3, 5],
      [5, 3],
      [4, 4],
      [7, 6],
    ]) {
      const torus = buildPrimitive({
        primitive: 'torus',
        radius: 12,
        tubeRadius: 4,
        sides,
        tubeSides,
      } as Primitive);
      for (let e = 0; e < topologyOf(torus).edgeCount; e++)
        for (const side of ['both', 'left', 'right']) {
          const { mesh } = runOperation(OPERATIONS.supportLoops, torus, selectionOf('edge', [e]), {
            distance: 0.4,
            sides: side,
          });
          expect(checkMesh(mesh).findings).toEqual([]);
          expect(eulerCharacteristic(mesh)).toBe(0);
          expect(volume(mesh)).toBeCloseTo(volume(torus), 6);
        }
    }
  });

  it('weld far from the origin without an end', () => {
    const far = runOperation(OPERATIONS.transform, cube, everything(cube, 'vertex'), {
      move: [1e6, -1e6, 1e6],
    }).mesh;
    expect(
      refusal(() =>
        runOperation(OPERATIONS.weld, far, everything(far, 'vertex'), { to: 'near', distance: 0 }),
      ),
    ).toBe('nothing-near');
  });

  it('keep every bend of the knife, also where it lies on an edge', () => {
    const grid = buildPrimitive({ primitive: 'plane', width: 40, depth: 40, segments: [4, 4] });
    // From edge to edge, a bend in the middle of a face, one on an edge, one on a point of the mesh.
    const path = [[-10, 0, -15], [-4, 0, -12], [0, 0, -6.3], [-5, 0, -4], [0, 0, 0], [4, 0, 7], [10, 0, 5]]; // prettier-ignore
    const out = runOperation(OPERATIONS.knife, grid, everything(grid, 'face'), {
      lines: [path],
      view: [0, -1, 0],
    });
    const t = topologyOf(out.mesh);
    const ends = out.selection.indices.flatMap((e) => [t.edges[2 * e], t.edges[2 * e + 1]]);
    const places = new Set(
      ends.map((v) => [0, 2].map((k) => out.mesh.positions[3 * v + k].toFixed(6)).join()),
    );
    for (const [x, , z] of path) expect(places).toContain([x, z].map((c) => c.toFixed(6)).join());
    expect(checkMesh(out.mesh).valid).toBe(true);
  });

  it('never fail but by refusal, and leave sound meshes sound: thousands of random ones', () => {
    const most = runs(900, 2500);
    const { ran, acted, faults, byOperation } = soakOperations(most, 41);
    expect(faults).toEqual([]);
    expect([ran, acted > 0.4 * most, byOperation.size]).toEqual([most, true, Object.keys(OPERATIONS).length]);
  });

  it('are checked and built from random recipes, sound and spoilt', () => {
    const most = runs(80, 250);
    const { faults, sound, built } = soakRecipes(most, 3);
    expect(faults).toEqual([]);
    expect([sound > 0.4 * most, built === sound]).toEqual([true, true]);
  });
});

it('bridges two edges of sheets that lie side by side with one quad, not all round their rims', () => {
  const sheet = buildPrimitive({ primitive: 'plane', width: 30, depth: 30, segments: [3, 3] });
  const strips = runOperation(OPERATIONS.deleteFaces, sheet, selectionOf('face', [1, 4, 7]), {}).mesh;
  const t = topologyOf(strips);
  const facing = [...Array(t.edgeCount).keys()].filter((e) => {
    const [a, b] = [t.edges[2 * e], t.edges[2 * e + 1]].map((v) => [
      ...strips.positions.subarray(3 * v, 3 * v + 3),
    ]);
    return Math.abs(Math.abs(a[0]) - 5) < 1e-9 && a[0] === b[0] && a[2] * b[2] < 0;
  });
  expect(facing).toHaveLength(2);
  const { mesh } = runOperation(OPERATIONS.bridge, strips, selectionOf('edge', facing), {});
  expect([faceCount(mesh), checkMesh(mesh).valid]).toEqual([7, true]);
});
