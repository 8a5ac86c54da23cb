/** Faces shaded wrong: every planted fault, nothing on sound curved bodies; and the normals step that mends it. */
import fc from 'fast-check';
import { beforeAll, describe, expect, it } from 'vitest';
import type { Piece } from '../src/document/schema';
import { faceNormal, surfaceArea } from '../src/mesh/measure';
import { faceCount, meshFromLoops, type PolyMesh } from '../src/mesh/PolyMesh';
import { topologyOf } from '../src/mesh/Topology';
import { withPoints } from '../src/mesh/MeshDraft';
import { pointOf, scale, type Vec3 } from '../src/mesh/vec3';
import type { Primitive } from '../src/primitives';
import { shadingNormals } from '../src/shading/shadingNormals';
import { drift } from '../src/shading/drift';
import { fittedNormals } from '../src/shading/fittedNormals';
import { residual } from '../src/shading/residual';
import { coneWall, exactError, roundedBox } from './exactBodies';
import { asShaded } from './asShaded';
import { loadKernel } from '../src/solid/kernel';
import { bestRepair } from '../src/build/repair';
import { shade, type ShadeOptions } from '../src/steps/shade';
import type { Step } from '../src/steps';
import { act } from './acting';
import { builtPiece as built } from './builtPiece';
import './seed';

beforeAll(() => loadKernel());

const cutter = (id: string, base: Primitive, transform: Piece['transform'] = {}): Piece => ({
  id,
  role: 'cutter',
  base,
  transform,
});
const cut = (...cutters: string[]): Step => ({ kind: 'cut', mode: 'subtract', cutters });
const round = (width: number, segments: number): Step => ({
  kind: 'bevel',
  scope: { rule: 'sharp', angle: 30 },
  width,
  segments,
});
const normals: Step = { kind: 'normals' };
const box = (width: number, height: number, depth: number): Primitive => ({
  primitive: 'box',
  width,
  height,
  depth,
});
const cylinder = (radius: number, height: number, sides: number): Primitive => ({
  primitive: 'cylinder',
  radius,
  height,
  sides,
});
const USUAL: ShadeOptions = { weight: 'area', hardAngle: 40, rank: true, cutOff: 0 };

const withoutRanks = (mesh: PolyMesh): PolyMesh => {
  const { rank: _, ...face } = mesh.layers.face;
  return { ...mesh, layers: { ...mesh.layers, face } };
};
const held = (mesh: PolyMesh, data: Float32Array): PolyMesh => ({
  ...mesh,
  layers: { ...mesh.layers, corner: { ...mesh.layers.corner, normal: { size: 3, data } } },
});
/** Two faces that lean against each other. */
const roof = (left: number, right: number): PolyMesh => {
  const tilt = Math.tan((7.5 * Math.PI) / 180);
  return meshFromLoops(
    [[-left, -left * tilt, 0], [-left, -left * tilt, 10], [0, 0, 0], [0, 0, 10], [right, -right * tilt, 0], [right, -right * tilt, 10]],
    [[0, 1, 3, 2], [2, 3, 5, 4]],
  ); // prettier-ignore
};

describe('what is shaded wrong', () => {
  it.each([12, 24, 48, 96, 192])('is nothing on sound curved bodies of %i sides, cut or not', (sides) => {
    const bore = cutter('b', cylinder(8, 120, 32), { move: [5, 0, 0], turn: [90, 0, 0] });
    const bodies = [
      built(cylinder(20, 40, sides)),
      built({ primitive: 'cone', bottomRadius: 20, topRadius: 5, height: 30, sides }),
      built({ primitive: 'sphere', radius: 20, sides, rings: sides / 2 }),
      built({ primitive: 'torus', radius: 20, tubeRadius: 6, sides, tubeSides: sides / 2 }),
      built({ primitive: 'plane', width: 20, depth: 20, segments: [4, 4] }),
      built(cylinder(25, 80, sides), [cut('b')], [bore]),
      built(cylinder(25, 80, sides), [cut('b'), normals], [bore]),
    ];
    for (const m of bodies) expect([residual(m).over2, residual(m).wrong]).toEqual([0, []]);
  });

  it.each([12, 32, 64])('is what no triangle can show of the point of a cone of %i sides', (sides) => {
    const m = built({ primitive: 'cone', bottomRadius: 20, topRadius: 0, height: 30, sides });
    const exact = exactError(m, coneWall(20, 0, 30));
    const told = residual(m);
    expect(told.over2).toBeCloseTo((exact.over2 * exact.area) / surfaceArea(m), 2);
    expect(told.worst).toBeCloseTo(exact.worst, 1);
    expect(told.worst > 2).toBe(sides < 64);
  });

  it('is as much of a rounded box as is exactly wrong, whatever it is weighed by', () => {
    for (const segments of [1, 2, 3, 5])
      for (const width of [2, 8]) {
        const raw = built(box(40, 20, 30), [round(width, segments)]);
        const body = roundedBox([40, 20, 30], width);
        for (const o of [{}, { weight: 'angle' }, { rank: false }, { hardAngle: 60 }] as const) {
          const m = shade(raw, { ...USUAL, ...o });
          const [told, exact] = [residual(m), exactError(m, body)];
          for (const k of ['over2', 'over10'] as const)
            expect(Math.abs(told[k] - exact[k])).toBeLessThan(0.005);
          expect(told.mean).toBeCloseTo(exact.mean, 1);
        }
        const m = shade(raw, { ...USUAL, weight: 'built' });
        expect([residual(m).over2, exactError(m, body).worst < 1e-3]).toEqual([0, true]);
      }
  });

  it('is nothing on waves, balls with noise, smoothed cages and walls with support loops', () => {
    const moved = (m: PolyMesh, to: (p: Vec3, k: number) => Vec3): PolyMesh =>
      withPoints(m, m.positions.map((_, i) => to(pointOf(m.positions, (i / 3) | 0), (i / 3) | 0)[i % 3])); // prettier-ignore
    const plane = built({ primitive: 'plane', width: 100, depth: 100, segments: [30, 30] });
    const ball = built({ primitive: 'quadSphere', radius: 40, divisions: 10 });
    // Neighbours are out by turns, by half a per cent of the radius at most.
    const noise = (k: number): number => 1 + 0.005 * Math.sin(k * 12.9898);
    const loops = { op: 'supportLoops', select: { rule: 'sharp', angle: 60 }, width: 2 } as const;
    const cage: Step[] = [
      { kind: 'bevel', scope: { rule: 'sharp', angle: 30 }, width: 3, segments: 2, profile: 2 },
      { kind: 'smooth', levels: 2 },
    ];
    for (const m of [
      moved(plane, ([x, , z]) => [x, 6 * Math.sin(x / 12) * Math.cos(z / 15), z]),
      moved(ball, (p, k) => scale(p, noise(k))),
      built(box(40, 30, 20), cage),
      built(cylinder(20, 30, 8), [{ kind: 'smooth', levels: 3, crease: { rule: 'sharp', angle: 60 } }]),
      act(built(cylinder(20, 40, 32)), loops as never).mesh,
    ])
      expect(residual(m).over2).toBeLessThan(0.001);
  });

  it('is a point of a wall that was moved by 6°', () => {
    const wall = built({ primitive: 'cylinder', radius: 20, height: 40, sides: 32, rings: 4 });
    const v = [...Array(wall.positions.length / 3).keys()].find((i) => wall.positions[3 * i + 1] === 0)!;
    const [x, y, z] = pointOf(wall.positions, v);
    const positions = wall.positions.slice();
    // Ten millimetres to the next ring.
    const out = 1 + (10 * Math.tan((6 * Math.PI) / 180)) / 20;
    positions.set([x * out, y, z * out], 3 * v);
    const told = residual(withPoints(wall, positions));
    expect(told.over2).toBeGreaterThan(0.001);
    expect(told.wrong.length).toBeLessThanOrEqual(16);
  });

  it('is two wide faces that share their normals, and just them', () => {
    const { wrong, ofCorner } = residual(roof(20, 20));
    expect(wrong).toEqual([0, 1]);
    expect(Math.max(...ofCorner)).toBeCloseTo(7.5, 2);
  });

  it('is every face with a wrong held normal, and nothing else', () => {
    const sound = built(box(10, 20, 30));
    fc.assert(
      fc.property(
        fc.uniqueArray(fc.nat(5), { minLength: 1 }),
        fc.double({ min: 5, max: 175, noNaN: true }),
        (faces, by) => {
          const n = shadingNormals(sound).slice();
          for (const f of faces)
            for (let c = sound.faceStart[f]; c < sound.faceStart[f + 1]; c++) {
              const [x, y, z] = [n[3 * c], n[3 * c + 1], n[3 * c + 2]];
              const [s, k] = [Math.sin((by * Math.PI) / 180), Math.cos((by * Math.PI) / 180)];
              // Square to it: the next axis.
              n.set([k * x + s * z, k * y + s * x, k * z + s * y], 3 * c);
            }
          expect(residual(held(sound, n)).wrong).toEqual([...faces].sort());
          const repaired = bestRepair(asShaded(held(sound, n)))!;
          expect(repaired.step).toMatchObject({ kind: 'normals', held: 'replace' });
          expect(repaired.after.facesOver).toBe(0);
          const mended = shade(held(sound, n), { ...USUAL, held: 'replace' });
          expect(Math.max(...drift(mended))).toBeLessThan(0.1);
        },
      ),
      { numRuns: 20 },
    );
  });

  it('is never more after a repair that is offered', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 6, max: 40 }),
        fc.integer({ min: 1, max: 4 }),
        fc.integer({ min: -15, max: 15 }),
        fc.boolean(),
        (sides, segments, off, ranks) => {
          const m = built(
            box(60, 20, 40),
            [cut('b', 'c'), round(1, segments)],
            [
              cutter('b', cylinder(9, 60, sides), { move: [off, 0, 3] }),
              cutter('c', box(20, 20, 90), { move: [26, 9, 0] }),
            ],
          );
          const mesh = ranks ? m : withoutRanks(m);
          const repair = bestRepair(asShaded(mesh));
          const before = residual(mesh).over2;
          expect(repair?.before.over2 ?? before).toBe(before);
          expect(repair?.after.over2 ?? 0).toBeLessThanOrEqual(before);
        },
      ),
      { numRuns: 15 },
    );
  });
});

/** The edge both slopes of a roof have, and a corner of the first slope at it. */
function sharedEdge(m: PolyMesh): number {
  const t = topologyOf(m);
  return Array.from({ length: t.edgeCount }, (_, e) => e).find((e) => t.twin[t.cornerOfEdge[e]] >= 0)!;
}
function sharedCorner(m: PolyMesh): number {
  const t = topologyOf(m);
  const v = t.edges[2 * sharedEdge(m)];
  return Array.from({ length: m.faceStart[1] }, (_, c) => c).find((c) => m.corners[c] === v)!;
}

describe('the normals step', () => {
  it('keeps a cut ball within 0.34° of the true one, whatever the weight, rounded or not', () => {
    const slab = cutter('s', box(30, 200, 30));
    for (const rest of [[], [round(0.5, 2)]])
      for (const weight of ['angle', 'area', 'both', 'squared'] as const) {
        const steps: Step[] = [cut('s'), ...rest, { kind: 'normals', weight }];
        const m = built({ primitive: 'sphere', radius: 40, sides: 48, rings: 24 }, steps, [slab]);
        const n = shadingNormals(m);
        let worst = 0;
        for (let f = 0; f < faceCount(m); f++) {
          if (m.layers.face.origin.data[2 * f] !== 0 || m.layers.face.rank?.data[f] >= 2) continue;
          for (let c = m.faceStart[f]; c < m.faceStart[f + 1]; c++) {
            const p = pointOf(m.positions, m.corners[c]);
            const cos = (p[0] * n[3 * c] + p[1] * n[3 * c + 1] + p[2] * n[3 * c + 2]) / Math.hypot(...p);
            worst = Math.max(worst, (Math.acos(Math.min(1, cos)) * 180) / Math.PI);
          }
        }
        expect(worst).toBeLessThan(0.34);
      }
  });

  it('leaves nothing of a rounded boolean wrong, and its flat faces exactly flat', () => {
    for (const segments of [3, 4, 6]) {
      const m = built(
        box(60, 30, 40),
        [cut('b', 'c'), round(1.5, segments), { kind: 'normals', weight: 'built' }],
        [cutter('b', cylinder(10, 80, 32)), cutter('c', box(20, 20, 60), { move: [25, 12, 0] })],
      );
      const { wrong, roles } = residual(m);
      expect(wrong).toEqual([]);
      const d = drift(m);
      for (let f = 0; f < faceCount(m); f++)
        if (roles[f] === 0)
          for (let c = m.faceStart[f]; c < m.faceStart[f + 1]; c++) expect(d[c]).toBeLessThan(0.03);
    }
  });

  it('lets faces ranked by hand lead', () => {
    const led = act(roof(20, 20), { op: 'rank', select: { faces: [1] }, as: 'lead' });
    expect(led.report).toBe('Ranked 1 face lead.');
    const d = drift(shade(led.mesh, USUAL));
    expect(Math.max(...d.slice(4))).toBeLessThan(0.03);
    expect(Math.max(...d.slice(0, 4))).toBeCloseTo(15, 1);
    const both = act(led.mesh, { op: 'rank', select: { faces: [1] }, as: 'plain' }).mesh;
    expect(Math.max(...drift(shade(both, USUAL)))).toBeCloseTo(7.5, 1);
  });

  it('counts faces nearly alike as equal, weighs by area squared, and only as strongly and where it is asked to', () => {
    const m = roof(20, 21);
    const lean = (o: Partial<ShadeOptions>): number => shadingNormals(shade(m, { ...USUAL, ...o }))[6];
    expect(Math.abs(lean({ alike: 0.1 }))).toBeLessThan(1e-6);
    expect(lean({})).toBeGreaterThan(1e-4);
    expect(lean({ weight: 'squared' })).toBeGreaterThan(1.5 * lean({}));
    const small = roof(5, 20);
    const [before, full, half, zero] = [undefined, 1, 0.5, 0].map((strength) =>
      shadingNormals(strength === undefined ? small : shade(small, { ...USUAL, strength })),
    );
    expect([...zero]).toEqual([...before].map((x) => expect.closeTo(x, 6)));
    expect(half[6]).toBeGreaterThan(before[6]);
    expect(half[6]).toBeLessThan(full[6]);
    const some = shadingNormals(shade(small, { ...USUAL, faces: [1] }));
    expect([...some.slice(0, 12)]).toEqual([...before.slice(0, 12)]);
    expect([...some.slice(12)]).toEqual([...full.slice(12)]);
  });

  it('lets faces count by a weight set by hand in place of their area, whoever leads', () => {
    const m = roof(5, 20);
    const weighed = (faces: number[], weight: number): PolyMesh =>
      act(m, { op: 'weigh', select: { faces }, weight }).mesh;
    /** Cosine of the shared normal to the first slope's own. */
    const toFirst = (mesh: PolyMesh, o: Partial<ShadeOptions> = {}): number => {
      const n = shadingNormals(shade(mesh, { ...USUAL, ...o }));
      const own = faceNormal(mesh, 0);
      const c = sharedCorner(mesh);
      return own.reduce((sum, x, k) => sum + x * n[3 * c + k], 0);
    };
    // The only one that counts: the shading is its own, though it is the smaller one.
    expect(toFirst(act(weighed([0], 100), { op: 'weigh', select: { faces: [1] }, weight: 0 }).mesh)).toBeCloseTo(1, 6); // prettier-ignore
    expect(toFirst(weighed([0], 0))).toBeLessThan(toFirst(m));
    // Alike they lean by half, as do one that counts 50 and one nobody weighed.
    const even = Math.cos((7.5 * Math.PI) / 180);
    expect(toFirst(act(weighed([0], 80), { op: 'weigh', select: { faces: [1] }, weight: 80 }).mesh)).toBeCloseTo(even, 6); // prettier-ignore
    expect(toFirst(weighed([0], 50))).toBeCloseTo(even, 6);
    expect(toFirst(weighed([0], 90), { weight: 'squared' })).toBeGreaterThan(toFirst(weighed([0], 90)));
    // The angle has no place for them, and cleared they are gone.
    expect(toFirst(weighed([0], 100), { weight: 'angle' })).toBe(toFirst(m, { weight: 'angle' }));
    const cleared = act(weighed([0], 100), { op: 'weigh', select: { faces: [0] }, clear: true }).mesh;
    expect([...shadingNormals(shade(cleared, USUAL))]).toEqual([...shadingNormals(shade(m, USUAL))]);
  });

  it('parts the shading at UV seams and between materials where that is asked', () => {
    const m = roof(20, 20);
    const t = topologyOf(m);
    const ridge = sharedEdge(m);
    const parted = (mesh: PolyMesh, o: Partial<ShadeOptions>): boolean =>
      Math.max(...drift(shade(mesh, { ...USUAL, ...o }))) < 0.05;
    expect(parted(m, {})).toBe(false);
    const material = { size: 1, data: Int32Array.from([0, 3]) };
    const painted = { ...m, layers: { ...m.layers, face: { ...m.layers.face, material } } };
    expect([parted(painted, {}), parted(painted, { hardMaterials: true })]).toEqual([false, true]);
    expect(parted(m, { hardMaterials: true })).toBe(false);
    const seam = { size: 1, data: new Float32Array(t.edgeCount) };
    seam.data[ridge] = 1;
    const cutOpen = { ...m, layers: { ...m.layers, edge: { ...m.layers.edge, seam } } };
    expect([parted(cutOpen, {}), parted(cutOpen, { hardSeams: true })]).toEqual([false, true]);
    // The same by UVs alone: one slope's picture is laid elsewhere.
    const data = new Float32Array(2 * m.corners.length);
    for (let c = 0; c < m.corners.length; c++) data[2 * c] = m.corners[c] + (t.faceOfCorner[c] ? 0.5 : 0);
    const laid = { ...m, layers: { ...m.layers, corner: { ...m.layers.corner, uv: { size: 2, data } } } };
    expect([parted(laid, {}), parted(laid, { hardSeams: true })]).toEqual([false, true]);
  });

  it('blends what is held with the new, half and half', () => {
    const m = roof(20, 20);
    const held = act(m, { op: 'holdNormals', select: { faces: [0] }, to: 'face' }).mesh;
    const [keep, replace, blend] = (['keep', 'replace', 'blend'] as const).map((h) =>
      shadingNormals(shade(held, { ...USUAL, held: h })),
    );
    const c = sharedCorner(m);
    const at = (n: Float32Array): number[] => [...n.subarray(3 * c, 3 * c + 3)];
    const sum = at(keep).map((x, k) => x + at(replace)[k]);
    const l = Math.hypot(...sum);
    expect(at(blend)).toEqual(sum.map((x) => expect.closeTo(x / l, 6)));
    // Where nothing is held they are the new ones.
    expect([...blend.slice(12)]).toEqual([...replace.slice(12)]);
  });

  it('shares of the area add up', () => {
    const m = shade(built(box(40, 20, 30), [round(2, 3)]), { ...USUAL, weight: 'angle' });
    const { over2, over10, areas, wrong, ofFace, mean, worst } = residual(m);
    const all = surfaceArea(m);
    expect(areas.reduce((sum, a) => sum + a, 0)).toBeCloseTo(all, 1);
    expect(areas.slice(2).reduce((sum, a) => sum + a, 0)).toBeCloseTo(over2 * all, 1);
    expect(areas.slice(10).reduce((sum, a) => sum + a, 0)).toBeCloseTo(over10 * all, 1);
    expect(over2 * all).toBeLessThanOrEqual(meshArea(m, wrong) + 0.1);
    expect(wrong).toEqual([...ofFace.keys()].filter((f) => ofFace[f] > 2));
    expect(worst).toBeCloseTo(Math.max(...ofFace), 5);
    expect(mean).toBeGreaterThan(0);
  });
});

function meshArea(m: PolyMesh, faces: number[]): number {
  const loops = faces.map((f) => Array.from(m.corners.slice(m.faceStart[f], m.faceStart[f + 1])));
  const points = Array.from({ length: m.positions.length / 3 }, (_, v) => pointOf(m.positions, v));
  return surfaceArea(meshFromLoops(points, loops));
}

describe('fitted normals', () => {
  it('look out of a face at its inward corners, too', () => {
    const loop: Vec3[] = [[0, 0, 0], [10, 0, 0], [10, 0, -10], [6, 0, -10], [6, 0, -4], [0, 0, -4]]; // prettier-ignore
    const mesh = meshFromLoops(loop, [[0, 1, 2, 3, 4, 5]]);
    const shown = new Float32Array(18);
    for (let c = 0; c < 6; c++) shown[3 * c + 1] = 1;
    const out = new Float32Array(18);
    fittedNormals(mesh, new Uint8Array(6), [0, 1, 2, 3, 4, 5], shown, out);
    expect(Array.from(out)).toEqual(Array.from(shown));
  });
});
