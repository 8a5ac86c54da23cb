/** Layers through operations: attributes over cuts and roundings, and untouched parts exactly as they were. */
import { beforeAll, describe, expect, it } from 'vitest';
import { buildPrimitive, type Primitive } from '../src/primitives';
import { bevel } from '../src/ops/bevel/bevel';
import { stoppedOf } from '../src/ops/bevel/groups';
import { cutterCode } from '../src/births/hash';
import { cut } from '../src/solid/boolean';
import { loadKernel } from '../src/solid/kernel';
import { checkMesh } from '../src/mesh/checkMesh';
import { faceNormal, volume } from '../src/mesh/measure';
import { faceCount, faceLoop, type PolyMesh } from '../src/mesh/PolyMesh';
import { topologyOf, nextCorner } from '../src/mesh/Topology';
import { transformMatrix, transformMesh } from '../src/mesh/transform';
import { rimEdges, sharpEdges } from '../src/select/edges';
import { joinMeshes } from '../src/ops/join';

const at = (
  p: Primitive,
  move: [number, number, number],
  turn: [number, number, number] = [0, 0, 0],
): PolyMesh => transformMesh(buildPrimitive(p), transformMatrix({ move, turn, size: [1, 1, 1] }));
const box = (width: number, height: number, depth: number): Primitive => ({
  primitive: 'box',
  width,
  height,
  depth,
});
const bore = (
  m: PolyMesh,
  tool: PolyMesh,
  id = 'tool',
  mode: 'subtract' | 'union' | 'intersect' = 'subtract',
) => cut({ mesh: m, name: 'host' }, [{ mesh: tool, name: id, id }], mode);
const withLayer = (
  m: PolyMesh,
  domain: 'edge' | 'face' | 'corner' | 'vertex',
  name: string,
  size: number,
  data: Int32Array | Uint8Array | Float64Array,
): PolyMesh => ({
  ...m,
  layers: { ...m.layers, [domain]: { ...m.layers[domain], [name]: { size, data } } },
});

beforeAll(async () => {
  await loadKernel();
});

describe('over a cut', () => {
  it('UVs of cut faces lie where the face had them, to the last digit of the plane', () => {
    const host = buildPrimitive({ primitive: 'plane', width: 10, depth: 10 });
    expect(host.layers.corner.uv.data).toHaveLength(8);
    const plate = buildPrimitive(box(100, 20, 80));
    const r = bore(plate, at({ primitive: 'cylinder', radius: 10, height: 60, sides: 12 }, [13, 0, 7])).mesh;
    const t = topologyOf(r);
    let seen = 0;
    for (let c = 0; c < r.corners.length; c++) {
      const f = t.faceOfCorner[c];
      if (faceNormal(r, f)[1] < 0.99) continue;
      const v = r.corners[c];
      // The top of a box maps x to u and −z to v.
      expect(r.layers.corner.uv.data[2 * c]).toBeCloseTo(r.positions[3 * v] / 100 + 0.5, 9);
      expect(r.layers.corner.uv.data[2 * c + 1]).toBeCloseTo(0.5 - r.positions[3 * v + 2] / 80, 9);
      seen++;
    }
    expect(seen).toBeGreaterThan(16);
  });

  it('materials, groups and unknown layers come from the face a part came from', () => {
    const paint = (m: PolyMesh, first: number): PolyMesh =>
      withLayer(
        withLayer(
          m,
          'face',
          'material',
          1,
          Int32Array.from({ length: faceCount(m) }, (_, i) => first + i),
        ),
        'face',
        'mood',
        2,
        Float64Array.from({ length: 2 * faceCount(m) }, (_, i) => first + i / 2),
      );
    const r = bore(paint(buildPrimitive(box(40, 40, 40)), 100), paint(at(box(20, 60, 20), [0, 0, 0]), 200));
    for (let f = 0; f < faceCount(r.mesh); f++) {
      const want = (r.operandOfFace[f] ? 200 : 100) + r.sourceFace[f];
      expect(r.mesh.layers.face.material.data[f]).toBe(want);
      expect(r.mesh.layers.face.mood.data[2 * f]).toBe((r.operandOfFace[f] ? 200 : 100) + r.sourceFace[f]);
      expect(Array.from(r.mesh.layers.face.origin.data.slice(2 * f, 2 * f + 2))).toEqual([
        r.operandOfFace[f] ? cutterCode('tool') : 0,
        r.sourceFace[f],
      ]);
    }
  });

  it('edge marks follow every part of their edge, and only them', () => {
    const host = buildPrimitive(box(40, 40, 40));
    const t = topologyOf(host);
    const seam = new Uint8Array(t.edgeCount);
    const marked = [...Array(t.edgeCount).keys()].find((e) => [0, 1].every((k) => host.positions[3 * t.edges[2 * e + k]] > 0 && host.positions[3 * t.edges[2 * e + k] + 1] > 0))!; // prettier-ignore
    seam[marked] = 1;
    const r = bore(withLayer(host, 'edge', 'seam', 1, seam), at(box(20, 20, 8), [20, 20, 0])).mesh;
    const rt = topologyOf(r);
    const found: number[] = [];
    for (let e = 0; e < rt.edgeCount; e++) if (r.layers.edge.seam.data[e]) found.push(e);
    // The notch takes the middle out of the marked edge: two parts of it are left.
    expect(found).toHaveLength(2);
    let length = 0;
    for (const e of found) {
      const [a, b] = [rt.edges[2 * e], rt.edges[2 * e + 1]];
      for (const v of [a, b]) expect([r.positions[3 * v], r.positions[3 * v + 1]]).toEqual([20, 20]);
      length += Math.abs(r.positions[3 * a + 2] - r.positions[3 * b + 2]);
    }
    expect(length).toBeCloseTo(32, 9);
  });

  it('rims remember their cutter through later cuts, and scopes tell them apart', () => {
    const first = bore(
      buildPrimitive(box(100, 10, 100)),
      at({ primitive: 'cylinder', radius: 10, height: 30, sides: 16 }, [-20, 0, 0]),
      'a',
    ).mesh;
    const second = bore(
      first,
      at({ primitive: 'cylinder', radius: 10, height: 30, sides: 24 }, [20, 0, 0]),
      'b',
    ).mesh;
    expect([
      rimEdges(second).length,
      rimEdges(second, ['a']).length,
      rimEdges(second, ['b']).length,
      rimEdges(second, ['c']).length,
    ]).toEqual([80, 32, 48, 0]);
    // A third cut through the first hole leaves only parts of its rim.
    const third = bore(second, at(box(20, 30, 20), [-20, 0, -10]), 'c').mesh;
    expect(rimEdges(third, ['a']).length).toBeGreaterThan(10);
    expect(rimEdges(third, ['a']).length).toBeLessThan(32);
    expect(rimEdges(third, ['c']).length).toBeGreaterThan(4);
  });

  it('turns held normals of a subtracted cutter inside out with its faces', () => {
    const tool = at(box(20, 60, 20), [0, 0, 0]);
    const held = new Float64Array(3 * tool.corners.length);
    const t = topologyOf(tool);
    for (let c = 0; c < tool.corners.length; c++) held.set(faceNormal(tool, t.faceOfCorner[c]), 3 * c);
    const r = bore(buildPrimitive(box(40, 40, 40)), withLayer(tool, 'corner', 'normal', 3, held));
    const rt = topologyOf(r.mesh);
    for (let c = 0; c < r.mesh.corners.length; c++) {
      const f = rt.faceOfCorner[c];
      if (!r.operandOfFace[f]) continue;
      const n = faceNormal(r.mesh, f);
      for (let k = 0; k < 3; k++) expect(r.mesh.layers.corner.normal.data[3 * c + k]).toBeCloseTo(n[k], 6);
    }
  });

  it('gives the same bytes for the same input', () => {
    const run = (): PolyMesh =>
      bore(
        buildPrimitive({ primitive: 'torus', radius: 30, tubeRadius: 11, sides: 24, tubeSides: 12 }),
        at(box(50, 9, 50), [10, 3, 4], [15, 25, 35]),
      ).mesh;
    const [a, b] = [run(), run()];
    expect(Array.from(a.positions)).toEqual(Array.from(b.positions));
    expect(Array.from(a.corners)).toEqual(Array.from(b.corners));
    expect(a.layers).toEqual(b.layers);
  });

  it('cuts a joined pair of shells, and cuts many holes at once', () => {
    const pair = joinMeshes([at(box(20, 20, 20), [-15, 0, 0]), at(box(20, 20, 20), [15, 0, 0])]);
    const slot = bore(pair, at(box(80, 6, 6), [0, 0, 0])).mesh;
    expect(checkMesh(slot).closed).toBe(true);
    expect(volume(slot)).toBeCloseTo(2 * (8000 - 20 * 36), 6);
    const holes = Array.from({ length: 49 }, (_, i) => ({ mesh: at({ primitive: 'cylinder', radius: 4, height: 30, sides: 8 }, [(i % 7) * 12 - 36, 0, Math.floor(i / 7) * 12 - 36]), name: `h${i}`, id: `h${i}` })); // prettier-ignore
    const grid = cut({ mesh: buildPrimitive(box(100, 10, 100)), name: 'grid' }, holes, 'subtract').mesh;
    expect(checkMesh(grid).closed).toBe(true);
    // One bridge more than holes would be the least; the exchanges come within a tenth of it on each side.
    const bridges = Array.from(grid.layers.edge.bridge.data).filter(Boolean).length;
    expect(bridges).toBeGreaterThanOrEqual(2 * 50);
    expect(bridges).toBeLessThanOrEqual(2 * 55);
    expect(faceCount(grid)).toBe(4 + 49 * 8 + bridges - 2 * 48);
  });
});

describe('over a rounding', () => {
  it('faces that are not touched keep coordinates, corner order and layers', () => {
    const host = buildPrimitive({ primitive: 'box', width: 60, height: 60, depth: 60, segments: [6, 6, 6] });
    const one = sharpEdges(host, 60).slice(0, 1);
    const r = bevel(host, one, { width: 2, segments: 2 }).mesh;
    const loops = (m: PolyMesh): string[] => Array.from({ length: faceCount(m) }, (_, f) => faceLoop(m, f).map((v) => m.positions.slice(3 * v, 3 * v + 3).join()).join('|')); // prettier-ignore
    const after = new Set(loops(r));
    const kept = loops(host).filter((l) => after.has(l));
    // One edge of a grid touches the two faces at it and those at its ends.
    expect(faceCount(host) - kept.length).toBeLessThanOrEqual(6);
    expect(checkMesh(r).closed).toBe(true);
  });

  it('UVs run on from the faces into the strips without a jump', () => {
    const host = buildPrimitive(box(40, 40, 40));
    const r = bevel(host, sharpEdges(host, 30), { width: 4, segments: 4, profile: 1 }).mesh;
    const t = topologyOf(r);
    const uv = r.layers.corner.uv.data;
    let compared = 0;
    for (let c = 0; c < r.corners.length; c++) {
      const tw = t.twin[c];
      const [f, g] = [t.faceOfCorner[c], t.faceOfCorner[tw]];
      const rank = r.layers.face.rank.data;
      if (rank[f] !== 0 || rank[g] !== 2) continue;
      const d = nextCorner(r, t, tw);
      expect(Math.hypot(uv[2 * c] - uv[2 * d], uv[2 * c + 1] - uv[2 * d + 1])).toBeLessThan(1e-9);
      compared++;
    }
    expect(compared).toBe(24);
  });

  it('marks on edges that stay are kept, and bridges are laid anew', () => {
    const plate = buildPrimitive(box(100, 20, 80));
    const t = topologyOf(plate);
    const marked = withLayer(plate, 'edge', 'hard', 1, new Uint8Array(t.edgeCount).fill(1));
    const holed = bore(
      marked,
      at({ primitive: 'cylinder', radius: 10, height: 60, sides: 16 }, [0, 0, 0]),
    ).mesh;
    const r = bevel(holed, rimEdges(holed), { width: 2, segments: 2 }).mesh;
    expect(Array.from(r.layers.edge.hard.data).filter(Boolean)).toHaveLength(12);
    expect(Array.from(r.layers.edge.bridge.data).filter(Boolean)).toHaveLength(4);
  });

  it('cuts and rounds again on what was rounded', () => {
    let m = bore(
      buildPrimitive(box(100, 30, 80)),
      at({ primitive: 'cylinder', radius: 12, height: 60, sides: 24 }, [-20, 0, 0]),
      'a',
    ).mesh;
    m = bevel(m, rimEdges(m), { width: 2, segments: 2 }).mesh;
    const again = bore(m, at(box(20, 60, 20), [20, 0, 5], [0, 30, 0]), 'b');
    expect(checkMesh(again.mesh).closed).toBe(true);
    const r = bevel(again.mesh, rimEdges(again.mesh, ['b']), { width: 1.5, segments: 3 });
    expect(checkMesh(r.mesh).closed).toBe(true);
    expect(stoppedOf(r.report.groups, 1.5)).toEqual([]);
    // Strips that followed before the second cut still follow.
    expect(Array.from(r.mesh.layers.face.rank.data).filter((x) => x === 2).length).toBeGreaterThan(
      24 * 2 * 2,
    );
  });
});
