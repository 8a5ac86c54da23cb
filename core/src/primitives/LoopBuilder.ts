/** Collects points and faces with UVs into a mesh. */
import { type PolyMesh, meshFromLoops } from '../mesh/PolyMesh';

type Point = [number, number, number];
type UV = [number, number];

export class LoopBuilder {
  private readonly points: Point[] = [];
  private readonly faces: number[][] = [];
  private readonly uvs: number[] = [];
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

  face(loop: number[], uv: UV[]): void {
    this.faces.push(loop);
    for (const [u, v] of uv) this.uvs.push(u, v);
  }

  mesh(): PolyMesh {
    return meshFromLoops(this.points, this.faces, {
      corner: { uv: { size: 2, data: Float64Array.from(this.uvs) } },
    });
  }
}
