/** What is asked of a bevel, and all that its assembly needs once it has grown. */
import type { PolyMesh } from '../../mesh/PolyMesh';
import type { Topology } from '../../mesh/Topology';
import type { Watch } from '../../watch';
import type { Fronts } from './fronts';
import type { Region } from './outlines';
import type { Plan } from './sectors';

export interface BevelOptions {
  /** How far the rounded sides move into their faces, mm; times the edge layer `round` where it is set. */
  width: number;
  /** Quads across a strip. */
  segments: number;
  /** −1 scooped, 0 flat, 1 round, 2 square. */
  profile: number;
  /** Stop where strips would collide; otherwise too great a width is refused. */
  clamp: boolean;
}
export const BEVEL_DEFAULTS: BevelOptions = { width: 2, segments: 3, profile: 1, clamp: true };

/** Everything the assembly needs. */
export interface Growth {
  mesh: PolyMesh;
  t: Topology;
  options: BevelOptions;
  rounded: Uint8Array;
  plan: Plan;
  regions: Region[];
  /** 1 per region with a moving corner. */
  touched: Uint8Array;
  /** Node loops per touched region, as laid out at the start; parallel side indices. */
  loops: Array<Array<{ nodes: number[]; sides: number[] }> | undefined>;
  fronts: Fronts;
  fixedNode: (v: number) => number;
  size: number;
  watch: Watch;
  /** The error that says a region's outlines touch. */
  refuseRegion: (region: number) => Error;
}
