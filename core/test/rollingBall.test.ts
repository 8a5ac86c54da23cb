/** Width by the radius of a rolling ball, and roundings against bodies whose volume can be reckoned. */
import { beforeAll, describe, expect, it } from 'vitest';
import { buildPrimitive, type Primitive } from '../src/primitives';
import { bevel } from '../src/ops/bevel/bevel';
import { cut, type CutMode } from '../src/solid/boolean';
import { loadKernel } from '../src/solid/kernel';
import { checkMesh } from '../src/mesh/checkMesh';
import { volume } from '../src/mesh/measure';
import { facesMade, tracked } from '../src/mesh/lineage';
import { faceLoop, type PolyMesh } from '../src/mesh/PolyMesh';
import { transformMatrix, transformMesh } from '../src/mesh/transform';
import { pointOf, type Vec3 } from '../src/mesh/vec3';
import { rimEdges, sharpEdges } from '../src/select/edges';
import { deepestCrossing } from './crossings';

beforeAll(async () => {
  await loadKernel();
});

const place = (p: Primitive, move: Vec3 = [0, 0, 0], turn: Vec3 = [0, 0, 0]): PolyMesh =>
  transformMesh(buildPrimitive(p), transformMatrix({ move, turn, size: [1, 1, 1] }));
const cutting = (host: PolyMesh, cutter: PolyMesh, mode: CutMode = 'subtract'): PolyMesh =>
  cut({ mesh: host, name: 'host' }, [{ mesh: cutter, name: 'c', id: 'c' }], mode).mesh;
const cylinder = (radius: number, height: number, sides: number): Primitive => ({ primitive: 'cylinder', radius, height, sides }); // prettier-ignore

/** Points of new faces that lie inside them, not on the faces beside. */
function innerPoints(mesh: PolyMesh): Vec3[] {
  const strips = new Set(facesMade(mesh, ['strip', 'corner']));
  const outside = new Set<number>();
  for (let f = 0; f + 1 < mesh.faceStart.length; f++)
    if (!strips.has(f)) for (const v of faceLoop(mesh, f)) outside.add(v);
  const inside = new Set([...strips].flatMap((f) => faceLoop(mesh, f)).filter((v) => !outside.has(v)));
  return [...inside].map((v) => pointOf(mesh.positions, v));
}

describe('width by the radius of a ball', () => {
  it('is the same as the offset at right angles', () => {
    const box = place({ primitive: 'box', width: 20, height: 20, depth: 20 });
    const [a, b] = (['offset', 'radius'] as const).map((by) => bevel(box, sharpEdges(box, 30), { width: 3, by, segments: 4 }).mesh); // prettier-ignore
    expect(volume(b)).toBeCloseTo(volume(a), 9);
  });

  it.each([3, 4, 6, 8])('gives the edges of a prism of %i sides the arcs of one ball', (sides) => {
    const prism = tracked(place(cylinder(20, 30, sides)));
    const { mesh, report } = bevel(prism, sharpEdges(prism, 30), { width: 2, by: 'radius', segments: 4 });
    expect(checkMesh(mesh).findings).toEqual([]);
    expect(deepestCrossing(mesh)).toBeLessThan(1e-9);
    expect(report.groups).toMatchObject([{ reached: 2, full: 1 }]);
    // The ball’s centre goes in a prism 2 mm smaller all round: every point of an arc is 2 mm from that.
    const wall = 20 * Math.cos(Math.PI / sides) - 2;
    const points = innerPoints(mesh);
    expect(points.length).toBeGreaterThan(9 * sides);
    for (const [x, y, z] of points) {
      // Turned into one sector, its wall square to u.
      const turn = (2 * Math.PI) / sides;
      const angle = (((Math.atan2(z, x) % turn) + turn) % turn) - turn / 2;
      const r = Math.hypot(x, z);
      const [u, v] = [r * Math.cos(angle), Math.abs(r * Math.sin(angle))];
      const off = [
        Math.max(0, u - wall),
        Math.max(0, Math.abs(y) - 13),
        Math.max(0, v - wall * Math.tan(turn / 2)),
      ];
      expect(Math.hypot(...off)).toBeCloseTo(2, 6);
    }
  });

  it('fades where a rim runs into a wall, and is not held back there', () => {
    // The smaller pipe is nearly flush with the wall of the greater one on one side.
    const m = cutting(
      place(cylinder(15, 90, 48)),
      place(cylinder(8, 90, 32), [6.9, 0, 0], [90, 0, 0]),
      'union',
    );
    const [ball, offset] = (['radius', 'offset'] as const).map((by) =>
      bevel(m, rimEdges(m), { width: 3, by }),
    );
    expect(checkMesh(ball.mesh).findings).toEqual([]);
    expect(deepestCrossing(ball.mesh)).toBeLessThan(1e-9);
    for (const g of ball.report.groups) expect(g).toMatchObject({ reached: 3, full: 1 });
    expect(Math.min(...offset.report.groups.map((g) => g.full))).toBeLessThan(0.95);
  });
});

/** Volume of the ring a closed outline in a half-plane sweeps about the axis: ∮ π ρ² dz. */
function swept(outline: Array<[rho: number, z: number]>): number {
  return Math.abs(
    outline.reduce((sum, [r, z], i) => {
      const [q, y] = outline[(i + 1) % outline.length];
      return sum + (Math.PI / 3) * (r * r + r * q + q * q) * (y - z);
    }, 0),
  );
}

type Point = [number, number];
/** The arc, or conic, that touches two lines from an apex at their ends. */
function profile(a: Point, apex: Point, b: Point): Point[] {
  const [u, v] = [a, b].map((p) => Math.atan2(p[1] - apex[1], p[0] - apex[0]));
  const w = Math.sin(Math.abs(u - v) / 2);
  return Array.from({ length: 401 }, (_, i) => {
    const t = i / 400;
    const [x, y, z] = [(1 - t) ** 2, 2 * w * t * (1 - t), t * t];
    return [0, 1].map((k) => (x * a[k] + y * apex[k] + z * b[k]) / (x + y + z)) as Point;
  });
}

describe('volume taken away, against exact bodies', () => {
  const taken = (m: PolyMesh, width: number): number =>
    volume(m) - volume(bevel(m, rimEdges(m), { width, segments: 24 }).mesh);

  it('a hole in a plate: the outside of a quarter of a torus', () => {
    const plate = place({ primitive: 'box', width: 60, height: 20, depth: 60 });
    const m = cutting(plate, place(cylinder(10, 40, 96)));
    const exact = 2 * swept([[10, 0], ...profile([12, 0], [10, 0], [10, -2])]);
    expect(Math.abs(taken(m, 2) / exact - 1)).toBeLessThan(0.01);
  });

  it('a hole along the axis of a sphere', () => {
    const [S, r, w] = [25, 8, 2];
    const ball = place({ primitive: 'sphere', radius: S, sides: 96, rings: 96 });
    const m = cutting(ball, place(cylinder(r, 80, 96)));
    const rim = Math.asin(r / S);
    const onBall = (angle: number): Point => [S * Math.sin(angle), S * Math.cos(angle)];
    const [a, b]: Point[] = [onBall(rim + w / S), [r, S * Math.cos(rim) - w]];
    // Where the tangent of the sphere at a meets the wall of the hole.
    const apex: Point = [r, a[1] + ((a[0] - r) * a[0]) / a[1]];
    const arc = Array.from({ length: 50 }, (_, i) => onBall(rim + ((w / S) * i) / 50));
    const exact = 2 * swept([...arc, ...profile(a, apex, b)]);
    expect(Math.abs(taken(m, w) / exact - 1)).toBeLessThan(0.01);
  });

  it('crossing cylinders, coarse against fine', () => {
    const of = (sides: number): number => {
      const m = cutting(place(cylinder(20, 80, sides)), place(cylinder(9, 80, sides), [0, 0, 0], [90, 0, 0]), 'union'); // prettier-ignore
      return taken(m, 2);
    };
    expect(Math.abs(of(96) / of(288) - 1)).toBeLessThan(0.01);
  });
});
