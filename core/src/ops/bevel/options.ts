/** Options of a rounding. */

export interface BevelOptions {
  /** How far the rounded sides move into their faces, or a ball's radius, mm; times the edge layer `round` where it is set. */
  width: number;
  /** Whether the width is the way into the faces, or the radius of the ball that would roll along the edges. */
  by: 'offset' | 'radius';
  /** Quads across a strip. */
  segments: number;
  /** −1 scooped, 0 flat, 1 round, 2 square. */
  profile: number;
  /** Stop where strips would collide; otherwise too great a width is refused. */
  clamp: boolean;
  /** Sides run over edges that only approximate a surface, or their corners keep to those edges. */
  follow: 'surface' | 'edges';
  /** Faces may fold to nothing where a square profile ends at a point that stays: who asks for that closes them. */
  mayFold: boolean;
}
export const BEVEL_DEFAULTS: BevelOptions = {
  width: 2,
  by: 'offset',
  segments: 3,
  profile: 1,
  clamp: true,
  follow: 'surface',
  mayFold: false,
};
