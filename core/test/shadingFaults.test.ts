/** Planted faults are found exactly, each by its own name; on sound bodies there are none. */
import fc from 'fast-check';
import { beforeAll, describe, expect, it } from 'vitest';
import type { Piece } from '../src/document/schema';
import { faceCount, type PolyMesh } from '../src/mesh/PolyMesh';
import { topologyOf } from '../src/mesh/Topology';
import type { Primitive } from '../src/primitives';
import { buildPrimitive } from '../src/primitives';
import { shadingNormals } from '../src/shading/shadingNormals';
import { shadingFaults, type ShadingFaultKind } from '../src/shading/faults';
import { loadKernel } from '../src/solid/kernel';
import { optionsOf } from '../src/steps/normals';
import { bestRepair, faultsIn, measured, type Measured } from '../src/build/repair';
import { MENDED } from '../src/build/verdict';
import { asShaded } from './asShaded';
import { shade } from '../src/steps/shade';
import type { Step } from '../src/steps';
import { builtPiece as built } from './builtPiece';
import './seed';

beforeAll(() => loadKernel());

const held = (mesh: PolyMesh, data: Float32Array): PolyMesh => ({
  ...mesh,
  layers: { ...mesh.layers, corner: { ...mesh.layers.corner, normal: { size: 3, data } } },
});
const withUVs = (mesh: PolyMesh, data: Float64Array): PolyMesh => ({
  ...mesh,
  layers: {
    ...mesh.layers,
    corner: { ...mesh.layers.corner, uv: { size: 2, data } },
    face: { ...mesh.layers.face, uvLaid: { size: 1, data: new Uint8Array(faceCount(mesh)).fill(1) } },
  },
});
const kinds = (mesh: PolyMesh): ShadingFaultKind[] => shadingFaults(mesh).map((f) => f.kind);
const found = (mesh: PolyMesh, kind: ShadingFaultKind): number[] =>
  shadingFaults(mesh).find((f) => f.kind === kind)?.indices ?? [];
const cylinder = (sides: number, rings = 1): Primitive => ({ primitive: 'cylinder', radius: 20, height: 40, sides, rings }); // prettier-ignore

describe('faults of shading', () => {
  it.each([12, 24, 48, 96, 192])('are none on sound bodies of %i sides, cut, rounded or not', (sides) => {
    const bore: Piece = {
      id: 'b',
      role: 'cutter',
      base: { primitive: 'cylinder', radius: 8, height: 120, sides: 32 },
      transform: { move: [5, 0, 0], turn: [90, 0, 0] },
    };
    const cut: Step = { kind: 'cut', mode: 'subtract', cutters: ['b'] };
    const bodies = [
      built(cylinder(sides, 3)),
      built({ primitive: 'cone', bottomRadius: 20, topRadius: 4, height: 30, sides }),
      built({ primitive: 'sphere', radius: 20, sides, rings: sides / 2 }),
      built({ primitive: 'torus', radius: 20, tubeRadius: 6, sides, tubeSides: sides / 2 }),
      built({ primitive: 'plane', width: 20, depth: 20, segments: [4, 4] }),
      built({ primitive: 'box', width: 20, height: 10, depth: 30, segments: [3, 2, 4] }),
      built(cylinder(sides), [cut], [bore]),
      built(cylinder(sides), [cut, { kind: 'normals' }], [bore]),
      built({ primitive: 'box', width: 60, height: 30, depth: 60 }, [
        { kind: 'bevel', scope: { rule: 'sharp', angle: 30 }, width: 2, segments: 4 },
        { kind: 'normals' },
      ]),
    ];
    for (const [k, m] of bodies.entries()) expect([k, kinds(m)]).toEqual([k, []]);
  });

  it('lies: exactly the faces whose normals look away', () => {
    const sound = built(cylinder(24, 3));
    fc.assert(
      fc.property(fc.uniqueArray(fc.nat(faceCount(sound) - 1), { minLength: 1, maxLength: 20 }), (faces) => {
        const n = shadingNormals(sound).slice();
        for (const f of faces)
          for (let i = 3 * sound.faceStart[f]; i < 3 * sound.faceStart[f + 1]; i++) n[i] = -n[i];
        const lies = shadingFaults(held(sound, n)).find((x) => x.kind === 'lie')!;
        expect(lies.indices).toEqual([...faces].sort((a, b) => a - b));
        expect(lies.worst).toBeGreaterThan(170);
      }),
      { numRuns: 30 },
    );
  });

  it('breaks: exactly the edges of a sheet on whose sides the shading differs', () => {
    const sound = built(cylinder(24, 3));
    const t = topologyOf(sound);
    const walls = [...Array(faceCount(sound)).keys()].filter(
      (f) => sound.faceStart[f + 1] - sound.faceStart[f] === 4,
    );
    fc.assert(
      fc.property(fc.constantFrom(...walls), fc.double({ min: 3, max: 40, noNaN: true }), (f, by) => {
        const n = shadingNormals(sound).slice();
        const [s, k] = [Math.sin((by * Math.PI) / 180), Math.cos((by * Math.PI) / 180)];
        // Turned upward: walls are upright.
        for (let c = sound.faceStart[f]; c < sound.faceStart[f + 1]; c++)
          n.set([k * n[3 * c], s, k * n[3 * c + 2]], 3 * c);
        const within = [...Array(4).keys()]
          .map((i) => sound.faceStart[f] + i)
          .filter((c) => walls.includes(t.faceOfCorner[t.twin[c]]))
          .map((c) => t.edgeOfCorner[c]);
        const breaks = shadingFaults(held(sound, n)).find((x) => x.kind === 'break')!;
        expect(breaks.indices).toEqual(within.sort((a, b) => a - b));
        expect(breaks.worst).toBeCloseTo(by, 1);
      }),
      { numRuns: 30 },
    );
  });

  it('ripples: the quads over which the shading turns against the wall', () => {
    const sound = built(cylinder(48));
    fc.assert(
      fc.property(fc.nat(47), fc.double({ min: 0.6, max: 1.6, noNaN: true }), (at, share) => {
        // The normals on one upright are turned about the axis, past those of the next one.
        const step = (2 * Math.PI) / 48;
        const angle = at * step;
        const n = shadingNormals(sound).slice();
        const by = share * 2 * step;
        for (let c = 0; c < sound.corners.length; c++) {
          const v = sound.corners[c];
          const [x, z] = [sound.positions[3 * v], sound.positions[3 * v + 2]];
          const off = Math.abs(
            Math.atan2(Math.sin(Math.atan2(z, x) - angle), Math.cos(Math.atan2(z, x) - angle)),
          );
          if (off > step / 2 || Math.abs(n[3 * c + 1]) > 0.5) continue;
          const [nx, nz] = [n[3 * c], n[3 * c + 2]];
          n.set([nx * Math.cos(by) - nz * Math.sin(by), 0, nx * Math.sin(by) + nz * Math.cos(by)], 3 * c);
        }
        const ripples = shadingFaults(held(sound, n)).find((x) => x.kind === 'ripple')!;
        // Of the two beside that upright just the one it is turned over.
        expect(ripples.indices).toHaveLength(1);
        expect(ripples.worst).toBeCloseTo(((by - step) * 180) / Math.PI, 0);
      }),
      { numRuns: 30 },
    );
  });
});

describe('a repair that is offered', () => {
  it('makes no measure worse, whatever is wrong, and less of what it is offered for', () => {
    const sounds = [
      built(cylinder(24, 3)),
      built({ primitive: 'box', width: 60, height: 30, depth: 60 }, [
        { kind: 'bevel', scope: { rule: 'sharp', angle: 30 }, width: 2, segments: 3 },
      ]),
      built({ primitive: 'sphere', radius: 20, sides: 16, rings: 8 }),
    ];
    let offered = 0;
    fc.assert(
      fc.property(
        fc.constantFrom(...sounds),
        fc.array(
          fc.tuple(
            fc.nat(),
            fc.integer({ min: -300, max: 300 }).map((x) => x / 100),
            fc.nat(2),
          ),
          {
            maxLength: 30,
          },
        ),
        (sound, turns) => {
          const n = shadingNormals(sound).slice();
          for (const [at, by, axis] of turns) {
            const f = at % faceCount(sound);
            const [i, j] = [(axis + 1) % 3, (axis + 2) % 3];
            for (let c = sound.faceStart[f]; c < sound.faceStart[f + 1]; c++) {
              const [a, b] = [n[3 * c + i], n[3 * c + j]];
              n[3 * c + i] = a * Math.cos(by) - b * Math.sin(by);
              n[3 * c + j] = a * Math.sin(by) + b * Math.cos(by);
            }
          }
          const mesh = held(sound, n);
          const repair = bestRepair(asShaded(mesh));
          if (!repair) return;
          offered++;
          const after = measured(asShaded(shade(mesh, optionsOf(mesh, repair.step as never))));
          expect(after).toEqual(repair.after);
          expect(repair.before).toEqual(measured(asShaded(mesh)));
          for (const k of ['over2', 'over10', 'mean', 'worst'] as const)
            expect(after[k]).toBeLessThanOrEqual(repair.before[k] + 1e-6);
          const count = (m: Measured, kind: string): number =>
            m.faults.find((f) => f.kind === kind)?.count ?? 0;
          for (const kind of MENDED)
            expect(count(after, kind)).toBeLessThanOrEqual(count(repair.before, kind));
          expect(after.over2 < repair.before.over2 || faultsIn(after) < faultsIn(repair.before)).toBe(true);
        },
      ),
      { numRuns: 60 },
    );
    expect(offered).toBeGreaterThan(20);
  });
});

describe('faults of UVs', () => {
  /** Every face by itself, a unit square, side by side. */
  const apart = (mesh: PolyMesh): Float64Array => {
    const out = new Float64Array(2 * mesh.corners.length);
    for (let f = 0; f < faceCount(mesh); f++)
      for (let c = mesh.faceStart[f], n = mesh.faceStart[f + 1] - c, k = 0; k < n; k++)
        out.set([2 * f + Math.cos((2 * Math.PI * k) / n), Math.sin((2 * Math.PI * k) / n)], 2 * (c + k));
    return out;
  };

  it('are none where every hard edge is a seam', () => {
    const box = buildPrimitive({ primitive: 'box', width: 10, height: 10, depth: 10 });
    expect(shadingFaults(withUVs(box, apart(box)))).toEqual([]);
  });

  it('are the faces without area, the mirrored ones, and hard edges over which the UVs run on', () => {
    const box = buildPrimitive({ primitive: 'box', width: 10, height: 10, depth: 10 });
    const t = topologyOf(box);
    const flat = apart(box);
    flat.fill(0.25, 2 * box.faceStart[2], 2 * box.faceStart[3]);
    expect(found(withUVs(box, flat), 'flat')).toEqual([2]);
    const mirrored = apart(box);
    for (let c = box.faceStart[4]; c < box.faceStart[5]; c++) mirrored[2 * c + 1] *= -1;
    expect(found(withUVs(box, mirrored), 'mirrored')).toEqual([4]);
    // Along one edge both faces have the same places.
    const joined = apart(box);
    const c = box.faceStart[0];
    const d = t.twin[c];
    const nextOf = (k: number): number => (k + 1 === box.faceStart[t.faceOfCorner[k] + 1] ? box.faceStart[t.faceOfCorner[k]] : k + 1); // prettier-ignore
    joined.set(joined.subarray(2 * c, 2 * c + 2), 2 * nextOf(d));
    joined.set(joined.subarray(2 * nextOf(c), 2 * nextOf(c) + 2), 2 * d);
    const seams = shadingFaults(withUVs(box, joined)).find((x) => x.kind === 'seam')!;
    expect(seams.indices).toEqual([t.edgeOfCorner[c]]);
    expect(seams.worst).toBeCloseTo(90, 6);
  });
});
