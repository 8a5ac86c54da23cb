/** The faces where strips end or meet: corner patches, and what closes a corner that is cut off or filled up. */
import type { Made } from '../../mesh/made';
import { faceNormal } from '../../mesh/measure';
import { dot, pointOf, scale, sub, unit, type Vec3 } from '../../mesh/vec3';
import { PairMap } from '../../spatial/PairMap';
import type { Columns } from './columns';
import type { Curve } from './curves';
import type { Grown } from './grown';
import { gridPatch, plainPatch, type PatchNormal, type PatchSide } from './patch';
import { withPassed } from './inserted';
import type { RowNormals } from './rowNormals';
import type { Spoke, VertexPlan } from './sectors';
import type { OutFace, Source } from './shape';

export class CornerFaces {
  readonly faces: OutFace[] = [];

  constructor(
    private readonly g: Grown,
    private readonly columns: Columns,
    private readonly normals: RowNormals,
  ) {}

  /** A chord at a corner that is cut off or filled up is replaced by the points of the curve that runs along it. */
  withChords(loop: number[]): number[] {
    if (!this.chords.length) return loop;
    const corners = this.filled.reduce((l, f) => withoutCorner(l, f), loop);
    return corners.flatMap((p, i) => {
      const chord = this.chordAt.get(p, corners[(i + 1) % corners.length]);
      return chord < 0 ? [p] : [p, ...this.chords[chord]];
    });
  }
  /** Inner points of curves, and the number of each by its ends. */
  private readonly chords: number[][] = [];
  private readonly chordAt = new PairMap();
  private readonly filled: Filled[] = [];
  /** @param ids the curve, as the face's outline runs */
  private setChord({ vertex }: VertexPlan, gap: Spoke['gap'], ids: number[]): void {
    if (gap !== 'chord' && gap !== 'fill') return;
    const [from, to] = [ids[0], ids[ids.length - 1]];
    this.chordAt.set(from, to, this.chords.push(ids.slice(1, -1)) - 1);
    if (gap === 'fill') this.filled.push({ from, to, vertex: this.g.points.vertex(vertex) });
  }

  private addMade(loop: number[], sources: Source[], from: number, made: Made, shapedBy: number[]): void {
    const keep = loop.map((p, i) => p !== loop[(i + 1) % loop.length]);
    const clean = loop.filter((_, i) => keep[i]);
    if (clean.length < 3 || new Set(clean).size < clean.length) return;
    const kept = { loop: clean, sources: sources.filter((_, i) => keep[i]) };
    this.faces.push({
      ...withPassed(kept, this.g, this.normals),
      from,
      made,
      region: -1,
      shapedBy,
    });
  }

  /** Adds the faces at a vertex. */
  add(plan: VertexPlan): void {
    const { g } = this;
    const { mesh, t } = g;
    const spokes = plan.spokes;
    const from = spokes[0].corner;
    const other = t.twin[from];
    /** The normals at the patch's points. */
    const normals = new Map<number, number>();
    let which = 0;
    const add = (loop: number[]): void =>
      this.addMade(
        loop,
        loop.map((p): Source => ({
          kind: 'on',
          corners: [from, from],
          share: 0,
          normal: normals.get(p) ?? -1,
        })),
        from,
        { role: 'corner', which: which++, other },
        [plan.vertex],
      );
    const v = (): number => g.points.vertex(plan.vertex);
    if (spokes.length === 1) {
      const { ids } = this.columns.atEnd(plan.vertex, spokes[0]);
      this.setChord(plan, spokes[0].gap, ids);
      if (spokes[0].gap === 'vertex' && ids.length > 1) add([...ids, v()]);
      else if (plan.open && plan.keeps && ids.length > 1) add([...ids, v()]);
      return;
    }
    const sides: PatchSide[] = [];
    const addSide = (c: Curve, enters: Vec3, normalAt: (i: number) => number): void => {
      if (c.ids.length < 2) return;
      const of = c.ids.map((_, i) => normalAt(i));
      c.ids.forEach((p, i) => of[i] >= 0 && normals.set(p, of[i]));
      sides.push({
        ids: c.ids,
        points: c.ids.map((p) => g.points.at(p)),
        middle: c.middle,
        enters,
        normals: of.every((n) => n >= 0) ? of : null,
      });
    };
    spokes.forEach((s, k) => {
      addSide(
        this.columns.atEnd(plan.vertex, s),
        scale(this.g.curves.edgeDirection(s), -1),
        this.normalsAtEnd(plan.vertex, s),
      );
      const lastOfOpen = plan.open && k === spokes.length - 1;
      if (s.gap === 'none' && !lastOfOpen) return;
      const next = spokes[(k + 1) % spokes.length];
      const chord = this.g.curves.chord(g.strips.point(s.left), g.strips.point(next.right), plan.vertex);
      const walls = {
        right: this.wallAtEnd(plan.vertex, s, true),
        left: this.wallAtEnd(plan.vertex, next, false),
      };
      const rounded = sides.at(-1)?.normals ?? null;
      addSide(chord, [0, 0, 0], (i) =>
        rounded ? this.normals.turned(walls.right, walls.left, i / (chord.ids.length - 1)) : -1,
      );
      const back = [...chord.ids].reverse();
      this.setChord(plan, s.gap, back);
      if (s.gap === 'vertex' && chord.ids.length > 1) this.addFlat(plan, [v(), ...back], which++);
      if (lastOfOpen && plan.keeps && chord.ids.length > 1) this.addFlat(plan, [v(), ...back], which++);
    });
    if (sides.length < 3) {
      if (sides.length === 2 && !sameReversed(sides[0].ids, sides[1].ids))
        add([...sides[0].ids.slice(0, -1), ...sides[1].ids.slice(0, -1)]);
      return;
    }
    if (g.plain[plan.vertex]) return plainPatch(sides).forEach(add);
    if (g.options.segments === 1) return add(sides.map((s) => s.ids[0]));
    const tip = pointOf(mesh.positions, plan.vertex);
    const inside = this.normalsInside(sides, tip, faceNormal(mesh, t.faceOfCorner[from]));
    gridPatch(
      sides,
      g.options.segments,
      g.options.profile * g.bulge[plan.vertex],
      tip,
      g.surface.size,
      (p, n) => {
        const id = g.points.add(p, plan.vertex);
        if (inside) normals.set(id, inside(p, n));
        return id;
      },
    ).forEach(add);
  }

  /** Adds a flat face in a wall, between a chord and the corner it cuts off. */
  private addFlat(plan: VertexPlan, loop: number[], which: number): void {
    const from = plan.spokes[0].corner;
    const made = { role: 'corner', which, other: this.g.t.twin[from] } as const;
    this.addMade(loop, loop.map(() => from), from, made, [plan.vertex]); // prettier-ignore
  }

  /** The normals along the curve that ends a strip at a vertex, by its points from the right rail as seen from there. */
  private normalsAtEnd(v: number, s: Spoke): (i: number) => number {
    const { g } = this;
    const n = g.options.segments;
    const atStart = g.mesh.corners[g.t.cornerOfEdge[s.edge]] === v;
    const last = g.stripOf.get(s.edge)!.columns.length - 1;
    return (i) =>
      atStart
        ? this.normals.at(s.edge, 0, 'after', i, 2 * i < n ? 'after' : 'before')
        : this.normals.at(s.edge, last, 'before', n - i, 2 * i < n ? 'before' : 'after');
  }

  /** The wall beside the end of a strip, on its left as seen from the vertex it ends at, or on its right. */
  private wallAtEnd(v: number, s: Spoke, left: boolean): number {
    const { g } = this;
    const atStart = g.mesh.corners[g.t.cornerOfEdge[s.edge]] === v;
    const last = g.stripOf.get(s.edge)!.columns.length - 1;
    const side = left === atStart ? 'left' : 'right';
    return atStart
      ? this.normals.wall(s.edge, 0, 'after', side)
      : this.normals.wall(s.edge, last, 'before', side);
  }

  /** Numbers of normals inside a patch; null where one of its sides has none. */
  private normalsInside(
    sides: ReadonlyArray<PatchSide>,
    tip: Vec3,
    wall: Vec3,
  ): ((p: Vec3, n: PatchNormal) => number) | null {
    if (sides.some((s) => !s.normals)) return null;
    return (p, n) => {
      if ('of' in n) {
        const of = n.of.map(([side, i]) => sides[side].normals![i]);
        return this.normals.mean(
          of,
          n.of.map(([, , by]) => by),
        );
      }
      // Walls touch the ball; inside a hollow they look at its middle.
      const centre = sub(p, n.out);
      const outward = dot(sub(tip, centre), wall) > 0 ? 1 : -1;
      return this.normals.fixed(unit(scale(n.out, outward)));
    };
  }
}

/** An inward corner of a face that is filled up: what lies from one point of its outline to another goes. */
interface Filled {
  from: number;
  vertex: number;
  to: number;
}

function withoutCorner(loop: number[], { from, vertex, to }: Filled): number[] {
  const start = loop.indexOf(from);
  if (start < 0) return loop;
  const turned = [...loop.slice(start), ...loop.slice(0, start)];
  const [at, end] = [turned.indexOf(vertex), turned.indexOf(to)];
  return at > 0 && at < end ? [from, ...turned.slice(end)] : loop;
}

function sameReversed(a: number[], b: number[]): boolean {
  return a.length === b.length && a.every((x, i) => x === b[b.length - 1 - i]);
}
