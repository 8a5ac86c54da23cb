/** Corners cut off and rounded; strips of uneven width. */
import { describe, expect, it } from 'vitest';
import { checkMesh } from '../src/mesh/checkMesh';
import { RANK } from '../src/mesh/layers';
import { boundsOf, faceKinds, faceNormal, surfaceArea, volume } from '../src/mesh/measure';
import { faceCount, meshFromLoops, vertexCount, type PolyMesh } from '../src/mesh/PolyMesh';
import { topologyOf } from '../src/mesh/Topology';
import { length, pointOf } from '../src/mesh/vec3';
import { profileWeights } from '../src/ops/bevel/profile';
import { buildPrimitive } from '../src/primitives';
import { act, points } from './acting';
import { refusal } from './refusal';

const cube = buildPrimitive({ primitive: 'box', width: 20, height: 20, depth: 20 });
const sheet = buildPrimitive({ primitive: 'plane', width: 20, depth: 20, segments: [2, 2] });
const all = { rule: 'all', of: 'points' } as const;
const middle = points(sheet).findIndex((p) => length(p) === 0);

describe('bevel of points', () => {
  it('cuts corners off a cube: a sixth of a small cube each', () => {
    const { mesh, selection, report } = act(cube, { op: 'bevelPoints', select: all, width: 3 });
    expect(volume(mesh)).toBeCloseTo(8000 - 8 * (27 / 6), 9);
    expect(faceKinds(mesh)).toMatchObject({ triangles: 8, quads: 0, ngons: 6 });
    expect([report, selection.kind, selection.indices.length]).toEqual(['Bevelled 8 points.', 'face', 8]);
    expect(selection.indices.every((f) => mesh.layers.face.rank.data[f] === RANK.follow)).toBe(true);
    expect(mesh.layers.face.rank.data.filter((r) => r === RANK.follow)).toHaveLength(8);
  });

  it('stops where corners meet and welds them there: a cube becomes a cuboctahedron', () => {
    const { mesh, warning } = act(cube, { op: 'bevelPoints', select: all, width: 300 });
    expect(volume(mesh)).toBeCloseTo((8000 * 5) / 6, 9);
    expect([vertexCount(mesh), faceCount(mesh)]).toEqual([12, 14]);
    expect(warning).toBe('8 corners stopped early, where corners meet.');
  });

  it('stops at a point that stays, and is welded to it', () => {
    const { mesh } = act(cube, { op: 'bevelPoints', select: { points: [0] }, width: 300 });
    expect(volume(mesh)).toBeCloseTo(8000 - 8000 / 6, 9);
    expect([vertexCount(mesh), faceCount(mesh)]).toEqual([7, 7]);
  });

  it('gives the later of two corners what the earlier left of the edge between them', () => {
    // On a long box the short edges stop their corners at 5; the two picked ones share a long edge.
    const bar = buildPrimitive({ primitive: 'box', width: 30, height: 10, depth: 10 });
    const ends = points(bar).flatMap((p, v) => (p[1] > 0 && p[2] > 0 ? [v] : []));
    const { mesh } = act(bar, { op: 'bevelPoints', select: { points: ends }, width: 12 });
    // Both reach the points across the short edges, at 10, and stop: 10 mm of the long edge are left.
    const top = points(mesh).filter((p) => p[1] === 5 && p[2] === 5);
    expect(top.map((p) => p[0]).sort((a, b) => a - b)).toEqual([-5, 5]);
  });

  it('stays inside the corner it rounds, whatever the segments', () => {
    for (const segments of [2, 3, 4, 5]) {
      const { mesh, selection } = act(cube, {
        op: 'bevelPoints',
        select: { points: [0] },
        width: 4,
        segments,
      });
      const patch = new Set(
        selection.indices.flatMap((f) => [
          ...mesh.corners.subarray(mesh.faceStart[f], mesh.faceStart[f + 1]),
        ]),
      );
      const corner = pointOf(cube.positions, 0);
      const rim = [...patch].map((v) => pointOf(mesh.positions, v));
      // Every point lies within the corner that was cut off, the rim on the cube's faces.
      for (const p of rim) p.forEach((x, k) => expect(Math.abs(x - corner[k])).toBeLessThan(4 + 1e-9));
      expect(checkMesh(mesh).closed).toBe(true);
      expect(volume(mesh)).toBeGreaterThan(8000 - 64 / 6);
      expect(volume(mesh)).toBeLessThan(8000);
    }
  });

  it('leaves faces around in their planes', () => {
    const { mesh, selection } = act(cube, { op: 'bevelPoints', select: all, width: 5, segments: 3 });
    const made = new Set(selection.indices);
    for (let f = 0; f < faceCount(mesh); f++)
      if (!made.has(f)) expect(faceNormal(mesh, f).filter((x) => Math.abs(x) > 1e-9)).toHaveLength(1);
    expect(boundsOf(mesh)).toEqual(boundsOf(cube));
  });

  it('opens a face in the middle of a sheet, rounds its outline, and keeps its border straight', () => {
    const inside = act(sheet, { op: 'bevelPoints', select: { points: [middle] }, width: 4 }).mesh;
    expect(surfaceArea(inside)).toBeCloseTo(400, 9);
    expect(faceKinds(inside)).toMatchObject({ quads: 1, ngons: 4 });
    const corner = points(sheet).findIndex((p) => p[0] === 10 && p[2] === 10);
    const cut = act(sheet, { op: 'bevelPoints', select: { points: [corner] }, width: 4 }).mesh;
    expect(surfaceArea(cut)).toBeCloseTo(400 - 8, 9);
    const side = points(sheet).findIndex((p) => p[0] === 10 && p[2] === 0);
    expect(
      surfaceArea(act(sheet, { op: 'bevelPoints', select: { points: [side] }, width: 4 }).mesh),
    ).toBeCloseTo(400, 9);
  });

  it('lays UVs on where they agree: on a sheet they still follow the place', () => {
    const before = uvAffine(sheet);
    const { mesh } = act(sheet, { op: 'bevelPoints', select: { points: [middle] }, width: 4, segments: 1 });
    expect(uvAffine(mesh)).toEqual(before);
  });

  it('refuses a point where sheets only touch', () => {
    const bow = meshFromLoops(
      [
        [0, 0, 0],
        [1, 0, 0],
        [1, 0, 1],
        [-1, 0, 0],
        [-1, 0, -1],
      ],
      [
        [0, 2, 1],
        [0, 4, 3],
      ],
    );
    expect(refusal(() => act(bow, { op: 'bevelPoints', select: { points: [0] } }))).toBe('pinched');
  });
});

/** UV per corner rounded, keyed by place: the same plane map before and after gives one slope. */
function uvAffine(m: PolyMesh): number[] {
  const uv = m.layers.corner.uv.data;
  const slopes = new Set<number>();
  for (let c = 0; c < m.corners.length; c++) {
    const [x, , z] = pointOf(m.positions, m.corners[c]);
    slopes.add(Number((uv[2 * c] - x / 20).toFixed(9)));
    slopes.add(Number((Math.abs(uv[2 * c + 1] - 0.5) - Math.abs(z / 20)).toFixed(9)));
  }
  return [...slopes].sort((a, b) => a - b);
}

describe('edges with a share of the width', () => {
  const t = topologyOf(cube);
  const upright = Array.from({ length: t.edgeCount }, (_, e) => e).filter((e) => {
    const [a, b] = [pointOf(cube.positions, t.edges[2 * e]), pointOf(cube.positions, t.edges[2 * e + 1])];
    return a[0] === b[0] && a[2] === b[2];
  });
  const shared = act(cube, {
    op: 'mark',
    select: { edges: [upright[0]] },
    marks: ['round'],
    value: 0.25,
  }).mesh;

  it('are cut off as far as their mark says, others all the way', () => {
    const { mesh } = act(shared, { op: 'bevel', select: { edges: upright }, width: 4, profile: 0 });
    expect(volume(mesh)).toBeCloseTo(8000 - 20 * (3 * 8 + 0.5), 9);
  });

  it('meet in corners where each keeps its own width', () => {
    const { mesh } = act(shared, { op: 'bevel', select: { rule: 'all', of: 'edges' }, width: 4, profile: 0 });
    // The top face: 4 in from three sides; its corner at the narrow edge stays 4 from both.
    expect(checkMesh(mesh).closed).toBe(true);
    expect(boundsOf(mesh)).toEqual(boundsOf(cube));
    const corner = pointOf(cube.positions, t.edges[2 * upright[0]]);
    const sides = points(mesh).filter((p) => Math.abs(p[0] - corner[0]) < 1e-9 && Math.abs(p[1]) < 9);
    expect(Math.max(...sides.map((p) => Math.abs(p[2])))).toBeCloseTo(9, 9);
  });

  it('go over from one width to the other where they run on straight', () => {
    const long = buildPrimitive({ primitive: 'box', width: 20, height: 20, depth: 20, segments: [2, 1, 1] });
    const tl = topologyOf(long);
    const run = Array.from({ length: tl.edgeCount }, (_, e) => e).filter((e) =>
      [0, 1].every((k) => {
        const p = pointOf(long.positions, tl.edges[2 * e + k]);
        return p[1] === 10 && p[2] === 10;
      }),
    );
    const half = act(long, { op: 'mark', select: { edges: [run[0]] }, marks: ['round'], value: 0.5 }).mesh;
    const { mesh } = act(half, { op: 'bevel', select: { edges: run }, width: 4, profile: 0 });
    expect(checkMesh(mesh).closed).toBe(true);
    // Between a bar of 2 all along and one of 4 all along.
    expect(volume(mesh)).toBeLessThan(8000 - 20 * 2);
    expect(volume(mesh)).toBeGreaterThan(8000 - 20 * 8);
  });
});

it('a corner of no angle has a straight profile, not a number that is none', () => {
  for (const [a, b] of profileWeights(4, 1, 0)) expect(a + b).toBeCloseTo(1, 12);
});
