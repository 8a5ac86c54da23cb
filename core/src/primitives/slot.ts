/** A slot: a straight body over two half circles and the lines between them, along X. */
import { Type } from 'typebox';
import { roundedContour } from '../planar/contours';
import { definePrimitive } from './define';
import { count, length } from './fields';
import { bodyOver } from './outlineBody';

export const slot = definePrimitive({
  kind: 'slot',
  title: 'Slot',
  words: 'oblong obround keyway stadium hole',
  params: {
    length: length('Length', 60),
    width: length('Width', 20),
    height: length('Height', 10),
    endSides: Type.Optional(count('Sides of an end', 24, 2, 512)),
  },
  fault: (p) =>
    p.length > p.width
      ? null
      : `A slot is longer than wide: ${p.length} mm long does not go with ${p.width} mm wide. Make it longer, or use a cylinder.`,
  build({ length, width, height, endSides }) {
    const [x, z] = [length / 2, width / 2];
    // An arc at each corner takes a quarter of a turn.
    const corners = [
      [-x, -z],
      [x, -z],
      [x, z],
      [-x, z],
    ] as const;
    const contour = roundedContour(corners, z, Math.ceil(endSides / 2));
    return bodyOver([contour], height);
  },
  foot: (p) => p.height / 2,
  handles: (p) => [
    { key: 'length', label: 'length', at: [p.length / 2, 0, 0], along: [1, 0, 0], rate: 2 },
    { key: 'height', label: 'height', at: [0, p.height / 2, 0], along: [0, 1, 0], rate: 2 },
    { key: 'width', label: 'width', at: [0, 0, p.width / 2], along: [0, 0, 1], rate: 2 },
  ],
  key: (p, n) => `${n(p.length)} × ${n(p.height)} × ${n(p.width)}`,
});
