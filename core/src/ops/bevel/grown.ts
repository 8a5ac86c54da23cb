/** The state of a rounding before its mesh is built. */
import type { PolyMesh } from '../../mesh/PolyMesh';
import type { Topology } from '../../mesh/Topology';
import type { Watch } from '../../watch';
import type { Curves } from './curves';
import type { Divider } from './divide';
import type { Fronts } from './Fronts';
import type { Places } from './places';
import type { Points } from './Points';
import type { Plan } from './sectors';
import type { Strip, Strips } from './strips';
import type { Surface } from './Surface';

/** A rounding that has grown, with nothing in the way of anything else. */
export interface Grown {
  mesh: PolyMesh;
  t: Topology;
  options: { width: number; segments: number; profile: number };
  rounded: Uint8Array;
  plan: Plan;
  surface: Surface;
  fronts: Fronts;
  places: Places;
  points: Points;
  strips: Strips;
  stripOf: ReadonlyMap<number, Strip>;
  divider: Divider;
  curves: Curves;
  /** The share of the profile's bulge kept at each vertex, 0 flat … 1 all of it. */
  bulge: Float64Array;
  /** 1 per vertex whose corner is filled by flat faces without points inside. */
  plain: Uint8Array;
  watch: Watch;
}
