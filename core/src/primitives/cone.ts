/** A cone or a truncated one about Y. */
import { Type } from 'typebox';
import type { PolyMesh } from '../mesh/PolyMesh';
import { count, length } from './fields';
import { cap, circlePoint, lathe, wallNormal } from './lathe';
import { LoopBuilder } from './LoopBuilder';
import { definePrimitive } from './define';

export const cone = definePrimitive({
  kind: 'cone',
  title: 'Cone',
  words: 'taper point funnel',
  ring: { add: 4 },
  params: {
    bottomRadius: length('Bottom radius', 50, 0),
    topRadius: length('Top radius', 0, 0),
    height: length('Height', 100),
    sides: Type.Optional(count('Sides', 32, 3)),
  },
  fault: (p) =>
    p.bottomRadius < 0.001 && p.topRadius < 0.001
      ? 'A cone needs a bottom or a top radius of at least 0.001 mm.'
      : null,
  build: (p) => coneMesh(p.bottomRadius, p.topRadius, p.height, p.sides),
  foot: (p) => p.height / 2,
  handles: (p) => [
    {
      key: 'bottomRadius',
      label: 'bottom radius',
      at: [p.bottomRadius, -p.height / 2, 0],
      along: [1, 0, 0],
      rate: 1,
    },
    { key: 'topRadius', label: 'top radius', at: [p.topRadius, p.height / 2, 0], along: [1, 0, 0], rate: 1 },
    { key: 'height', label: 'height', at: [0, p.height / 2, 0], along: [0, 1, 0], rate: 2 },
  ],
  key: (p, n) => `ø ${n(p.bottomRadius * 2)}–${n(p.topRadius * 2)} × ${n(p.height)}`,
});

function coneMesh(bottom: number, top: number, h: number, sides: number): PolyMesh {
  const point = 1e-3;
  if (bottom >= point && top >= point)
    return lathe(
      [
        [bottom, -h / 2],
        [top, h / 2],
      ],
      sides,
      'ngon',
      'ngon',
    );
  const b = new LoopBuilder();
  const up = top < point;
  const r = up ? bottom : top;
  const y = up ? -h / 2 : h / 2;
  const row = Array.from({ length: sides }, (_, i) => {
    const [c, s] = circlePoint(i, sides);
    return b.point([r * c, y, -r * s]);
  });
  const apex = b.point([0, -y, 0]);
  const rise = (bottom - top) / h;
  for (let i = 0; i < sides; i++) {
    const k = (i + 1) % sides;
    const u0 = i / sides;
    const u1 = (i + 1) / sides;
    const mid = (u0 + u1) / 2;
    // At the point, each side looks the way its middle does.
    const [first, second, middle] = [i, k, i + 0.5].map((at) => wallNormal(at, sides, rise));
    if (up) b.face([row[i], row[k], apex], [[u0, 0], [u1, 0], [mid, 1]], [first, second, middle]); // prettier-ignore
    else b.face([row[k], row[i], apex], [[u1, 1], [u0, 1], [mid, 0]], [second, first, middle]); // prettier-ignore
  }
  cap(b, row, y, 'ngon', up);
  return b.mesh();
}
