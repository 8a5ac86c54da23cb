/** The edge layers of a composed rounding: those of edges that are left, where strips lie, and marks along their ends. */
import { KEPT } from '../../mesh/layerKinds';
import { copyLayers, type Layer, type LayerArray, type LayerSet } from '../../mesh/layers';
import { ROLES } from '../../mesh/made';
import type { PolyMesh } from '../../mesh/PolyMesh';
import { prevCorner, topologyOf, type Topology } from '../../mesh/Topology';
import type { Composed, Part } from './compose';
import type { Outlines } from './outlines';
import type { OutFace } from './shape';

/** A composed rounding, and the faces it is made of. */
export interface Composing {
  before: PolyMesh;
  /** Of the mesh before. */
  t: Topology;
  outlines: Outlines;
  c: Composed;
  /** Remains of the old faces, in their order; untouched ones by number. New faces come after them. */
  kept: ReadonlyArray<number | OutFace>;
  /** Per corner: the one it was of an untouched face, or −1. */
  corner: Int32Array;
  faceStart: Uint32Array;
  /** Calls back for every new face: its part, its number there, and its number in what is made. */
  eachMade(call: (part: Part, face: number, number: number) => void): void;
}

/** @param bare the faces as a mesh without layers @param ids its points, in numbers of the composition */
export const edgeLayers = (of: Composing, bare: PolyMesh, ids: ReadonlyArray<number>): LayerSet =>
  new EdgeLayers(of, bare, ids).all();

class EdgeLayers {
  private readonly now: Topology;
  private readonly before: PolyMesh;
  private readonly t: Topology;
  private readonly outlines: Outlines;
  private readonly c: Composed;
  private readonly kept: ReadonlyArray<number | OutFace>;
  private readonly corner: Int32Array;
  private readonly faceStart: Uint32Array;

  constructor(
    private readonly of: Composing,
    private readonly bare: PolyMesh,
    private readonly ids: ReadonlyArray<number>,
  ) {
    this.now = topologyOf(bare);
    ({
      before: this.before,
      t: this.t,
      outlines: this.outlines,
      c: this.c,
      kept: this.kept,
      corner: this.corner,
      faceStart: this.faceStart,
    } = of);
  }

  all(): LayerSet {
    const { c, corner, kept, ids, now } = this;
    const source = new Int32Array(now.edgeCount).fill(-1);
    const bridge = new Uint8Array(now.edgeCount);
    const regionOf = (k: number): number => {
      const x = kept[now.faceOfCorner[k]];
      return typeof x === 'object' ? x.region : -1;
    };
    for (let e = 0; e < now.edgeCount; e++) {
      const k = now.cornerOfEdge[e];
      const beyond = now.twin[k];
      const old = corner[k] >= 0 ? corner[k] : beyond >= 0 ? corner[beyond] : -1;
      if (old >= 0) {
        source[e] = this.t.edgeOfCorner[old];
        continue;
      }
      const [a, b] = [ids[now.edges[2 * e]], ids[now.edges[2 * e + 1]]];
      const known = c.keptEdges.get(Math.min(a, b), Math.max(a, b));
      if (known >= 0) source[e] = known;
      else if (beyond >= 0) bridge[e] = Number(regionOf(k) >= 0 && regionOf(k) === regionOf(beyond));
    }
    const layers = copyLayers(this.before.layers.edge, source);
    const before = layers.bridge?.data;
    if (before) for (let e = 0; e < bridge.length; e++) bridge[e] ||= before[e];
    const rounded = this.rounded(layers.rounded?.data);
    const traces = Object.keys(layers).filter((name) => name === 'cut' || name.startsWith(KEPT));
    return {
      ...layers,
      ...Object.fromEntries(
        traces.map((name) => [name, { size: 1, data: this.atEnds(name, layers[name], rounded) }]),
      ),
      bridge: { size: 1, data: bridge },
      rounded: { size: 1, data: rounded },
    };
  }

  /** Marks of edges: where a strip ends at a face that had them on both sides of it, they run along its end. */
  private atEnds(name: string, marks: Layer, rounded: Uint8Array): LayerArray {
    const { now, bare, ids } = this;
    const K = this.kept.length;
    const V = this.before.positions.length / 3;
    const data = marks.data.slice();
    this.of.eachMade(({ made }, f, i) => {
      if (ROLES[made.role[f]] !== 'strip') return;
      for (let c = this.faceStart[i]; c < this.faceStart[i + 1]; c++) {
        const e = now.edgeOfCorner[c];
        const beyond = now.twin[c] < 0 ? K : now.faceOfCorner[now.twin[c]];
        if (beyond >= K || rounded[e]) continue;
        const p = ids[bare.corners[c]];
        data[e] = this.markAt(name, this.regionOf(beyond), p < V ? p : this.c.source[p - V]);
      }
    });
    return data;
  }

  /** The mark of the two sides of a region that meet at a vertex, where both have one. */
  private markAt(name: string, region: number, v: number): number {
    const { t, before, outlines } = this;
    const marks = before.layers.edge[name].data;
    for (let i = t.vertexStart[v]; i < t.vertexStart[v + 1]; i++) {
      const c = t.vertexCorners[i];
      if (outlines.region[t.faceOfCorner[c]] !== region) continue;
      const [a, b] = [t.edgeOfCorner[c], t.edgeOfCorner[prevCorner(before, t, c)]];
      if (marks[a] && marks[b]) return marks[a];
    }
    return 0;
  }

  private regionOf(kept: number): number {
    const x = this.kept[kept];
    return typeof x === 'number' ? this.outlines.region[x] : x.region;
  }

  /** 1 per edge that lies within a rounding or along a rail; where a strip ends at a face there is an edge as before. */
  private rounded(before: LayerArray | undefined): Uint8Array {
    const { now } = this;
    const K = this.kept.length;
    const out = new Uint8Array(now.edgeCount);
    if (before) out.set(before);
    this.of.eachMade((part, f, i) => {
      const { made } = part;
      const isStrip = ROLES[made.role[f]] === 'strip';
      const [s, n] = [made.start[f], made.start[f + 1] - made.start[f]];
      for (let k = 0; k < n; k++) {
        const c = this.faceStart[i] + k;
        const d = now.twin[c];
        if (d < 0) continue;
        const beyond = now.faceOfCorner[d];
        if (beyond >= K || !isStrip || this.isOnRail(part, s + k, s + ((k + 1) % n), beyond))
          out[now.edgeOfCorner[c]] = 1;
      }
    });
    return out;
  }

  /** The side of a strip between two of its corners is on a rail, with the wall of that rail beyond. */
  private isOnRail({ made, regionOf }: Part, a: number, b: number, beyond: number): boolean {
    if (made.points[a] !== made.rail[a] || made.points[b] !== made.rail[b]) return false;
    const region = this.regionOf(beyond);
    return regionOf(made.region[a]) === region || regionOf(made.region[b]) === region;
  }
}
