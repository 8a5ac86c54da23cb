/** The curves across strips: one per column, from the right rail to the left. */
import { nextCorner } from '../../mesh/Topology';
import { lerp, type Vec3 } from '../../mesh/vec3';
import type { Grown } from './grown';
import type { Curve } from './curves';
import { reversedLeans } from './profile';
import { rimsOf } from './rims';
import type { Spoke, VertexPlan } from './sectors';

export class Columns {
  readonly planOf = new Map<number, VertexPlan>();
  private readonly known = new Map<number, Curve[]>();

  constructor(private readonly g: Grown) {
    for (const v of g.plan.vertices) this.planOf.set(v.vertex, v);
    // Where edges of a straight run are used up, what is beyond them decides on the curve.
    for (const v of g.plan.vertices) if (!g.curves.runsStraight(v)) for (const s of v.spokes) this.of(s.edge);
  }

  /** The curves across an edge's strip, nearest the edge's start first. */
  of(e: number): Curve[] {
    const known = this.known.get(e);
    if (known) return known;
    const { mesh, t } = this.g;
    const c = t.cornerOfEdge[e];
    const { columns, left, right } = this.g.stripOf.get(e)!;
    const [v1, v2] = [mesh.corners[c], mesh.corners[nextCorner(mesh, t, c)]];
    const [leftRim, rightRim] = [rimsOf(this.g, left), rimsOf(this.g, right)];
    const [first, last] = [columns[0], columns[columns.length - 1]];
    const foot = (v: number, r: number, l: number): Vec3 =>
      this.g.curves.foot(this.planOf.get(v)!, this.spoke(v, e), r, l);
    const feet = [foot(v1, first.right, first.left), foot(v2, last.left, last.right)];
    const made = columns.map(({ left: l, right: r, share }, i) => {
      const [L, R] = [leftRim(l), rightRim(r)];
      if (i === 0 || i === columns.length - 1) {
        const at = i > 0 || (columns.length === 1 && this.goesPast(v1)) ? v2 : v1;
        const plan = this.planOf.get(at)!;
        const k = plan.spokes.findIndex((s) => s.edge === e);
        const { curves } = this.g;
        return at === v1 ? curves.across(plan, k, R, L) : turned(curves.across(plan, k, L, R));
      }
      return this.g.curves.between(this.spoke(v1, e), share, lerp(feet[0], feet[1], share), R, L);
    });
    this.known.set(e, made);
    return made;
  }

  /** An edge that is used up from a vertex on leaves nothing there to end at. */
  private goesPast(v: number): boolean {
    return this.g.curves.runsStraight(this.planOf.get(v)!);
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
}

const turned = ({ ids, middle, leans }: Curve): Curve => ({
  ids: [...ids].reverse(),
  middle,
  leans: leans && reversedLeans(leans),
});
