/**
 * The sheets of a mesh as triangles that know their neighbours, to walk on.
 *
 * Triangles are grouped into plates: the flat pieces a face is divided in as a whole. Faces joined across bridges are
 * one plate; a face that is not flat falls into the triangles it is shown as, each a plate of its own.
 * A half-edge is 3·triangle + side and runs from `from[h]` to `from[next(h)]` with its triangle on the left.
 */
import { faceCount, type PolyMesh } from '../../mesh/PolyMesh';
import type { Topology } from '../../mesh/Topology';
import { faceNormal } from '../../mesh/measure';
import { add, cross, dot, pointOf, scale, sub, unit, type Vec3 } from '../../mesh/vec3';
import { triangulate } from '../../planar/triangulate';
import { bridgedRegions } from '../../solid/Solid';

/** A face whose points are further from its plane, as a share of the piece's size, is not flat. */
export const FLAT = 1e-6;
/** Points this near to a plane, in the same measure, lie in it. */
const EXACT = 1e-10;
/** A triangle this thin has no direction of its own. */
const THIN = 1e-6;

export const nextSide = (h: number): number => (h % 3 === 2 ? h - 2 : h + 1);
export const prevSide = (h: number): number => (h % 3 === 0 ? h + 2 : h - 1);

export class Surface {
  /** Vertex each half-edge starts from. */
  readonly from: Int32Array;
  /** The half-edge on the other side, or −1 where the sheet ends. */
  readonly across: Int32Array;
  /** The line each half-edge lies on: a mesh edge, a number past them for a fold within a bent face, −1 within a plate. */
  readonly line: Int32Array;
  readonly plateOf: Int32Array;
  /** Triangles of each plate, and the faces it stands for. */
  readonly plates: Array<{ triangles: number[]; faces: number[]; normal: Vec3 }> = [];
  /** The half-edge that lies on each corner's mesh edge. */
  readonly sideOfCorner: Int32Array;
  private readonly normals: Float64Array;

  constructor(
    readonly mesh: PolyMesh,
    t: Topology,
    soft: Uint8Array,
    /** Size of the piece, mm: what tolerances are measured by. */
    readonly size: number,
  ) {
    const { corners, face } = triangulate(mesh);
    const T = face.length;
    this.from = new Int32Array(3 * T);
    this.across = new Int32Array(3 * T).fill(-1);
    this.line = new Int32Array(3 * T).fill(-1);
    this.plateOf = new Int32Array(T);
    this.sideOfCorner = new Int32Array(mesh.corners.length).fill(-1);
    for (let h = 0; h < 3 * T; h++) this.from[h] = mesh.corners[corners[h]];
    this.normals = this.triangleNormals(T);
    this.makePlates(face);
    this.straighten();
    const bridge = mesh.layers.edge.bridge?.data;
    let folds = t.edgeCount;
    const open = new Map<number, number>();
    for (let i = 0; i < T; i++) {
      const [start, end] = [mesh.faceStart[face[i]], mesh.faceStart[face[i] + 1]];
      if (i === 0 || face[i] !== face[i - 1]) open.clear();
      for (let h = 3 * i; h < 3 * i + 3; h++) {
        const [a, b] = [corners[h], corners[nextSide(h)]];
        if (b === (a + 1 === end ? start : a + 1)) {
          this.sideOfCorner[a] = h;
          if (!bridge?.[t.edgeOfCorner[a]]) this.line[h] = t.edgeOfCorner[a];
          continue;
        }
        const back = open.get(b * corners.length + a);
        if (back === undefined) {
          open.set(a * corners.length + b, h);
          continue;
        }
        this.across[h] = back;
        this.across[back] = h;
        if (this.plateOf[i] !== this.plateOf[Math.floor(back / 3)]) this.line[h] = this.line[back] = folds++;
      }
    }
    for (let c = 0; c < mesh.corners.length; c++)
      if (t.twin[c] >= 0 && soft[t.edgeOfCorner[c]])
        this.across[this.sideOfCorner[c]] = this.sideOfCorner[t.twin[c]];
  }

  triangle(h: number): number {
    return Math.floor(h / 3);
  }

  to(h: number): number {
    return this.from[nextSide(h)];
  }

  point(v: number): Vec3 {
    return pointOf(this.mesh.positions, v);
  }

  normal(triangle: number): Vec3 {
    return pointOf(this.normals, triangle);
  }

  /** Unit direction along a half-edge. */
  along(h: number): Vec3 {
    return unit(sub(this.point(this.to(h)), this.point(this.from[h])));
  }

  /** Unit direction from a half-edge into its triangle, square to it. */
  inward(h: number): Vec3 {
    return cross(this.normal(this.triangle(h)), this.along(h));
  }

  /** Angle of the triangle at the start of a half-edge. */
  angle(h: number): number {
    const a = this.along(h);
    const b = scale(this.along(prevSide(h)), -1);
    return Math.atan2(length3(cross(a, b)), dot(a, b));
  }

  /** The next half-edge from the same vertex counter-clockwise, or −1 at the end of the sheet. */
  turned(h: number): number {
    return this.across[prevSide(h)];
  }

  /** Angle of the sheet at a vertex, counter-clockwise from a half-edge to the sheet's end or all round. */
  fanAngle(h: number): number {
    let sum = 0;
    let k = h;
    do {
      sum += this.angle(k);
      k = this.turned(k);
    } while (k >= 0 && k !== h);
    return sum;
  }

  private triangleNormals(T: number): Float64Array {
    const out = new Float64Array(3 * T);
    for (let i = 0; i < T; i++) {
      const [a, b, c] = [0, 1, 2].map((k) => this.point(this.from[3 * i + k]));
      out.set(unit(cross(sub(b, a), sub(c, a))), 3 * i);
    }
    return out;
  }

  private makePlates(face: Uint32Array): void {
    const { mesh, plates } = this;
    const region = bridgedRegions(mesh);
    const plateOfRegion = new Int32Array(faceCount(mesh)).fill(-1);
    const bent = new Map<number, boolean>();
    for (let i = 0; i < face.length; i++) {
      const f = face[i];
      if (!bent.has(f)) bent.set(f, mesh.faceStart[f + 1] - mesh.faceStart[f] > 3 && !this.isFlat(f));
      const alone = bent.get(f)! && region[f] === f;
      let p = alone ? -1 : plateOfRegion[region[f]];
      if (p < 0) {
        p = plates.push({ triangles: [], faces: [], normal: alone ? this.normal(i) : [0, 0, 0] }) - 1;
        if (!alone) plateOfRegion[region[f]] = p;
      }
      this.plateOf[i] = p;
      plates[p].triangles.push(i);
      if (plates[p].faces.at(-1) !== f) plates[p].faces.push(f);
    }
    for (const p of plates)
      if (length3(p.normal) === 0)
        p.normal = unit(
          p.triangles.reduce((n, i) => add(n, scale(this.normal(i), this.area(i))), [0, 0, 0] as Vec3),
        );
    for (const p of plates) if (length3(p.normal) === 0) p.normal = faceNormal(mesh, p.faces[0]);
  }

  /** Triangles of a plate that lies in one plane exactly have its normal, and so have those too thin for one. */
  private straighten(): void {
    for (const { triangles, normal } of this.plates) {
      const o = this.point(this.from[3 * triangles[0]]);
      const off = (i: number): number =>
        Math.max(...[0, 1, 2].map((k) => Math.abs(dot(sub(this.point(this.from[3 * i + k]), o), normal))));
      const even = triangles.every((i) => off(i) < EXACT * this.size);
      for (const i of triangles) if (even || this.isThin(i)) this.normals.set(normal, 3 * i);
    }
  }

  private isThin(i: number): boolean {
    const p = [0, 1, 2].map((k) => this.point(this.from[3 * i + k]));
    const longest = Math.max(...p.map((a, k) => length3(sub(a, p[(k + 1) % 3]))));
    return this.area(i) < THIN * longest * longest;
  }

  private area(i: number): number {
    const [a, b, c] = [0, 1, 2].map((k) => this.point(this.from[3 * i + k]));
    return length3(cross(sub(b, a), sub(c, a)));
  }

  private isFlat(f: number): boolean {
    const { mesh } = this;
    const n = faceNormal(mesh, f);
    const o = this.point(mesh.corners[mesh.faceStart[f]]);
    for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++)
      if (Math.abs(dot(sub(this.point(mesh.corners[c]), o), n)) > FLAT * this.size) return false;
    return true;
  }
}

const length3 = (a: Vec3): number => Math.sqrt(dot(a, a));

/** The end of a half-edge nearer to a place. */
export const nearerEnd = (s: Surface, h: number, at: Vec3): number =>
  length3(sub(at, s.point(s.from[h]))) <= length3(sub(at, s.point(s.to(h)))) ? s.from[h] : s.to(h);

/** A place that may lie on a half-edge or a vertex, −1 where it does not. */
interface Place {
  at: Vec3;
  side: number;
  vertex: number;
}

/** The line of a plate's outline that two places lie on, or −1. */
export function lineBetween(s: Surface, plate: number, a: Place, b: Place): number {
  const onLines = (p: Place): boolean => p.vertex >= 0 || (p.side >= 0 && s.line[p.side] >= 0);
  if (!onLines(a) || !onLines(b)) return -1;
  for (const t of s.plates[plate].triangles)
    for (let h = 3 * t; h < 3 * t + 3; h++)
      if (s.line[h] >= 0 && isOn(s, h, a) && isOn(s, h, b)) return s.line[h];
  return -1;
}

const isOn = (s: Surface, h: number, { side, vertex }: Place): boolean =>
  vertex >= 0 ? s.from[h] === vertex || s.to(h) === vertex : s.line[side] === s.line[h];
