/** A ball of rings between two poles. */
import { Type } from 'typebox';
import type { PolyMesh } from '../mesh/PolyMesh';
import { count, length } from './fields';
import { circlePoint } from './lathe';
import { LoopBuilder, type Point } from './LoopBuilder';
import { definePrimitive } from './define';

export const sphere = definePrimitive({
  kind: 'sphere',
  title: 'Sphere',
  words: 'ball globe',
  ring: { add: 3 },
  params: {
    radius: length('Radius', 50),
    sides: Type.Optional(count('Sides', 32, 3)),
    rings: Type.Optional(count('Rings', 16, 2, 512)),
  },
  build: (p) => sphereMesh(p.radius, p.sides, p.rings),
  foot: (p) => p.radius,
  handles: (p) => [{ key: 'radius', label: 'radius', at: [p.radius, 0, 0], along: [1, 0, 0], rate: 1 }],
  key: (p, n) => `ø ${n(p.radius * 2)}`,
});

function sphereMesh(r: number, sides: number, rings: number): PolyMesh {
  const b = new LoopBuilder();
  const normals: Point[] = [];
  const point = (p: Point): number => {
    normals.push(p);
    return b.point(p);
  };
  const face = (loop: number[], uv: Array<[number, number]>): void =>
    b.face(loop, uv, loop.map((v) => normals[v])); // prettier-ignore
  const bottom = point([0, -r, 0]);
  const rows: number[][] = [];
  for (let j = 1; j < rings; j++) {
    const lat = Math.PI * (j / rings - 0.5);
    const y = 2 * j === rings ? 0 : r * Math.sin(lat);
    const rr = r * Math.cos(lat);
    rows.push(
      Array.from({ length: sides }, (_, i) => {
        const [c, s] = circlePoint(i, sides);
        return point([rr * c, y, -rr * s]);
      }),
    );
  }
  const top = point([0, r, 0]);
  for (let i = 0; i < sides; i++) {
    const k = (i + 1) % sides;
    const u0 = i / sides;
    const u1 = (i + 1) / sides;
    const mid = (u0 + u1) / 2;
    face([rows[0][k], rows[0][i], bottom], [[u1, 1 / rings], [u0, 1 / rings], [mid, 0]]); // prettier-ignore
    for (let j = 0; j + 1 < rows.length; j++) {
      const v0 = (j + 1) / rings;
      const v1 = (j + 2) / rings;
      face(
        [rows[j][i], rows[j][k], rows[j + 1][k], rows[j + 1][i]],
        [[u0, v0], [u1, v0], [u1, v1], [u0, v1]], // prettier-ignore
      );
    }
    const last = rows[rows.length - 1];
    face([last[i], last[k], top], [[u0, 1 - 1 / rings], [u1, 1 - 1 / rings], [mid, 1]]); // prettier-ignore
  }
  return b.mesh();
}
