/** A pipe about Y. */
import { Type } from 'typebox';
import type { PolyMesh } from '../mesh/PolyMesh';
import { count, length } from './fields';
import { circlePoint, type Profile } from './lathe';
import { LoopBuilder, type Point } from './LoopBuilder';
import { definePrimitive } from './define';

export const tube = definePrimitive({
  kind: 'tube',
  title: 'Tube',
  words: 'pipe ring',
  ring: { add: 2 },
  next: { add: 2 },
  params: {
    outerRadius: length('Outer radius', 50),
    innerRadius: length('Inner radius', 35),
    height: length('Height', 60),
    sides: Type.Optional(count('Sides', 48, 3)),
  },
  fault: (p) =>
    p.innerRadius >= p.outerRadius
      ? 'The inner radius of a tube must be smaller than its outer radius.'
      : null,
  build: (p) => tubeMesh(p.outerRadius, p.innerRadius, p.height, p.sides),
  foot: (p) => p.height / 2,
  handles: (p) => [
    { key: 'outerRadius', label: 'outer radius', at: [p.outerRadius, 0, 0], along: [1, 0, 0], rate: 1 },
    {
      key: 'innerRadius',
      label: 'inner radius',
      at: [0, p.height / 2, p.innerRadius],
      along: [0, 0, 1],
      rate: 1,
    },
    {
      key: 'height',
      label: 'height',
      at: [-(p.outerRadius + p.innerRadius) / 2, p.height / 2, 0],
      along: [0, 1, 0],
      rate: 2,
    },
  ],
  key: (p, n) => `ø ${n(p.outerRadius * 2)}/${n(p.innerRadius * 2)}`,
});

function tubeMesh(R: number, r: number, h: number, sides: number): PolyMesh {
  const b = new LoopBuilder();
  const ring: Profile = [
    [R, -h / 2],
    [R, h / 2],
    [r, h / 2],
    [r, -h / 2],
  ];
  const at = (i: number, j: number): number =>
    b.shared(`${i % sides},${j % 4}`, () => {
      const [c, s] = circlePoint(i % sides, sides);
      const [rr, y] = ring[j % 4];
      return [rr * c, y, -rr * s];
    });
  const wall = (i: number, way: number): Point => {
    const [c, s] = circlePoint(i % sides, sides);
    return [way * c, 0, -way * s];
  };
  for (let i = 0; i < sides; i++)
    for (let j = 0; j < 4; j++) {
      const [u0, u1] = [i / sides, (i + 1) / sides];
      const [v0, v1] = [j / 4, (j + 1) / 4];
      b.face(
        [at(i, j), at(i + 1, j), at(i + 1, j + 1), at(i, j + 1)],
        [[u0, v0], [u1, v0], [u1, v1], [u0, v1]], // prettier-ignore
        j % 2 ? undefined : [i, i + 1, i + 1, i].map((at) => wall(at, j ? -1 : 1)),
      );
    }
  return b.mesh();
}
