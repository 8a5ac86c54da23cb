/** A way over the sheet from facet to facet. */
import type { Vec3 } from '../../mesh/vec3';

/** A point where a rail passes from one plate to the next. */
export interface Crossing {
  at: Vec3;
  /** The half-edge crossed, or −1 at a vertex. */
  side: number;
  /** The vertex passed, or −1. */
  vertex: number;
}

export interface RailPath {
  /** Crossings in order; one less than the plates. */
  crossings: Crossing[];
  /** The plates it runs through. */
  plates: number[];
}
