/** The ways an operation is started by hand: buttons, keys, entries of the ring. */
import type { Vec3 } from '../mesh/vec3';
import type { Offer } from '../offers';
import type { Primitive } from '../primitives';
import type { Action } from './action';
import type { ElementKind } from '../select/selection';

/** The context in which a tool is started; first values are taken from it. */
export interface Hand {
  /** The kind of the picks. */
  kind: ElementKind;
  /**
   * A round length near a share of the size of what is seen, mm, and no more than suits what is picked.
   * @param each what is picked is meant one by one
   */
  share(part: number, each?: boolean): number;
  /** The shortest distance between two picked points that no edge joins, mm; null where there are no such two. */
  gap(): number | null;
  /** Unit directions in the piece's frame: of the peg's axis (up without one), toward the eye, to the right as seen. */
  peg(): Vec3;
  eye(): Vec3;
  right(): Vec3;
}

export interface Tool extends Offer {
  /**
   * Name of its command; the operation's own when left out. Tools of several operations under one name are one command
   * that acts by what is picked.
   */
  id?: string;
  /** Instead of the operation's; of tools under one name, one has it. */
  title?: string;
  /** The picks it needs; the kinds the operation works on when left out. */
  at?: ReadonlyArray<ElementKind>;
  /** The tool has a key but no button on the Card. */
  keyOnly?: true;
  /** First values. */
  start?(hand: Hand): Record<string, unknown>;
  /** The tool acts on all elements, whatever is picked. */
  onAll?: true;
  /** The tool passes the shading normals of the other pieces in hand as the parameter `beside`. */
  beside?: 'normals';
  /** The tool passes another piece in hand as the parameter `surface`. */
  surface?: 'other';
  /** An element setting it switches on, so that its result is tinted on the model. */
  shows?: 'ranks';
  /** The tool is taken in hand and drawn on the model… */
  draws?: 'knife' | 'ring' | 'slice' | 'face';
  /** …or acts on what is picked for it, once it is in hand. */
  actsOnPicks?: true;
}

/** A small piece that shows what an operation does: the last of its actions. */
export interface Example {
  base: Primitive;
  actions: ReadonlyArray<Action>;
}

const box: Primitive = { primitive: 'box', width: 40, height: 40, depth: 40 };
const sheet: Primitive = { primitive: 'plane', width: 40, depth: 40, segments: [4, 4] };

export const onBox = (...actions: Action[]): Example => ({ base: box, actions });
/** 40 × 40 mm, in 4 × 4 faces. */
export const onSheet = (...actions: Action[]): Example => ({ base: sheet, actions });
