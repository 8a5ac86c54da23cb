/** Catmull–Clark: exact small cases, boundaries, creases, layers, and the live step. */
import { beforeAll, describe, expect, it } from 'vitest';
import { checkMesh } from '../src/mesh/checkMesh';
import { boundsOf, eulerCharacteristic, faceKinds, volume } from '../src/mesh/measure';
import { faceCount, meshFromLoops, vertexCount, type PolyMesh } from '../src/mesh/PolyMesh';
import { topologyOf } from '../src/mesh/Topology';
import { buildPrimitive } from '../src/primitives';
import { loadKernel } from '../src/solid/kernel';
import { Evaluator } from '../src/build/evaluate';
import { subdivide, subdivideOnce } from '../src/subdivide/catmullClark';
import { ontoLimit } from '../src/subdivide/limit';
import type { Piece } from '../src/document/schema';

beforeAll(async () => {
  await loadKernel();
});

const cube = buildPrimitive({ primitive: 'box', width: 2, height: 2, depth: 2 });
const creased = (m: PolyMesh, value: (e: number) => number): PolyMesh => ({
  ...m,
  layers: {
    ...m.layers,
    edge: {
      crease: { size: 1, data: Float32Array.from({ length: topologyOf(m).edgeCount }, (_, e) => value(e)) },
    },
  },
});

describe('one level', () => {
  it('of a cube has the known points: corners at 5/9, edge points at 3/4, face points at 1', () => {
    const m = subdivideOnce(cube);
    expect([vertexCount(m), faceCount(m), faceKinds(m).quads, eulerCharacteristic(m)]).toEqual([
      26, 24, 24, 2,
    ]);
    const at = (v: number): number[] => Array.from(m.positions.subarray(3 * v, 3 * v + 3), Math.abs).sort();
    for (let v = 0; v < 8; v++) for (const x of at(v)) expect(x).toBeCloseTo(5 / 9, 12);
    for (let v = 8; v < 20; v++) expect(at(v)).toEqual([0, 0.75, 0.75].map((x) => expect.closeTo(x, 12)));
    for (let v = 20; v < 26; v++) expect(at(v)).toEqual([0, 0, 1].map((x) => expect.closeTo(x, 12)));
  });

  it('keeps a flat sheet in its plane, its rim a curve and its corners in place', () => {
    const sheet = buildPrimitive({ primitive: 'plane', width: 40, depth: 40, segments: [2, 2] });
    const m = subdivide(sheet, 2);
    expect(boundsOf(m)).toEqual(boundsOf(sheet));
    expect(checkMesh(m).findings.map((f) => f.code)).toEqual(['open-edge']);
  });

  it('takes n-gons and triangles, one quad per corner', () => {
    const can = buildPrimitive({ primitive: 'cylinder', radius: 10, height: 10, sides: 7 });
    const m = subdivideOnce(can);
    expect(faceCount(m)).toBe(can.corners.length);
    expect(checkMesh(m).closed).toBe(true);
  });
});

describe('creases', () => {
  it('of full strength keep a cube a cube while they last, and then let it go', () => {
    const hard = creased(cube, () => 2);
    const two = subdivide(hard, 2);
    expect(volume(two)).toBeCloseTo(8, 9);
    expect(volume(subdivide(hard, 4))).toBeLessThan(8);
    expect(volume(subdivide(hard, 4))).toBeGreaterThan(volume(subdivide(cube, 4)));
  });

  it('of part strength lie between smooth and sharp', () => {
    const v = [0, 0.5, 1].map((s) => volume(subdivideOnce(creased(cube, () => s))));
    expect(v[0]).toBeLessThan(v[1]);
    expect(v[1]).toBeLessThan(v[2]);
  });

  it('lose a level each time and stay on both halves of their edge', () => {
    const one = subdivideOnce(creased(cube, (e) => (e === 0 ? 3 : 0)));
    const data = Array.from(one.layers.edge.crease.data);
    expect(data.filter((x) => x === 2)).toHaveLength(2);
    expect(data.filter((x) => x > 0)).toHaveLength(2);
  });
});

describe('layers', () => {
  it('carry UVs linearly and face marks to every part', () => {
    const square = meshFromLoops([[0, 0, 0], [10, 0, 0], [10, 0, 10], [0, 0, 10]], [[3, 2, 1, 0]], {
      corner: { uv: { size: 2, data: Float32Array.of(0, 1, 1, 1, 1, 0, 0, 0) } },
      face: { material: { size: 1, data: Uint32Array.of(7) } },
    }); // prettier-ignore
    const m = subdivideOnce(square);
    expect(Array.from(m.layers.face.material.data)).toEqual([7, 7, 7, 7]);
    const uv = m.layers.corner.uv.data;
    for (let c = 0; c < m.corners.length; c++) {
      // The edge rule keeps middles of straight rims; inside too the layout follows the points here.
      const v = 3 * m.corners[c];
      if (m.corners[c] >= 4) {
        expect(uv[2 * c]).toBeCloseTo(m.positions[v] / 10, 6);
        expect(uv[2 * c + 1]).toBeCloseTo(m.positions[v + 2] / 10, 6);
      }
    }
  });
});

describe('the live step', () => {
  const piece = {
    id: 'p',
    base: { primitive: 'box' as const, width: 2, height: 2, depth: 2 },
    actions: [
      {
        op: 'inset',
        select: { rule: 'facing' as const, direction: [0, 1, 0] as [number, number, number] },
        thickness: 0.5,
      },
    ],
    steps: [{ kind: 'smooth' as const, levels: 1, exportLevels: 3 }],
  };
  const source = {
    blob: (): never => { throw new Error('none'); },
    file: (): never => { throw new Error('none'); },
  }; // prettier-ignore
  it('has fewer levels while working than in what is exported, behind edited bases too', () => {
    const [working, final] = [false, true].map((f) => {
      const e = new Evaluator(source, f);
      e.setPieces([piece]);
      return e.build('p');
    });
    expect(faceCount(working.base)).toBe(10);
    expect(faceCount(working.mesh)).toBe(40);
    expect(faceCount(final.mesh)).toBe(640);
    expect(working.steps[0].key).toBe('1 level');
    expect(working.actions.map((a) => a.counts)).toEqual([{ faces: 1 }]);
    expect(working.picked?.kind).toBe('face');
  });

  it('passes on an action that cannot act, and says why', () => {
    const e = new Evaluator(source);
    e.setPieces([{ ...piece, actions: [{ op: 'inset', select: { faces: [99] } }, ...piece.actions] }]);
    const r = e.build('p');
    expect(r.actions[0].fault?.code).toBe('no-element');
    expect(faceCount(r.base)).toBe(10);
  });
});

describe('the limit surface', () => {
  const shapes: Record<string, PolyMesh> = {
    cube: buildPrimitive({ primitive: 'box', width: 10, height: 12, depth: 14 }),
    can: buildPrimitive({ primitive: 'cylinder', radius: 6, height: 9, sides: 7 }),
    ring: buildPrimitive({ primitive: 'torus', radius: 9, tubeRadius: 3, sides: 9, tubeSides: 5 }),
    sheet: buildPrimitive({ primitive: 'plane', width: 10, depth: 8, segments: [3, 2] }),
  };

  it('is the same, places and normals, from whatever level it is found', () => {
    for (const [name, shape] of Object.entries(shapes)) {
      const once = subdivide(shape, 1);
      const [near, far] = [ontoLimit(once), ontoLimit(subdivideOnce(once))];
      // Points of a level come first in the next.
      for (let i = 0; i < near.positions.length; i++)
        expect([name, i, far.positions[i]]).toEqual([name, i, expect.closeTo(near.positions[i], 9)]);
      const normals = (m: PolyMesh): Map<number, number[]> => {
        const out = new Map<number, number[]>();
        const n = m.layers.corner.normal.data;
        m.corners.forEach((v, c) => out.set(v, [...n.subarray(3 * c, 3 * c + 3)]));
        return out;
      };
      const [a, b] = [normals(near), normals(far)];
      for (let v = 0; 3 * v < near.positions.length; v++)
        a.get(v)!.forEach((x, k) => expect(b.get(v)![k]).toBeCloseTo(x, 5));
    }
  });

  it('has outward normals, and none where a crease or a rim has two sides', () => {
    const m = ontoLimit(subdivide(shapes.cube, 2));
    const n = m.layers.corner.normal.data;
    m.corners.forEach((v, c) => {
      const out = [0, 1, 2].reduce((s, k) => s + n[3 * c + k] * m.positions[3 * v + k], 0);
      expect(out).toBeGreaterThan(0);
    });
    const sheet = ontoLimit(subdivide(shapes.sheet, 1));
    const held = (v: number): boolean =>
      [...sheet.corners.keys()].some(
        (c) => sheet.corners[c] === v && sheet.layers.corner.normal.data[3 * c + 1] !== 0,
      );
    for (let v = 0; 3 * v < sheet.positions.length; v++) {
      const [x, , z] = sheet.positions.subarray(3 * v, 3 * v + 3);
      if (Math.abs(x) < 3 && Math.abs(z) < 2) expect(held(v)).toBe(true);
      if (Math.abs(x) > 4.99 && Math.abs(z) > 3.99) expect([x, z].map(Math.abs)).toEqual([5, 4]);
    }
  });

  it('leaves points beside a face that is no quad, and whole creases, where they are', () => {
    const prism = shapes.can;
    expect(Array.from(ontoLimit(prism).positions)).toEqual(Array.from(prism.positions));
    const hard = creased(shapes.cube, () => 9);
    const twice = subdivide(hard, 2);
    expect(boundsOf(ontoLimit(twice))).toEqual(boundsOf(shapes.cube));
  });

  it('is what a smooth step gives when asked', () => {
    const piece = { id: 'a', base: { primitive: 'box', width: 10, height: 10, depth: 10 } } as Piece;
    const built = (limit: boolean): PolyMesh => {
      const e = new Evaluator({ blob: none, file: none });
      e.setPieces([{ ...piece, steps: [{ kind: 'smooth', levels: 2, limit }] }]);
      return e.build('a').mesh;
    };
    const none = (): never => {
      throw new Error('none');
    };
    const corner = (m: PolyMesh): number => Math.hypot(...m.positions.subarray(0, 3));
    expect(corner(built(true))).toBeLessThan(corner(built(false)));
    expect(built(false).layers.corner.normal).toBeUndefined();
  });
});
