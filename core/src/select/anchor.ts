/** How anchors are written down, and what comes of working them out. */
import { Type, type Static } from 'typebox';
import type { Warning } from '../mesh/errors';
import { BornPicksSchema } from './born';
import type { PieceTransform } from '../schema/transform';

const strict = { additionalProperties: false };
const triple = Type.Tuple([Type.Number(), Type.Number(), Type.Number()]);
const literal = <const T extends string>(values: readonly T[]) =>
  Type.Unsafe<T>(Type.Union(values.map((v) => Type.Literal(v))));

export const HOLDS = ['distance', 'middle', 'centre'] as const;

export const AnchorTargetSchema = Type.Object(
  {
    of: literal(['faces', 'edges', 'points'] as const),
    picks: BornPicksSchema,
    /** Its middle when the piece was placed, in the host's frame, mm. */
    at: triple,
  },
  strict,
);
export const AnchorSchema = Type.Object(
  {
    hold: literal(HOLDS),
    /** Two for the middle between them, else one. */
    to: Type.Array(AnchorTargetSchema, { minItems: 1, maxItems: 2 }),
    /** Along which a distance is held; of a centre, square to it. Of unit length. */
    facing: triple,
  },
  strict,
);
/** How deep a cutter goes along its own Y, downward: right through the host, or through the first wall. */
export const ReachSchema = literal(['through', 'next'] as const);

export type AnchorTarget = Static<typeof AnchorTargetSchema>;
export type Anchor = Static<typeof AnchorSchema>;

export interface Anchored {
  transform: PieceTransform;
  /** The anchors as they hold there. */
  anchors?: Anchor[];
  warnings: Warning[];
}

/** A piece that is anchored, and where it stands now. */
export interface AnchoredPiece {
  id: string;
  /** The inputs its placement was computed from: see `anchorKey`. */
  from: string;
  transform: PieceTransform;
  anchors?: Anchor[];
}
