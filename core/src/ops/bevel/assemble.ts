/** Builds the faces of a grown rounding: what is left of those there were, strips, and corner patches. */
import { faceCount, makeMesh, type PolyMesh } from '../../mesh/PolyMesh';
import type { Made } from '../../mesh/made';
import { separateFans } from '../../mesh/separateFans';
import { PairMap } from '../../spatial/PairMap';
import { nextCorner } from '../../mesh/Topology';
import { TOLERANCE } from '../../mesh/tolerance';
import { faceNormal } from '../../mesh/measure';
import { distance, dot, pointOf, scale, sub, unit, type Vec3 } from '../../mesh/vec3';
import { mergesOfNear } from '../../planar/nearPoints';
import { planThinRemoval, withoutSpikes } from '../../planar/thinFaces';
import { Columns } from './columns';
import { Curves, type Curve } from './curves';
import type { Grown } from './grown';
import { gridPatch, plainPatch, type PatchNormal, type PatchSide } from './patch';
import type { Spoke, VertexPlan } from './sectors';
import { RowNormals } from './rowNormals';
import { withWalls, type OutFace, type Shape, type Source } from './shape';
import { StripFaces } from './stripFaces';

export interface Assembled {
  shape: Shape;
  /** Its faces as a mesh without layers, parts that touch told apart. */
  mesh: PolyMesh;
  /** Per vertex: the vertex of the input it still is, or −1. */
  own: Int32Array;
  /** Per face: the points of rims its shape depends on; none for what is left of a face. */
  shapedBy: ReadonlyArray<ReadonlyArray<number>>;
  /** 1 per face that is new; the others lie in faces that were there. */
  made: Uint8Array;
}

export function assemble(g: Grown): Assembled {
  return new Assembly(g).build();
}

class Assembly {
  private faces: OutFace[] = [];
  private readonly curves: Curves;
  private readonly columns: Columns;
  private readonly normals: RowNormals;
  /** Points no column needs. */
  private idle: ReadonlySet<number> = new Set();
  /** Plates that are not as they were. */
  private readonly changed = new Set<number>();

  constructor(private readonly g: Grown) {
    this.curves = new Curves(g.mesh, g.t, g.options, g.points, g.bulge);
    this.columns = new Columns(g, this.curves);
    this.normals = new RowNormals(g, this.columns);
  }

  build(): Assembled {
    const { g } = this;
    const strips = new StripFaces(g, this.columns, this.normals);
    this.faces = [...strips.faces];
    this.idle = strips.idle;
    g.watch(0.2);
    for (const v of g.plan.vertices) this.addPatch(v);
    g.watch(0.3);
    const made = this.faces;
    this.faces = [];
    // Remains of faces come first: strips take their corners' values from there.
    this.addPlates();
    // There may be more of them than a call has room for.
    this.faces = this.faces.concat(made);
    g.watch(0.6);
    this.removeThin();
    this.mergeNear();
    return this.finish();
  }

  private addPlates(): void {
    const { surface, divider } = this.g;
    const loopsOf = new Map([...divider.left()].map(({ plate, loops }) => [plate, loops]));
    for (const p of loopsOf.keys()) this.changed.add(p);
    const cut = new Set([...this.changed].flatMap((p) => surface.plates[p].faces));
    const copied = new Set<number>();
    // In the order of the faces they are left of.
    surface.plates.forEach(({ faces, triangles }, plate) => {
      const loops = loopsOf.get(plate);
      if (loops) return this.addLeft(plate, loops);
      for (const f of faces) {
        // The uncut triangles of a bent face that was cut.
        if (cut.has(f)) for (const i of triangles) this.addTriangle(i, f, plate);
        else if (!copied.has(f)) this.copyFace(f, plate);
        copied.add(f);
      }
    });
  }

  private addLeft(plate: number, loops: number[][]): void {
    const { faces } = this.g.surface.plates[plate];
    for (const points of loops) {
      points.forEach((p, i) => this.keep(p, points[(i + 1) % points.length]));
      const loop = this.withChords(points.filter((p) => !this.idle.has(p)));
      this.faces.push({
        loop,
        sources: loop.map((p) => this.sourceAt(p, faces)),
        from: faces[0],
        made: null,
        ...(loops.length === 1 && { whole: true }),
        region: plate,
      });
    }
  }

  private addTriangle(i: number, f: number, plate: number): void {
    const { surface, points } = this.g;
    const loop = [0, 1, 2].map((k) => points.vertex(surface.from[3 * i + k]));
    this.faces.push({
      loop,
      sources: loop.map((q) => this.sourceAt(q, [f])),
      from: f,
      made: null,
      region: plate,
    });
  }

  private copyFace(f: number, plate: number): void {
    const { mesh, t, points } = this.g;
    const loop: number[] = [];
    const sources: Source[] = [];
    for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) {
      const p = points.vertex(mesh.corners[c]);
      loop.push(p);
      sources.push(c);
      const next = points.vertex(mesh.corners[nextCorner(mesh, t, c)]);
      this.setKept(p, next, t.edgeOfCorner[c]);
    }
    this.faces.push({ loop, sources, from: f, made: null, region: plate });
  }

  /** Source edge per surviving side, by its two points in ascending order. */
  private readonly keptEdges = new PairMap();
  private keep(a: number, b: number): void {
    const line = this.g.divider.lineOf(a, b);
    if (line >= 0 && line < this.g.t.edgeCount) this.setKept(a, b, line);
  }

  private setKept(a: number, b: number, edge: number): void {
    this.keptEdges.set(Math.min(a, b), Math.max(a, b), edge);
  }

  /** A chord at a corner that is cut off or filled up is replaced by the points of the curve that runs along it. */
  private withChords(loop: number[]): number[] {
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

  private sourceAt(p: number, faces: number[]): Source {
    const { mesh, points } = this.g;
    const v = points.source[p];
    if (points.isVertex(p))
      for (const f of faces)
        for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) if (mesh.corners[c] === v) return c;
    return { kind: 'place', faces };
  }

  private addMade(loop: number[], sources: Source[], from: number, made: Made, shapedBy: number[]): void {
    const keep = loop.map((p, i) => p !== loop[(i + 1) % loop.length]);
    const clean = loop.filter((_, i) => keep[i]);
    if (clean.length < 3 || new Set(clean).size < clean.length) return;
    this.faces.push({
      loop: clean,
      sources: sources.filter((_, i) => keep[i]),
      from,
      made,
      region: -1,
      shapedBy,
    });
  }

  private addPatch(plan: VertexPlan): void {
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
        scale(this.curves.edgeDirection(s), -1),
        this.normalsAtEnd(plan.vertex, s),
      );
      const lastOfOpen = plan.open && k === spokes.length - 1;
      if (s.gap === 'none' && !lastOfOpen) return;
      const next = spokes[(k + 1) % spokes.length];
      const chord = this.curves.chord(g.strips.point(s.left), g.strips.point(next.right), plan.vertex);
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

  /** Faces used up by strips from both sides go; where they had points on one side only, these are shared. */
  private removeThin(): void {
    const { points, surface } = this.g;
    const reach = TOLERANCE.weld * 10 * surface.size;
    for (let round = 0; round < 32; round++) {
      const plan = planThinRemoval(
        this.faces.map((f) => f.loop),
        (i) => this.faces[i].made !== null || this.changed.has(this.faces[i].region),
        points.positions,
        reach,
      );
      if (!plan) return;
      plan.inserts.forEach((sides, i) => {
        const f = this.faces[i];
        const loop = f.loop.flatMap((v, k) => [v, ...(sides.get(k) ?? [])]);
        const sources = f.sources.flatMap((s, k) => [s, ...this.sourcesBetween(f, k, sides.get(k) ?? [])]);
        const kept = withoutSpikes(loop);
        this.faces[i] = { ...f, loop: kept.map((k) => loop[k]), sources: kept.map((k) => sources[k]) };
      });
      this.faces = this.faces.filter((f, i) => !plan.removed.has(i) && f.loop.length > 2);
    }
  }

  /** Sources of points that were put into a side of a face. */
  private sourcesBetween({ loop, sources }: OutFace, k: number, inserted: ReadonlyArray<number>): Source[] {
    const { points } = this.g;
    const next = (k + 1) % loop.length;
    const [s, last] = [sources[k], sources[next]];
    const normalOf = (x: Source): number =>
      typeof x === 'object' && x.kind !== 'place' ? (x.normal ?? -1) : -1;
    const of = [normalOf(s), normalOf(last)];
    if (of.some((n) => n < 0)) return inserted.map(() => s);
    return inserted.map((p) => {
      const [a, b] = [loop[k], loop[next]].map((q) => distance(points.at(p), points.at(q)));
      return { ...(s as object), normal: this.normals.mean(of, [b, a]) } as Source;
    });
  }

  /** Points that came to lie in one place become one. */
  private mergeNear(): void {
    const { points, surface } = this.g;
    for (let round = 0; round < 8; round++) {
      const merges = mergesOfNear(
        this.faces.map((f) => f.loop),
        (i) => this.faces[i].made !== null || this.changed.has(this.faces[i].region),
        points.positions,
        TOLERANCE.weld * 2 * surface.size,
        (p) => Number(points.isVertex(p)),
      );
      if (!merges) return;
      this.faces = this.faces.flatMap((f) => {
        if (!f.loop.some((p) => merges.has(p))) return [f];
        const loop = f.loop.map((p) => merges.get(p) ?? p);
        const kept = loop.map((p, i) => p !== loop[(i + 1) % loop.length]);
        const left = loop.filter((_, i) => kept[i]);
        return left.length < 3 ? [] : [{ ...f, loop: left, sources: f.sources.filter((_, i) => kept[i]) }];
      });
    }
  }

  private finish(): Assembled {
    const { points, watch } = this.g;
    const faceStart = new Uint32Array(this.faces.length + 1);
    this.faces.forEach((f, i) => (faceStart[i + 1] = faceStart[i] + f.loop.length));
    const corners = new Uint32Array(faceStart[this.faces.length]);
    // Points nothing refers to (curves of strips used up on both sides) are left out.
    const number = new Int32Array(points.source.length).fill(-1);
    const order: number[] = [];
    let at = 0;
    for (const f of this.faces)
      for (const p of f.loop) {
        if (number[p] < 0) number[p] = order.push(p) - 1;
        corners[at++] = number[p];
      }
    watch(0.75);
    // Strips of groups that met in a point must not share it.
    const apart = separateFans(makeMesh(this.gather(order), faceStart, corners));
    const positions = this.gather(apart ? Array.from(apart.source, (v) => order[v]) : order);
    watch(0.85);
    const { stays, source } = this.ends(order);
    return {
      mesh: makeMesh(positions, faceStart, apart?.corners ?? corners),
      shape: {
        faces: this.renumbered(number),
        positions: this.gather(order),
        source,
        stays,
        keptEdges: this.edgesAmong(number),
        normals: this.normalsOver(number),
      },
      own: Int32Array.from(apart?.source ?? order.keys(), (i: number) => (stays[i] ? source[i] : -1)),
      shapedBy: this.faces.map((f) => f.shapedBy ?? []),
      made: Uint8Array.from(this.faces, (f) => Number(f.made !== null)),
    };
  }

  private ends(order: number[]): Pick<Shape, 'source' | 'stays'> {
    const { points } = this.g;
    return {
      source: Int32Array.from(order, (p) => points.source[p]),
      stays: Uint8Array.from(order, (p) => Number(points.isVertex(p))),
    };
  }

  /** The faces over points that are referred to, with regions named by faces. */
  private renumbered(number: Int32Array): OutFace[] {
    const names = this.regionNames();
    const named = (region: number): number => (region < 0 ? -1 : names[region]);
    const sourceOf = (s: Source): Source =>
      typeof s === 'object' && s.kind === 'between'
        ? { ...s, point: number[s.point], region: named(s.region) }
        : s;
    return this.faces.map((f) => ({
      ...f,
      loop: f.loop.map((p) => number[p]),
      sources: f.sources.map(sourceOf),
      region: named(f.region),
    }));
  }

  private normalsOver(number: Int32Array): Shape['normals'] {
    const names = this.regionNames();
    return withWalls(this.normals, (w) => ({
      ...w,
      point: number[w.point],
      region: w.region < 0 ? -1 : names[w.region],
    }));
  }

  private regionNames(): Int32Array {
    const { plates } = this.g.surface;
    const F = faceCount(this.g.mesh);
    const times = new Uint8Array(F);
    for (const { faces } of plates) times[faces[0]] = Math.min(2, times[faces[0]] + 1);
    return Int32Array.from(plates, ({ faces }, i) => (times[faces[0]] > 1 ? F + i : faces[0]));
  }

  private edgesAmong(number: Int32Array): PairMap {
    const out = new PairMap();
    this.keptEdges.each((p, q, e) => {
      const [a, b] = [number[p], number[q]];
      if (a >= 0 && b >= 0) out.set(Math.min(a, b), Math.max(a, b), e);
    });
    return out;
  }

  private gather(ids: number[]): Float64Array {
    const out = new Float64Array(3 * ids.length);
    ids.forEach((p, i) => out.set(this.g.points.at(p), 3 * i));
    return out;
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
