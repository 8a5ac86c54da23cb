/** Normals cast from another surface: what lies on it is shaded as it is, what does not is left alone. */
import { beforeAll, describe, expect, it } from 'vitest';
import type { Piece } from '../src/document/schema';
import { faceNormal } from '../src/mesh/measure';
import { faceCount, type PolyMesh } from '../src/mesh/PolyMesh';
import { topologyOf } from '../src/mesh/Topology';
import { cross, distance, dot, length, pointOf, unit, type Vec3 } from '../src/mesh/vec3';
import { buildPrimitive, type Primitive } from '../src/primitives';
import { rimEdges, rimsAndRails } from '../src/select/edges';
import { castNormals } from '../src/shading/castNormals';
import { shadingNormals } from '../src/shading/shadingNormals';
import { loadKernel } from '../src/solid/kernel';
import { Evaluator } from '../src/build/evaluate';
import type { Step } from '../src/steps';

beforeAll(async () => {
  await loadKernel();
});

const none = (): never => {
  throw new Error('no file is used');
};
function built(pieces: Piece[], id = 'a'): { mesh: PolyMesh; keys: string[]; faults: string[] } {
  const e = new Evaluator({ blob: none, file: none });
  e.setPieces(pieces);
  const { mesh, steps } = e.build(id);
  return { mesh, keys: steps.map((s) => s.key), faults: steps.flatMap((s) => s.fault?.code ?? []) };
}

const R = 25;
const pole: Primitive = { primitive: 'cylinder', radius: R, height: 60, sides: 48 };
const bore: Piece = { id: 'h', role: 'cutter', base: { primitive: 'cylinder', radius: 7, height: 90, sides: 24 }, transform: { move: [3, 0, 0], turn: [90, 0, 0] } }; // prettier-ignore
const bored = (...steps: Step[]): Piece[] => [
  { id: 'a', base: pole, steps: [{ kind: 'cut', mode: 'subtract', cutters: ['h'] }, ...steps] },
  bore,
];

/** Degrees between two unit vectors. */
const between = (a: Vec3, b: Vec3): number => (Math.atan2(length(cross(a, b)), dot(a, b)) * 180) / Math.PI;

/** Of the wall of the pole: corners, and by how much each is off the true normal, degrees. */
function offWall(
  mesh: PolyMesh,
  at: (v: number) => boolean = () => true,
): { worst: number; corners: number } {
  const normals = shadingNormals(mesh);
  let [worst, corners] = [0, 0];
  for (let f = 0; f < faceCount(mesh); f++) {
    const n = faceNormal(mesh, f);
    const from = mesh.faceStart[f];
    const first = pointOf(mesh.positions, mesh.corners[from]);
    const out = unit([first[0], 0, first[2]]);
    // Facets of the wall face outward; those of the bore, and the caps, do not.
    const onWall =
      Math.abs(n[1]) < 1e-6 && dot(n, out) > Math.cos(0.14) && Math.hypot(first[0], first[2]) > R * 0.99;
    if (!onWall) continue;
    for (let c = from; c < mesh.faceStart[f + 1]; c++) {
      if (!at(mesh.corners[c])) continue;
      const p = pointOf(mesh.positions, mesh.corners[c]);
      worst = Math.max(worst, between(pointOf(normals, c), unit([p[0], 0, p[2]])));
      corners++;
    }
  }
  return { worst, corners };
}

describe('a cast', () => {
  it('from before its cuts gives a bored pole the shading of its wall back, exactly', () => {
    const spoiled = built(bored({ kind: 'normals', weight: 'area', hardAngle: 180, rank: false }));
    expect(offWall(spoiled.mesh).worst).toBeGreaterThan(5);
    const { mesh, faults } = built(
      bored({ kind: 'normals', weight: 'area', hardAngle: 180, rank: false }, { kind: 'cast' }),
    );
    expect(faults).toEqual([]);
    const { worst, corners } = offWall(mesh);
    expect(corners).toBeGreaterThan(150);
    expect(worst).toBeLessThan(1e-5);
    // The walls of the bore do not take the wall's normals.
    const [before, after] = [spoiled.mesh, mesh].map(shadingNormals);
    let kept = 0;
    for (let f = 0; f < faceCount(mesh); f++) {
      const p = pointOf(mesh.positions, mesh.corners[mesh.faceStart[f]]);
      if (Math.abs(p[1]) > 8 || Math.abs(dot(faceNormal(mesh, f), unit([p[0], 0, p[2]]))) > 0.4) continue;
      for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++, kept++)
        expect(pointOf(after, c)).toEqual(pointOf(before, c));
    }
    expect(kept).toBeGreaterThan(80);
  });

  it('near the rims alone goes as far as is asked, and fades out as its falloff says', () => {
    const spoil: Step = { kind: 'normals', weight: 'area', hardAngle: 180, rank: false };
    const near = { kind: 'cast', near: { rule: 'rims' }, within: 30 } as const;
    const [spoiled, whole, even, linear] = [
      bored(spoil),
      bored(spoil, { kind: 'cast' }),
      bored(spoil, { ...near, falloff: 'even' }),
      bored(spoil, { ...near, falloff: 'linear' }),
    ].map((pieces) => built(pieces).mesh);
    const rim = new Set(
      rimEdges(spoiled).flatMap((e) => [...topologyOf(spoiled).edges.subarray(2 * e, 2 * e + 2)]),
    );
    const places = [...rim].map((v) => pointOf(spoiled.positions, v));
    const counts = { at: 0, within: 0, beyond: 0 };
    for (const [c, v] of spoiled.corners.entries()) {
      const far = Math.min(...places.map((p) => distance(p, pointOf(spoiled.positions, v))));
      const [before, all, full, faded] = [spoiled, whole, even, linear].map((m) =>
        pointOf(shadingNormals(m), c),
      );
      if (far >= 30) {
        expect([full, faded]).toEqual([before, before]);
        if (between(before, all) > 0.1) counts.beyond++;
        continue;
      }
      expect(between(full, all)).toBeLessThan(1e-4);
      if (far === 0) {
        expect(between(faded, all)).toBeLessThan(1e-4);
        counts.at++;
      } else if (between(before, all) > 0.1) {
        const share = between(before, faded) / between(before, all);
        expect(share).toBeCloseTo(1 - far / 30, 1);
        counts.within++;
      }
    }
    expect(counts.at).toBeGreaterThan(50);
    expect(counts.within).toBeGreaterThan(20);
    expect(counts.beyond).toBeGreaterThan(20);
    expect(built(bored(spoil, { kind: 'cast', near: { rule: 'open' } })).keys.at(-1)).toBe('5 mm');
  });

  it('finds the rims again after they were rounded, and tells only where there are none', () => {
    const spoil: Step = { kind: 'normals', weight: 'angle', hardAngle: 180, rank: false };
    const round: Step = { kind: 'bevel', scope: { rule: 'rims' }, width: 1, segments: 2 };
    const near: Step = { kind: 'cast', near: { rule: 'rims' }, within: 4, reach: 3 };
    const spoiled = built(bored(round, spoil));
    const mended = built(bored(round, spoil, near));
    expect(mended.faults).toEqual([]);
    const rails = new Set(rimsAndRails(spoiled.mesh).flatMap((e) => [...topologyOf(spoiled.mesh).edges.subarray(2 * e, 2 * e + 2)])); // prettier-ignore
    expect(rails.size).toBeGreaterThan(40);
    expect(rimEdges(spoiled.mesh)).toEqual([]);
    const [before, after] = [spoiled.mesh, mended.mesh].map((m) => offWall(m, (v) => rails.has(v)));
    expect(before.worst).toBeGreaterThan(5);
    expect(after.worst).toBeLessThan(0.5);
    expect(after.corners).toBeGreaterThan(40);
    const outer: Step = { kind: 'bevel', scope: { rule: 'outer' }, width: 1, segments: 2 };
    const plain = built([{ ...bored()[0], steps: [outer, near] }]);
    expect(plain.mesh.layers.corner.normal).toBeUndefined();
  });

  it('takes the strips of a rounding along where they meet the wall, and leaves them elsewhere', () => {
    const rounded: Step = { kind: 'bevel', scope: { rule: 'rims' }, width: 1.5, segments: 3 };
    const shade: Step = { kind: 'normals', weight: 'area', hardAngle: 40, rank: true };
    // Turned as a whole, so that the wall is wrong, and what shared its normals with it.
    const spoiled = built(bored(rounded, shade, { kind: 'cast', strength: 0 })).mesh;
    const data = shadingNormals(spoiled).map((x, i) => x + (i % 3 === 1 ? 0.2 : 0));
    const wrong: PolyMesh = {
      ...spoiled,
      layers: { ...spoiled.layers, corner: { ...spoiled.layers.corner, normal: { size: 3, data } } },
    };
    const before = shadingNormals(wrong);
    const { normals, took } = castNormals(wrong, buildPrimitive(pole), { way: 'nearest', reach: 5, turn: 60, strength: 1, hard: 'keep', faces: null }); // prettier-ignore
    const rank = wrong.layers.face.rank.data;
    const { vertexStart, vertexCorners, faceOfCorner } = topologyOf(wrong);
    const counts = { along: 0, left: 0 };
    for (const [c, v] of wrong.corners.entries()) {
      if (rank[faceOfCorner[c]] !== 2) continue;
      const shared = [...vertexCorners.subarray(vertexStart[v], vertexStart[v + 1])].filter(
        (d) =>
          took[d] && rank[faceOfCorner[d]] !== 2 && between(pointOf(before, d), pointOf(before, c)) < 0.05,
      );
      if (shared.length) {
        expect(pointOf(normals, c)).toEqual(pointOf(normals, shared[0]));
        counts.along++;
      } else {
        expect(pointOf(normals, c)).toEqual(pointOf(before, c));
        counts.left++;
      }
    }
    expect(counts.along).toBeGreaterThan(50);
    expect(counts.left).toBeGreaterThan(50);
  });

  it('onto kept points changes the corners at those alone, all around them', () => {
    const spoil: Step = { kind: 'normals', weight: 'area', hardAngle: 180, rank: false };
    const points = [0, 3, 4, 11, 12];
    const [before, after] = [
      [spoil],
      [spoil, { kind: 'cast', scope: { rule: 'kept', name: 'some' } } as Step],
    ].map((steps) => {
      const [a, h] = bored(...steps);
      const { mesh, faults } = built([{ ...a, selections: { some: { points } } }, h]);
      expect(faults).toEqual([]);
      return mesh;
    });
    const places = new Set(points.map((v) => pointOf(buildPrimitive(pole).positions, v).join()));
    let changed = 0;
    for (const [c, v] of after.corners.entries()) {
      const off = between(pointOf(shadingNormals(before), c), pointOf(shadingNormals(after), c));
      if (off < 1e-4) continue;
      expect(places.has(pointOf(after.positions, v).join())).toBe(true);
      changed++;
    }
    expect(changed).toBeGreaterThan(4);
  });

  it('on a cylinder is exact to 1e-6, also between its edges', () => {
    const wall = buildPrimitive(pole);
    const sheet = buildPrimitive({ primitive: 'cylinder', radius: R * 0.999, height: 40, sides: 31 });
    for (const way of ['nearest', 'along'] as const) {
      const cast = castNormals(sheet, wall, {
        way,
        reach: 1,
        turn: 60,
        strength: 1,
        hard: 'keep',
        faces: null,
      });
      let n = 0;
      for (let f = 0; f < faceCount(sheet); f++) {
        if (Math.abs(faceNormal(sheet, f)[1]) > 0.5) continue;
        for (let c = sheet.faceStart[f]; c < sheet.faceStart[f + 1]; c++, n++) {
          const p = pointOf(sheet.positions, sheet.corners[c]);
          const got = pointOf(cast.normals, c);
          // Seen along a chord, the normals mixed of its ends are radial where the chord is met.
          if (way === 'along') expect(dot(got, unit([p[0], 0, p[2]]))).toBeGreaterThan(1 - 1e-6);
          else expect(dot(got, unit([p[0], 0, p[2]]))).toBeGreaterThan(1 - 1e-5);
        }
      }
      expect(n).toBe(31 * 4);
    }
  });

  it('comes from another piece wherever that stands, within its reach, as strongly and on what is asked', () => {
    const plate: Piece = {
      id: 'a',
      base: { primitive: 'box', width: 10, height: 10, depth: 2 },
      transform: { move: [5, 3, 0], turn: [0, 30, 0] },
      steps: [{ kind: 'cast', from: 'ball', reach: 40 }],
    };
    const ball: Piece = { id: 'ball', base: { primitive: 'sphere', radius: 30, sides: 64, rings: 32 }, transform: { move: [5, 3, -29] } }; // prettier-ignore
    const whole = built([plate, ball]);
    expect(whole.faults).toEqual([]);
    const front = (m: PolyMesh): number =>
      Array.from({ length: 6 }, (_, f) => f).find((f) => faceNormal(m, f)[2] > 0.9)!;
    const normalsOf = (m: PolyMesh): Vec3[] => {
      const from = m.faceStart[front(m)];
      return [0, 1, 2, 3].map((k) => pointOf(shadingNormals(m), from + k));
    };
    // Four corners of a flat face, each turned its own way.
    const cast = normalsOf(whole.mesh);
    expect(new Set(cast.map((n) => n.map((x) => x.toFixed(3)).join())).size).toBe(4);
    const half = normalsOf(
      built([{ ...plate, steps: [{ kind: 'cast', from: 'ball', reach: 40, strength: 0.5 }] }, ball]).mesh,
    );
    const flat = faceNormal(whole.mesh, front(whole.mesh));
    half.forEach((n, k) => {
      const [a, b] = [dot(n, flat), dot(cast[k], flat)];
      expect(a).toBeGreaterThan(b);
      expect(a).toBeLessThan(1 - 1e-6);
    });
    const short = built([{ ...plate, steps: [{ kind: 'cast', from: 'ball', reach: 0.01 }] }, ball]);
    expect(short.keys).toEqual(['0 corners']);
    normalsOf(short.mesh).forEach((n) => expect(dot(n, flat)).toBeCloseTo(1, 6));
    const scoped = built([{ ...plate, steps: [{ kind: 'cast', from: 'ball', reach: 40, scope: { rule: 'facing', direction: [1, 0, 0] } }] }, ball]); // prettier-ignore
    normalsOf(scoped.mesh).forEach((n) => expect(dot(n, flat)).toBeCloseTo(1, 6));
  });
});
