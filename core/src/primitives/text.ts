/** Letters as a straight body: to engrave, to raise, or to stand by themselves. */
import { Type } from 'typebox';
import { regionOf } from '../planar/region';
import { definePrimitive } from './define';
import { count, length } from './fields';
import { bodyOver } from './outlineBody';
import { hasFont, outlinesOf, unknownLetters } from './letters/letters';

const MOST_POINTS = 8000;

export const text = definePrimitive({
  kind: 'text',
  title: 'Text',
  words: 'letters type font engrave label number inscription',
  params: {
    text: Type.Optional(Type.String({ title: 'Text', minLength: 1, maxLength: 200, default: 'TEXT' })),
    /** Height of capitals. */
    size: Type.Optional(length('Letter height', 10)),
    height: Type.Optional(length('Depth', 2)),
    spacing: Type.Optional(Type.Number({ title: 'Letter spacing', unit: 'mm', minimum: -1000, maximum: 1000, default: 0 })),
    lineSpacing: Type.Optional(Type.Number({ title: 'Line spacing', unit: '×', minimum: 0.5, maximum: 20, default: 1.6 })),
    align: Type.Optional(Type.Union([Type.Literal('left'), Type.Literal('middle'), Type.Literal('right')], { title: 'Lines', default: 'middle' })),
    sides: Type.Optional(count('Sides of a curve', 3, 1, 24)),
  },
  fault(p) {
    if (!hasFont()) return 'The letters are still being loaded; try again in a moment.';
    const missing = unknownLetters(p.text);
    if (missing.length) return `The font has no “${missing[0]}”; write the text without it.`;
    const contours = outlinesOf(p.text, p).map((c) => c.points);
    if (!contours.length) return 'The text has no letter that can be seen.';
    const points = contours.reduce((sum, c) => sum + c.length, 0);
    if (points > MOST_POINTS) return `The letters have ${points} points; keep to ${MOST_POINTS}, by fewer letters or fewer sides.`;
    return null;
  },
  build: (p) => bodyOver(regionOf(outlinesOf(p.text, p), 'nonzero'), p.height),
  foot: (p) => p.height / 2,
  handles: (p) => [{ key: 'height', label: 'depth', at: [0, p.height / 2, 0], along: [0, 1, 0], rate: 2 }],
  key: (p, n) => `“${p.text.length > 8 ? `${p.text.slice(0, 7)}…` : p.text}” ${n(p.size)}`,
}); // prettier-ignore
