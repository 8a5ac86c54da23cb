/** The flat regions of a mesh, faces joined across bridges, by the outlines around them and around their holes. */
import { familyOf } from '../../births/births';
import type { PolyMesh } from '../../mesh/PolyMesh';
import { nextCorner, type Topology } from '../../mesh/Topology';
import { areaVectors } from '../../mesh/measure';
import { add, pointOf, type Vec3 } from '../../mesh/vec3';
import { bridgedRegions } from '../../solid/Solid';
import { BoxTree } from '../../spatial/BoxTree';

export interface Outline {
  /** First face of the region it belongs to. */
  region: number;
  /** Corners whose half-edges it runs along, the region on their left. */
  corners: number[];
}

/** A key that tells regions apart wherever they are. */
interface Rank {
  /** One more than the number its face has in a cutter; 0 for the host's. */
  face: number;
  /** A name that parts of a face share; 0 where the mesh is of no build. */
  name: number;
}

export class Outlines {
  /** First face of the region of each face. */
  readonly region: Int32Array;
  readonly all: Outline[] = [];
  private readonly members = new Map<number, number[]>();
  private readonly ofCorner: Int32Array;
  private readonly bridge: ArrayLike<number> | undefined;

  constructor(
    private readonly mesh: PolyMesh,
    private readonly t: Topology,
  ) {
    this.region = bridgedRegions(mesh);
    this.region.forEach((r, f) => {
      if (r === f) return;
      const list = this.members.get(r);
      if (list) list.push(f);
      else this.members.set(r, [r, f]);
    });
    this.ofCorner = new Int32Array(mesh.corners.length).fill(-1);
    this.bridge = mesh.layers.edge.bridge?.data;
  }

  /** All faces of a region; the same list each time. */
  faces(region: number): ReadonlyArray<number> {
    let list = this.members.get(region);
    if (!list) this.members.set(region, (list = [region]));
    return list;
  }

  /** The outline along a corner's half-edge; −1 for a bridge. Traced when it is first asked for. */
  at(corner: number): number {
    if (this.isBridge(corner)) return -1;
    if (this.ofCorner[corner] >= 0) return this.ofCorner[corner];
    const corners: number[] = [];
    const id = this.all.length;
    for (let c = corner; this.ofCorner[c] < 0;) {
      this.ofCorner[c] = id;
      corners.push(c);
      c = nextCorner(this.mesh, this.t, c);
      while (this.isBridge(c)) c = nextCorner(this.mesh, this.t, this.t.twin[c]);
    }
    this.all.push({ region: this.region[this.t.faceOfCorner[corner]], corners });
    return id;
  }

  private readonly known = new Map<number, number[]>();
  /** All outlines of a region. */
  of(region: number): ReadonlyArray<number> {
    const known = this.known.get(region);
    if (known) return known;
    const out = new Set<number>();
    for (const f of this.faces(region))
      for (let c = this.mesh.faceStart[f]; c < this.mesh.faceStart[f + 1]; c++) {
        const o = this.at(c);
        if (o >= 0) out.add(o);
      }
    const list = [...out];
    this.known.set(region, list);
    return list;
  }

  /** The direction of a region, as twice its area vector. */
  facing(region: number): Vec3 {
    this.areas ??= areaVectors(this.mesh);
    const { areas } = this;
    return this.faces(region).reduce((sum, f) => add(sum, pointOf(areas, f)), [0, 0, 0] as Vec3);
  }
  private areas: Float64Array | null = null;

  private readonly ranks = new Map<number, Rank>();
  /**
   * An order of regions that holds however they are divided and while numbers of a build change, and is the same in
   * copies of a cutter: those of the host by name, then those of cutters by the face of the cutter they come from.
   * @returns negative where the first comes first; 0 where nothing tells
   */
  compare(a: number, b: number): number {
    const [x, y] = [this.rank(a), this.rank(b)];
    return x.face - y.face || x.name - y.name;
  }

  private rank(region: number): Rank {
    let rank = this.ranks.get(region);
    if (!rank) {
      const origin = this.mesh.layers.face.origin?.data;
      const faces = this.faces(region);
      const least = (of: (f: number) => number): number =>
        faces.reduce((x, f) => Math.min(x, of(f)), Infinity);
      rank = {
        face: origin ? least((f) => (origin[2 * f] ? 1 + origin[2 * f + 1] : 0)) : 0,
        name: least((f) => familyOf(this.mesh, f)),
      };
      this.ranks.set(region, rank);
    }
    return rank;
  }

  private readonly bounds = new Map<number, BoxTree>();
  /** Outlines of a region whose boxes meet one. */
  within(region: number, lo: ArrayLike<number>, hi: ArrayLike<number>): number[] {
    const list = this.of(region);
    let tree = this.bounds.get(region);
    if (!tree) this.bounds.set(region, (tree = new BoxTree(this.boxesOf(list))));
    const out: number[] = [];
    tree.eachIn(lo, hi, (i) => void out.push(list[i]));
    return out.sort((a, b) => a - b);
  }

  private boxesOf(list: ReadonlyArray<number>): Float64Array {
    const { positions, corners } = this.mesh;
    const boxes = new Float64Array(6 * list.length);
    list.forEach((o, i) => {
      for (let k = 0; k < 3; k++) {
        let [least, most] = [Infinity, -Infinity];
        for (const c of this.all[o].corners) {
          const x = positions[3 * corners[c] + k];
          if (x < least) least = x;
          if (x > most) most = x;
        }
        boxes[6 * i + k] = least;
        boxes[6 * i + 3 + k] = most;
      }
    });
    return boxes;
  }

  private isBridge(c: number): boolean {
    return this.bridge?.[this.t.edgeOfCorner[c]] === 1 && this.t.twin[c] >= 0;
  }
}
