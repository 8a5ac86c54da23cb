/**
 * What the rounding of one cluster of edges depends on: outlines of faces that it can change, in the order of their
 * names or else of the mesh, with their points numbered as they come. The same surroundings in the same order give the same key and the same mesh,
 * whatever else there is; of large flat regions only the outlines within reach are in it.
 */
import { OperationError } from '../../mesh/errors';
import { makeMesh, type PolyMesh } from '../../mesh/PolyMesh';
import type { LayerSet } from '../../mesh/layers';
import { topologyOf, type Topology } from '../../mesh/Topology';
import { add, cross, dot, pointOf, scale, sub, type Vec3 } from '../../mesh/vec3';
import { constrainedTriangles } from '../../planar/constrainedTriangles';
import { divideRegion } from '../../planar/divideRegion';
import { frameFrom, toPlane, type Frame } from '../../planar/frame';
import type { Cluster } from './clusters';
import { pairKey } from './divide';
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

/** A unit as a mesh of its own. */
export interface UnitMesh {
  mesh: PolyMesh;
  rounded: Uint8Array;
  /** 1 per edge that is open only because the rest of the mesh is not here. */
  rim: Uint8Array;
  /** Per corner and per edge: the slot it stands for, or −1. */
  slotOfCorner: Int32Array;
  slotOfEdge: Int32Array;
  entryOfFace: Int32Array;
}

export interface Whole {
  mesh: PolyMesh;
  t: Topology;
  outlines: Outlines;
  /** Size of the piece, mm. */
  size: number;
}

/** How far beyond its outlines a flat region goes on whose outer outline is out of reach, in widths. */
const MARGIN = 8;

export class Unit {
  readonly entries: Entry[];
  /** Corners of the mesh, entry by entry. */
  readonly slots: Int32Array;
  /** Vertices of the mesh, in the order of the slots. */
  readonly vertices: Int32Array;
  private readonly numberOf = new Map<number, number>();
  private readonly inCluster: ReadonlySet<number>;

  constructor(
    private readonly w: Whole,
    private readonly cluster: Cluster,
    /** The greatest width asked for, mm. */
    private readonly width: number,
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
  }

  /** Edges of the mesh that are rounded. */
  get edges(): ReadonlyArray<number> {
    return this.cluster.edges;
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
      const out = { vertices: loop.map((c) => this.numberOf.get(this.w.mesh.corners[c])!), slot };
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
            this.numberOf.get(mesh.corners[c])!,
            Number(this.inCluster.has(e)) +
              2 * Math.min(3, t.edgeUse[e]) +
              8 * Number(!!hard?.data[e]) +
              16 * Number(!!bridge?.data[e]),
            round?.data[e] ?? 0,
          );
          if (surface) for (let k = 3 * c; k < 3 * c + 3; k++) out.push(surface.data[k]);
        }
      }
    }
    for (const v of this.vertices) for (let k = 3 * v; k < 3 * v + 3; k++) out.push(mesh.positions[k]);
    return Float64Array.from(out);
  }

  /** The unit as a mesh, or a region whose outlines cannot be divided anew: it must be taken as it is. */
  build(): UnitMesh | { undividable: number } {
    try {
      return this.made();
    } catch (e) {
      if (e instanceof Undividable) return { undividable: e.region };
      throw e;
    }
  }

  private made(): UnitMesh {
    const { mesh, t } = this.w;
    const positions: number[] = [];
    for (const v of this.vertices) positions.push(...pointOf(mesh.positions, v));
    const corners: number[] = [];
    const faceStart = [0];
    const slotOfCorner: number[] = [];
    /** Whether each corner's half-edge is the one of its slot. */
    const along: boolean[] = [];
    const entryOfFace: number[] = [];
    this.entries.forEach((entry, i) => {
      const { loops, face, firstSlot } = entry;
      const slotAt = new Map<number, number>();
      const slotAlong = new Map<number, number>();
      const numbers: number[][] = [];
      let slot = firstSlot;
      for (const loop of loops) {
        const list = loop.map((c) => this.numberOf.get(mesh.corners[c])!);
        list.forEach((v, k) => {
          if (!slotAt.has(v)) slotAt.set(v, slot);
          slotAlong.set(pairKey(v, list[(k + 1) % list.length]), slot++);
        });
        numbers.push(list);
      }
      for (const loop of face < 0 ? this.divided(entry, numbers, positions) : numbers) {
        loop.forEach((v, k) => {
          const own = slotAlong.get(pairKey(v, loop[(k + 1) % loop.length]));
          corners.push(v);
          along.push(own !== undefined);
          slotOfCorner.push(own ?? slotAt.get(v) ?? -1);
        });
        faceStart.push(corners.length);
        entryOfFace.push(i);
      }
    });
    const bare = makeMesh(
      Float64Array.from(positions),
      Uint32Array.from(faceStart),
      Uint32Array.from(corners),
    );
    const own = topologyOf(bare);
    const slotOfEdge = Int32Array.from(own.cornerOfEdge, (c: number) => {
      const d = own.twin[c];
      return along[c] ? slotOfCorner[c] : d >= 0 && along[d] ? slotOfCorner[d] : -1;
    });
    const edgeOf = (e: number): number =>
      slotOfEdge[e] < 0 ? -1 : t.edgeOfCorner[this.slots[slotOfEdge[e]]];
    const edges = slotOfEdge.map((_, e) => edgeOf(e));
    return {
      mesh: {
        ...bare,
        layers: { ...bare.layers, ...this.layers(edges, Int32Array.from(slotOfCorner), own) },
      },
      rounded: Uint8Array.from(edges, (e: number) => Number(this.inCluster.has(e))),
      rim: Uint8Array.from(edges, (e: number, k: number) =>
        Number(own.edgeUse[k] === 1 && (e < 0 || t.edgeUse[e] > 1)),
      ),
      slotOfCorner: Int32Array.from(slotOfCorner),
      slotOfEdge,
      entryOfFace: Int32Array.from(entryOfFace),
    };
  }

  /** Layers the growth depends on. */
  private layers(
    edges: Int32Array,
    slotOfCorner: Int32Array,
    own: Topology,
  ): { edge: LayerSet; corner: LayerSet } {
    const { edge, corner } = this.w.mesh.layers;
    const bridge = Uint8Array.from(edges, (e: number, k: number) =>
      Number(e < 0 ? own.edgeUse[k] > 1 : !!edge.bridge?.data[e]),
    );
    const out: Record<string, LayerSet[string]> = { bridge: { size: 1, data: bridge } };
    for (const name of ['hard', 'round'])
      if (edge[name])
        out[name] = {
          size: 1,
          data: Float64Array.from(edges, (e: number) => (e < 0 ? 0 : edge[name].data[e])),
        };
    const surface = corner.surface?.data;
    if (!surface) return { edge: out, corner: {} };
    const data = new Float64Array(3 * slotOfCorner.length);
    slotOfCorner.forEach((s, c) => {
      if (s >= 0) data.set(surface.subarray(3 * this.slots[s], 3 * this.slots[s] + 3), 3 * c);
    });
    return { edge: out, corner: { surface: { size: 3, data } } };
  }

  /**
   * A flat region divided into faces, as loops of points. Where its outer outline is out of reach, a box stands for it.
   * @param positions where points of the box are added
   */
  private divided(entry: Entry, loops: number[][], positions: number[]): number[][] {
    const frame = this.frameOf(entry);
    const ids: number[] = [];
    const xy: number[] = [];
    const place = new Map<number, number>();
    const add2 = (v: number): number => {
      let i = place.get(v);
      if (i === undefined) {
        place.set(v, (i = ids.push(v) - 1));
        xy.push(...toPlane(frame, pointOf(positions, v)));
      }
      return i;
    };
    const sides: Array<[number, number]> = [];
    let outer = false;
    const addLoop = (loop: number[]): void => {
      let twice = 0;
      loop.forEach((v, k) => {
        const [i, j] = [add2(v), add2(loop[(k + 1) % loop.length])];
        sides.push([i, j]);
        twice += xy[2 * i] * xy[2 * j + 1] - xy[2 * j] * xy[2 * i + 1];
      });
      outer ||= twice > 0;
    };
    loops.forEach(addLoop);
    if (!outer) {
      const [x0, y0, x1, y1] = boundsOf(xy, MARGIN * this.width);
      const first = positions.length / 3;
      for (const [x, y] of [
        [x0, y0],
        [x1, y0],
        [x1, y1],
        [x0, y1],
      ])
        positions.push(...add(frame.origin, add(scale(frame.u, x), scale(frame.v, y))));
      addLoop([first, first + 1, first + 2, first + 3]);
    }
    const flat = Float64Array.from(xy);
    try {
      return divideRegion(flat, constrainedTriangles(flat, sides)).map((l) => l.map((i) => ids[i]));
    } catch (e) {
      throw e instanceof OperationError ? new Undividable(entry.region) : e;
    }
  }

  /** The plane of an entry's outlines, by these alone. */
  private frameOf({ loops, turned }: Pick<Entry, 'loops' | 'turned'>): Frame {
    const { mesh } = this.w;
    const n = scale(areaVectorOf(mesh, loops), turned ? -1 : 1);
    return frameFrom(pointOf(mesh.positions, mesh.corners[loops[0][0]]), n);
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
      const turned = faces.length > 1 && dot(areaVectorOf(mesh, sorted), outlines.facing(region)) < 0;
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
    const name = (e: Entry): number => outlines.name(e.region);
    return entries.sort((a, b) => name(a) - name(b) || a.region - b.region || a.face - b.face);
  }

  /**
   * A loop begun beside the region that comes first; of several such places, where its first vertex is. Names of faces
   * tell the order where there are any: it stays while numbers change, and however the mesh was come by.
   */
  private begun(loop: ReadonlyArray<number>): number[] {
    let least = 0;
    for (let k = 1; k < loop.length; k++) if (this.inOrder(loop[k], loop[least]) < 0) least = k;
    return [...loop.slice(least), ...loop.slice(0, least)];
  }

  private inOrder(c: number, d: number): number {
    const { corners } = this.w.mesh;
    return this.beside(c) - this.beside(d) || corners[c] - corners[d];
  }

  private beside(c: number): number {
    const { t, outlines } = this.w;
    return t.twin[c] < 0 ? -1 : outlines.name(outlines.region[t.faceOfCorner[t.twin[c]]]);
  }

  private isFlat(entry: Pick<Entry, 'loops' | 'turned'>): boolean {
    const { mesh, size } = this.w;
    const { origin, normal } = this.frameOf(entry);
    const off = (c: number): number =>
      Math.abs(dot(sub(pointOf(mesh.positions, mesh.corners[c]), origin), normal));
    return entry.loops.every((l) => l.every((c) => off(c) <= FLAT * size));
  }
}

/** Twice the area within some loops, as a vector (Newell). */
function areaVectorOf(mesh: PolyMesh, loops: number[][]): Vec3 {
  let sum: Vec3 = [0, 0, 0];
  const o = pointOf(mesh.positions, mesh.corners[loops[0][0]]);
  const at = (c: number): Vec3 => sub(pointOf(mesh.positions, mesh.corners[c]), o);
  for (const loop of loops)
    loop.forEach((c, k) => (sum = add(sum, cross(at(c), at(loop[(k + 1) % loop.length])))));
  return sum;
}

/** Least x and y, greatest x and y of points in a plane, so far beyond them. */
function boundsOf(xy: ReadonlyArray<number>, beyond: number): [number, number, number, number] {
  const out: [number, number, number, number] = [Infinity, Infinity, -Infinity, -Infinity];
  xy.forEach((x, i) => {
    const k = i % 2;
    out[k] = Math.min(out[k], x - beyond);
    out[2 + k] = Math.max(out[2 + k], x + beyond);
  });
  return out;
}

class Undividable extends Error {
  constructor(readonly region: number) {
    super('The outlines of a region cross.');
  }
}
