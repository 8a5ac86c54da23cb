/** A ring of round section about Y. */
import { Type } from 'typebox';
import type { PolyMesh } from '../mesh/PolyMesh';
import { count, length } from './fields';
import { circlePoint } from './lathe';
import { LoopBuilder, type Point } from './LoopBuilder';
import { definePrimitive } from './define';

export const torus = definePrimitive({
  kind: 'torus',
  title: 'Torus',
  words: 'ring doughnut circle',
  ring: { add: 5 },
  params: {
    radius: length('Radius', 50),
    tubeRadius: length('Tube radius', 12),
    sides: Type.Optional(count('Sides', 48, 3)),
    tubeSides: Type.Optional(count('Tube sides', 16, 3, 512)),
  },
  fault: (p) =>
    p.tubeRadius >= p.radius
      ? 'The tube radius of a torus must be smaller than its radius, or the surface crosses itself.'
      : null,
  build: (p) => torusMesh(p.radius, p.tubeRadius, p.sides, p.tubeSides),
  foot: (p) => p.tubeRadius,
  handles: (p) => [
    { key: 'radius', label: 'radius', at: [p.radius, 0, 0], along: [1, 0, 0], rate: 1 },
    { key: 'tubeRadius', label: 'tube radius', at: [0, p.tubeRadius, p.radius], along: [0, 1, 0], rate: 1 },
  ],
  key: (p, n) => `ø ${n(p.radius * 2)}, tube ${n(p.tubeRadius * 2)}`,
});

function torusMesh(R: number, r: number, sides: number, tubeSides: number): PolyMesh {
  const b = new LoopBuilder();
  const at = (i: number, j: number): number =>
    b.shared(`${i % sides},${j % tubeSides}`, () => {
      const [c, s] = circlePoint(i % sides, sides);
      const [tc, ts] = circlePoint(j % tubeSides, tubeSides);
      const rr = R + r * tc;
      return [rr * c, r * ts, -rr * s];
    });
  const normal = (i: number, j: number): Point => {
    const [c, s] = circlePoint(i % sides, sides);
    const [tc, ts] = circlePoint(j % tubeSides, tubeSides);
    return [tc * c, ts, -tc * s];
  };
  for (let i = 0; i < sides; i++)
    for (let j = 0; j < tubeSides; j++) {
      const [u0, u1] = [i / sides, (i + 1) / sides];
      const [v0, v1] = [j / tubeSides, (j + 1) / tubeSides];
      b.face(
        [at(i, j), at(i + 1, j), at(i + 1, j + 1), at(i, j + 1)],
        [[u0, v0], [u1, v0], [u1, v1], [u0, v1]], // prettier-ignore
        [normal(i, j), normal(i + 1, j), normal(i + 1, j + 1), normal(i, j + 1)],
      );
    }
  return b.mesh();
}
