/** Finds where points lie in faces that are joined, quickly where these have many triangles. */
import type { Blend, LayerSet } from '../mesh/layers';
import type { PolyMesh } from '../mesh/PolyMesh';
import type { Vec3 } from '../mesh/vec3';
import { BoxTree } from '../spatial/BoxTree';
import { boxesOfTriangles } from '../spatial/triangle';
import { locateInFace } from './locateInFace';
import { triangulate } from './triangulate';

/** Faces of fewer triangles are looked through one by one. */
const MANY = 24;

/** How far off its plane a point may be, as a share of its coordinates. */
const SLACK = 1e-9;

interface Triangles {
  tree: BoxTree;
  /** Triangle of the mesh per item of the tree. */
  numbers: number[];
}

export class FaceLocator {
  /** By the list of faces itself; null for few triangles, `alike` where it does not matter which. */
  private readonly known = new Map<ReadonlyArray<number>, Triangles | null | 'alike'>();

  /** @param layers what is to be mixed from the corners found */
  constructor(
    private readonly mesh: PolyMesh,
    private readonly layers: LayerSet,
  ) {}

  /**
   * Writes corners and weights of the triangle of the faces a point lies in, or of the nearest, into a blend.
   * @param faces given as the same list again where many points lie in them
   * @param near a vertex the point is likely close to
   */
  write(faces: ReadonlyArray<number>, p: Vec3, blend: Blend, slot: number, near: number): void {
    let many = this.known.get(faces);
    if (many === undefined)
      this.known.set(faces, (many = this.areAlike(faces) ? 'alike' : this.trianglesOf(faces)));
    if (many === 'alike') {
      blend.index[3 * slot] = this.mesh.faceStart[faces[0]];
      blend.weight[3 * slot] = 1;
      return;
    }
    if (!many) return locateInFace(this.mesh, faces, p, blend, slot, near);
    const likely: number[] = [];
    const reach = SLACK * Math.max(1, ...p.map(Math.abs));
    many.tree.eachIn(
      p.map((x) => x - reach),
      p.map((x) => x + reach),
      (i) => void likely.push(many.numbers[i]),
    );
    locateInFace(this.mesh, faces, p, blend, slot, -1, likely);
  }

  /** Whether all corners of some faces have the same in every layer. */
  private areAlike(faces: ReadonlyArray<number>): boolean {
    const { faceStart } = this.mesh;
    const first = faceStart[faces[0]];
    return Object.values(this.layers).every(({ size, data }) => {
      for (const f of faces)
        for (let c = faceStart[f]; c < faceStart[f + 1]; c++)
          for (let k = 0; k < size; k++) if (data[c * size + k] !== data[first * size + k]) return false;
      return true;
    });
  }

  private trianglesOf(faces: ReadonlyArray<number>): Triangles | null {
    const { faceStart, positions } = this.mesh;
    const count = faces.reduce((n, f) => n + faceStart[f + 1] - faceStart[f] - 2, 0);
    if (count < MANY) return null;
    const { corners, face } = triangulate(this.mesh);
    const wanted = new Set(faces);
    const numbers: number[] = [];
    for (let i = 0; i < face.length; i++) if (wanted.has(face[i])) numbers.push(i);
    const points = Uint32Array.from(
      numbers.flatMap((i) => [0, 1, 2].map((k) => this.mesh.corners[corners[3 * i + k]])),
    );
    return { tree: new BoxTree(boxesOfTriangles(positions, points)), numbers };
  }
}
