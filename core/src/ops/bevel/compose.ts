/** Puts what became of the units of a rounding together with all that stays, as one list of faces over one list of points. */
import { pointOf } from '../../mesh/vec3';
import { constrainedTriangles } from '../../planar/constrainedTriangles';
import { divideRegion } from '../../planar/divideRegion';
import { frameFrom, toPlane } from '../../planar/frame';
import { OperationError } from '../../mesh/errors';
import { PairMap } from '../../spatial/PairMap';
import type { Change, KeptShape } from './keptShape';
import { madeCount, type MadeFaces } from './madeFaces';
import type { OutFace, Source } from './shape';
import type { Unit, Whole } from './Unit';

export interface Grown {
  unit: Unit;
  kept: KeptShape;
}

/** The new part of a unit, in its own numbers, and its place in the whole. */
export interface Part {
  made: MadeFaces;
  /** Per point of the unit: the point it is. */
  points: Int32Array;
  /** Per slot: the corner of the mesh. */
  slots: Int32Array;
  regionOf(region: number): number;
}

/** All but new faces is in numbers of the mesh that was given: its vertices are the first points. */
export interface Composed {
  /** Faces that stay as they are. */
  untouched: number[];
  /** The remains of others. */
  left: OutFace[];
  parts: Part[];
  /** New faces in their order: the part each is of, and its number there. */
  made: { part: Int32Array; face: Int32Array };
  /** 3 numbers per point past the vertices. */
  positions: number[];
  /** Per point past the vertices: the vertex it comes from. */
  source: number[];
  /** Source edge per surviving side of `left` and `made`, by its two points in ascending order. */
  keptEdges: PairMap;
}

/** Units that changed the same thing, or a region that cannot be put together: they must be rounded as one. */
export type Conflict = [number, number];

export class Composition {
  private readonly out: Composed = {
    untouched: [],
    left: [],
    parts: [],
    made: { part: new Int32Array(0), face: new Int32Array(0) },
    positions: [],
    source: [],
    keptEdges: new PairMap(),
  };
  /** Per unit: the point each of its points is. */
  private readonly points: Int32Array[];
  private readonly V: number;
  private readonly F: number;
  private loose = 0;

  constructor(
    private readonly w: Whole,
    private readonly units: Grown[],
  ) {
    this.V = w.mesh.positions.length / 3;
    this.F = w.mesh.faceStart.length - 1;
    this.points = units.map((u) => this.pointsOf(u));
  }

  /** Pairs of units that changed the same outline. */
  conflicts(): Conflict[] {
    const out: Conflict[] = [];
    const owner = new Map<number, number>();
    this.units.forEach(({ unit, kept }, i) => {
      for (const { outlines } of kept.changes)
        for (const slot of outlines) {
          const o = this.w.outlines.at(unit.slots[slot]);
          if (o < 0) continue;
          const other = owner.get(o);
          if (other !== undefined && other !== i) out.push([other, i]);
          owner.set(o, i);
        }
    });
    return out;
  }

  /** @returns what came out, or units that must be rounded as one; a unit with itself where it must have a region whole */
  run(): Composed | { conflicts: Conflict[]; region: number } {
    const { w, units, out } = this;
    const changed = new Map<number, Array<{ i: number; change: Change }>>();
    units.forEach(({ unit, kept }, i) => {
      for (const change of kept.changes) {
        const { region } = unit.entries[change.entry];
        const list = changed.get(region);
        if (list) list.push({ i, change });
        else changed.set(region, [{ i, change }]);
      }
    });
    for (let f = 0; f < this.F; f++) if (!changed.has(w.outlines.region[f])) out.untouched.push(f);
    for (const [region, list] of [...changed].sort(([a], [b]) => a - b)) {
      if (list.length === 1 && this.isComplete(list[0].i, region)) {
        for (const f of list[0].change.faces) out.left.push(this.inWhole(list[0].i, f));
        continue;
      }
      try {
        for (const left of this.together(region, list)) out.left.push(left);
      } catch (e) {
        if (!(e instanceof OperationError)) throw e;
        const conflicts = list.map(({ i }): Conflict => [list[0].i, i]);
        return { conflicts, region };
      }
    }
    units.forEach(({ unit, kept }, i) => {
      const points = this.points[i];
      const { slots } = unit;
      out.parts.push({ made: kept.made, points, slots, regionOf: (r) => this.regionOf(i, r) });
      kept.keptEdges.each((a, b, slot) => this.keep(points[a], points[b], unit.edgeAt(slot)));
    });
    out.made = this.inOrder(out.parts);
    return out;
  }

  private keep(a: number, b: number, edge: number): void {
    this.out.keptEdges.set(Math.min(a, b), Math.max(a, b), edge);
  }

  /**
   * New faces by the edge each runs along, corners by their vertex past all edges: an order that does not tell how edges
   * fell into units.
   */
  private inOrder(parts: Part[]): Composed['made'] {
    const { mesh, t } = this.w;
    const total = parts.reduce((n, p) => n + madeCount(p.made), 0);
    const along = new Int32Array(total);
    const begin = new Int32Array(t.edgeCount + this.V + 1);
    let at = 0;
    for (const { made, slots } of parts)
      for (let f = 0; f < madeCount(made); f++) {
        const edge = made.edge[f];
        along[at] = edge < 0 ? t.edgeCount + mesh.corners[slots[made.from[f]]] : t.edgeOfCorner[slots[edge]];
        begin[along[at++] + 1]++;
      }
    for (let k = 1; k < begin.length; k++) begin[k] += begin[k - 1];
    const out = { part: new Int32Array(total), face: new Int32Array(total) };
    at = 0;
    parts.forEach(({ made }, i) => {
      for (let f = 0; f < madeCount(made); f++) {
        const place = begin[along[at++]]++;
        out.part[place] = i;
        out.face[place] = f;
      }
    });
    return out;
  }

  private pointsOf({ unit, kept }: Grown): Int32Array {
    const { positions, source } = this.out;
    const n = unit.vertices.length;
    return Int32Array.from(kept.source, (v, p) => {
      if (v >= n) return -1;
      if (kept.stays[p]) return unit.vertices[v];
      for (let k = 0; k < 3; k++) positions.push(unit.origin[k] + kept.positions[3 * p + k]);
      return this.V + source.push(unit.vertices[v]) - 1;
    });
  }

  private isComplete(i: number, region: number): boolean {
    return this.units[i].unit.entries.every((e) => e.region !== region || e.complete);
  }

  /** The remains of a face, in numbers of the whole. */
  private inWhole(i: number, f: OutFace): OutFace {
    const { unit } = this.units[i];
    const points = this.points[i];
    const { outlines } = this.w;
    const facesOf = (entry: number): ReadonlyArray<number> => {
      const { face, region } = unit.entries[entry];
      return face < 0 ? outlines.faces(region) : this.alone(face);
    };
    const pair = ([a, b]: [number, number]): [number, number] => [unit.slots[a], unit.slots[b]];
    const sourceOf = (s: Source): Source => {
      if (typeof s === 'number') return unit.slots[s];
      if (s.kind === 'place')
        return {
          kind: 'place',
          faces: s.faces.length === 1 ? facesOf(s.faces[0]) : s.faces.flatMap(facesOf),
        };
      if (s.kind === 'on') return { ...s, corners: pair(s.corners) };
      return { ...s, corners: pair(s.corners), point: points[s.point], region: this.regionOf(i, s.region) };
    };
    return {
      ...f,
      loop: f.loop.map((p) => points[p]),
      sources: f.sources.map(sourceOf),
      from: facesOf(f.from)[0],
      region: this.regionOf(i, f.region),
    };
  }

  private regionOf(i: number, r: number): number {
    const { entries } = this.units[i].unit;
    return r < 0 ? -1 : r < entries.length ? entries[r].region : this.F + this.looseOf(i, r);
  }

  private readonly single = new Map<number, ReadonlyArray<number>>();
  /** A face as a list, the same one each time. */
  private alone(f: number): ReadonlyArray<number> {
    let list = this.single.get(f);
    if (!list) this.single.set(f, (list = [f]));
    return list;
  }

  private readonly looseNumbers = new PairMap();
  /** A number of its own for a triangle of a face that is not flat. */
  private looseOf(i: number, r: number): number {
    const known = this.looseNumbers.get(i, r);
    if (known >= 0) return known;
    this.looseNumbers.set(i, r, this.loose);
    return this.loose++;
  }

  /** A region that several units changed, or one that had only some of its outlines: divided anew. */
  private together(region: number, list: Array<{ i: number; change: Change }>): OutFace[] {
    const { w, V } = this;
    const { mesh, t, outlines } = w;
    const sides: Array<[number, number]> = [];
    const sources = new Map<number, Source>();
    const gone = new Set<number>();
    for (const { i, change } of list) {
      const { unit } = this.units[i];
      for (const slot of change.outlines) gone.add(outlines.at(unit.slots[slot]));
      for (const [a, b] of change.sides) sides.push([this.points[i][a], this.points[i][b]]);
      for (const f of change.faces) {
        const { loop, sources: own } = this.inWhole(i, f);
        loop.forEach((p, k) => sources.set(p, own[k]));
      }
    }
    for (const o of outlines.of(region)) {
      if (gone.has(o)) continue;
      const { corners } = outlines.all[o];
      corners.forEach((c, k) => {
        const [a, b] = [mesh.corners[c], mesh.corners[corners[(k + 1) % corners.length]]];
        sides.push([a, b]);
        sources.set(a, c);
        this.keep(a, b, t.edgeOfCorner[c]);
      });
    }
    if (!sides.length) return [];
    const ids: number[] = [];
    const local = new Map<number, number>();
    const place = (p: number): number => {
      let k = local.get(p);
      if (k === undefined) local.set(p, (k = ids.push(p) - 1));
      return k;
    };
    const placed = sides.map(([a, b]): [number, number] => [place(a), place(b)]);
    const at = (p: number): [number, number, number] =>
      p < V ? pointOf(mesh.positions, p) : pointOf(this.out.positions, p - V);
    const frame = frameFrom(at(ids[0]), outlines.facing(region));
    const xy = Float64Array.from(ids.flatMap((p) => toPlane(frame, at(p))));
    const loops = divideRegion(xy, constrainedTriangles(xy, placed));
    const faces = outlines.faces(region);
    return loops.map((l) => {
      const loop = l.map((k) => ids[k]);
      return {
        loop,
        sources: loop.map((p): Source => sources.get(p) ?? { kind: 'place', faces }),
        from: faces[0],
        made: null,
        ...(loops.length === 1 && { whole: true }),
        region,
      };
    });
  }
}
