/** A round sheet facing up, one face. */
import { Type } from 'typebox';
import type { PolyMesh } from '../mesh/PolyMesh';
import { count, length } from './fields';
import { cap, circlePoint } from './lathe';
import { LoopBuilder } from './LoopBuilder';
import { definePrimitive } from './define';

export const disc = definePrimitive({
  kind: 'disc',
  title: 'Disc',
  words: 'circle',
  params: {
    radius: length('Radius', 50),
    sides: Type.Optional(count('Sides', 32, 3)),
  },
  build: (p) => discMesh(p.radius, p.sides),
  handles: (p) => [{ key: 'radius', label: 'radius', at: [p.radius, 0, 0], along: [1, 0, 0], rate: 1 }],
  key: (p, n) => `ø ${n(p.radius * 2)}`,
});

function discMesh(r: number, sides: number): PolyMesh {
  const b = new LoopBuilder();
  const row = Array.from({ length: sides }, (_, i) => {
    const [c, s] = circlePoint(i, sides);
    return b.point([r * c, 0, -r * s]);
  });
  cap(b, row, 0, 'ngon', false);
  return b.mesh();
}
