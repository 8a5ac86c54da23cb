import { describe, expect, it } from 'vitest';
import { buildPrimitive, primitiveFault, type Primitive } from '../src/primitives';
import { checkMesh } from '../src/mesh/checkMesh';
import {
  boundsOf,
  eulerCharacteristic,
  faceKinds,
  shellCount,
  surfaceArea,
  volume,
} from '../src/mesh/measure';
import {
  faceCount,
  makeMesh,
  meshFromLoops,
  triangleCount,
  vertexCount,
  type PolyMesh,
} from '../src/mesh/PolyMesh';
import { edgeBetween, isClosed, topologyOf } from '../src/mesh/Topology';
import { blendLayers, concatLayers, copyLayers, makeBlend } from '../src/mesh/layers';
import { separateFans } from '../src/mesh/separateFans';
import { invert, multiply, transformMatrix, transformMesh } from '../src/mesh/transform';
import { joinMeshes } from '../src/ops/join';
import { triangulate } from '../src/planar/triangulate';
import { divideRegion } from '../src/planar/divideRegion';
import { constrainedTriangles } from '../src/planar/constrainedTriangles';

const ngonArea = (r: number, n: number): number => (n / 2) * r * r * Math.sin((2 * Math.PI) / n);

describe('primitives', () => {
  const solids: Array<[Primitive, { v: number; f: number; euler: number; volume?: number }]> = [
    [
      { primitive: 'box', width: 10, height: 20, depth: 30 },
      { v: 8, f: 6, euler: 2, volume: 6000 },
    ],
    [
      { primitive: 'box', width: 10, height: 20, depth: 30, segments: [2, 3, 4] },
      { v: 54, f: 52, euler: 2, volume: 6000 },
    ],
    [
      { primitive: 'cylinder', radius: 10, height: 30, sides: 12, rings: 2 },
      { v: 36, f: 26, euler: 2, volume: 30 * ngonArea(10, 12) },
    ],
    [
      { primitive: 'cylinder', radius: 10, height: 30, sides: 12, caps: 'fan' },
      { v: 26, f: 36, euler: 2, volume: 30 * ngonArea(10, 12) },
    ],
    [
      { primitive: 'cone', bottomRadius: 10, topRadius: 0, height: 30, sides: 8 },
      { v: 9, f: 9, euler: 2, volume: 10 * ngonArea(10, 8) },
    ],
    [
      { primitive: 'cone', bottomRadius: 0, topRadius: 10, height: 30, sides: 8 },
      { v: 9, f: 9, euler: 2, volume: 10 * ngonArea(10, 8) },
    ],
    [
      { primitive: 'cone', bottomRadius: 10, topRadius: 5, height: 30, sides: 8 },
      {
        v: 16,
        f: 10,
        euler: 2,
        volume: 10 * (ngonArea(10, 8) + ngonArea(5, 8) + Math.sqrt(ngonArea(10, 8) * ngonArea(5, 8))),
      },
    ],
    [
      { primitive: 'sphere', radius: 10, sides: 16, rings: 8 },
      { v: 114, f: 128, euler: 2 },
    ],
    [
      { primitive: 'quadSphere', radius: 10, divisions: 4 },
      { v: 98, f: 96, euler: 2 },
    ],
    [
      { primitive: 'torus', radius: 20, tubeRadius: 5, sides: 16, tubeSides: 8 },
      { v: 128, f: 128, euler: 0 },
    ],
    [
      { primitive: 'tube', outerRadius: 10, innerRadius: 6, height: 5, sides: 20 },
      { v: 80, f: 80, euler: 0, volume: 5 * (ngonArea(10, 20) - ngonArea(6, 20)) },
    ],
  ];
  for (const [p, want] of solids)
    it(`${JSON.stringify(p)} is closed, outward and exact`, () => {
      const m = buildPrimitive(p);
      expect(checkMesh(m)).toEqual({ valid: true, closed: true, findings: [] });
      expect([vertexCount(m), faceCount(m), eulerCharacteristic(m), shellCount(m)]).toEqual([
        want.v,
        want.f,
        want.euler,
        1,
      ]);
      expect(volume(m)).toBeGreaterThan(0);
      if (want.volume !== undefined) expect(volume(m)).toBeCloseTo(want.volume, 8);
      const b = boundsOf(m);
      for (let k = 0; k < 3; k++) expect(b.min[k] + b.max[k]).toBeCloseTo(0, 9);
      expect(m.layers.corner.uv.data.length).toBe(2 * m.corners.length);
    });
  it('planes, discs and uncapped cylinders are open and face up', () => {
    const plane = buildPrimitive({ primitive: 'plane', width: 10, depth: 20, segments: [2, 3] });
    expect(checkMesh(plane)).toMatchObject({ valid: true, closed: false });
    expect([faceCount(plane), surfaceArea(plane)]).toEqual([6, 200]);
    expect(checkMesh(buildPrimitive({ primitive: 'disc', radius: 5, sides: 7 })).valid).toBe(true);
    const pipe = buildPrimitive({ primitive: 'cylinder', radius: 5, height: 5, sides: 8, caps: 'none' });
    expect(checkMesh(pipe).findings).toMatchObject([{ code: 'open-edge', count: 16 }]);
  });
  it('says what a schema cannot', () => {
    expect(primitiveFault({ primitive: 'tube', outerRadius: 5, innerRadius: 5, height: 1 })).toMatch(
      /smaller/,
    );
    expect(primitiveFault({ primitive: 'torus', radius: 5, tubeRadius: 6 })).toMatch(/crosses itself/);
    expect(primitiveFault({ primitive: 'cone', bottomRadius: 0, topRadius: 0, height: 6 })).toMatch(/radius/);
    expect(primitiveFault({ primitive: 'sphere', radius: 5 })).toBeNull();
  });
});

describe('checkMesh', () => {
  const tetra = (): PolyMesh =>
    meshFromLoops([[0, 0, 0], [1, 0, 0], [0, 1, 0], [0, 0, 1]], [[0, 2, 1], [0, 1, 3], [1, 2, 3], [2, 0, 3]]); // prettier-ignore
  const broken: Array<[string, (m: PolyMesh) => PolyMesh, string, number[]]> = [
    ['a coordinate that is no number', (m) => ({ ...m, positions: m.positions.map((x, i) => (i === 4 ? NaN : x)) }), 'not-finite', [1]],
    ['a turned face', (m) => ({ ...m, corners: Uint32Array.of(0, 1, 2, ...m.corners.slice(3)) }), 'folded-edge', [0, 1, 2]],
    ['a doubled face', (m) => makeMesh(m.positions, Uint32Array.of(0, 3, 6, 9, 12, 15), Uint32Array.of(...m.corners, 0, 2, 1)), 'non-manifold-edge', [0, 1, 2]],
    ['a face visiting a vertex twice', (m) => makeMesh(m.positions, Uint32Array.of(0, 4), Uint32Array.of(0, 1, 2, 1)), 'repeated-corner', [0]],
    ['an unused vertex', (m) => makeMesh(Float64Array.of(...m.positions, 5, 5, 5), m.faceStart, m.corners), 'unused-vertex', [4]],
    ['a face without area', (m) => ({ ...m, positions: m.positions.map((x, i) => (i >= 9 ? 0 : x)) }), 'zero-area', [1, 3]],
    ['a corner past the end', (m) => ({ ...m, corners: m.corners.map((c) => (c === 3 ? 9 : c)) }), 'bad-structure', [5]],
    ['a layer of the wrong length', (m) => ({ ...m, layers: { ...m.layers, face: { material: { size: 1, data: new Int32Array(2) } } } }), 'bad-layer', []],
  ]; // prettier-ignore
  for (const [title, breakIt, code, elements] of broken)
    it(`finds ${title}`, () => {
      const found = checkMesh(breakIt(tetra())).findings.find((f) => f.code === code);
      expect(found?.elements).toEqual(elements);
    });
  it('finds shells that only touch in a vertex, and separateFans parts them', () => {
    const two = joinMeshes([
      tetra(),
      transformMesh(tetra(), transformMatrix({ move: [0, 0, 0], turn: [0, 180, 180], size: [1, 1, 1] })),
    ]);
    const touching = makeMesh(two.positions.slice(0, 21), two.faceStart, two.corners.map((v) => (v < 4 ? v : v === 4 ? 0 : v - 1)), {}); // prettier-ignore
    const moved = {
      ...touching,
      positions: Float64Array.of(...two.positions.slice(0, 12), ...two.positions.slice(15)),
    };
    expect(checkMesh(moved).findings.map((f) => f.code)).toEqual(['non-manifold-vertex']);
    const apart = separateFans(moved)!;
    expect(apart.source.length).toBe(8);
    expect(separateFans(tetra())).toBeNull();
  });
});

describe('topology', () => {
  it('links twins, counts edges, and finds edges between vertices', () => {
    const m = buildPrimitive({ primitive: 'box', width: 1, height: 1, depth: 1, segments: [3, 3, 3] });
    const t = topologyOf(m);
    expect(t.edgeCount).toBe(108);
    expect(isClosed(m)).toBe(true);
    for (let c = 0; c < m.corners.length; c++) expect(t.twin[t.twin[c]]).toBe(c);
    expect(edgeBetween(m, t, t.edges[20], t.edges[21])).toBe(10);
    expect(edgeBetween(m, t, 0, vertexCount(m) - 1)).toBe(-1);
    expect(topologyOf(m)).toBe(t);
  });
});

describe('triangulation', () => {
  const flat = (pts: Array<[number, number]>): PolyMesh => meshFromLoops(pts.map(([x, y]) => [x, y, 0]), [pts.map((_, i) => i)]); // prettier-ignore
  const shapes: Record<string, Array<[number, number]>> = {
    'a star': Array.from({ length: 10 }, (_, i) => [
      (i % 2 ? 4 : 10) * Math.cos(i * 0.628),
      (i % 2 ? 4 : 10) * Math.sin(i * 0.628),
    ]),
    'points on straight runs': [[0, 0], [1, 0], [2, 0], [3, 0], [3, 1], [3, 2], [2, 2], [2, 1], [1, 1], [1, 2], [0, 2]], // prettier-ignore
    'a comb': Array.from({ length: 41 }, (_, i) => [i, i === 0 || i === 40 ? 10 : i % 2 ? 0 : 9]),
    'a concave quad': [[0, 0], [10, 0], [2, 2], [0, 10]], // prettier-ignore
  };
  for (const [title, pts] of Object.entries(shapes))
    it(`keeps every point and the area of ${title}`, () => {
      const raw = flat(pts);
      const m = volumeSign(pts) > 0 ? raw : flat([...pts].reverse());
      const t = triangulate(m);
      expect(t.face.length).toBe(triangleCount(m));
      let area = 0;
      for (let i = 0; i < t.face.length; i++) {
        const [a, b, c] = [0, 1, 2].map((k) => m.corners[t.corners[3 * i + k]]);
        const p = m.positions;
        const s =
          ((p[3 * b] - p[3 * a]) * (p[3 * c + 1] - p[3 * a + 1]) -
            (p[3 * b + 1] - p[3 * a + 1]) * (p[3 * c] - p[3 * a])) /
          2;
        expect(s).toBeGreaterThan(0);
        area += s;
      }
      expect(area).toBeCloseTo(surfaceArea(m), 9);
      expect(new Set(t.corners).size).toBe(pts.length);
    });
});

const volumeSign = (p: Array<[number, number]>): number =>
  p.reduce((s, [x, y], i) => s + x * p[(i + 1) % p.length][1] - y * p[(i + 1) % p.length][0], 0);

describe('dividing a region', () => {
  const ring = (x: number, y: number, r: number, n: number, way: 1 | -1): number[] =>
    Array.from({ length: n }, (_, i) => [
      x + r * Math.cos((way * 2 * Math.PI * i) / n),
      y + r * Math.sin((way * 2 * Math.PI * i) / n),
    ]).flat();
  const build = (loops: number[][]): { xy: Float64Array; sides: Array<[number, number]> } => {
    const sides: Array<[number, number]> = [];
    let at = 0;
    for (const l of loops) {
      const n = l.length / 2;
      for (let i = 0; i < n; i++) sides.push([at + i, at + ((i + 1) % n)]);
      at += n;
    }
    return { xy: Float64Array.from(loops.flat()), sides };
  };
  for (const holes of [0, 1, 2, 5, 12])
    it(`bridges ${holes} holes with the fewest edges, one more than holes, into simple polygons`, () => {
      const loops = [
        ring(0, 0, 50, 40, 1),
        ...Array.from({ length: holes }, (_, i) =>
          ring(30 * Math.cos(i * 0.52), 30 * Math.sin(i * 0.52), 5, 16, -1),
        ),
      ];
      const { xy, sides } = build(loops);
      const faces = divideRegion(xy, constrainedTriangles(xy, sides));
      const bridges = (faces.reduce((n, f) => n + f.length, 0) - sides.length) / 2;
      expect(bridges).toBe(holes === 0 ? 0 : holes + 1);
      expect(faces.length).toBe(bridges - holes + 1);
      for (const f of faces) expect(new Set(f).size).toBe(f.length);
    });
});

describe('layers', () => {
  it('copies codes, mixes numbers and renormalises directions', () => {
    const set = {
      uv: { size: 2, data: Float64Array.of(0, 0, 1, 0, 0, 1) },
      material: { size: 1, data: Int32Array.of(7, 8, 9) },
      normal: { size: 3, data: Float32Array.of(1, 0, 0, 0, 1, 0, 0, 0, 1) },
    };
    const b = makeBlend(1);
    b.index.set([0, 1, 2]);
    b.weight.set([0.2, 0.5, 0.3]);
    const out = blendLayers(set, b);
    expect(Array.from(out.uv.data)).toEqual([0.5, 0.3]);
    expect(Array.from(out.material.data)).toEqual([8]);
    expect(Math.hypot(...out.normal.data)).toBeCloseTo(1, 6);
    expect(Array.from(copyLayers(set, Int32Array.of(2, -1)).material.data)).toEqual([9, 0]);
    expect(Array.from(concatLayers([{ a: { size: 1, data: Int32Array.of(1) } }, {}], [1, 2]).a.data)).toEqual(
      [1, 0, 0],
    );
  });
});

describe('transforms', () => {
  it('turns XYZ, inverts exactly, and keeps mirrored meshes outward', () => {
    const m = transformMatrix({ move: [1, 2, 3], turn: [20, 30, 40], size: [2, 3, 4] });
    multiply(m, invert(m)).forEach((x, i) => expect(x).toBeCloseTo(i % 5 ? 0 : 1, 12));
    const box = buildPrimitive({ primitive: 'box', width: 1, height: 1, depth: 1 });
    const mirrored = transformMesh(
      box,
      transformMatrix({ move: [0, 0, 0], turn: [0, 0, 0], size: [-1, 1, 2] }),
    );
    expect(volume(mirrored)).toBeCloseTo(2, 12);
    expect(checkMesh(mirrored).closed).toBe(true);
    expect(() => invert(transformMatrix({ move: [0, 0, 0], turn: [0, 0, 0], size: [0, 1, 1] }))).toThrowError(
      /size of zero/,
    );
    expect(faceKinds(mirrored)).toEqual({ triangles: 0, quads: 6, ngons: 0 });
  });
});
