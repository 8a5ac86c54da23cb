/** Bodies whose faces moved along their normals: every point is inside by its distance to the body they are made of. */
import { beforeAll, describe, expect, it } from 'vitest';
import '../src/planar/withClipper';
import '../src/primitives/letters/withFont';
import { cutIn, type CutManner } from '../src/cutting/cutModes';
import { offsetBody, type Moved } from '../src/cutting/offsetBody';
import { offsetPrism } from '../src/cutting/offsetPrism';
import { windingNumber } from '../src/cutting/winding';
import { checkMesh } from '../src/mesh/checkMesh';
import { boundsOf, faceNormal, volume } from '../src/mesh/measure';
import { faceCount, type PolyMesh } from '../src/mesh/PolyMesh';
import { IDENTITY_TRANSFORM, transformMatrix, transformMesh } from '../src/mesh/transform';
import { distance, dot, type Vec3 } from '../src/mesh/vec3';
import { buildPrimitive, type Primitive } from '../src/primitives';
import { cut } from '../src/solid/boolean';
import { loadKernel } from '../src/solid/kernel';
import { treeOf } from '../src/spatial/TriangleTree';
import { UNWATCHED } from '../src/watch';
import { runs } from './effort';
import { deepestCrossing } from './crossings';

beforeAll(() => loadKernel());

const placed = (p: Primitive, move: Vec3 = [0, 0, 0], turn: Vec3 = [0, 0, 0]): PolyMesh =>
  transformMesh(buildPrimitive(p), transformMatrix({ ...IDENTITY_TRANSFORM, move, turn }));
const together = (a: PolyMesh, b: PolyMesh): PolyMesh =>
  cut({ mesh: a, name: 'a' }, [{ mesh: b, name: 'b', id: 'b' }], 'union').mesh;
const plain = (...[host, cutters, mode]: Parameters<Parameters<typeof offsetBody>[3]>) =>
  cut(host, cutters, mode);
/** The same random places in every run. */
function places(mesh: PolyMesh, beyond: number, n: number): Vec3[] {
  const { min, max } = boundsOf(mesh);
  let x = 12345;
  const random = (): number => (x = (x * 48271) % 2147483647) / 2147483647;
  return Array.from({ length: n }, () =>
    min.map((lo, k) => lo - beyond + random() * (max[k] - lo + 2 * beyond)),
  ) as Vec3[];
}

/** A mitre reaches no further than this many distances, in the shapes that are tried. */
const MITRE = 2;

/** Nearer than `h` belongs to the layer, further than a mitre reaches does not; in between it may. */
function expectByDistance(mesh: PolyMesh, moved: Moved, h: number): void {
  expect(checkMesh(moved.mesh).findings).toEqual([]);
  expect(deepestCrossing(moved.mesh)).toBeLessThan(1e-7);
  const tree = treeOf(mesh);
  let told = 0;
  for (const p of places(mesh, 1.5 * Math.abs(h), 400)) {
    const d = distance(tree.nearest(p)!.at, p);
    const inside = windingNumber(mesh, p) > 0.5;
    if (Math.abs(d - Math.abs(h)) < 0.05 * Math.abs(h)) continue;
    if (inside === h < 0 && d > Math.abs(h) && d < MITRE * Math.abs(h)) continue;
    const expected = h > 0 ? inside || d < h : inside && d > -h;
    expect(windingNumber(moved.mesh, p) > 0.5, `${p.join()} at ${d}`).toBe(expected);
    told++;
  }
  expect(told).toBeGreaterThan(100);
}

describe('a body of any shape', () => {
  const bodies: Array<[string, () => PolyMesh, number[]]> = [
    ['a dumbbell', () => together(placed({ primitive: 'cylinder', radius: 4, height: 30, sides: 12 }), placed({ primitive: 'box', width: 16, height: 6, depth: 16 }, [0, 6, 0], [0, 10, 0])), [1.5, 5, -1.5, -2.8]], // prettier-ignore
    ['crossed bars', () => together(placed({ primitive: 'box', width: 30, height: 6, depth: 8 }), placed({ primitive: 'box', width: 8, height: 30, depth: 6 }, [5, 3, 0], [20, 0, 0])), [3, -2, -2.9]], // prettier-ignore
    ['a narrow ring', () => placed({ primitive: 'torus', radius: 8, tubeRadius: 5, sides: 12, tubeSides: 8 }), [2, -2]], // prettier-ignore
    ['a ball on a plate', () => together(placed({ primitive: 'box', width: 30, height: 4, depth: 30 }), placed({ primitive: 'quadSphere', radius: 7, divisions: 3 }, [0, 5, 0])), [2, -1.5]], // prettier-ignore
  ];
  for (const [name, make, distances] of bodies)
    it(`${name} has its surface at the distance all over`, () => {
      const mesh = make();
      for (const h of distances)
        expectByDistance(
          mesh,
          offsetBody(mesh, () => h, 'c', plain)!,
          h,
        );
    });

  it('is gone where there is no room for it', () => {
    const mesh = placed({ primitive: 'torus', radius: 12, tubeRadius: 3, sides: 16, tubeSides: 8 });
    expect(offsetBody(mesh, () => -3.5, 'c', plain)).toBeNull();
  });
});

describe('a straight body', () => {
  const notched: Primitive = {
    primitive: 'outline',
    height: 8,
    contours: [
      [[-20, -12], [4, -12], [4, -3], [6, -2], [8, -3], [8, -12], [20, -12], [20, 12], [-20, 12]], // prettier-ignore
      [[-12, -6], [-4, -6], [-4, 6], [-6, 8], [-12, 6]], // prettier-ignore
    ],
  };
  it('closes slots and holes, and loses what is thinner than twice the distance', () => {
    for (const turn of [
      [0, 0, 0],
      [30, 40, 50],
    ] as Vec3[]) {
      const mesh = placed(notched, [1, 2, 3], turn);
      for (const h of [1.5, 2.5, 5, -1.5, -3])
        expectByDistance(
          mesh,
          offsetPrism(mesh, () => h)!,
          h,
        );
    }
  });

  it('has every face where one it is made of has moved to, and named for that', () => {
    const mesh = placed({ primitive: 'text', text: 'Rg&8', size: 12, height: 20 }, [5, 0, 0], [20, 30, 0]);
    for (const h of [0.4, 1.5, -0.4, -0.7]) {
      const moved = offsetPrism(mesh, () => h)!;
      for (let f = 0; f < faceCount(moved.mesh); f++) {
        const source = moved.faceOf(f);
        const n = faceNormal(mesh, source);
        expect(dot(n, faceNormal(moved.mesh, f))).toBeGreaterThan(1 - 1e-9);
        const at = (m: PolyMesh, face: number): number => dot(n, Array.from(m.positions.subarray(3 * m.corners[m.faceStart[face]])).slice(0, 3) as Vec3); // prettier-ignore
        expect(at(moved.mesh, f) - at(mesh, source)).toBeCloseTo(h, 6);
      }
    }
  });

  it('keeps walls that stay, however few of a curve move', () => {
    const mesh = placed({ primitive: 'text', text: 'ms8@', size: 12, height: 10 });
    for (const h of [0.6, -0.3])
      for (const step of [2, 3]) {
        const moved = offsetPrism(mesh, (f) => (f % step ? 0 : h))!;
        const [less, more] = h > 0 ? [mesh, moved.mesh] : [moved.mesh, mesh];
        expect(volume(more)).toBeGreaterThan(volume(less));
        // Nothing of the smaller one stands out of the larger one.
        expect(faceCount(cut({ mesh: less, name: 'less' }, [{ mesh: more, name: 'more', id: 'm' }], 'subtract').mesh)).toBe(0); // prettier-ignore
      }
  });

  it('is known from bodies that are not', () => {
    expect(
      offsetPrism(placed({ primitive: 'cone', bottomRadius: 9, topRadius: 5, height: 9 }), () => 1),
    ).toBeUndefined();
    expect(
      offsetPrism(placed({ primitive: 'box', width: 9, height: 9, depth: 9, segments: [2, 2, 2] }), () => 1),
    ).toBeUndefined();
    expect(offsetPrism(placed(notched), () => -13)).toBeNull();
  });
});

describe('walls and gaps', () => {
  const HOW: CutManner = {
    mode: 'sleeve',
    voids: 'keep',
    keep: 'both',
    gap: 0,
    gapFrom: 'both',
    thickness: 1,
    nearest: false,
    wall: 'inside',
    apart: false,
  };
  const made = (host: PolyMesh, cutter: PolyMesh, how: Partial<CutManner>): PolyMesh =>
    cutIn(
      { mesh: host, name: 'host', id: 'h' },
      [{ mesh: cutter, name: 'cutter', id: 'c' }],
      { ...HOW, ...how },
      { joins: true, widest: Infinity, watch: UNWATCHED },
    ).result.mesh;
  const hosts: Primitive[] = [
    { primitive: 'box', width: 50, height: 50, depth: 22 },
    { primitive: 'cylinder', radius: 22, height: 50, sides: 40 },
  ];
  const cutters: Primitive[] = [
    { primitive: 'sphere', radius: 8, sides: runs(20, 36), rings: runs(10, 18) },
    { primitive: 'quadSphere', radius: 8, divisions: 3 },
    { primitive: 'torus', radius: 8, tubeRadius: 3, sides: runs(16, 24), tubeSides: runs(8, 12) },
    { primitive: 'cone', bottomRadius: 9, topRadius: 3, height: 50, sides: 20 },
    { primitive: 'text', text: runs(0, 1) ? 'i%R&' : 'i%', size: 9, height: 70 },
  ];
  it('are made for cutters of all kinds, half in and through, straight and tilted', () => {
    const poses: Array<[number, Vec3]> = [[11, [90, 0, 0]], [7, [65, 20, 0]]]; // prettier-ignore
    hosts.forEach((h, i) =>
      cutters.forEach((shape, k) => {
        const host = placed(h);
        const [z, turn] = poses[(i + k) % 2];
        const cutter = placed(shape, [0, 0, z], turn);
        const [whole, hole] = [volume(host), volume(made(host, cutter, { mode: 'split', keep: 'outside' }))];
        // A wall fills part of the hole, and a gap takes from both halves: the volumes show it.
        for (const how of [
          { thickness: 0.7 },
          { mode: 'split', gap: 0.5 },
          { mode: 'split', gap: 2, keep: 'outside' },
        ] as Array<Partial<CutManner>>) {
          // prettier-ignore
          const mesh = made(host, cutter, how);
          expect(checkMesh(mesh).findings, `${shape.primitive} ${JSON.stringify(how)}`).toEqual([]);
          expect(deepestCrossing(mesh)).toBeLessThan(1e-7);
          const v = volume(mesh);
          if (how.keep) expect(v).toBeLessThan(hole);
          else expect(v).toBeGreaterThan(hole);
          expect(v).toBeLessThan(whole);
        }
      }),
    );
  });
});
