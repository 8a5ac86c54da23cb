/** A plate: a straight body over a rectangle with rounded corners. */
import { Type } from 'typebox';
import { roundedContour, type Contour } from '../planar/contours';
import { definePrimitive } from './define';
import { count, length } from './fields';
import { bodyOver } from './outlineBody';

export const plate = definePrimitive({
  kind: 'plate',
  title: 'Plate',
  words: 'rounded rectangle pad box pocket panel',
  params: {
    width: length('Width', 60),
    depth: length('Depth', 40),
    height: length('Height', 10),
    corner: Type.Optional(length('Corner radius', 6, 0)),
    cornerSides: Type.Optional(count('Corner sides', 6, 1, 64)),
  },
  fault(p) {
    const most = Math.min(p.width, p.depth) / 2;
    return p.corner <= most
      ? null
      : `The corner radius is ${p.corner} mm; ${most} mm is the most that fits ${p.width} × ${p.depth} mm.`;
  },
  build: (p) => bodyOver([roundedContour(rectangle(p.width, p.depth), p.corner, p.cornerSides)], p.height),
  foot: (p) => p.height / 2,
  handles(p) {
    // A quarter of a corner's arc, which moves on its diagonal as the radius grows.
    const inset = 1 - Math.SQRT1_2;
    const [x, z] = [p.width / 2 - p.corner * inset, p.depth / 2 - p.corner * inset];
    return [
      { key: 'width', label: 'width', at: [p.width / 2, 0, 0], along: [1, 0, 0], rate: 2 },
      { key: 'height', label: 'height', at: [0, p.height / 2, 0], along: [0, 1, 0], rate: 2 },
      { key: 'depth', label: 'depth', at: [0, 0, p.depth / 2], along: [0, 0, 1], rate: 2 },
      {
        key: 'corner',
        label: 'corner',
        at: [x, p.height / 2, z],
        along: [-Math.SQRT1_2, 0, -Math.SQRT1_2],
        rate: 1 / (inset * Math.SQRT2),
      },
    ];
  },
  key: (p, n) => `${n(p.width)} × ${n(p.height)} × ${n(p.depth)}`,
});

/** Counter-clockwise, in X and −Z. */
const rectangle = (w: number, d: number): Contour => [
  [-w / 2, -d / 2],
  [w / 2, -d / 2],
  [w / 2, d / 2],
  [-w / 2, d / 2],
];
