/**
 * The width asked for at each place of the rims: the same everywhere, or what a ball of one radius that rolls along them
 * touches: r · tan(φ/2) from the edge, φ the turn between the two surfaces there. So it goes to nothing by itself where
 * two surfaces run into each other.
 *
 * Along a run, where just two rounded edges meet at a point, the turn changes with the surfaces: each point of the run
 * has a width of its own. Where more meet, or a run ends, edges of different turns grow at different speeds.
 */
import type { PolyMesh } from '../../mesh/PolyMesh';
import type { Topology } from '../../mesh/Topology';
import { areaVectors } from '../../mesh/measure';
import { add, cross, dot, length, pointOf, scale, sub, unit, type Vec3 } from '../../mesh/vec3';
import { DisjointSets } from '../../mesh/DisjointSets';
import { edgesOf, speedOf } from './layOut';
import type { Speed } from './sectors';

export interface Demand {
  /** The greatest width anywhere, mm: how far everything grows. */
  width: number;
  /** The part of it that each vertex is to reach, mm. */
  wanted: Float64Array;
  /** How fast the sides of each edge move. */
  speed: Speed;
}

export interface Asked {
  width: number;
  by: 'offset' | 'radius';
}

/** Widths of more than this many radii are not asked for: the edge is nearly a knife. */
const WIDEST = 8;

export function demandOf(mesh: PolyMesh, t: Topology, rounded: Uint8Array, asked: Asked): Demand {
  const speed = speedOf(mesh);
  const wanted = new Float64Array(mesh.positions.length / 3).fill(asked.width);
  if (asked.by === 'offset') return { width: asked.width, wanted, speed };
  const runs = new Runs(mesh, t, rounded);
  let most = 0;
  const greatest = new Map<number, number>();
  for (const e of edgesOf(rounded)) {
    const run = runs.of(e);
    const x = Math.max(...runs.atEnds(e));
    greatest.set(run, Math.max(greatest.get(run) ?? 0, x));
    most = Math.max(most, x);
  }
  if (!(most > 0)) return { width: asked.width, wanted, speed };
  const width = asked.width * most;
  wanted.fill(width);
  for (const e of edgesOf(rounded))
    runs.atEnds(e).forEach((x, k) => {
      const v = t.edges[2 * e + k];
      wanted[v] = Math.min(wanted[v], (width * x) / greatest.get(runs.of(e))!);
    });
  return { width, wanted, speed: (e) => (speed(e) * (greatest.get(runs.of(e)) ?? most)) / most };
}

/** Rounded edges that run on from each other, and the width a ball of radius 1 wants at their ends. */
class Runs {
  private readonly sets: DisjointSets;
  private readonly normals: Float64Array;
  private readonly roundedAt = new Map<number, number[]>();
  private readonly known = new Map<number, number>();

  constructor(
    private readonly mesh: PolyMesh,
    private readonly t: Topology,
    private readonly rounded: Uint8Array,
  ) {
    this.sets = new DisjointSets(t.edgeCount);
    this.normals = areaVectors(mesh);
    for (const e of edgesOf(rounded))
      for (const v of [t.edges[2 * e], t.edges[2 * e + 1]]) {
        const list = this.roundedAt.get(v);
        if (list) list.push(e);
        else this.roundedAt.set(v, [e]);
      }
    for (const list of this.roundedAt.values()) if (list.length === 2) this.sets.join(list[0], list[1]);
  }

  of(e: number): number {
    return this.sets.find(e);
  }

  atEnds(e: number): [number, number] {
    const { edges } = this.t;
    return [this.at(edges[2 * e], e), this.at(edges[2 * e + 1], e)];
  }

  private at(v: number, e: number): number {
    if (this.roundedAt.get(v)!.length !== 2) return halfTangent(...this.sidesOf(e));
    const known = this.known.get(v);
    if (known !== undefined) return known;
    const sides = this.sectorsAt(v);
    const made = sides ? halfTangent(...sides) : halfTangent(...this.sidesOf(e));
    this.known.set(v, made);
    return made;
  }

  private sidesOf(e: number): [Vec3, Vec3] {
    const c = this.t.cornerOfEdge[e];
    return [this.normal(this.t.faceOfCorner[c]), this.normal(this.t.faceOfCorner[this.t.twin[c]])];
  }

  private normal(f: number): Vec3 {
    return unit(pointOf(this.normals, f));
  }

  /** Mean normals of the surface on either side of a run at one of its points, faces by their angle there. */
  private sectorsAt(v: number): [Vec3, Vec3] | null {
    const { mesh, t, rounded } = this;
    const corners = Array.from(t.vertexCorners.subarray(t.vertexStart[v], t.vertexStart[v + 1]));
    const start = corners.find((c) => rounded[t.edgeOfCorner[c]]);
    if (start === undefined) return null;
    const sums: Vec3[] = [[0, 0, 0]];
    for (let c = start, turns = 0; turns < corners.length; turns++) {
      const f = t.faceOfCorner[c];
      const before = c === mesh.faceStart[f] ? mesh.faceStart[f + 1] - 1 : c - 1;
      const next = c + 1 === mesh.faceStart[f + 1] ? mesh.faceStart[f] : c + 1;
      const at = pointOf(mesh.positions, v);
      const [a, b] = [next, before].map((k) => sub(pointOf(mesh.positions, mesh.corners[k]), at));
      const angle = Math.atan2(length(cross(a, b)), dot(a, b));
      const last = sums.length - 1;
      sums[last] = add(sums[last], scale(this.normal(f), angle));
      // On to the face across the edge that comes into this corner.
      const across = t.twin[before];
      if (across < 0) return null;
      if (rounded[t.edgeOfCorner[before]] && across !== start) sums.push([0, 0, 0]);
      c = across;
    }
    return sums.length === 2 ? [unit(sums[0]), unit(sums[1])] : null;
  }
}

/** tan(φ/2) of the turn between two unit normals. */
export function halfTangent(a: Vec3, b: Vec3): number {
  const angle = Math.atan2(length(cross(a, b)), dot(a, b));
  return Math.min(WIDEST, Math.tan(Math.min(angle, Math.PI - 1e-6) / 2));
}
