/**
 * Every tolerance in Urnsmith, relative to the size (bounding-box diagonal) of the piece at work unless
 * a line says otherwise.
 */
export const TOLERANCE = {
  /** Two points nearer than this are one point. */
  weld: 1e-9,
  /** The boolean kernel takes single-precision coordinates: a point it returns may be off by this much. */
  kernel: 1e-6,
  /** A vertex this near to the line between its neighbours lies on a straight run. */
  straight: 1e-7,
  /** Two faces whose unit normals differ by less than this lie in one plane (radians). */
  coplanarAngle: 1e-6,
  /** Events of a growing bevel this close in width happen together (share of the width). */
  bevelEvent: 1e-9,
  /** Faces with less area than this share of the squared size have no area. */
  area: 1e-14,
} as const;
