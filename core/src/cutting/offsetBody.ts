/**
 * Solids whose faces have moved along their normals, where some of these vanish on the way or run into each other: the
 * solid joined with the layer over it, or less the layer under it. The layer is made of pieces that may overlap, so that
 * no piece has to know what the others do:
 *
 *  - faces that keep clear of all others make plates together, mitred where they meet;
 *  - one that runs into others makes a plate by itself;
 *  - over one that turns over on the way, what lies straight over it, over its convex edges the wedge up to where the two
 *    moved planes meet, and over a convex point the corner.
 *
 * That is the Minkowski sum with a ball (de Berg et al. 2008, §13.3), with mitres for its arcs and spheres.
 */
import { selfCrossings } from '../inspect/selfCross';
import { DIRECTIONS } from '../mesh/layerKinds';
import type { Layer } from '../mesh/layers';
import { areaVectors, faceNormal } from '../mesh/measure';
import { displacement } from '../mesh/offset';
import { faceCorners, faceCount, faceLoop, makeMesh, type PolyMesh } from '../mesh/PolyMesh';
import { nextCorner, topologyOf, type Topology } from '../mesh/Topology';
import { turnOver } from '../mesh/transform';
import { add, cross, dot, pointOf, scale, sub, type Vec3 } from '../mesh/vec3';
import type { Cutter } from '../solid/boolean';
import { facesOver, type FaceOver } from './facesOver';
import { withoutRimsOf } from './layerRims';
import { movedPlanes } from './offsetSolid';
import type { Plain } from './plain';

/** A solid, and the face of the one it was made of that each of its faces is. */
export interface Moved {
  mesh: PolyMesh;
  faceOf: (face: number) => number;
}

/** How far the pieces of the layer reach through the surface, as a share of the distance. */
const UNDER = 1e-3;
/** Faces that turn by less than this at an edge are one surface: nothing opens between them. */
const STRAIGHT = 1e-6;
/** The mark of the rims between the pieces. */
const PIECE = '#offset';

/**
 * @param by per face: how far along its normal, mm; of one sign, or 0 for a face that stays
 * @param plain the cut that joins the pieces
 * @returns null where nothing is left
 */
export function offsetBody(
  mesh: PolyMesh,
  by: (face: number) => number,
  name: string,
  plain: Plain,
): Moved | null {
  const inward = Array.from({ length: faceCount(mesh) }, (_, f) => by(f)).some((d) => d < 0);
  // To move inward, the solid is turned inside out and moved outward.
  const pieces = inward ? piecesOf(insideOut(mesh), (f) => -by(f)) : piecesOf(mesh, by);
  if (!pieces.length) return { mesh, faceOf: (f) => f };
  const cutters = pieces.map(({ mesh: piece }, i): Cutter => ({ mesh: piece, name, id: `${PIECE}${i}` }));
  const joined = plain({ mesh, name }, cutters, inward ? 'subtract' : 'union');
  if (!faceCount(joined.mesh)) return null;
  const { operandOfFace, sourceFace } = joined;
  return {
    mesh: withoutRimsOf(cutters.map((c) => c.id), joined.mesh), // prettier-ignore
    faceOf: (f) => (operandOfFace[f] ? pieces[operandOfFace[f] - 1].faceOf[sourceFace[f]] : sourceFace[f]),
  };
}

function insideOut(mesh: PolyMesh): PolyMesh {
  const corner: Record<string, Layer> = { ...mesh.layers.corner };
  for (const name of DIRECTIONS)
    if (name in corner) corner[name] = { ...corner[name], data: corner[name].data.map((x) => -x) };
  return turnOver(makeMesh(mesh.positions, mesh.faceStart, mesh.corners, { ...mesh.layers, corner }));
}

interface Piece {
  mesh: PolyMesh;
  /** Per face: the face of the solid it lies over, or beside. */
  faceOf: number[];
}

function piecesOf(mesh: PolyMesh, by: (face: number) => number): Piece[] {
  const cover = new Cover(mesh, by);
  const { clear, upright } = cover.facesThatStay();
  const out: Piece[] = [];
  const plateOver = (faces: ReadonlyArray<number>): boolean => {
    const plate = cover.over(faces, (v) => cover.mitred(v));
    const sound = !selfCrossings(plate.mesh).edges.length;
    if (sound) out.push(plate);
    return sound;
  };
  for (const faces of connected(mesh, (f) => clear[f] === 1 && by(f) !== 0))
    // A plate that turns out to cross itself is made of single faces.
    if (!plateOver(faces)) for (const f of faces) clear[f] = 0;
  for (let f = 0; f < clear.length; f++) {
    if (clear[f] || !by(f) || (upright[f] && plateOver([f]))) continue;
    upright[f] = 0;
    out.push(cover.over([f], (v) => cover.straight(f, v)));
  }
  return [...out, ...cover.wedges(upright), ...cover.cornersOver(upright)];
}

/** Faces for which a test holds, by what hangs together over edges. */
function connected(mesh: PolyMesh, holds: (face: number) => boolean): number[][] {
  const t = topologyOf(mesh);
  const seen = new Uint8Array(faceCount(mesh));
  const out: number[][] = [];
  for (let first = 0; first < seen.length; first++) {
    if (seen[first] || !holds(first)) continue;
    const faces = [first];
    seen[first] = 1;
    for (let i = 0; i < faces.length; i++)
      for (let c = mesh.faceStart[faces[i]]; c < mesh.faceStart[faces[i] + 1]; c++) {
        const g = t.twin[c] < 0 ? -1 : t.faceOfCorner[t.twin[c]];
        if (g < 0 || seen[g] || !holds(g)) continue;
        seen[g] = 1;
        faces.push(g);
      }
    out.push(faces);
  }
  return out;
}

/** The layer over the faces of a solid. */
class Cover {
  private readonly t: Topology;
  private readonly normals: Vec3[];

  constructor(
    private readonly mesh: PolyMesh,
    private readonly by: (face: number) => number,
  ) {
    this.t = topologyOf(mesh);
    this.normals = Array.from({ length: faceCount(mesh) }, (_, f) => faceNormal(mesh, f));
  }

  /** 1 per face no side of which turns round when all planes move, and of these per face that runs into no other. */
  facesThatStay(): { clear: Uint8Array; upright: Uint8Array } {
    const { mesh, t } = this;
    const moved = movedPlanes(mesh, this.by);
    const areas = areaVectors(moved);
    const upright = Uint8Array.from(this.normals, ([x, y, z], f) =>
      Number(areas[3 * f] * x + areas[3 * f + 1] * y + areas[3 * f + 2] * z > 0),
    );
    for (let c = 0; c < mesh.corners.length; c++) {
      const [a, b] = [mesh.corners[c], mesh.corners[nextCorner(mesh, t, c)]];
      const along = (m: PolyMesh): Vec3 => sub(pointOf(m.positions, b), pointOf(m.positions, a));
      if (dot(along(mesh), along(moved)) <= 0) upright[t.faceOfCorner[c]] = 0;
    }
    const clear = upright.slice();
    const { edges, faces } = selfCrossings(moved);
    for (const f of faces) clear[f] = 0;
    for (const e of edges)
      for (let c = t.cornerOfEdge[e], d = t.twin[c]; c >= 0; c = d, d = -1) clear[t.faceOfCorner[c]] = 0;
    return { clear, upright };
  }

  private point(v: number): Vec3 {
    return pointOf(this.mesh.positions, v);
  }

  private facesAt(v: number): number[] {
    const out: number[] = [];
    for (let i = this.t.vertexStart[v]; i < this.t.vertexStart[v + 1]; i++)
      out.push(this.t.faceOfCorner[this.t.vertexCorners[i]]);
    return out;
  }

  private meeting(faces: number[]): Vec3 {
    return displacement(faces.map((f) => ({ n: this.normals[f], h: this.by(f) })));
  }

  /** Where all planes around a point meet after they moved. */
  mitred(v: number): Vec3 {
    return this.meeting(this.facesAt(v));
  }

  /** Straight over a face, along the planes beside it that stay. */
  straight(f: number, v: number): Vec3 {
    return this.meeting(this.facesAt(v).filter((g) => g === f || !this.by(g)));
  }

  /** A plate over faces: from a little behind them to where the points go. */
  over(faces: ReadonlyArray<number>, shift: (v: number) => Vec3): Piece {
    const { mesh, t } = this;
    const on = new Set(faces);
    const build = new PieceBuilder(mesh);
    for (const f of faces) {
      const loop = faceLoop(mesh, f);
      const [near, far] = [-UNDER, 1].map((share) => loop.map((v) => build.point(v, share, add(this.point(v), scale(shift(v), share))))); // prettier-ignore
      build.face(f, far, true);
      build.face(f, [...near].reverse());
      for (let c = mesh.faceStart[f], i = 0; c < mesh.faceStart[f + 1]; c++, i++) {
        if (t.twin[c] >= 0 && on.has(t.faceOfCorner[t.twin[c]])) continue;
        const k = (i + 1) % loop.length;
        build.face(f, [near[i], near[k], far[k], far[i]]);
      }
    }
    return build.finish();
  }

  /** Edges over which the layer opens next to a face that turns over. */
  private opening(c: number, upright: Uint8Array): boolean {
    const d = this.t.twin[c];
    if (d < 0) return false;
    const [f, g] = [this.t.faceOfCorner[c], this.t.faceOfCorner[d]];
    if (!this.by(f) || !this.by(g)) return false;
    return !(upright[f] && upright[g]) && this.opens(c);
  }

  /** Whether an edge is convex. */
  private opens(c: number): boolean {
    const { mesh, t, normals } = this;
    const [f, g] = [t.faceOfCorner[c], t.faceOfCorner[t.twin[c]]];
    const along = sub(this.point(mesh.corners[nextCorner(mesh, t, c)]), this.point(mesh.corners[c]));
    const turn = dot(cross(normals[f], normals[g]), along);
    return turn > STRAIGHT * Math.sqrt(dot(along, along));
  }

  /** Over edges that open: up to where the two moved planes meet. */
  wedges(upright: Uint8Array): Piece[] {
    const { mesh, t } = this;
    const out: Piece[] = [];
    for (let e = 0; e < t.edgeCount; e++) {
      const c = t.cornerOfEdge[e];
      if (!this.opening(c, upright)) continue;
      const [f, g] = [t.faceOfCorner[c], t.faceOfCorner[t.twin[c]]];
      const ends = [mesh.corners[c], mesh.corners[nextCorner(mesh, t, c)]];
      const build = new PieceBuilder(mesh);
      const rings = ends.map((v) => this.kite(v, f, g).map((p, k) => build.point(v, k, p)));
      const [a, b] = rings;
      [g, g, f, f].forEach((over, k) => {
        const l = (k + 1) % 4;
        build.face(over, [a[k], b[k], b[l], a[l]]);
      });
      build.face(f, a);
      build.face(g, [...b].reverse());
      out.push(build.finish());
    }
    return out;
  }

  /** At an end of an edge: behind it, straight over each face, and between these where both planes meet. */
  private kite(v: number, f: number, g: number): Vec3[] {
    const m = this.meeting([f, g]);
    const at = this.point(v);
    return [scale(m, -UNDER), this.straight(g, v), m, this.straight(f, v)].map((d) => add(at, d));
  }

  /** Over points all of whose edges open: between the wedges, up to where all planes meet. */
  cornersOver(upright: Uint8Array): Piece[] {
    const { mesh, t } = this;
    const out: Piece[] = [];
    for (let v = 0; v < mesh.positions.length / 3; v++) {
      const faces = this.facesAt(v);
      if (faces.length < 3 || faces.every((f) => upright[f]) || !faces.every((f) => this.by(f))) continue;
      const corners = Array.from(t.vertexCorners.subarray(t.vertexStart[v], t.vertexStart[v + 1]));
      if (!corners.every((c) => t.twin[c] >= 0 && this.opens(c))) continue;
      const tip = this.mitred(v);
      const at = this.point(v);
      const build = new PieceBuilder(mesh);
      const behind = build.point(v, -1, add(at, scale(tip, -UNDER)));
      const top = build.point(v, -2, add(at, tip));
      for (const c of corners) {
        const f = t.faceOfCorner[c];
        const before = t.twin[this.previous(c)];
        const [g, k] = [t.faceOfCorner[t.twin[c]], t.faceOfCorner[before]];
        const over = build.point(f, -3, add(at, this.meeting([f])));
        const [after, ahead] = [[f, g], [k, f]].map((pair) => build.point(Math.min(...pair) * faceCount(mesh) + Math.max(...pair), -4, add(at, this.meeting(pair)))); // prettier-ignore
        build.face(f, [over, ahead, top, after]);
        build.face(f, [behind, ahead, over]);
        build.face(f, [behind, over, after]);
      }
      out.push(build.finish());
    }
    return out;
  }

  private previous(c: number): number {
    const f = this.t.faceOfCorner[c];
    return c === this.mesh.faceStart[f] ? this.mesh.faceStart[f + 1] - 1 : c - 1;
  }
}

/** Collects the faces of a piece. */
class PieceBuilder {
  private readonly at: number[] = [];
  private readonly numbers = new Map<string, number>();
  private readonly faces: FaceOver[] = [];

  constructor(private readonly mesh: PolyMesh) {}

  /** A point by what it belongs to and which of its points it is. */
  point(of: number, which: number, at: Vec3): number {
    const key = `${of} ${which}`;
    let number = this.numbers.get(key);
    if (number === undefined) {
      this.numbers.set(key, (number = this.at.length / 3));
      this.at.push(...at);
    }
    return number;
  }

  /** A face over or beside one of the solid; one that is a copy of it has its corners and edges too. */
  face(of: number, loop: number[], isCopy = false): void {
    this.faces.push({ loop, of, corners: isCopy ? faceCorners(this.mesh, of) : undefined });
  }

  finish(): Piece {
    return { mesh: facesOver(this.mesh, this.at, this.faces), faceOf: this.faces.map((f) => f.of) };
  }
}
