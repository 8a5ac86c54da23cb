/** The flat regions of a mesh, faces joined across bridges, by the outlines around them and around their holes. */
import type { PolyMesh } from '../../mesh/PolyMesh';
import { nextCorner, type Topology } from '../../mesh/Topology';
import { areaVectors } from '../../mesh/measure';
import { add, pointOf, type Vec3 } from '../../mesh/vec3';
import { bridgedRegions } from '../../solid/Solid';

export interface Outline {
  /** First face of the region it belongs to. */
  region: number;
  /** Corners whose half-edges it runs along, the region on their left. */
  corners: number[];
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

  /** All faces of a region. */
  faces(region: number): ReadonlyArray<number> {
    return this.members.get(region) ?? [region];
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

  /** Where a region faces, as twice its area. */
  facing(region: number): Vec3 {
    this.areas ??= areaVectors(this.mesh);
    const { areas } = this;
    return this.faces(region).reduce((sum, f) => add(sum, pointOf(areas, f)), [0, 0, 0] as Vec3);
  }
  private areas: Float64Array | null = null;

  private isBridge(c: number): boolean {
    return this.bridge?.[this.t.edgeOfCorner[c]] === 1 && this.t.twin[c] >= 0;
  }
}
