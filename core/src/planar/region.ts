/** The outlines of the region that any outlines fill. */
import { OperationError } from '../mesh/errors';
import { signedArea, turnedByNesting, withoutCrossings, type CurvedContour } from './contours';
import { united, type FillRule } from './united';

/**
 * Outer outlines counter-clockwise, holes clockwise. Those that do not cross come back as they are.
 * @throws OperationError `no-area` where nothing is filled
 */
export function regionOf(contours: ReadonlyArray<CurvedContour>, fill: FillRule): CurvedContour[] {
  const points = contours.map((c) => c.points);
  const plain = withoutCrossings(points) === null;
  if (plain && (contours.length === 1 || fill === 'evenodd')) return turnedByNesting(contours);
  const nested = plain ? turnedByNesting(contours) : null;
  // Where each lies in those around it as a hole does, both rules fill the same.
  if (nested?.every((c, i) => signedArea(c.points) > 0 === signedArea(points[i]) > 0)) return nested;
  const out = united(contours, fill);
  if (!out.length)
    throw new OperationError(
      'no-area',
      'The outlines fill no area.',
      undefined,
      'Draw them apart, or fill them by the other rule.',
    );
  return out;
}
