/**
 * The inputs of the rounding of one cluster of edges: outlines of faces that it can change, in an order of their own
 * or else of the mesh, with their points numbered as they come. The same surroundings in the same order give the same
 * key and the same mesh, whatever else there is and wherever they are: places count from the first point. Of large
 * flat regions only the outlines within reach are in it.
 */
import type { PolyMesh } from '../../mesh/PolyMesh';
import type { Topology } from '../../mesh/Topology';
import { add, cross, dot, pointOf, scale, sub, type Vec3 } from '../../mesh/vec3';
import { frameFrom, type Frame } from '../../planar/frame';
import type { Cluster } from './clusters';
import type { Outlines } from './outlines';
import { FLAT } from './Surface';

/** A face as it is, or the outlines of a flat region. */
export interface Entry {
  region: number;
  /** The face, or −1 for a region that is divided anew. */
  face: number;
  /** Corners of the mesh. */
  loops: number[][];
  /** Number of its first corner among those of all entries. */
  firstSlot: number;
  /** Whether all outlines of the region are here. */
  complete: boolean;
  /** Whether they run around holes only, against the region's facing. */
  turned: boolean;
}

/** Places are on a grid of the piece's size, rounded up to a power of 2, over 2 to this: far below what is told apart. */
const GRID_BITS = 44;
/** Steps of a unit vector's coordinates: finer than single precision. */
const FINE = 2 ** -26;

export interface Whole {
  mesh: PolyMesh;
  t: Topology;
  outlines: Outlines;
  /** Size of the piece, mm. */
  size: number;
}

export class Unit {
  readonly entries: Entry[];
  /** Corners of the mesh, entry by entry. */
  readonly slots: Int32Array;
  /** Vertices of the mesh, in the order of the slots. */
  readonly vertices: Int32Array;
  /** The origin of its coordinates: the first of its vertices. */
  readonly origin: Vec3;
  /**
   * 3 numbers per vertex, from the origin, on a grid far finer than anything that is told apart: so the same shape has
   * the same numbers wherever it is.
   */
  readonly positions: Float64Array;
  private readonly numberOf = new Map<number, number>();
  /** Edges of the mesh that are rounded. */
  readonly inCluster: ReadonlySet<number>;

  constructor(
    readonly w: Whole,
    private readonly cluster: Cluster,
    /** The greatest width asked for, mm. */
    readonly width: number,
    /** Regions whose faces are taken as they are. */
    private readonly rigid: ReadonlySet<number>,
  ) {
    this.inCluster = new Set(cluster.edges);
    this.entries = this.findEntries();
    const slots: number[] = [];
    const vertices: number[] = [];
    for (const entry of this.entries) {
      entry.firstSlot = slots.length;
      for (const loop of entry.loops)
        for (const c of loop) {
          slots.push(c);
          const v = w.mesh.corners[c];
          if (!this.numberOf.has(v)) this.numberOf.set(v, vertices.push(v) - 1);
        }
    }
    this.slots = Int32Array.from(slots);
    this.vertices = Int32Array.from(vertices);
    this.origin = pointOf(w.mesh.positions, vertices[0]);
    const grid = 2 ** (Math.ceil(Math.log2(w.size)) - GRID_BITS);
    this.positions = new Float64Array(3 * vertices.length);
    for (let i = 0; i < this.positions.length; i++) {
      const x = w.mesh.positions[3 * vertices[Math.floor(i / 3)] + (i % 3)] - this.origin[i % 3];
      this.positions[i] = onGrid(x, grid);
    }
  }

  /** The position of a corner, from that origin. */
  at(corner: number): Vec3 {
    return pointOf(this.positions, this.number(corner));
  }

  /** Edges of the mesh that are rounded. */
  get edges(): ReadonlyArray<number> {
    return this.cluster.edges;
  }

  /** Number of the vertex at a corner of the mesh. */
  number(corner: number): number {
    return this.numberOf.get(this.w.mesh.corners[corner])!;
  }

  /** The edge of the mesh at a slot. */
  edgeAt(slot: number): number {
    return this.w.t.edgeOfCorner[this.slots[slot]];
  }

  /** Per entry: the first one of its region. */
  firstEntries(): Int32Array {
    const first = new Map<number, number>();
    return Int32Array.from(this.entries, ({ region }, i) => {
      if (!first.has(region)) first.set(region, i);
      return first.get(region)!;
    });
  }

  /** The loops of an entry, as numbers of vertices, with the slot each begins at. */
  loopsOf(entry: number): Array<{ vertices: number[]; slot: number }> {
    const { loops, firstSlot } = this.entries[entry];
    let slot = firstSlot;
    return loops.map((loop) => {
      const out = { vertices: loop.map((c) => this.number(c)), slot };
      slot += loop.length;
      return out;
    });
  }

  /** All that the rounding depends on, but for what it is asked to do. */
  key(): Float64Array {
    const { mesh, t } = this.w;
    const { hard, round, bridge } = mesh.layers.edge;
    const { surface } = mesh.layers.corner;
    const out: number[] = [this.w.size];
    for (const { loops, face, turned } of this.entries) {
      out.push(loops.length, Number(face >= 0) + 2 * Number(turned));
      for (const loop of loops) {
        out.push(loop.length);
        for (const c of loop) {
          const e = t.edgeOfCorner[c];
          out.push(
            this.number(c),
            Number(this.inCluster.has(e)) +
              2 * Math.min(3, t.edgeUse[e]) +
              8 * Number(!!hard?.data[e]) +
              16 * Number(!!bridge?.data[e]),
            round?.data[e] ?? 0,
          );
          if (surface) out.push(...surfaceAt(surface.data, c));
        }
      }
    }
    const key = new Float64Array(out.length + this.positions.length);
    key.set(out);
    key.set(this.positions, out.length);
    return key;
  }

  private findEntries(): Entry[] {
    const { mesh, outlines } = this.w;
    const byRegion = new Map<number, number[]>();
    const put = (o: number): void => {
      const { region } = outlines.all[o];
      const list = byRegion.get(region);
      if (!list) byRegion.set(region, [o]);
      else if (!list.includes(o)) list.push(o);
    };
    this.cluster.outlines.forEach(put);
    for (const r of this.cluster.obstacles) outlines.of(r).forEach(put);
    const entries: Entry[] = [];
    for (const [region, list] of byRegion) {
      const faces = outlines.faces(region);
      const loops = list.map((o) => this.begun(outlines.all[o].corners));
      const sorted = loops.sort(([a], [b]) => this.inOrder(a, b) || a - b);
      const at = (c: number): Vec3 => pointOf(mesh.positions, mesh.corners[c]);
      const turned = faces.length > 1 && dot(areaVectorOf(at, sorted), outlines.facing(region)) < 0;
      if (faces.length > 1 && !this.rigid.has(region) && this.isFlat({ loops: sorted, turned })) {
        const complete = outlines.of(region).length === loops.length;
        entries.push({ region, face: -1, loops: sorted, firstSlot: 0, complete, turned });
        continue;
      }
      for (const f of faces) {
        const corners: number[] = [];
        for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) corners.push(c);
        entries.push({
          region,
          face: f,
          loops: [this.begun(corners)],
          firstSlot: 0,
          complete: true,
          turned: false,
        });
      }
    }
    return entries.sort(
      (a, b) => outlines.compare(a.region, b.region) || a.region - b.region || a.face - b.face,
    );
  }

  /**
   * A loop begun beside the region that comes first; of several such places, where its first vertex is. Where faces have
   * names the order stays while numbers change, and however the mesh was come by.
   */
  private begun(loop: ReadonlyArray<number>): number[] {
    let least = 0;
    for (let k = 1; k < loop.length; k++) if (this.inOrder(loop[k], loop[least]) < 0) least = k;
    return [...loop.slice(least), ...loop.slice(0, least)];
  }

  private inOrder(c: number, d: number): number {
    const { outlines, mesh } = this.w;
    const [a, b] = [this.beside(c), this.beside(d)];
    const beside = a < 0 || b < 0 ? Number(b < 0) - Number(a < 0) : outlines.compare(a, b);
    return beside || mesh.corners[c] - mesh.corners[d];
  }

  /** The region on the other side of a corner's half-edge, or −1. */
  private beside(c: number): number {
    const { t, outlines } = this.w;
    return t.twin[c] < 0 ? -1 : outlines.region[t.faceOfCorner[t.twin[c]]];
  }

  private isFlat(entry: Pick<Entry, 'loops' | 'turned'>): boolean {
    const { mesh, size } = this.w;
    const at = (c: number): Vec3 => pointOf(mesh.positions, mesh.corners[c]);
    const { origin, normal } = frameOf(at, entry);
    const off = (c: number): number => Math.abs(dot(sub(at(c), origin), normal));
    return entry.loops.every((l) => l.every((c) => off(c) <= FLAT * size));
  }
}

/** The nearest of steps so far apart. Nothing is below zero that is zero: keys tell them apart. */
const onGrid = (x: number, step: number): number => Math.round(x / step) * step + 0;

/** The layer *surface* at a corner, without what rounding leaves of a turn. */
export const surfaceAt = (data: ArrayLike<number>, c: number): Vec3 => [
  onGrid(data[3 * c], FINE),
  onGrid(data[3 * c + 1], FINE),
  onGrid(data[3 * c + 2], FINE),
];

/** Twice the area within some loops of corners, as a vector (Newell). */
function areaVectorOf(at: (corner: number) => Vec3, loops: number[][]): Vec3 {
  let sum: Vec3 = [0, 0, 0];
  const o = at(loops[0][0]);
  for (const loop of loops) {
    let p = sub(at(loop[loop.length - 1]), o);
    for (const c of loop) {
      const q = sub(at(c), o);
      sum = add(sum, cross(p, q));
      p = q;
    }
  }
  return sum;
}

/** The plane of an entry's outlines, by these alone. @param at where a corner is */
export function frameOf(
  at: (corner: number) => Vec3,
  { loops, turned }: Pick<Entry, 'loops' | 'turned'>,
): Frame {
  return frameFrom(at(loops[0][0]), scale(areaVectorOf(at, loops), turned ? -1 : 1));
}
