/**
 * The role of a face in shading: one that should look as flat as it is, a facet of a curved surface, or a strip that
 * rounds an edge between wider ones. Told from the shading and the faces beside it alone, so it does not matter where
 * the mesh came from.
 */
import { DisjointSets } from '../mesh/DisjointSets';
import { areaVectors } from '../mesh/measure';
import { faceCount, type PolyMesh } from '../mesh/PolyMesh';
import { nextCorner, topologyOf, type Topology } from '../mesh/Topology';

/** Faces that meet at less are one plane; tangent. */
const TAN_FLAT = Math.tan((0.2 * Math.PI) / 180);
const COS_FLAT = 1 / Math.hypot(1, TAN_FLAT);
/** Faces that meet at more are no part of one surface, however they are shaded; tangent. */
const TAN_STEEP = Math.tan((60 * Math.PI) / 180);
/** Widths across an edge that differ by more than this factor are not of one surface. */
const COMPARABLE = 4;
/** Cosine between the ways out over two edges of a face that counts as opposite. */
const OPPOSITE = -0.3;
/** Normals at an edge that differ by less are shared by both its faces; cosine. */
const SHARED = Math.cos((0.1 * Math.PI) / 180);

export const [FLAT_FACE, CURVED, STRIP] = [0, 1, 2];

/** 1 per corner over whose outgoing edge the shading of a mesh runs on. @param shown normals per corner */
export function softWhereShared(mesh: PolyMesh, shown: Float32Array): Uint8Array {
  const t = topologyOf(mesh);
  const out = new Uint8Array(mesh.corners.length);
  for (let c = 0; c < out.length; c++) {
    const d = t.twin[c];
    if (d < c) continue;
    if (alike(shown, c, nextCorner(mesh, t, d)) && alike(shown, nextCorner(mesh, t, c), d))
      out[c] = out[d] = 1;
  }
  return out;
}

/** Planes of more faces than this are taken face by face: how wide they are is not worth telling. */
const MOST_OF_PLANE = 256;

export class FaceRoles {
  private readonly t: Topology;
  /** Faces of one plane with a face, itself among them; null where each is taken by itself. */
  private readonly planes: ((f: number) => ReadonlyArray<number>) | null;
  private readonly normals: Float64Array;
  /** Per corner, the turn across its outgoing edge where the shading runs on over it, radians, positive outward; else 0. */
  private readonly turn: Float64Array;
  /** Unit vector per corner, in its face and square to the outgoing edge, out of the face; where the surface turns. */
  private readonly out: Float64Array;
  /** How far the face of a corner reaches from the corner's outgoing edge, mm; where the surface turns. */
  private readonly width: Float64Array;

  /**
   * @param soft 1 per corner over whose outgoing edge the shading runs on
   * @param asPlanes takes faces that lie in one plane as one facet
   */
  constructor(
    private readonly mesh: PolyMesh,
    soft: Uint8Array,
    asPlanes = false,
  ) {
    this.t = topologyOf(mesh);
    this.normals = areaVectors(mesh);
    const n = mesh.corners.length;
    this.turn = new Float64Array(n);
    this.out = new Float64Array(3 * n);
    this.width = new Float64Array(n);
    this.planes = asPlanes ? this.planesOver(soft) : null;
    const bridge = mesh.layers.edge.bridge?.data;
    for (let c = 0; c < n; c++) {
      const d = this.t.twin[c];
      if (d < c || !soft[c] || bridge?.[this.t.edgeOfCorner[c]]) continue;
      const turn = this.turnOver(c, d);
      if (!turn) continue;
      this.turn[c] = this.turn[d] = turn;
      this.measure(c);
      this.measure(d);
    }
  }

  areaOf(f: number): number {
    return this.doubleArea(3 * f) / 2;
  }

  /**
   * How far the shading at a corner of a curved face or a strip may turn from the face, degrees: as far as the surface
   * turns over any of its edges, or as the faces around that share the normal do from their mean; and all the way where
   * it is that of a flat face it runs into.
   */
  allowed(f: number, c: number, shown: Float32Array, roles: Uint8Array): number {
    const { mesh, t, normals: n } = this;
    const count = this.sharing(c, shown);
    for (let i = 0; i < count; i++) {
      const g = 3 * this.around[i];
      if (roles[this.around[i]] !== FLAT_FACE) continue;
      const cos = n[g] * shown[3 * c] + n[g + 1] * shown[3 * c + 1] + n[g + 2] * shown[3 * c + 2];
      if (cos > SHARED * this.doubleArea(g)) return 180;
    }
    let turn = this.spread(count);
    for (let k = mesh.faceStart[f]; k < mesh.faceStart[f + 1]; k++)
      if (t.twin[k] >= 0) turn = Math.max(turn, Math.abs(this.turn[k]));
    return (turn * 180) / Math.PI;
  }

  /** Faces around a vertex that are shaded alike there; the first so many count. */
  private readonly around: number[] = [];

  /** Sets `around` to the faces at the vertex of a corner that are shaded there as it is. @returns how many */
  private sharing(c: number, shown: Float32Array): number {
    const { mesh, t } = this;
    const v = mesh.corners[c];
    let count = 0;
    for (let i = t.vertexStart[v]; i < t.vertexStart[v + 1]; i++)
      if (alike(shown, c, t.vertexCorners[i])) this.around[count++] = t.faceOfCorner[t.vertexCorners[i]];
    return count;
  }

  /** The widest angle between the mean of the normals of the first faces `around` and one of them, radians. */
  private spread(count: number): number {
    const { normals: n, around } = this;
    let x = 0;
    let y = 0;
    let z = 0;
    for (let i = 0; i < count; i++) {
      const f = 3 * around[i];
      const l = this.doubleArea(f) || 1;
      x += n[f] / l;
      y += n[f + 1] / l;
      z += n[f + 2] / l;
    }
    const long = Math.sqrt(x * x + y * y + z * z);
    let least = 1;
    for (let i = 0; i < count; i++) {
      const f = 3 * around[i];
      least = Math.min(least, (n[f] * x + n[f + 1] * y + n[f + 2] * z) / (this.doubleArea(f) * long || 1));
    }
    return Math.acos(Math.max(-1, least));
  }

  /** @param f three times the face */
  private doubleArea(f: number): number {
    const { normals: n } = this;
    return Math.sqrt(n[f] * n[f] + n[f + 1] * n[f + 1] + n[f + 2] * n[f + 2]);
  }

  /** The role of each face. Linear in corners, except for faces with many soft edges. */
  all(): Uint8Array {
    const { mesh } = this;
    const F = faceCount(mesh);
    const out = new Uint8Array(F);
    const surface = mesh.layers.corner.surface?.data;
    const open: number[] = [];
    const curve = (f: number): void => {
      for (const g of this.planes?.(f) ?? [f]) {
        if (out[g] === CURVED) continue;
        out[g] = CURVED;
        open.push(g);
      }
    };
    for (let f = 0; f < F; f++)
      if (surface && carries(mesh, surface, f)) {
        out[f] = CURVED;
        // A plane at which a known surface ends is none of its facets.
        if (!this.planes) open.push(f);
      } else if (out[f] !== CURVED && this.turnsAlikeOnBothSides(f)) curve(f);
    // A face that continues from a facet as that does from the one before belongs to the same surface, though it ends
    // there.
    for (let f = open.pop(); f !== undefined; f = open.pop())
      for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) {
        if (!this.turn[c]) continue;
        const g = this.t.faceOfCorner[this.t.twin[c]];
        if (out[g] !== CURVED && this.comparable(c)) curve(g);
      }
    for (let f = 0; f < F; f++) if (out[f] !== CURVED && this.isNarrow(f)) out[f] = STRIP;
    return out;
  }

  /** Over soft edges on opposite sides the surface goes on the same way, over faces of like width. */
  private turnsAlikeOnBothSides(f: number): boolean {
    const { mesh } = this;
    const soft: number[] = [];
    for (const g of this.planes?.(f) ?? [f])
      for (let c = mesh.faceStart[g]; c < mesh.faceStart[g + 1]; c++)
        if (this.turn[c] && this.comparable(c)) soft.push(c);
    for (let i = 1; i < soft.length; i++)
      for (let k = 0; k < i; k++) {
        if (this.turn[soft[i]] > 0 !== this.turn[soft[k]] > 0) continue;
        const [a, b] = [3 * soft[i], 3 * soft[k]];
        const o = this.out;
        if (o[a] * o[b] + o[a + 1] * o[b + 1] + o[a + 2] * o[b + 2] < OPPOSITE) return true;
      }
    return false;
  }

  /**
   * 1 per face that rounds something: narrow beside a far wider one, or of one surface with such. What knows the normals
   * of the surface it stands for is none.
   * @param roles of all faces
   */
  roundings(roles: Uint8Array): Uint8Array {
    const { mesh, t } = this;
    const out = new Uint8Array(roles.length);
    const surface = mesh.layers.corner.surface?.data;
    const open: number[] = [];
    for (let f = 0; f < out.length; f++)
      if (roles[f] !== FLAT_FACE && !(surface && carries(mesh, surface, f)) && this.isNarrow(f)) {
        out[f] = 1;
        open.push(f);
      }
    for (let f = open.pop(); f !== undefined; f = open.pop())
      for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) {
        if (!this.turn[c]) continue;
        const g = t.faceOfCorner[t.twin[c]];
        if (out[g] || roles[g] === FLAT_FACE || (surface && carries(mesh, surface, g)) || !this.comparable(c))
          continue;
        out[g] = 1;
        open.push(g);
      }
    return out;
  }

  /** The face lies beside a far wider one. */
  private isNarrow(f: number): boolean {
    for (let c = this.mesh.faceStart[f]; c < this.mesh.faceStart[f + 1]; c++)
      if (this.turn[c] && this.width[this.t.twin[c]] > COMPARABLE * this.width[c]) return true;
    return false;
  }

  private comparable(c: number): boolean {
    const [a, b] = [this.width[c], this.width[this.t.twin[c]]];
    return a <= COMPARABLE * b && b <= COMPARABLE * a;
  }

  /** Sets the way out over the outgoing edge of a corner, and the width of its face from there. */
  private measure(c: number): void {
    const { mesh, t, normals: n } = this;
    const p = mesh.positions;
    const f = t.faceOfCorner[c];
    const [a, b] = [3 * mesh.corners[c], 3 * mesh.corners[nextCorner(mesh, t, c)]];
    const ex = p[b] - p[a];
    const ey = p[b + 1] - p[a + 1];
    const ez = p[b + 2] - p[a + 2];
    let x = ey * n[3 * f + 2] - ez * n[3 * f + 1];
    let y = ez * n[3 * f] - ex * n[3 * f + 2];
    let z = ex * n[3 * f + 1] - ey * n[3 * f];
    const l = 1 / (Math.sqrt(x * x + y * y + z * z) || 1);
    x *= l;
    y *= l;
    z *= l;
    this.out[3 * c] = x;
    this.out[3 * c + 1] = y;
    this.out[3 * c + 2] = z;
    const at = p[a] * x + p[a + 1] * y + p[a + 2] * z;
    let least = at;
    for (const g of this.planes?.(f) ?? [f])
      for (let k = mesh.faceStart[g]; k < mesh.faceStart[g + 1]; k++) {
        const v = 3 * mesh.corners[k];
        least = Math.min(least, p[v] * x + p[v + 1] * y + p[v + 2] * z);
      }
    this.width[c] = at - least;
  }

  private planesOver(soft: Uint8Array): (f: number) => ReadonlyArray<number> {
    const { t, normals: n } = this;
    const sets = new DisjointSets(faceCount(this.mesh));
    for (let c = 0; c < soft.length; c++) {
      const d = t.twin[c];
      if (d < c || !soft[c]) continue;
      const [f, g] = [t.faceOfCorner[c], t.faceOfCorner[d]];
      const cos = n[3 * f] * n[3 * g] + n[3 * f + 1] * n[3 * g + 1] + n[3 * f + 2] * n[3 * g + 2];
      if (cos > COS_FLAT * this.doubleArea(3 * f) * this.doubleArea(3 * g)) sets.join(f, g);
    }
    const members = new Map<number, number[]>();
    for (let f = 0; f < faceCount(this.mesh); f++) {
      const root = sets.find(f);
      const list = members.get(root);
      if (list) list.push(f);
      else members.set(root, [f]);
    }
    return (f) => {
      const list = members.get(sets.find(f))!;
      return list.length > MOST_OF_PLANE ? [f] : list;
    };
  }

  /** Signed angle from the normal of a corner's face to that of the face beyond; 0 where they are one plane. */
  private turnOver(c: number, d: number): number {
    const { mesh, t, normals: n } = this;
    const f = 3 * t.faceOfCorner[c];
    const g = 3 * t.faceOfCorner[d];
    const x = n[f + 1] * n[g + 2] - n[f + 2] * n[g + 1];
    const y = n[f + 2] * n[g] - n[f] * n[g + 2];
    const z = n[f] * n[g + 1] - n[f + 1] * n[g];
    const cross = Math.sqrt(x * x + y * y + z * z);
    const dot = n[f] * n[g] + n[f + 1] * n[g + 1] + n[f + 2] * n[g + 2];
    if (dot <= 0 || cross < TAN_FLAT * dot || cross > TAN_STEEP * dot) return 0;
    const angle = Math.atan2(cross, dot);
    // Outward where the cross product runs along the edge, as it does on a convex body.
    const p = mesh.positions;
    const [a, b] = [3 * mesh.corners[c], 3 * mesh.corners[nextCorner(mesh, t, c)]];
    return x * (p[b] - p[a]) + y * (p[b + 1] - p[a + 1]) + z * (p[b + 2] - p[a + 2]) > 0 ? angle : -angle;
  }
}

function alike(n: Float32Array, c: number, d: number): boolean {
  return n[3 * c] * n[3 * d] + n[3 * c + 1] * n[3 * d + 1] + n[3 * c + 2] * n[3 * d + 2] > SHARED;
}

function carries(mesh: PolyMesh, surface: ArrayLike<number>, f: number): boolean {
  for (let k = 3 * mesh.faceStart[f]; k < 3 * mesh.faceStart[f + 1]; k++)
    if (Math.abs(surface[k]) > 1e-9) return true;
  return false;
}
