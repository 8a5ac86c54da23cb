import { beforeAll, describe, expect, it } from 'vitest';
import { applyPatch, diffDocuments } from '../src/document/patch';
import { cutterCycle } from '../src/document/graph';
import { parseQuantity } from '../src/document/expression';
import type { Piece } from '../src/document/schema';
import { documentOf, withPieces } from '../src/document/sections';
import { documentFaults, pieceListFaults, recipeFaults } from '../src/document/validate';
import { checkMesh } from '../src/mesh/checkMesh';
import { boundsOf, eulerCharacteristic, faceNormal, volume } from '../src/mesh/measure';
import { faceCount, type PolyMesh } from '../src/mesh/PolyMesh';
import { applyMatrix, transformMatrix } from '../src/mesh/transform';
import { dot, pointOf, sub, type Vec3 } from '../src/mesh/vec3';
import { shadingNormals } from '../src/shading/shadingNormals';
import { residual } from '../src/shading/residual';
import { surfaceArea } from '../src/mesh/measure';
import { loadKernel } from '../src/solid/kernel';
import { displayOf } from '../src/build/display';
import { Evaluator } from '../src/build/evaluate';
import { inLaneOrder, type Step } from '../src/steps';
import { hatch } from '../../demo/hatch';
import { bell } from '../../demo/bell';
import { grille } from '../../demo/grille';
import { junctionBox } from '../../demo/junctionBox';
import { lantern } from '../../demo/lantern';
import { valve } from '../../demo/valve';

const none = {
  blob: (): PolyMesh => {
    throw new Error('no blobs here');
  },
  file: (): PolyMesh => {
    throw new Error('no files here');
  },
};
const evaluator = (pieces: Piece[]): Evaluator => {
  const e = new Evaluator(none);
  e.setPieces(pieces);
  return e;
};
const plate = (steps: Step[]): Piece[] => [
  { id: 'plate', name: 'Plate', base: { primitive: 'box', width: 100, height: 20, depth: 80 }, steps },
  {
    id: 'hole',
    name: 'Hole',
    role: 'cutter',
    base: { primitive: 'cylinder', radius: 10, height: 60, sides: 32 },
  },
];
const cutStep: Step = { kind: 'cut', id: 's1', mode: 'subtract', cutters: ['hole'] };
const round: Step = { kind: 'bevel', id: 's2', scope: { rule: 'rims' }, width: 2, segments: 3 };
const shade: Step = { kind: 'normals', id: 's3' };

beforeAll(async () => {
  await loadKernel();
});

describe('builds', () => {
  it('run in lane order whatever the order they were added in', () => {
    const orders = [[cutStep, round, shade], [shade, round, cutStep], [round, cutStep, shade]]; // prettier-ignore
    const results = orders.map((o) => evaluator(plate(o)).build('plate').mesh);
    for (const m of results) {
      expect(Array.from(m.positions)).toEqual(Array.from(results[0].positions));
      expect(Array.from(m.layers.corner.normal.data)).toEqual(
        Array.from(results[0].layers.corner.normal.data),
      );
    }
    expect(inLaneOrder(orders[1]).map((s) => s.kind)).toEqual(['cut', 'bevel', 'normals']);
  });

  it('recompute only what changed', () => {
    const e = evaluator(plate([cutStep, round, shade]));
    const first = e.build('plate');
    const retuned = plate([cutStep, round, { ...shade, hardAngle: 60 } as Step]);
    e.setPieces(retuned);
    const second = e.build('plate');
    expect(second.base).toBe(first.base);
    expect(second.mesh).not.toBe(first.mesh);
    expect(second.mesh.positions).toBe(first.mesh.positions);
    e.setPieces(plate([cutStep, round, shade]).map((p) => ({ ...p, color: '#112233' })));
    e.setPieces(retuned);
    expect(e.build('plate').mesh).toBe(second.mesh);
  });

  it('follow a moved cutter, and a mode changed under the rounding', () => {
    const pieces = plate([cutStep, round]);
    const e = evaluator(pieces);
    const before = volume(e.build('plate').mesh);
    const moved = pieces.map((p) =>
      p.id === 'hole' ? { ...p, transform: { move: [48, 0, 0] as [number, number, number] } } : p,
    );
    e.setPieces(moved);
    const open = e.build('plate').mesh;
    expect(checkMesh(open).closed).toBe(true);
    expect(volume(open)).toBeGreaterThan(before);
    for (const mode of ['union', 'intersect'] as const) {
      e.setPieces(
        moved.map((p) => (p.id === 'plate' ? { ...p, steps: [{ ...cutStep, mode } as Step, round] } : p)),
      );
      const r = e.build('plate');
      expect(r.steps.map((s) => s.fault)).toEqual([undefined, undefined]);
      expect(checkMesh(r.mesh).closed).toBe(true);
    }
  });

  it('rest a cutter, switch a step off, and say when nothing is cut', () => {
    const off = evaluator(plate([{ ...cutStep, off: true }])).build('plate');
    expect([off.steps, faceCount(off.mesh)]).toEqual([[], 6]);
    const resting = evaluator(plate([{ ...cutStep, resting: ['hole'] } as Step])).build('plate');
    expect([resting.steps[0].warnings[0].message, faceCount(resting.mesh)]).toEqual([
      'All cutters are switched off.',
      6,
    ]);
    const away = plate([cutStep]).map((p) =>
      p.id === 'hole' ? { ...p, transform: { move: [500, 0, 0] as [number, number, number] } } : p,
    );
    expect(evaluator(away).build('plate').steps[0].warnings[0].message).toBe('No cutter touches the piece.');
    const within = away.map((p) =>
      p.id === 'hole' ? { ...p, base: { primitive: 'sphere' as const, radius: 2 }, transform: {} } : p,
    );
    expect(
      evaluator(within)
        .build('plate')
        .steps[0].warnings.map((w) => w.code),
    ).toEqual(['hollow']);
  });

  it('cut with cutters that are cut themselves', () => {
    const pieces: Piece[] = [
      ...plate([cutStep]).map((p) =>
        p.id === 'hole' ? { ...p, steps: [{ kind: 'cut', mode: 'subtract', cutters: ['core'] } as Step] } : p,
      ),
      { id: 'core', role: 'cutter', base: { primitive: 'cylinder', radius: 5, height: 80, sides: 24 } },
    ];
    const mesh = evaluator(pieces).build('plate').mesh;
    // The cutter is a ring: a post stays standing in the hole.
    const ring = (r: number, n: number): number => (n / 2) * r * r * Math.sin((2 * Math.PI) / n);
    expect(volume(mesh)).toBeCloseTo(160000 - 20 * (ring(10, 32) - ring(5, 24)), 3);
  });

  it('keep the rest of the build when a step fails, and say why', () => {
    const sheet: Piece = { id: 'sheet', name: 'Sheet', base: { primitive: 'plane', width: 300, depth: 300 } };
    const r = evaluator([
      ...plate([{ ...cutStep, cutters: ['sheet'] } as Step, { ...round, scope: { rule: 'all' } } as Step]),
      sheet,
    ]).build('plate');
    expect(r.steps[0].fault).toMatchObject({ code: 'open-operand', piece: 'sheet' });
    expect(r.steps[0].fault!.lines!.length).toBe(4 * 6);
    expect(faceCount(r.mesh)).toBeGreaterThan(6);
    const wide = evaluator(plate([cutStep, { ...round, width: 60, clamp: false } as Step])).build('plate');
    expect(wide.steps[1].fault).toMatchObject({ code: 'bevel-too-wide' });
  });

  it('refuse a circle of cutters with its path', () => {
    const pieces: Piece[] = plate([cutStep]).map((p) =>
      p.id === 'hole' ? { ...p, steps: [{ kind: 'cut', mode: 'subtract', cutters: ['plate'] } as Step] } : p,
    );
    expect(cutterCycle(pieces)).toEqual(['Plate', 'Hole', 'Plate']);
    expect(() => evaluator(pieces).build('plate')).toThrowError(
      'Cutters run in a circle: Plate → Hole → Plate.',
    );
  });

  it('report progress and stop when told to', () => {
    const seen: string[] = [];
    evaluator(plate([cutStep, round])).build('plate', (done, total) => void seen.push(`${done}/${total}`));
    expect([...new Set(seen.filter((x) => /^\d+\/2$/.test(x)))]).toEqual(['0/2', '1/2']);
    // And inside of the steps.
    expect(seen.length).toBeGreaterThan(4);
    const stop = () => {
      throw new Error('stopped');
    };
    expect(() => evaluator(plate([cutStep])).build('plate', stop)).toThrowError('stopped');
  });

  it('build the demo hatch into closed solids without a fault, and measure its shading', () => {
    const { pieces } = hatch();
    const e = evaluator(pieces);
    expectSound(e, pieces);
    const door = displayOf(e.build('door'), 0);
    expect(door.solid).toMatchObject({ closed: true, openEdges: 0, shells: 1 });
    expect(door.shading!.over2).toBeLessThan(1e-3);
    const { areas, kinds } = door.shading!;
    expect(areas.reduce((sum, a) => sum + a, 0)).toBeCloseTo(surfaceArea(e.build('door').mesh), 0);
    expect(Object.values(kinds).reduce((sum, n) => sum + n, 0)).toBe(door.counts.faces);
    expect(door.wire.length / 6).toBeLessThan(door.counts.triangles * 1.5);
  });
});

/** Every piece builds into a closed solid, and no action or step of it fails. */
function expectSound(e: Evaluator, pieces: Piece[]): void {
  expect(pieceListFaults(pieces)).toEqual([]);
  for (const p of pieces) {
    if ('group' in p.base) continue;
    const r = e.build(p.id);
    expect([p.id, [...r.actions, ...r.steps].filter((s) => s.fault)]).toEqual([p.id, []]);
    expect([p.id, checkMesh(r.mesh).findings]).toEqual([p.id, []]);
  }
}

it('builds the demo valve, made by direct operations, into closed solids', () => {
  const { pieces } = valve();
  const e = evaluator(pieces);
  expectSound(e, pieces);
  // Ring and spokes are one body with the five openings of a four-spoked wheel.
  expect(eulerCharacteristic(e.build('wheel').mesh)).toBe(2 - 2 * 4);
});

it('builds the demo lamp house with every rim rounded in full', () => {
  const { pieces } = lantern();
  const e = evaluator(pieces);
  expectSound(e, pieces);
  const groups = e.build('house').steps.flatMap((s) => s.groups ?? []);
  expect(groups.length).toBeGreaterThan(30);
  for (const { asked, least, full, stops } of groups) expect([least, full, stops]).toEqual([asked, 1, []]);
});

it('builds the demo junction box, whose cutters and lid stay in place when the case changes', () => {
  const { pieces } = junctionBox();
  const e = evaluator(pieces);
  expectSound(e, pieces);
  const report = (id: string): unknown =>
    e.build(id).steps.map((s) => [s.fault, s.warnings.filter((w) => w.code !== 'hollow' && w.code !== 'stops').map((w) => w.code)]); // prettier-ignore
  const placed = (id: string): number[] =>
    e.build('case').steps.flatMap((s) => s.anchored ?? []).find((a) => a.id === id)!.transform.move!;
  const before = ['gland1', 'vent', 'bore1', 'name'].map(placed);
  const reports = ['case', 'lid'].map(report);
  const faces = ['case', 'lid'].map((id) => faceCount(e.build(id).mesh));
  // 20 mm wider, 14 deeper: ends go out by 10, front and back by 7.
  e.setPieces(pieces.map((p) => (p.id === 'case' ? { ...p, base: { primitive: 'box', width: 160, height: 56, depth: 114 } } : p)));
  const after = ['gland1', 'vent', 'bore1', 'name'].map(placed);
  const moved = after.map((m, i) => m.map((x, k) => Math.round(x - before[i][k]) + 0));
  expect(moved).toEqual([[10, 0, 0], [0, 0, -7], [10, 0, 7], [0, 0, 7]]);
  expect(['case', 'lid'].map(report)).toEqual(reports);
  expect(['case', 'lid'].map((id) => faceCount(e.build(id).mesh))).toEqual(faces);
  const { min, max } = boundsOf(e.build('lid').mesh);
  expect([max[0] - min[0], max[2] - min[2]].map((x) => Number(x.toFixed(6)))).toEqual([160, 114]);
}); // prettier-ignore

it('builds the demo bell, whose plate is shaded as the wall it lies on', () => {
  const e = evaluator(bell().pieces);
  for (const id of ['bell', 'plate']) {
    const { mesh, steps } = e.build(id);
    expect(steps.flatMap((s) => [s.fault?.message ?? [], ...s.warnings].flat())).toEqual([]);
    expect(checkMesh(mesh).closed).toBe(true);
    expect(residual(mesh).over2).toBeLessThan(0.001);
  }
  // The outside of the plate: true normals of the cone, in the plate's frame.
  const { mesh } = e.build('plate');
  const place = transformMatrix({ size: [1, 1, 1], ...bell().pieces.find((p) => p.id === 'plate')!.transform! } as never); // prettier-ignore
  const slope = Math.atan2(80, 240);
  const normals = shadingNormals(mesh);
  let corners = 0;
  for (let f = 0; f < mesh.faceStart.length - 1; f++) {
    const big = !mesh.layers.face.rank.data[f] && faceNormal(mesh, f)[1] > 0.85;
    for (let c = mesh.faceStart[f]; big && c < mesh.faceStart[f + 1]; c++) {
      const [x, y, z] = applyMatrix(place, pointOf(mesh.positions, mesh.corners[c]));
      const radius = Math.hypot(x, z);
      // Not the floor of the lettering nor the rounding.
      if (Math.abs(radius - (110 - y / 3)) < 3.9 || Math.abs(radius - (110 - y / 3)) > 4.6) continue;
      const n = sub(applyMatrix(place, pointOf(normals, c)), applyMatrix(place, [0, 0, 0]));
      const truth: Vec3 = [(x / radius) * Math.cos(slope), Math.sin(slope), (z / radius) * Math.cos(slope)];
      // As the bell is drawn: over a triangle of a wide facet of a cone normals are mixed up to 0.68° off.
      expect(dot(n, truth)).toBeGreaterThan(Math.cos((0.7 * Math.PI) / 180));
      corners++;
    }
  }
  expect(corners).toBeGreaterThan(300);
});

it('builds the demo grille of 700 cutters', () => {
  const { pieces } = grille();
  const e = evaluator(pieces);
  const { mesh } = e.build('grille');
  expect(checkMesh(mesh)).toMatchObject({ closed: true, findings: [] });
  expect(eulerCharacteristic(mesh)).toBe(2 - 2 * 700);
});

describe('documents', () => {
  it('are refused with the path at fault', () => {
    const bad = (change: (r: Record<string, unknown>, p: Record<string, unknown>) => void): string => {
      const r = structuredClone({ units: 'mm', pieces: plate([cutStep, round, shade]) }) as unknown as Record<
        string,
        unknown
      >;
      change(r, (r.pieces as Array<Record<string, unknown>>)[0]);
      const [f] = recipeFaults(r);
      return f ? `${f.path}: ${f.message}` : '';
    };
    expect(bad(() => {})).toBe('');
    expect(bad((r) => (r.extra = 1))).toBe('extra: Unknown key “extra”.');
    expect(bad((_, p) => (p.colour = 'red'))).toBe('pieces/0/colour: Unknown key “colour”.');
    expect(bad((_, p) => ((p.base as Record<string, unknown>).radius = 3))).toBe(
      'pieces/0/base/radius: Unknown key “radius”.',
    );
    expect(bad((_, p) => ((p.base as Record<string, unknown>).width = -1))).toBe(
      'pieces/0/base/width: Must be at least 0.001.',
    );
    expect(bad((_, p) => (p.base = { primitive: 'teapot' }))).toMatch(
      /^pieces\/0\/base\/primitive: “teapot” is not a primitive; use box,/,
    );
    expect(bad((_, p) => ((p.steps as Array<Record<string, unknown>>)[1].radius = 3))).toBe(
      'pieces/0/steps/1/radius: Unknown key “radius”.',
    );
    expect(bad((_, p) => ((p.steps as Array<Record<string, unknown>>)[1].kind = 'melt'))).toMatch(
      /^pieces\/0\/steps\/1\/kind: “melt” is not a kind/,
    );
    expect(bad((_, p) => ((p.steps as Array<Record<string, unknown>>)[0].cutters = ['ghost']))).toBe(
      'pieces/0/steps/0/cutters/0: There is no piece “ghost”.',
    );
    expect(bad((_, p) => (p.id = 'hole'))).toBe('pieces/1/id: The id “hole” is used twice.');
    expect(bad((_, p) => (p.parent = 'plate'))).toBe('pieces: “Plate” is nested inside itself.');
    expect(bad((r) => (r.export = ['nothing']))).toBe('export/0: There is no piece “nothing”.');
    expect(documentFaults(documentOf(hatch().pieces))).toEqual([]);
  });

  it('change by patches that lead there and back', () => {
    const a = documentOf(plate([cutStep]));
    const b = withPieces(a, [
      { ...a.pieces.hole, name: 'Bore' },
      { id: 'new', base: { group: true as const } },
    ]);
    const d = diffDocuments(a, b)!;
    expect(applyPatch(a, d.forward)).toEqual(b);
    expect(applyPatch(b, d.inverse)).toEqual(a);
    expect(diffDocuments(a, structuredClone(a))).toBeNull();
  });
});

describe('typed numbers', () => {
  const cases: Array<[string, 'length' | 'angle' | 'number', number]> = [
    ['360/22', 'angle', 360 / 22],
    ['1in+2mm', 'length', 27.4],
    ['12mm + 1in', 'length', 37.4],
    ['(1 + 2) * 3', 'number', 9],
    ['-2.5cm', 'length', -25],
    ['1,5', 'number', 1.5],
    ['3×4÷6', 'number', 2],
    ['2 - -3', 'number', 5],
    ['(1+1)in', 'length', 50.8],
  ];
  for (const [text, q, want] of cases)
    it(text, () => {
      const r = parseQuantity(text, q);
      expect('value' in r ? r.value : r.error).toBeCloseTo(want, 9);
    });
  it('are refused in words', () => {
    const error = (t: string): unknown => (parseQuantity(t, 'length') as { error?: string }).error;
    expect(error('')).toBe('Type a number.');
    expect(error('1/0')).toBe('That divides by zero.');
    expect(error('(1')).toBe('A closing bracket is missing.');
    expect(error('2 kg')).toBe('“kg” is not understood.');
    expect(error('3°')).toBe('The unit “°” does not fit here.');
    expect(error('abc')).toBe('“abc” is not a number.');
  });
});
