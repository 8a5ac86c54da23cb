/** Operations that move points and mark edges, on shapes whose result is known exactly. */
import { beforeAll, describe, expect, it } from 'vitest';
import { buildPrimitive } from '../src/primitives';
import { boundsOf, volume } from '../src/mesh/measure';
import { vertexCount, type PolyMesh } from '../src/mesh/PolyMesh';
import { topologyOf } from '../src/mesh/Topology';
import { resolveSelect, type Select } from '../src/select/rules';
import { loadKernel } from '../src/solid/kernel';
import { points } from './acting';
import { refusal } from './refusal';
import { act, cube, grid, top, edgeAlong } from './onShapes';
beforeAll(async () => {
  await loadKernel();
});
describe('moving and arranging', () => {
  it('moves, turns and sizes in a frame, about the middle, each island or a point', () => {
    const moved = act(cube, 'transform', top, { move: [1, 2, 3] }).mesh;
    expect(boundsOf(moved)).toEqual({ min: [-5, -5, -5], max: [6, 7, 8] });
    const turned = act(cube, 'transform', top, { turn: [0, 90, 0] }).mesh;
    expect(boundsOf(turned).max[0]).toBeCloseTo(5, 12);
    const sized = act(cube, 'transform', top, { size: [0.5, 1, 0.5] }).mesh;
    expect(volume(sized)).toBeCloseTo((10 / 3) * (100 + 25 + 50), 9);
    const s = Math.SQRT1_2;
    const frame = [s, s, 0, -s, s, 0, 0, 0, 1];
    const along = act(cube, 'transform', { rule: 'all', of: 'faces' }, { move: [10, 0, 0], frame }).mesh;
    expect(boundsOf(along).max[0]).toBeCloseTo(5 + 10 * s, 12);
    const ends: Select = { rule: 'within', of: 'faces', min: [-21, -1, -21], max: [21, 1, -11] };
    const each = act(grid, 'transform', ends, { size: [0.5, 1, 0.5], about: 'each' }).mesh;
    expect(boundsOf(each).min[2]).toBeCloseTo(-17.5, 9);
  });
  it('lets points in reach follow softly', () => {
    const v = Array.from({ length: 25 }, (_, i) => i).find(
      (i) => grid.positions[3 * i] === 0 && grid.positions[3 * i + 2] === 0,
    )!;
    const { mesh: m, report } = act(grid, 'transform', { points: [v] }, { move: [0, 8, 0], reach: 15, falloff: 'linear' }); // prettier-ignore
    expect(report).toBe('Moved 9 points.');
    const height = (x: number, z: number): number =>
      m.positions[
        3 *
          Array.from({ length: 25 }, (_, i) => i).find(
            (i) => grid.positions[3 * i] === x && grid.positions[3 * i + 2] === z,
          )! +
          1
      ];
    expect(height(0, 0)).toBe(8);
    expect(height(10, 0)).toBeCloseTo(8 / 3, 9);
    expect(height(10, 10)).toBeCloseTo(8 * (1 - Math.hypot(10, 10) / 15), 9);
    expect(height(20, 0)).toBe(0);
  });
  it('straightens a row that doubles back without changing the order of its points', () => {
    const strip = buildPrimitive({ primitive: 'plane', width: 30, depth: 5, segments: [3, 1] });
    const row = points(strip)
      .flatMap((p, v) => (p[2] > 0 ? [{ x: p[0], v }] : []))
      .sort((p, q) => p.x - q.x)
      .map((p) => p.v);
    const bent = { ...strip, positions: strip.positions.slice() };
    // Along the line the second point comes 2 behind the third: the row goes 12 up, 2 back, 12 on.
    bent.positions[3 * row[1]] = 2;
    bent.positions[3 * row[2]] = 0;
    const straight = act(bent, 'straighten', { points: row }).mesh;
    expect(row.map((v) => straight.positions[3 * v])).toEqual([
      -15,
      expect.closeTo(-15 + (30 * 17) / 34, 9),
      expect.closeTo(-15 + (30 * 19) / 34, 9),
      15,
    ]);
  });
  it('flattens, straightens, spaces evenly, relaxes, rounds, pushes', () => {
    const bent = { ...grid, positions: grid.positions.map((x, i) => (i % 3 === 1 ? Math.sin(i) : x)) };
    const flat = act(bent, 'flatten', { rule: 'all', of: 'points' }, { onto: 'y' }).mesh;
    expect(boundsOf(flat).max[1] - boundsOf(flat).min[1]).toBeCloseTo(0, 12);
    const loop: Select = { rule: 'loop', edge: edgeAlong(bent, (a, b) => a[0] === 0 && b[0] === 0) };
    const row = act(bent, 'straighten', loop);
    const t = topologyOf(row.mesh);
    const ys = row.selection.indices.map((e) =>
      [t.edges[2 * e], t.edges[2 * e + 1]].map((p) => [2, 1].map((k) => row.mesh.positions[3 * p + k])),
    );
    const line = ys.flat().sort((a, b) => a[0] - b[0]);
    const slope = (line[line.length - 1][1] - line[0][1]) / (line[line.length - 1][0] - line[0][0]);
    for (const [z, y] of line) expect(y).toBeCloseTo(line[0][1] + slope * (z - line[0][0]), 9);
    const calm = act(bent, 'relax', { rule: 'all', of: 'points' }, { rounds: 50 });
    expect(calm.report).toContain('9 points');
    expect(boundsOf(calm.mesh).max[0]).toBe(20);
    const disc = act(
      grid,
      'makeRound',
      { rule: 'within', of: 'faces', min: [-11, -1, -11], max: [11, 1, 11] },
      { radius: 12 },
    );
    const border = resolveSelect(disc.mesh, { rule: 'border', faces: [...disc.selection.indices] });
    for (const e of border.indices)
      for (const p of [topologyOf(disc.mesh).edges[2 * e]])
        expect(Math.hypot(disc.mesh.positions[3 * p], disc.mesh.positions[3 * p + 2])).toBeCloseTo(12, 9);
    expect(
      boundsOf(act(cube, 'push', { rule: 'all', of: 'points' }, { distance: Math.sqrt(3) }).mesh).max,
    ).toEqual([6, 6, 6].map((x) => expect.closeTo(x, 9)));
  });
  it('spaces a row evenly along its curve', () => {
    const strip = buildPrimitive({ primitive: 'plane', width: 10, depth: 40, segments: [1, 4] });
    const uneven = {
      ...strip,
      positions: strip.positions.map((x, i) => (i % 3 === 2 ? Math.sign(x) * Math.abs(x) ** 1.5 : x)),
    };
    const out = act(uneven, 'spaceEvenly', {
      rule: 'within',
      of: 'edges',
      min: [5, -1, -99],
      max: [5, 1, 99],
    });
    const t = topologyOf(out.mesh);
    const zs = [...new Set(out.selection.indices.filter((x) => [0, 1].every((k) => out.mesh.positions[3 * t.edges[2 * x + k]] === 5)).flatMap((x) => [0, 1].map((k) => out.mesh.positions[3 * t.edges[2 * x + k] + 2])))].sort((a, b) => a - b); // prettier-ignore
    const gaps = zs.slice(1).map((z, k) => z - zs[k]);
    for (const g of gaps) expect(g).toBeCloseTo((2 * 20 ** 1.5) / 4, 3);
  });
});
it('spaces a closed loop round a box within its sides: the corners stay', () => {
  const box = buildPrimitive({ primitive: 'box', width: 20, height: 10, depth: 20, segments: [4, 2, 4] });
  const t = topologyOf(box);
  const level = (v: number): boolean => box.positions[3 * v + 1] === 0;
  const loop = Array.from({ length: t.edgeCount }, (_, e) => e).filter((e) => level(t.edges[2 * e]) && level(t.edges[2 * e + 1])); // prettier-ignore
  // One point of each side is slid along it.
  const uneven = { ...box, positions: box.positions.slice() };
  for (let v = 0; v < vertexCount(box); v++) {
    const [x, , z] = points(box)[v];
    if (!level(v)) continue;
    if (x === 0) uneven.positions[3 * v] = 3;
    if (z === 0) uneven.positions[3 * v + 2] = -2;
  }
  const { mesh } = act(uneven, 'spaceEvenly', { edges: loop });
  mesh.positions.forEach((x, i) => expect(x).toBeCloseTo(box.positions[i], 9));
});

describe('marks', () => {
  const edges: Select = { rule: 'all', of: 'edges' };
  const can = buildPrimitive({ primitive: 'cylinder', radius: 10, height: 10, sides: 12 });
  const marksOf = (m: PolyMesh): string[] => Object.keys(m.layers.edge).sort();
  it('set any set of them on edges over an angle, and clear them again', () => {
    const { mesh, report } = act(can, 'mark', edges, { marks: ['hard', 'seam', 'round'], value: 0.5, sharper: 45 }); // prettier-ignore
    expect(report).toBe('Marked 24 edges hard, seam, round.');
    for (const m of ['hard', 'seam', 'round'])
      expect(Array.from(mesh.layers.edge[m].data).filter((x) => x > 0)).toHaveLength(24);
    expect(Math.max(...mesh.layers.edge.round.data)).toBe(0.5);
    const less = act(mesh, 'mark', edges, { marks: ['hard', 'round'], value: 0 });
    expect(marksOf(less.mesh)).toEqual(['seam']);
    expect(less.report).toBe('Cleared hard, round from 24 edges.');
  });

  it('refuse an angle no edge is over, and know no angle at a rim', () => {
    expect(refusal(() => act(grid, 'mark', edges, { marks: ['hard'], sharper: 10 }))).toBe('none-sharper');
  });
});

describe('even spacing between parallel loops', () => {
  const at = (m: PolyMesh, v: number): number[] => Array.from(m.positions.subarray(3 * v, 3 * v + 3));
  const level = (m: PolyMesh, y: number): number[] => {
    const t = topologyOf(m);
    return Array.from({ length: t.edgeCount }, (_, e) => e).filter((e) =>
      [0, 1].every((k) => Math.abs(at(m, t.edges[2 * e + k])[1] - y) < 1e-9),
    );
  };

  it('brings them between the outer two, along a straight wall', () => {
    const can = buildPrimitive({ primitive: 'cylinder', radius: 5, height: 20, sides: 9, rings: 4 });
    const picked = [-10, -5, 0, 5, 10].flatMap((y) => level(can, y));
    const moved = act(can, 'transform', { edges: level(can, 0) }, { move: [0, 3, 0] }).mesh;
    const { mesh } = act(moved, 'spaceEvenly', { edges: picked }, { between: true });
    mesh.positions.forEach((x, i) => expect(x).toBeCloseTo(can.positions[i], 9));
  });

  it('and on the curve of a round one', () => {
    const ball = buildPrimitive({ primitive: 'sphere', radius: 10, sides: 16, rings: 12 });
    const ys = [...new Set(Array.from({ length: vertexCount(ball) }, (_, v) => Number(at(ball, v)[1].toFixed(9))))].sort((a, b) => a - b); // prettier-ignore
    const picked = ys.slice(3, 10).flatMap((y) => level(ball, y));
    const slid = act(ball, 'transform', { edges: level(ball, ys[6]) }, { move: [0, 0.8, 0] }).mesh;
    const { mesh } = act(slid, 'spaceEvenly', { edges: picked }, { between: true });
    for (let v = 0; v < vertexCount(mesh); v++) expect(Math.hypot(...at(mesh, v))).toBeCloseTo(10, 0);
    const now = [...new Set(Array.from({ length: vertexCount(mesh) }, (_, v) => Number(at(mesh, v)[1].toFixed(6))))]; // prettier-ignore
    // Rows of one meridian are all spaced alike, so every loop is still level.
    expect(now).toHaveLength(ys.length);
  });

  it('refuses a single loop', () => {
    const can = buildPrimitive({ primitive: 'cylinder', radius: 5, height: 20, sides: 9, rings: 4 });
    expect(refusal(() => act(can, 'spaceEvenly', { edges: level(can, 0) }, { between: true }))).toBe('no-loops-beside'); // prettier-ignore
  });
});

it('moves the other side along across a plane of symmetry', () => {
  const at = (x: number, z: number): number =>
    Array.from({ length: 25 }, (_, i) => i).find(
      (i) => grid.positions[3 * i] === x && grid.positions[3 * i + 2] === z,
    )!;
  const out = act(grid, 'transform', { points: [at(10, 10), at(0, 10)] }, { move: [2, 3, 1], symmetry: 'x' });
  const p = (v: number): number[] => Array.from(out.mesh.positions.subarray(3 * v, 3 * v + 3));
  expect([p(at(10, 10)), p(at(-10, 10)), p(at(0, 10))]).toEqual([[12, 3, 11], [-12, 3, 11], [0, 3, 11]]); // prettier-ignore
  const odd = { ...grid, positions: grid.positions.map((x, i) => (i === 3 * at(-10, 10) ? -11 : x)) };
  expect(
    act(odd, 'transform', { points: [at(10, 10)] }, { move: [1, 0, 0], symmetry: 'x' }).warning,
  ).toContain('no counterpart');
});
