/** Builds the faces of a grown rounding: what is left of those there were, strips, and corner patches. */
import { faceCount, makeMesh, type PolyMesh } from '../../mesh/PolyMesh';
import { separateFans } from '../../mesh/separateFans';
import { PairMap } from '../../spatial/PairMap';
import { nextCorner } from '../../mesh/Topology';
import { TOLERANCE } from '../../mesh/tolerance';
import { faceArea } from '../../mesh/measure';
import { distance, type Vec3 } from '../../mesh/vec3';
import { mergesOfNear } from '../../planar/nearPoints';
import { pinchedParts } from '../../planar/pinches';
import { triangulate } from '../../planar/triangulate';
import { planThinRemoval, withoutSpikes } from '../../planar/thinFaces';
import { Columns } from './columns';
import type { Grown } from './grown';
import { CornerFaces } from './CornerFaces';
import { RowNormals } from './rowNormals';
import { sourcesBetween } from './inserted';
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

/** A face has nowhere more width than a reach. */
function isHair(loop: ReadonlyArray<Vec3>, reach: number): boolean {
  let rim = 0;
  loop.forEach((p, i) => (rim += distance(p, loop[(i + 1) % loop.length])));
  return 4 * faceArea(asFace(loop), 0) <= reach * rim;
}

const asFace = (loop: ReadonlyArray<Vec3>): PolyMesh =>
  makeMesh(Float64Array.from(loop.flat()), Uint32Array.of(0, loop.length), Uint32Array.from(loop.keys()));

/** Triangles of a face, as lists of its places. */
function trianglesOf(loop: ReadonlyArray<Vec3>): number[][] {
  const { corners } = triangulate(asFace(loop));
  return Array.from({ length: corners.length / 3 }, (_, i) => Array.from(corners.subarray(3 * i, 3 * i + 3)));
}

/** Thinner parts than this share of the size have no width. */
const THIN = 10 * TOLERANCE.weld;

class Assembly {
  private faces: OutFace[] = [];
  private readonly columns: Columns;
  private readonly normals: RowNormals;
  private readonly patches: CornerFaces;
  /** Points no column needs. */
  private idle: ReadonlySet<number> = new Set();
  /** Plates that are not as they were. */
  private readonly changed = new Set<number>();

  constructor(private readonly g: Grown) {
    this.columns = new Columns(g);
    this.normals = new RowNormals(g, this.columns);
    this.patches = new CornerFaces(g, this.columns, this.normals);
  }

  build(): Assembled {
    const { g } = this;
    const strips = new StripFaces(g, this.columns, this.normals);
    this.faces = [...strips.faces];
    this.idle = strips.idle;
    g.watch(0.2);
    for (const v of g.plan.vertices) this.patches.add(v);
    this.faces = this.faces.concat(this.patches.faces);
    g.watch(0.3);
    const made = this.faces;
    this.faces = [];
    // Remains of faces come first: strips take their corners' values from there.
    this.addPlates();
    // There may be more of them than a call has room for.
    this.faces = this.faces.concat(made);
    g.watch(0.6);
    this.divideHairs();
    this.removeThin();
    this.mergeNear();
    return this.finish();
  }

  /**
   * Rails that meet become one ridge: what is left between them is divided into triangles, which go; where they meet at
   * single places, it is divided there.
   */
  private divideHairs(): void {
    const { points, surface } = this.g;
    const reach = THIN * surface.size;
    this.faces = this.faces.flatMap((f) => {
      if (f.made || !this.changed.has(f.region) || f.loop.length < 5) return [f];
      const loop = f.loop.map((p) => points.at(p));
      const parts = isHair(loop, reach) ? trianglesOf(loop) : pinchedParts(loop, reach);
      if (parts.length < 2) return [f];
      return parts.map((of) => ({
        ...f,
        whole: false,
        loop: of.map((k) => f.loop[k]),
        sources: of.map((k) => f.sources[k]),
      }));
    });
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
      const loop = this.patches.withChords(points.filter((p) => !this.idle.has(p)));
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

  private sourceAt(p: number, faces: number[]): Source {
    const { mesh, points } = this.g;
    const v = points.source[p];
    if (points.isVertex(p))
      for (const f of faces)
        for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) if (mesh.corners[c] === v) return c;
    return { kind: 'place', faces };
  }

  /** Faces used up by strips from both sides go; where they had points on one side only, these are shared. */
  private removeThin(): void {
    const { points, surface } = this.g;
    const reach = THIN * surface.size;
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
        const sources = f.sources.flatMap((s, k) => [
          s,
          ...sourcesBetween(f, k, sides.get(k) ?? [], this.g.points, this.normals),
        ]);
        const kept = withoutSpikes(loop);
        this.faces[i] = { ...f, loop: kept.map((k) => loop[k]), sources: kept.map((k) => sources[k]) };
        if (!f.made) this.changed.add(f.region);
      });
      this.faces = this.faces.filter((f, i) => !plan.removed.has(i) && f.loop.length > 2);
    }
  }

  /** Points that came to lie in one place become one. */
  private mergeNear(): void {
    const { points, surface } = this.g;
    for (let round = 0; round < 8; round++) {
      const merges = mergesOfNear(
        this.faces.map((f) => f.loop),
        (i) => this.faces[i].made !== null || this.changed.has(this.faces[i].region),
        points.positions,
        THIN * surface.size,
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
