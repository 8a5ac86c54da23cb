/** The points of a mesh that is being built: those that stay, and new ones with the vertex they come from. */
import type { PolyMesh } from '../../mesh/PolyMesh';
import { pointOf, type Vec3 } from '../../mesh/vec3';

export class Points {
  /** 3 numbers per point. */
  readonly positions: number[] = [];
  /** Vertex of the input each point comes from. */
  readonly source: number[] = [];
  private readonly ofVertex: Int32Array;

  constructor(private readonly mesh: PolyMesh) {
    this.ofVertex = new Int32Array(mesh.positions.length / 3).fill(-1);
  }

  add(p: Vec3, source: number): number {
    this.positions.push(p[0], p[1], p[2]);
    return this.source.push(source) - 1;
  }

  move(p: number, to: Vec3): void {
    for (let k = 0; k < 3; k++) this.positions[3 * p + k] = to[k];
  }

  vertex(v: number): number {
    if (this.ofVertex[v] < 0) this.ofVertex[v] = this.add(pointOf(this.mesh.positions, v), v);
    return this.ofVertex[v];
  }

  at(p: number): Vec3 {
    return pointOf(this.positions, p);
  }

  /** True while the point is still the vertex it comes from. */
  isVertex(p: number): boolean {
    return this.ofVertex[this.source[p]] === p;
  }
}
