/** A prism: a straight body over a regular polygon, its corners rounded on request. */
import { Type } from 'typebox';
import { roundedContour, type Contour } from '../planar/contours';
import { definePrimitive } from './define';
import { count, length } from './fields';
import { bodyOver } from './outlineBody';

export const prism = definePrimitive({
  kind: 'prism',
  title: 'Prism',
  words: 'regular polygon hexagon socket nut triangle',
  params: {
    across: length('Across corners', 40),
    height: length('Height', 10),
    sides: Type.Optional(count('Sides', 6, 3, 256)),
    corner: Type.Optional(length('Corner radius', 0, 0)),
    cornerSides: Type.Optional(count('Corner sides', 6, 1, 64)),
  },
  fault(p) {
    const most = (p.across / 2) * Math.cos(Math.PI / p.sides);
    return p.corner <= most
      ? null
      : `The corner radius is ${p.corner} mm; ${Number(most.toPrecision(4))} mm is the most that fits this prism.`;
  },
  build: (p) => bodyOver([roundedContour(polygon(p.across / 2, p.sides), p.corner, p.cornerSides)], p.height),
  foot: (p) => p.height / 2,
  handles: (p) => [
    { key: 'across', label: 'across', at: [p.across / 2, 0, 0], along: [1, 0, 0], rate: 2 },
    { key: 'height', label: 'height', at: [0, p.height / 2, 0], along: [0, 1, 0], rate: 2 },
  ],
  key: (p, n) => `ø ${n(p.across)} × ${n(p.height)}`,
});

/** A corner lies on X. */
const polygon = (radius: number, sides: number): Contour =>
  Array.from({ length: sides }, (_, k) => {
    const a = (2 * Math.PI * k) / sides;
    return [radius * Math.cos(a), radius * Math.sin(a)] as const;
  });
