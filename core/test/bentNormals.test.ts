/** Bent normals and openness, against bodies where both are known. */
import { describe, expect, it } from 'vitest';
import { meshFromLoops, type PolyMesh } from '../src/mesh/PolyMesh';
import { cross, dot, length, pointOf, unit, type Vec3 } from '../src/mesh/vec3';
import { buildPrimitive, type Primitive } from '../src/primitives';
import { bentNormals, type BentOptions } from '../src/shading/bentNormals';
import { shadingNormals } from '../src/shading/shadingNormals';
import { ShadowTree } from '../src/spatial/ShadowTree';
import { treeOf } from '../src/spatial/TriangleTree';

const options = (o: Partial<BentOptions> = {}): BentOptions => ({ rays: 64, reach: 1e4, seed: 0, ...o });
const degrees = (a: Vec3, b: Vec3): number => (Math.atan2(length(cross(a, b)), dot(a, b)) * 180) / Math.PI;

/** A floor of thin strips along a wall that stands on it: both as good as endless along x, the floor also in z. */
function floorAndWall(height: number, at: number): { mesh: PolyMesh; corner: number } {
  const far = 2000;
  const points: Vec3[] = [];
  const quad = (...p: Vec3[]): number[] => p.map((q) => points.push(q) - 1);
  const loops = [
    quad([-far, 0, at], [far, 0, at], [far, 0, -far], [-far, 0, -far]),
    // A small face whose corner is looked at.
    quad([0, 0, at], [-1, 0, at + 1], [0, 0, at + 2], [1, 0, at + 1]),
    quad([-far, 0, 0], [far, 0, 0], [far, height, 0], [-far, height, 0]),
  ];
  return { mesh: meshFromLoops(points, loops), corner: 4 };
}

describe('openness', () => {
  it('before an endless wall is what the form factor of a strip leaves', () => {
    for (const [height, at] of [
      [10, 10],
      [40, 10],
      [3, 12],
    ]) {
      const { mesh, corner } = floorAndWall(height, at);
      const { openness } = bentNormals(mesh, options({ rays: 4096 }));
      const blocked = (1 - at / Math.hypot(at, height)) / 2;
      expect(openness[corner]).toBeCloseTo(1 - blocked, 2);
    }
  });

  it('is whole on convex bodies, however coarse, and the bent normals are those they are shaded with', () => {
    const bodies: Primitive[] = [
      { primitive: 'box', width: 30, height: 20, depth: 10 },
      { primitive: 'cylinder', radius: 10, height: 30, sides: 6 },
      { primitive: 'cone', bottomRadius: 10, topRadius: 4, height: 20, sides: 12 },
      { primitive: 'sphere', radius: 10, sides: 12, rings: 6 },
    ];
    for (const body of bodies) {
      const mesh = buildPrimitive(body);
      const { openness, normals } = bentNormals(mesh, options());
      expect([body.primitive, Math.min(...openness)]).toEqual([body.primitive, 1]);
      const shaded = shadingNormals(mesh);
      for (let c = 0; c < mesh.corners.length; c++)
        expect(degrees(pointOf(normals, c), pointOf(shaded, c))).toBeLessThan(1e-3);
    }
  });

  it('is nothing inside a closed body, and all of it where the walls are out of reach', () => {
    const box = buildPrimitive({ primitive: 'box', width: 30, height: 20, depth: 10 });
    const loops = Array.from({ length: 6 }, (_, f) =>
      [...box.corners.slice(box.faceStart[f], box.faceStart[f + 1])].reverse(),
    );
    const inside = meshFromLoops(
      Array.from({ length: 8 }, (_, v) => pointOf(box.positions, v)),
      loops,
    );
    expect(Math.max(...bentNormals(inside, options()).openness)).toBe(0);
    // A ray from a corner of the box meets nothing within a hundredth of a millimetre, but for those along its walls.
    expect(Math.min(...bentNormals(inside, options({ reach: 1e-4 })).openness)).toBeGreaterThan(0.9);
  });
});

describe('bent normals', () => {
  it('turn away from a wall by as much as the rays that escape do', () => {
    const [height, at] = [10, 10];
    const { mesh, corner } = floorAndWall(height, at);
    const { normals } = bentNormals(mesh, options({ rays: 4096 }));
    // Summed over a fine grid of the disc that the hemisphere is projected to.
    const sum: Vec3 = [0, 0, 0];
    const n = 1500;
    for (let i = 0; i < n; i++)
      for (let j = 0; j < n; j++) {
        const [x, z] = [(2 * (i + 0.5)) / n - 1, (2 * (j + 0.5)) / n - 1];
        if (x * x + z * z >= 1) continue;
        const y = Math.sqrt(1 - x * x - z * z);
        // Towards the wall, and under its top where it gets there.
        if (z < 0 && (y * at) / -z < height) continue;
        sum[0] += x;
        sum[1] += y;
        sum[2] += z;
      }
    expect(degrees(pointOf(normals, corner), unit(sum))).toBeLessThan(0.5);
  });

  it('are the same for the same seed, and nearly the same for another', () => {
    const torus = buildPrimitive({ primitive: 'torus', radius: 20, tubeRadius: 8, sides: 24, tubeSides: 12 });
    const a = bentNormals(torus, options());
    expect(bentNormals(torus, options())).toEqual(a);
    const b = bentNormals(torus, options({ seed: 7, rays: 256 }));
    expect(b.normals).not.toEqual(a.normals);
    let sum = 0;
    for (let c = 0; c < torus.corners.length; c++) sum += Math.abs(a.openness[c] - b.openness[c]);
    expect(sum / torus.corners.length).toBeLessThan(0.03);
  });

  it('are one along what is smooth, and apart across what is hard', () => {
    const mesh = buildPrimitive({ primitive: 'cylinder', radius: 10, height: 30, sides: 24 });
    const { normals } = bentNormals(mesh, options());
    const shaded = shadingNormals(mesh);
    const seen = new Map<string, string>();
    for (let c = 0; c < mesh.corners.length; c++) {
      const key = `${mesh.corners[c]} ${pointOf(shaded, c).join()}`;
      const bent = pointOf(normals, c).join();
      expect(seen.get(key) ?? bent).toBe(bent);
      seen.set(key, bent);
    }
  });
});

describe('the tree for shadows', () => {
  it('says what the tree for places says, of random rays', () => {
    const mesh = buildPrimitive({ primitive: 'torus', radius: 20, tubeRadius: 8, sides: 24, tubeSides: 12 });
    const [shadows, places] = [new ShadowTree(mesh), treeOf(mesh)];
    let seed = 11;
    const random = (): number => (seed = (seed * 16807) % 2147483647) / 2147483647;
    for (let i = 0; i < 3000; i++) {
      const from: Vec3 = [60 * random() - 30, 30 * random() - 15, 60 * random() - 30];
      const d = unit([random() - 0.5, random() - 0.5, random() - 0.5]);
      const place = places.meets(from, d);
      const reach = 40 * random();
      const expected = place !== null && length([0, 1, 2].map((k) => place.at[k] - from[k]) as Vec3) < reach;
      expect([i, shadows.meets(...from, ...d, reach)]).toEqual([i, expected]);
    }
    // Along an axis, and along one in the plane of a box's side.
    expect(shadows.meets(0, 0, -100, 0, 0, 1, 1000)).toBe(true);
    expect(shadows.meets(0, 8.001, -100, 0, 0, 1, 1000)).toBe(false);
  });
});
