/** Collects points and faces with UVs, and the normals of curved surfaces, into a mesh. */
import { type PolyMesh, meshFromLoops } from '../mesh/PolyMesh';

export type Point = [number, number, number];
type UV = [number, number];

export class LoopBuilder {
  private readonly points: Point[] = [];
  private readonly faces: number[][] = [];
  private readonly uvs: number[] = [];
  /** 3 numbers per corner, as far as any are known; zeros on flat faces. */
  private readonly normals: number[] = [];
  private readonly byKey = new Map<string, number>();

  point(p: Point): number {
    return this.points.push(p) - 1;
  }

  /** The point stored under a key, made on first use. */
  shared(key: string, make: () => Point): number {
    let i = this.byKey.get(key);
    if (i === undefined) this.byKey.set(key, (i = this.point(make())));
    return i;
  }

  /** @param normals of the surface the face stands for, one per corner and of any length; none where it is flat */
  face(loop: number[], uv: UV[], normals?: ReadonlyArray<Point>): void {
    this.faces.push(loop);
    for (const [u, v] of uv) this.uvs.push(u, v);
    if (!normals) return;
    const at = this.uvs.length / 2 - loop.length;
    while (this.normals.length < 3 * at) this.normals.push(0);
    for (const [x, y, z] of normals) {
      const l = Math.hypot(x, y, z);
      this.normals.push(x / l, y / l, z / l);
    }
  }

  mesh(): PolyMesh {
    const surface = new Float32Array(this.normals.length ? (3 * this.uvs.length) / 2 : 0);
    surface.set(this.normals);
    return meshFromLoops(this.points, this.faces, {
      corner: {
        uv: { size: 2, data: Float64Array.from(this.uvs) },
        ...(surface.length && { surface: { size: 3, data: surface } }),
      },
    });
  }
}
