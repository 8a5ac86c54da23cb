/** A straight body over closed outlines with holes, its corners rounded; what is drawn or read from SVG. */
import { Type } from 'typebox';
import { isLine, roundedContour, type Contour, type CurvedContour } from '../planar/contours';
import { regionOf } from '../planar/region';
import { definePrimitive } from './define';
import { count, length } from './fields';
import { bodyOver } from './outlineBody';

const MOST_POINTS = 4000;
const coordinate = Type.Number({ minimum: -100000, maximum: 100000 });

export const outline = definePrimitive({
  kind: 'outline',
  title: 'Outline',
  words: 'profile shape slot polygon plate logo svg',
  params: {
    /** Closed outlines in any order, each in X and −Z as seen from above, mm; one inside another is a hole in it. */
    contours: Type.Optional(
      Type.Array(Type.Array(Type.Tuple([coordinate, coordinate]), { minItems: 3, maxItems: MOST_POINTS }), {
        title: 'Contours',
        minItems: 1,
        maxItems: 500,
        default: [[[-20, -15], [20, -15], [20, 15], [-20, 15]]],
        drawn: true,
      }),
    ),
    height: Type.Optional(length('Height', 10)),
    /** Decides which parts are inside where outlines overlap. */
    fill: Type.Optional(Type.Union([Type.Literal('evenodd'), Type.Literal('nonzero')], { title: 'Fill rule', default: 'evenodd' })),
    corner: Type.Optional(length('Corner radius', 0, 0)),
    cornerSides: Type.Optional(count('Corner sides', 6, 1, 64)),
  },
  fault: (p) => {
    const points = p.contours.reduce((sum, c) => sum + c.length, 0);
    if (points > MOST_POINTS)
      return `The outlines have ${points} points; keep to ${MOST_POINTS}, or make curves coarser.`;
    return p.contours.some((c) => !isLine(c)) ? null : 'The outline encloses no area.';
  },
  build: (p) => bodyOver(regionOf(roundedOf(p), p.fill), p.height),
  foot: (p) => p.height / 2,
  handles: (p) => [
    { key: 'height', label: 'height', at: [0, p.height / 2, 0], along: [0, 1, 0], rate: 2 },
  ],
  key(p, n) {
    const span = (a: 0 | 1): number => {
      const all = p.contours.flat().map((q) => q[a]);
      return Math.max(...all) - Math.min(...all);
    };
    return `${n(span(0))} × ${n(p.height)} × ${n(span(1))}`;
  },
}); // prettier-ignore

const roundedOf = (p: { contours: Contour[]; corner: number; cornerSides: number }): CurvedContour[] =>
  p.contours.map((c) => roundedContour(c, p.corner, p.cornerSides));
