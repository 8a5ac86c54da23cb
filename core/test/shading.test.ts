import { beforeAll, describe, expect, it } from 'vitest';
import { buildPrimitive } from '../src/primitives';
import { bevel } from '../src/ops/bevel/bevel';
import { cornerNormals } from '../src/shading/cornerNormals';
import { shadingNormals } from '../src/shading/shadingNormals';
import { drift } from '../src/shading/drift';
import { faceNormal } from '../src/mesh/measure';
import { faceCount, meshFromLoops } from '../src/mesh/PolyMesh';
import { topologyOf } from '../src/mesh/Topology';
import { loadKernel } from '../src/solid/kernel';
import { cut } from '../src/solid/boolean';
import { rankCounts, shade } from '../src/steps/shade';
import { sharpEdges } from '../src/select/edges';

beforeAll(async () => {
  await loadKernel();
});

const cube = buildPrimitive({ primitive: 'box', width: 10, height: 10, depth: 10 });

describe('corner normals', () => {
  it('are flat across hard edges and smooth below the angle', () => {
    const flat = cornerNormals(cube, { hardAngle: 30 });
    const t = topologyOf(cube);
    for (let c = 0; c < cube.corners.length; c++)
      expect(Array.from(flat.slice(3 * c, 3 * c + 3))).toEqual(faceNormal(cube, t.faceOfCorner[c]));
    const smooth = cornerNormals(cube, { hardAngle: 180 });
    for (let i = 0; i < smooth.length; i++) expect(Math.abs(smooth[i])).toBeCloseTo(1 / Math.sqrt(3), 6);
  });

  it('split at marked edges whatever the angle', () => {
    const t = topologyOf(cube);
    const hard = new Uint8Array(t.edgeCount).fill(1);
    const marked = { ...cube, layers: { ...cube.layers, edge: { hard: { size: 1, data: hard } } } };
    expect(Array.from(cornerNormals(marked, { hardAngle: 180 }))).toEqual(
      Array.from(cornerNormals(cube, { hardAngle: 30 })),
    );
  });

  it('weigh by angle, area, or both', () => {
    // A ridge: a steep small roof beside a large flat one, seen at their shared edge.
    const m = meshFromLoops(
      [[0, 0, 0], [0, 0, 10], [40, 0, 0], [40, 0, 10], [-1, -1, 0], [-1, -1, 10]],
      [[0, 1, 3, 2], [4, 5, 1, 0]],
    ); // prettier-ignore
    const tilt = (weight: 'angle' | 'area' | 'both'): number => {
      const n = cornerNormals(m, { hardAngle: 180, weight });
      return (Math.acos(n[1]) * 180) / Math.PI;
    };
    expect(tilt('angle')).toBeCloseTo(22.5, 4);
    expect(tilt('area')).toBeLessThan(2);
    expect(tilt('both')).toBeLessThan(2);
    // A cut-off drops faces far lighter than the heaviest.
    const cutOff = cornerNormals(m, { hardAngle: 180, weight: 'area', cutOff: 0.5 });
    expect(cutOff[1]).toBe(1);
  });

  it('keep held normals where present', () => {
    const held = new Float32Array(cube.corners.length * 3);
    held.set([0, 0.6, 0.8], 3);
    const m = { ...cube, layers: { ...cube.layers, corner: { normal: { size: 3, data: held } } } };
    const n = shadingNormals(m);
    expect(Array.from(n.slice(3, 6))).toEqual(Array.from(Float32Array.of(0, 0.6, 0.8)));
    expect(n[0] ** 2 + n[1] ** 2 + n[2] ** 2).toBeCloseTo(1, 6);
  });
});

describe('the normals step', () => {
  it('keeps large flat faces exactly flat and lets strips follow, also where it only weighs', () => {
    const round = bevel(cube, sharpEdges(cube, 30), { width: 1, segments: 3 }).mesh;
    expect(rankCounts(round)).toEqual({ lead: 0, plain: 6, follow: faceCount(round) - 6 });
    const weighed = { hardAngle: 40, weight: 'area', rank: false, cutOff: 0 } as const;
    const before = drift(shade(round, { ...weighed, weight: 'angle' }));
    const [after, asBuilt] = [
      { ...weighed, rank: true },
      { ...weighed, weight: 'built' as const },
    ].map((o) => drift(shade(round, o)));
    const t = topologyOf(round);
    const flat = (c: number): boolean => round.layers.face.rank.data[t.faceOfCorner[c]] === 0;
    expect(Math.max(...Array.from(before).filter((_, c) => flat(c)))).toBeGreaterThan(5);
    expect(Math.max(...Array.from(after).filter((_, c) => flat(c)))).toBeLessThan(0.03);
    expect(Math.max(...Array.from(asBuilt).filter((_, c) => flat(c)))).toBe(0);
  });

  it('keeps a cut ball smooth up to the rim, rounded or not', () => {
    const ball = buildPrimitive({ primitive: 'sphere', radius: 40, sides: 48, rings: 24 });
    const slab = buildPrimitive({ primitive: 'box', width: 30, height: 200, depth: 30 });
    const halved = cut(
      { mesh: ball, name: 'ball' },
      [{ mesh: slab, name: 'slab', id: 'slab' }],
      'subtract',
    ).mesh;
    const rims = Array.from({ length: topologyOf(halved).edgeCount }, (_, e) => e).filter(
      (e) => halved.layers.edge.cut.data[e],
    );
    for (const m of [halved, bevel(halved, rims, { width: 0.5, segments: 2 }).mesh]) {
      const n = shadingNormals(shade(m, { hardAngle: 30, weight: 'area', rank: true, cutOff: 0 }));
      const t = topologyOf(m);
      const code = m.layers.face.origin.data;
      let checked = 0;
      for (let c = 0; c < m.corners.length; c++) {
        const f = t.faceOfCorner[c];
        if (code[2 * f] !== 0 || m.layers.face.rank?.data[f] === 2) continue;
        const v = 3 * m.corners[c];
        const p = [m.positions[v], m.positions[v + 1], m.positions[v + 2]];
        const l = Math.hypot(p[0], p[1], p[2]);
        const cos = (n[3 * c] * p[0] + n[3 * c + 1] * p[1] + n[3 * c + 2] * p[2]) / l;
        expect(cos).toBeGreaterThan(Math.cos((1.5 * Math.PI) / 180));
        checked++;
      }
      expect(checked).toBeGreaterThan(3000);
    }
  });

  it('carries the surface over a cut, and shades what the cut left as before', () => {
    const ball = buildPrimitive({ primitive: 'sphere', radius: 40, sides: 32, rings: 16 });
    const box = buildPrimitive({ primitive: 'box', width: 10, height: 10, depth: 200 });
    const {
      mesh: m,
      operandOfFace,
      sourceFace,
    } = cut({ mesh: ball, name: 'ball' }, [{ mesh: box, name: 'box', id: 'box' }], 'subtract');
    const surface = m.layers.corner.surface.data;
    const [before, after] = [shadingNormals(ball), shadingNormals(m)];
    let whole = 0;
    for (let f = 0; f < faceCount(m); f++) {
      const s = m.faceStart[f];
      const n = m.faceStart[f + 1] - s;
      const from = ball.faceStart[sourceFace[f]];
      // All that is left of the ball knows its surface; the walls of the slot are flat.
      for (let c = s; c < s + n; c++)
        expect(Math.hypot(...surface.subarray(3 * c, 3 * c + 3))).toBeCloseTo(1 - operandOfFace[f], 6);
      if (operandOfFace[f] !== 0 || ball.faceStart[sourceFace[f] + 1] - from !== n) continue;
      const same = Array.from({ length: n }, (_, k) => k).every((k) =>
        [0, 1, 2].every(
          (j) => m.positions[3 * m.corners[s + k] + j] === ball.positions[3 * ball.corners[from + k] + j],
        ),
      );
      if (!same) continue;
      whole++;
      for (let k = 0; k < 3 * n; k++) expect(after[3 * s + k]).toBeCloseTo(before[3 * from + k], 5);
    }
    expect(whole).toBeGreaterThan(400);
  });
});
