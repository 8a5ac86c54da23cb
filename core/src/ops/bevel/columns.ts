/** The curves across strips: one per column, from the right rail to the left. */
import { nextCorner } from '../../mesh/Topology';
import { add, lerp, unit, type Vec3 } from '../../mesh/vec3';
import type { Grown } from './grown';
import { Curves, type Curve, type Rim } from './curves';
import { reversedLeans } from './profile';
import type { Spoke, VertexPlan } from './sectors';
import type { Rail } from './strips';

export class Columns {
  readonly planOf = new Map<number, VertexPlan>();
  private readonly known = new Map<number, Curve[]>();

  constructor(
    private readonly g: Grown,
    private readonly curves: Curves,
  ) {
    for (const v of g.plan.vertices) this.planOf.set(v.vertex, v);
  }

  /** The curves across an edge's strip, nearest the edge's start first. */
  of(e: number): Curve[] {
    const known = this.known.get(e);
    if (known) return known;
    const { mesh, t } = this.g;
    const c = t.cornerOfEdge[e];
    const { columns, left, right } = this.g.stripOf.get(e)!;
    const [v1, v2] = [mesh.corners[c], mesh.corners[nextCorner(mesh, t, c)]];
    const bentLeft = this.isBent(left);
    const bentRight = this.isBent(right);
    const [first, last] = [columns[0], columns[columns.length - 1]];
    const foot = (v: number, r: number, l: number): Vec3 =>
      this.curves.foot(this.planOf.get(v)!, this.spoke(v, e), r, l);
    const feet = [foot(v1, first.right, first.left), foot(v2, last.left, last.right)];
    const made = columns.map(({ left: l, right: r, share }, i) => {
      const L: Rim = { id: l, normal: bentLeft ? this.normalAt(left, l) : null };
      const R: Rim = { id: r, normal: bentRight ? this.normalAt(right, r) : null };
      const ends = i === 0 || i === columns.length - 1;
      if (ends && (i === 0 || columns.length > 1)) {
        const plan = this.planOf.get(i === 0 ? v1 : v2)!;
        const k = plan.spokes.findIndex((s) => s.edge === e);
        return i === 0 ? this.curves.across(plan, k, R, L) : turned(this.curves.across(plan, k, L, R));
      }
      return this.curves.between(this.spoke(v1, e), share, lerp(feet[0], feet[1], share), R, L);
    });
    this.known.set(e, made);
    return made;
  }

  /** The curve that ends an edge's strip at a vertex, from its right rail to its left seen from there. */
  atEnd(v: number, s: Spoke): Curve {
    const { mesh, t } = this.g;
    const curves = this.of(s.edge);
    const atStart = mesh.corners[t.cornerOfEdge[s.edge]] === v;
    return atStart ? curves[0] : turned(curves[curves.length - 1]);
  }

  private spoke(v: number, e: number): Spoke {
    return this.planOf.get(v)!.spokes.find((s) => s.edge === e)!;
  }

  private isBent({ side, plates }: Rail): boolean {
    const { fronts, places, surface } = this.g;
    if (side < 0) return false;
    const s = fronts.sides[side];
    const normal = (p: number): Vec3 => surface.plates[p].normal;
    if (plates.some((p) => p !== plates[0] && !parallel(normal(p), normal(plates[0])))) return true;
    return [s.node, fronts.end(s)].some((n) => places.isBent(fronts.resolve(n)));
  }

  /** Mean normal of the plates that meet at a point of a rail. */
  private normalAt(rail: Rail, id: number): Vec3 {
    const { surface, fronts, places } = this.g;
    const k = rail.ids.indexOf(id);
    const near = [rail.plates[k - 1], rail.plates[k]].filter((p) => p !== undefined);
    if (!near.length) {
      const s = fronts.sides[rail.side];
      return surface.normal(places.spot(fronts.resolve(s.node), s, 'first').triangle);
    }
    return unit(near.reduce((n, p) => add(n, surface.plates[p].normal), [0, 0, 0] as Vec3));
  }
}

const turned = ({ ids, middle, leans }: Curve): Curve => ({
  ids: [...ids].reverse(),
  middle,
  leans: leans && reversedLeans(leans),
});
const parallel = (a: Vec3, b: Vec3): boolean => a[0] * b[0] + a[1] * b[1] + a[2] * b[2] > 1 - 1e-12;
