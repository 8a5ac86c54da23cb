/** A unit of a rounding as a mesh of its own, counted from the unit's origin. */
import { OperationError } from '../../mesh/errors';
import { makeMesh, type PolyMesh } from '../../mesh/PolyMesh';
import type { LayerSet } from '../../mesh/layers';
import { topologyOf, type Topology } from '../../mesh/Topology';
import { add, pointOf, scale } from '../../mesh/vec3';
import { constrainedTriangles } from '../../planar/constrainedTriangles';
import { divideRegion } from '../../planar/divideRegion';
import { toPlane } from '../../planar/frame';
import { PairMap } from '../../spatial/PairMap';
import { frameOf, surfaceAt, type Entry, type Unit } from './Unit';

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

/** How far beyond its outlines a flat region goes on whose outer outline is out of reach, in widths. */
const MARGIN = 8;

/** The unit as a mesh, or a region whose outlines cannot be divided anew: it must be taken as it is. */
export const unitMesh = (unit: Unit): UnitMesh | { undividable: number } => new Builder(unit).build();

class Builder {
  constructor(private readonly unit: Unit) {}

  build(): UnitMesh | { undividable: number } {
    try {
      return this.made();
    } catch (e) {
      if (e instanceof Undividable) return { undividable: e.region };
      throw e;
    }
  }

  private made(): UnitMesh {
    const { t } = this.unit.w;
    const positions = [...this.unit.positions];
    const corners: number[] = [];
    const faceStart = [0];
    const slotOfCorner: number[] = [];
    /** Whether each corner's half-edge is the one of its slot. */
    const along: boolean[] = [];
    const entryOfFace: number[] = [];
    this.unit.entries.forEach((entry, i) => {
      const { loops, face, firstSlot } = entry;
      const slotAt = new Map<number, number>();
      const slotAlong = new PairMap();
      const numbers: number[][] = [];
      let slot = firstSlot;
      for (const loop of loops) {
        const list = loop.map((c) => this.unit.number(c));
        list.forEach((v, k) => {
          if (!slotAt.has(v)) slotAt.set(v, slot);
          slotAlong.set(v, list[(k + 1) % list.length], slot++);
        });
        numbers.push(list);
      }
      for (const loop of face < 0 ? this.divided(entry, numbers, positions) : numbers) {
        loop.forEach((v, k) => {
          const own = slotAlong.get(v, loop[(k + 1) % loop.length]);
          corners.push(v);
          along.push(own >= 0);
          slotOfCorner.push(own >= 0 ? own : (slotAt.get(v) ?? -1));
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
      slotOfEdge[e] < 0 ? -1 : t.edgeOfCorner[this.unit.slots[slotOfEdge[e]]];
    const edges = slotOfEdge.map((_, e) => edgeOf(e));
    return {
      mesh: {
        ...bare,
        layers: { ...bare.layers, ...this.layers(edges, Int32Array.from(slotOfCorner), own) },
      },
      rounded: Uint8Array.from(edges, (e: number) => Number(this.unit.inCluster.has(e))),
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
    const { edge, corner } = this.unit.w.mesh.layers;
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
      if (s >= 0) data.set(surfaceAt(surface, this.unit.slots[s]), 3 * c);
    });
    return { edge: out, corner: { surface: { size: 3, data } } };
  }

  /**
   * A flat region divided into faces, as loops of points. Where its outer outline is out of reach, a box stands for it.
   * @param positions where points of the box are added
   */
  private divided(entry: Entry, loops: number[][], positions: number[]): number[][] {
    const frame = frameOf((c) => this.unit.at(c), entry);
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
      const [x0, y0, x1, y1] = boundsOf(xy, MARGIN * this.unit.width);
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
