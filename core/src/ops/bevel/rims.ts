/** The points of rails as their strips see them. */
import { add, unit, type Vec3 } from '../../mesh/vec3';
import type { Rim } from './curves';
import type { Fronts } from './Fronts';
import type { Places } from './places';
import type { Rail } from './strips';
import type { Surface } from './Surface';

interface Ground {
  surface: Surface;
  fronts: Fronts;
  places: Places;
}

/** How the points of a rail are seen: with the normal of its sheet where that is not flat along the rail. */
export function rimsOf(g: Ground, rail: Rail): (id: number) => Rim {
  const bent = isBent(g, rail);
  return (id) => ({ id, normal: bent ? normalAt(g, rail, id) : null });
}

function isBent({ fronts, places, surface }: Ground, { side, plates }: Rail): boolean {
  if (side < 0) return false;
  const s = fronts.sides[side];
  const normal = (p: number): Vec3 => surface.plates[p].normal;
  if (plates.some((p) => p !== plates[0] && !parallel(normal(p), normal(plates[0])))) return true;
  return [s.node, fronts.end(s)].some((n) => places.isBent(fronts.resolve(n)));
}

/** Mean normal of the plates that meet at a point of a rail. */
function normalAt({ surface, fronts, places }: Ground, rail: Rail, id: number): Vec3 {
  const k = rail.ids.indexOf(id);
  const near = [rail.plates[k - 1], rail.plates[k]].filter((p) => p !== undefined);
  if (!near.length) {
    const s = fronts.sides[rail.side];
    return surface.normal(places.spot(fronts.resolve(s.node), s, 'first').triangle);
  }
  return unit(near.reduce((n, p) => add(n, surface.plates[p].normal), [0, 0, 0] as Vec3));
}

const parallel = (a: Vec3, b: Vec3): boolean => a[0] * b[0] + a[1] * b[1] + a[2] * b[2] > 1 - 1e-12;
