/** A cylinder about Y, in rings, with flat, fanned or no caps. */
import { Type } from 'typebox';
import { count, length } from './fields';
import { lathe } from './lathe';
import { definePrimitive } from './define';

export const cylinder = definePrimitive({
  kind: 'cylinder',
  title: 'Cylinder',
  words: 'rod pipe can circle',
  ring: { add: 1 },
  next: { add: 1 },
  params: {
    radius: length('Radius', 50),
    height: length('Height', 100),
    sides: Type.Optional(count('Sides', 32, 3)),
    rings: Type.Optional(count('Rings', 1, 1, 512)),
    caps: Type.Optional(
      Type.Union([Type.Literal('ngon'), Type.Literal('fan'), Type.Literal('none')], {
        title: 'Caps',
        default: 'ngon',
      }),
    ),
  },
  build: ({ radius, height, rings, sides, caps }) =>
    lathe(
      Array.from({ length: rings + 1 }, (_, i) => [radius, height * (i / rings - 0.5)]),
      sides,
      caps,
      caps,
    ),
  foot: (p) => p.height / 2,
  handles: (p) => [
    { key: 'radius', label: 'radius', at: [p.radius, 0, 0], along: [1, 0, 0], rate: 1 },
    { key: 'height', label: 'height', at: [0, p.height / 2, 0], along: [0, 1, 0], rate: 2 },
  ],
  key: (p, n) => `ø ${n(p.radius * 2)} × ${n(p.height)}`,
});
