/** Cuts whose operands lie in each other's faces, wherever they stand: outcomes that can be counted or reckoned exactly. */
import fc from 'fast-check';
import { beforeAll, describe, expect, it } from 'vitest';
import { checkMesh } from '../src/mesh/checkMesh';
import { eulerCharacteristic, faceNormal, surfaceArea, volume } from '../src/mesh/measure';
import { faceCount, vertexCount, type PolyMesh } from '../src/mesh/PolyMesh';
import { topologyOf } from '../src/mesh/Topology';
import { transformMatrix, transformMesh } from '../src/mesh/transform';
import { dot, pointOf, type Vec3 } from '../src/mesh/vec3';
import { buildPrimitive, type Primitive } from '../src/primitives';
import { cutterCode } from '../src/births/hash';
import { cut, type CutMode } from '../src/solid/boolean';
import { loadKernel } from '../src/solid/kernel';
import { Evaluator } from '../src/build/evaluate';
import type { Piece } from '../src/document/schema';
import {
  anyAssembly,
  assembled,
  box,
  boxesOnGrid,
  cylinder,
  ringsOnAxis,
  soundSolid,
  still,
  type Placed,
  type Turn,
} from './assemblies';
import { runs } from './effort';

beforeAll(async () => {
  await loadKernel();
});

describe('operands in each other’s faces', () => {
  it('give what counting cells gives, for boxes on a grid in any frame', () => {
    fc.assert(boxesOnGrid(), { numRuns: runs(75, 150) });
  });

  it('give what reckoning with rings gives, for cylinders and tubes on one axis in any frame', () => {
    fc.assert(ringsOnAxis(), { numRuns: runs(40, 80) });
  });

  it('leave nothing but one body where a body meets itself', () => {
    const bases: Primitive[] = [
      { primitive: 'torus', radius: 20, tubeRadius: 7, sides: 14, tubeSides: 9 },
      { primitive: 'quadSphere', radius: 20, divisions: 4 },
      { primitive: 'sphere', radius: 20, sides: 13, rings: 8 },
    ];
    for (const base of bases)
      for (const turn of [still, [31, -57, 101] as Turn]) {
        const parts = [{ base }, { base }];
        const once = buildPrimitive(base);
        const both = assembled(parts, 'union', { turn, move: still }).mesh;
        soundSolid(both, { volume: volume(once), area: surfaceArea(once) });
        expect([faceCount(both), vertexCount(both)]).toEqual([faceCount(once), vertexCount(once)]);
        expect(faceCount(assembled(parts, 'subtract', { turn, move: still }).mesh)).toBe(0);
      }
  });

  it('come together though the last digits of their points were lost', () => {
    const rounded = (m: PolyMesh): PolyMesh => ({
      ...m,
      positions: m.positions.map((x) => Number(x.toFixed(5))),
    });
    const turned = transformMatrix({ move: [3, 4, 5], turn: [17, 29, 41], size: [1, 1, 1] });
    const part = (p: Placed) =>
      rounded(
        transformMesh(
          transformMesh(
            buildPrimitive(p.base),
            transformMatrix({ move: p.at ?? still, turn: still, size: [1, 1, 1] }),
          ),
          turned,
        ),
      );
    const host = { mesh: part(box(100, 20, 80)), name: 'host', id: 'host' };
    const through = { mesh: part(box(10, 20, 10, [20, 0, 10])), name: 'through', id: 'through' };
    const bored = cut(host, [through], 'subtract').mesh;
    expect(checkMesh(bored).findings).toEqual([]);
    expect([faceCount(bored), eulerCharacteristic(bored)]).toEqual([4 + 4 + 4, 0]);
    expect(volume(bored)).toBeCloseTo(100 * 20 * 80 - 10 * 20 * 10, 1);
  });
});

describe('flat neighbours', () => {
  const places = [
    { turn: still, move: still },
    { turn: [70.5, 239.9, 186.4] as Turn, move: [3, -8, 21] as Turn },
  ];
  const counts: Array<[string, Placed[], CutMode, number]> = [
    ['a box and itself', [box(40, 50, 80), box(40, 50, 80)], 'union', 6],
    ['two boxes side by side', [box(20, 20, 20), box(20, 20, 20, [20, 0, 0])], 'union', 6],
    ['two boxes side by side, one half up', [box(20, 20, 20), box(20, 20, 20, [20, 10, 0])], 'union', 10],
    ['two cylinders of one radius', [cylinder(12, 30, 48), cylinder(12, 30, 48, [0, 20, 0])], 'union', 50],
    [
      'a hole bored twice',
      [box(60, 20, 60), cylinder(8, 40, 32), cylinder(8, 50, 32, [0, 3, 0])],
      'subtract',
      40,
    ],
    [
      'holes that overlap in a grid',
      [
        box(100, 20, 80),
        ...[-20, -10, 0].flatMap((x) => [-20, -10, 0].map((z) => box(12, 40, 12, [x, 0, z]))),
      ],
      'subtract',
      12,
    ],
    [
      'holes that touch in a grid',
      [
        box(100, 20, 80),
        ...[-20, -10, 0].flatMap((x) => [-20, -10, 0].map((z) => box(10, 40, 10, [x, 0, z]))),
      ],
      'subtract',
      12,
    ],
    ['a boss flush with a wall', [box(60, 20, 60), box(20, 20, 20, [20, 20, 0])], 'union', 10],
  ];
  it.each(counts)('%s have the faces a person would draw', (_, parts, mode, faces) => {
    for (const at of places) {
      const { mesh } = assembled(parts, mode, at);
      expect(checkMesh(mesh).findings).toEqual([]);
      expect(faceCount(mesh)).toBe(faces);
    }
  });

  const row = [box(20, 20, 20), box(20, 20, 20, [20, 0, 0])];

  it('stay apart when they are told to, and along an edge that is marked', () => {
    expect(faceCount(assembled(row, 'union', places[0], false).mesh)).toBe(10);
    const host = buildPrimitive(row[0].base);
    const t = topologyOf(host);
    const hard = new Uint8Array(t.edgeCount);
    for (let e = 0; e < t.edgeCount; e++)
      if ([0, 1].every((k) => host.positions[3 * t.edges[2 * e + k]] > 0)) hard[e] = 1;
    const marked = { ...host, layers: { ...host.layers, edge: { hard: { size: 1, data: hard } } } };
    const other = transformMesh(host, transformMatrix({ move: [20, 0, 0], turn: still, size: [1, 1, 1] }));
    const out = cut({ mesh: marked, name: 'a' }, [{ mesh: other, name: 'b', id: 'b' }], 'union').mesh;
    expect(faceCount(out)).toBe(10);
    expect(Array.from(out.layers.edge.hard.data).filter(Boolean)).toHaveLength(4);
  });

  it('stay apart where material or UVs someone laid out differ', () => {
    for (const layer of ['material', 'uvLaid']) {
      const host = buildPrimitive(row[0].base);
      const other = transformMesh(host, transformMatrix({ move: [20, 0, 0], turn: still, size: [1, 1, 1] }));
      const face = { [layer]: { size: 1, data: new Uint8Array(faceCount(host)).fill(1) } };
      const its = { ...other, layers: { ...other.layers, face } };
      const out = cut({ mesh: host, name: 'a' }, [{ mesh: its, name: 'b', id: 'b' }], 'union').mesh;
      expect(faceCount(out)).toBe(10);
    }
  });

  it('go on with the UVs of the face they join', () => {
    const { mesh } = assembled(row, 'union', places[0]);
    const uv = mesh.layers.corner.uv.data;
    for (let f = 0; f < faceCount(mesh); f++) {
      if (Math.abs(faceNormal(mesh, f)[0]) > 0.5) continue;
      // The host's face is 20 wide with UVs from 0 to 1, so the joined one runs to 2 (or back to −1).
      const us = Array.from({ length: 4 }, (_, k) => uv[2 * (mesh.faceStart[f] + k)]);
      const vs = Array.from({ length: 4 }, (_, k) => uv[2 * (mesh.faceStart[f] + k) + 1]);
      expect([us, vs].map((x) => Math.max(...x) - Math.min(...x)).sort()).toEqual([
        expect.closeTo(1, 9),
        expect.closeTo(2, 9),
      ]);
    }
  });

  it('leave no rim on edges that both sides had before', () => {
    const { mesh } = assembled([box(60, 20, 60), box(20, 20, 20, [20, 20, 0])], 'union', places[0]);
    const t = topologyOf(mesh);
    const rims = Array.from({ length: t.edgeCount }, (_, e) => e).filter((e) => mesh.layers.edge.cut.data[e]);
    // The boss stands on the top with three sides; the fourth goes on into the wall.
    expect(rims).toHaveLength(3);
    for (const e of rims) {
      expect(mesh.layers.edge.cut.data[e]).toBe(cutterCode('part1'));
      for (const k of [0, 1]) expect(mesh.positions[3 * t.edges[2 * e + k] + 1]).toBeCloseTo(10, 9);
    }
  });
});

describe('assemblies of anything', () => {
  it('turned, uneven or mirrored, have no edge that passes through a face', () => {
    fc.assert(anyAssembly(), { numRuns: runs(30, 60) });
  });
});

describe('pieces that each join the next two', () => {
  const chain = (n: number, at: (i: number) => Piece['transform']): Piece[] =>
    Array.from({ length: n }, (_, i) => ({
      id: `p${i}`,
      name: `p${i}`,
      base: { primitive: 'box', width: 10, height: 10, depth: 10 },
      transform: at(i),
      steps:
        i + 1 < n
          ? [{ kind: 'cut', mode: 'union', cutters: [i + 1, i + 2].filter((k) => k < n).map((k) => `p${k}`) }]
          : [],
    }));
  const built = (pieces: Piece[]) => {
    const none = (): never => {
      throw new Error('no mesh is stored');
    };
    const evaluator = new Evaluator({ blob: none, file: none });
    evaluator.setPieces(pieces);
    return evaluator.build('p0');
  };

  it('make one bar of a row, and as many boxes as stand apart', () => {
    const bar = built(chain(60, (i) => ({ move: [5 * i, 0, 0], turn: still, size: [1, 1, 1] })));
    expect([faceCount(bar.mesh), bar.steps.map((s) => s.warnings)]).toEqual([6, [[]]]);
    expect(volume(bar.mesh)).toBeCloseTo((59 * 5 + 10) * 100, 6);
    const apart = built(chain(60, (i) => ({ move: [20 * i, 0, 0], turn: [0, 7 * i, 0], size: [1, 1, 1] })));
    expect(faceCount(apart.mesh)).toBe(360);
    expect(volume(apart.mesh)).toBeCloseTo(60 * 1000, 6);
  });

  it('hold each other’s corners where they overlap askew', () => {
    const at = (i: number) => ({
      move: [7.3 * i, (i % 5) * 1.7, (i % 3) * 1.1] as Turn,
      turn: [0, 3 * i, 0] as Turn,
      size: [1, 1, 1] as Turn,
    });
    const n = 20;
    const { mesh } = built(chain(n, at));
    expect(checkMesh(mesh).findings).toEqual([]);
    // All at once, without the nesting, is the same body.
    const parts = chain(n, at).map((p) => ({
      mesh: transformMesh(buildPrimitive(p.base as Primitive), transformMatrix(p.transform as never)),
      name: p.id,
      id: p.id,
    }));
    const flat = cut(parts[0], parts.slice(1), 'union').mesh;
    const home = transformMesh(mesh, transformMatrix(chain(1, at)[0].transform as never));
    expect(volume(home)).toBeCloseTo(volume(flat), 6);
    expect(surfaceArea(home)).toBeCloseTo(surfaceArea(flat), 6);
    for (let f = 0; f < faceCount(home); f++) {
      const n0 = faceNormal(home, f);
      const heights = Array.from(home.corners.subarray(home.faceStart[f], home.faceStart[f + 1]), (v) =>
        dot(n0, pointOf(home.positions, v) as Vec3),
      );
      expect(Math.max(...heights) - Math.min(...heights)).toBeLessThan(1e-9);
    }
  });
});
