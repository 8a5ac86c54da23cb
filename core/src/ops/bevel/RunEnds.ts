/**
 * The ends of strips on sheets of several plates: the curve a strip ends in is laid on the sheet there, and divides it as
 * rails do. On a curved sheet its points are moved along the edge until they lie on the sheet, as if the strip ran on
 * into it.
 */
import { addScaled, distance, dot, sub, type Vec3 } from '../../mesh/vec3';
import type { Topology } from '../../mesh/Topology';
import { PairMap } from '../../spatial/PairMap';
import type { Curves } from './curves';
import type { Fronts } from './Fronts';
import type { Side } from './layOut';
import type { Places } from './places';
import type { Points } from './Points';
import { railBetween } from './rails';
import type { RailPath } from './railPath';
import { rimsOf } from './rims';
import type { Spoke, VertexPlan } from './sectors';
import type { Strips } from './strips';
import type { Surface } from './Surface';
import { SNAP, spotIn, type Spot } from './walk';

/** A curve on a sheet. */
export interface LaidCurve {
  /** From the side's first node to its last. */
  ids: number[];
  spots: Spot[];
  /** The ways from each of its points to the next. */
  paths: RailPath[];
}

interface Ground {
  t: Topology;
  surface: Surface;
  fronts: Fronts;
  places: Places;
  points: Points;
  curves: Curves;
}

/** A line that runs along a plate at less than this, as a sine, does not meet it in one place. */
const ALONG = 0.02;
/** Points of a curve are looked for as far from where it is, in lengths of its chord. */
const REACH = 1.5;

export class RunEnds {
  /** The spoke a strip's end or a cut-off corner begins at, by the nodes of its chord. */
  private readonly atChord = new PairMap();
  private readonly found: Array<{ plan: VertexPlan; k: number }> = [];

  constructor(
    private readonly g: Ground,
    plans: ReadonlyArray<VertexPlan>,
    private readonly strips: Pick<Strips, 'point' | 'railOf'>,
  ) {
    for (const plan of plans)
      plan.spokes.forEach((s, k) => {
        if (s.gap !== 'chord') return;
        const next = plan.spokes[(k + 1) % plan.spokes.length];
        const [a, b] = [g.fronts.resolve(next.right), g.fronts.resolve(s.left)];
        this.atChord.set(a, b, this.found.push({ plan, k }) - 1);
      });
  }

  /** The curve of a chord from one spot to another; null where it does not lie within the sheet. */
  lay(s: Side, from: Spot, to: Spot): LaidCurve | null {
    const { fronts, points, surface } = this.g;
    const at = this.atChord.get(fronts.resolve(s.node), fronts.resolve(fronts.end(s)));
    if (at < 0) return null;
    const { plan, k } = this.found[at];
    const spoke = plan.spokes[k];
    const alone = plan.spokes.length === 1;
    const ids = alone ? this.across(plan, spoke) : this.straight(plan, k);
    const line = alone ? this.g.curves.edgeDirection(spoke) : surface.normal(from.triangle);
    const reach = REACH * distance(from.at, to.at);
    const near = this.around(from, reach);
    const spots = [from];
    for (const p of ids.slice(1, -1)) {
      const spot = this.drop(points.at(p), line, near, reach);
      if (!spot || spot.vertex >= 0 || (spot.side >= 0 && surface.across[spot.side] < 0)) return null;
      spots.push(spot);
    }
    spots.push(to);
    const paths: RailPath[] = [];
    for (let i = 0; i + 1 < spots.length; i++) {
      const path = railBetween(surface, spots[i], spots[i + 1], line);
      if (!path) return null;
      paths.push(path);
    }
    for (let i = 1; i + 1 < ids.length; i++) points.move(ids[i], spots[i].at);
    return { ids, spots, paths };
  }

  /** The profile curve in which a strip ends, from its right rail to its left as seen from there. */
  private across(plan: VertexPlan, s: Spoke): number[] {
    const { curves, t } = this.g;
    const right = rimsOf(this.g, this.strips.railOf(t.twin[s.corner]))(this.strips.point(s.right));
    const left = rimsOf(this.g, this.strips.railOf(s.corner))(this.strips.point(s.left));
    return curves.across(plan, plan.spokes.indexOf(s), right, left).ids;
  }

  private straight(plan: VertexPlan, k: number): number[] {
    const next = plan.spokes[(k + 1) % plan.spokes.length];
    const { ids } = this.g.curves.chord(
      this.strips.point(plan.spokes[k].left),
      this.strips.point(next.right),
      plan.vertex,
    );
    return [...ids].reverse();
  }

  /** Triangles of a spot's sheet with points within a reach of it, as far as they hang together. */
  private around(spot: Spot, reach: number): number[] {
    const s = this.g.surface;
    const out = [spot.triangle];
    const seen = new Set(out);
    for (let i = 0; i < out.length; i++)
      for (let h = 3 * out[i]; h < 3 * out[i] + 3; h++) {
        const next = s.across[h] < 0 ? -1 : s.triangle(s.across[h]);
        if (next < 0 || seen.has(next) || this.apart(h, spot.at) > reach) continue;
        seen.add(next);
        out.push(next);
      }
    return out;
  }

  /** Distance of a place from a half-edge. */
  private apart(h: number, at: Vec3): number {
    const s = this.g.surface;
    const [a, b] = [s.point(s.from[h]), s.point(s.to(h))];
    const along = sub(b, a);
    const share = dot(sub(at, a), along) / dot(along, along);
    return distance(at, addScaled(a, along, Math.min(1, Math.max(0, share))));
  }

  /** The spot nearest to a point at which a line through it meets one of the triangles; null where none is in reach. */
  private drop(p: Vec3, line: Vec3, triangles: ReadonlyArray<number>, reach: number): Spot | null {
    const s = this.g.surface;
    const snap = SNAP * s.size;
    let best: Spot | null = null;
    let least = reach;
    for (const t of triangles) {
      const n = s.normal(t);
      const rate = dot(n, line);
      if (Math.abs(rate) < ALONG) continue;
      const way = dot(n, sub(s.point(s.from[3 * t]), p)) / rate;
      if (Math.abs(way) >= least) continue;
      const at = addScaled(p, line, way);
      const inside = [3 * t, 3 * t + 1, 3 * t + 2].every(
        (h) => dot(sub(at, s.point(s.from[h])), s.inward(h)) > -snap,
      );
      if (inside) [best, least] = [spotIn(s, t, at), Math.abs(way)];
    }
    return best;
  }
}
