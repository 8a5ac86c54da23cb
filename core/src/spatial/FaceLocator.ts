/** Finds where points lie in faces that are joined, quickly where these have many triangles. */
import { DIRECTIONS, isCode } from '../mesh/layerKinds';
import type { Blend, Layer, LayerSet } from '../mesh/layers';
import type { PolyMesh } from '../mesh/PolyMesh';
import { cross, dot, pointOf, sub, type Vec3 } from '../mesh/vec3';
import { BoxTree } from './BoxTree';
import { boxesOfTriangles } from './triangle';
import { barycentric, locateInFace } from '../planar/locateInFace';
import { triangulate } from '../planar/triangulate';

/** Faces of fewer triangles are looked through one by one. */
const MANY = 24;

/** How far off its plane a point may be, as a share of its coordinates. */
const SLACK = 1e-9;

interface Triangles {
  tree: BoxTree;
  /** Triangle of the mesh per item of the tree. */
  numbers: number[];
}

/** Three corners that stand for all of some faces. */
interface Plane {
  corners: [number, number, number];
  /** Any of them does. */
  alike: boolean;
}

export class FaceLocator {
  /** Cached by the list of faces itself; null for few triangles. */
  private readonly known = new Map<ReadonlyArray<number>, Triangles | Plane | null>();

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
    if (many === undefined) {
      many = this.isSmall(faces) ? null : (this.linear(faces) ?? this.trianglesOf(faces));
      this.known.set(faces, many);
    }
    if (many && 'corners' in many) {
      const w = many.alike ? null : barycentric(this.mesh, many.corners, 0, p[0], p[1], p[2]);
      for (let k = 0; k < (w ? 3 : 1); k++) {
        blend.index[3 * slot + k] = many.corners[k];
        blend.weight[3 * slot + k] = w ? w[k] : 1;
      }
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

  /**
   * Three corners of some faces whose values tell those of all the others, as they are the same everywhere or lie in one
   * plane over place; null where there are none.
   */
  private linear(faces: ReadonlyArray<number>): Plane | null {
    const { mesh } = this;
    const corners = widest(mesh, faces);
    const alike = Object.values(this.layers).every((layer) => isAlike(mesh, faces, layer));
    if (alike) return { corners, alike };
    for (const name in this.layers) {
      const layer = this.layers[name];
      const mixes = !isCode(name) && !DIRECTIONS.includes(name) && !layer.sets;
      if (!isAlike(mesh, faces, layer) && !(mixes && isLinear(mesh, faces, layer, corners))) return null;
    }
    return { corners, alike };
  }

  private isSmall(faces: ReadonlyArray<number>): boolean {
    const { faceStart } = this.mesh;
    return faces.reduce((n, f) => n + faceStart[f + 1] - faceStart[f] - 2, 0) < MANY;
  }

  private trianglesOf(faces: ReadonlyArray<number>): Triangles {
    const { positions } = this.mesh;
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

function* cornersOf({ faceStart }: PolyMesh, faces: ReadonlyArray<number>): Generator<number> {
  for (const f of faces) for (let c = faceStart[f]; c < faceStart[f + 1]; c++) yield c;
}

/** The first corner of some faces, the one farthest from it, and the one farthest from the line through both. */
function widest(mesh: PolyMesh, faces: ReadonlyArray<number>): [number, number, number] {
  const at = (c: number): Vec3 => pointOf(mesh.positions, mesh.corners[c]);
  const first = mesh.faceStart[faces[0]];
  const o = at(first);
  const farthest = (far: (d: Vec3) => number): number => {
    let [best, most] = [first, -1];
    for (const c of cornersOf(mesh, faces)) {
      const x = far(sub(at(c), o));
      if (x > most) [best, most] = [c, x];
    }
    return best;
  };
  const second = farthest((d) => dot(d, d));
  const along = sub(at(second), o);
  const third = farthest((d) => {
    const n = cross(along, d);
    return dot(n, n);
  });
  return [first, second, third];
}

function isAlike(mesh: PolyMesh, faces: ReadonlyArray<number>, { size, data }: Layer): boolean {
  const first = mesh.faceStart[faces[0]];
  for (const c of cornersOf(mesh, faces))
    for (let k = 0; k < size; k++) if (data[c * size + k] !== data[first * size + k]) return false;
  return true;
}

/** How far off a plane values may be, as a share of their range. */
const STRAIGHT = 1e-9;

function isLinear(
  mesh: PolyMesh,
  faces: ReadonlyArray<number>,
  { size, data }: Layer,
  corners: [number, number, number],
): boolean {
  const given = (i: number, k: number): number => data[corners[i] * size + k];
  const range = Array.from({ length: size }, (_, k) =>
    Math.max(Math.abs(given(1, k) - given(0, k)), Math.abs(given(2, k) - given(0, k))),
  );
  for (const c of cornersOf(mesh, faces)) {
    const [x, y, z] = pointOf(mesh.positions, mesh.corners[c]);
    const w = barycentric(mesh, corners, 0, x, y, z);
    if (!w) return false;
    for (let k = 0; k < size; k++) {
      const value = w[0] * given(0, k) + w[1] * given(1, k) + w[2] * given(2, k);
      if (!(Math.abs(value - data[c * size + k]) <= STRAIGHT * range[k])) return false;
    }
  }
  return true;
}
