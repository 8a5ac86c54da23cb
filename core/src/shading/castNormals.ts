/**
 * Shading normals taken from another surface: of each corner, the normal that surface is shaded with at the place nearest
 * to the corner, or where the corner's own normal meets it. On a cylinder or a cone the normals of the facets mixed along
 * a chord are those of the true surface, so what is cast back there is exact.
 */
import type { PolyMesh } from '../mesh/PolyMesh';
import { follows } from '../mesh/layers';
import { faceNormal } from '../mesh/measure';
import { add, cross, distance, dot, length, lerp, pointOf, scale, sub, unit, type Vec3 } from '../mesh/vec3';
import { nearestOnTriangle } from '../spatial/triangle';
import { treeOf } from '../spatial/TriangleTree';
import { topologyOf } from '../mesh/Topology';
import { UNWATCHED, type Watch } from '../watch';
import { shadingNormals } from './shadingNormals';

export interface CastOptions {
  /** The nearest place, or along the corner's own normal, whichever way is shorter. */
  way: 'nearest' | 'along';
  /** Places further than this are not taken, mm. */
  reach: number;
  /** Nor those whose normal turns away from the face by more than this, degrees. */
  turn: number;
  /** 0…1 against the normals there were. */
  strength: number;
  /** Corners either side of a hard edge take places of their own, or one for all. */
  hard: 'keep' | 'smooth';
  /** Only the corners of these faces. */
  faces: ReadonlyArray<number> | null;
  /** Per point, how much of the strength counts there, 0…1; all of it where left out. Points with 0 stay as they are. */
  weights?: ArrayLike<number> | null;
}

export interface Cast {
  /** Per corner of the mesh, 3 numbers. */
  normals: Float32Array;
  found: number;
  /** 1 per corner that found a surface. */
  took: Uint8Array;
  /** Points with corners that found no surface. */
  missed: number[];
}

/** So much of the way to the middle of its face a corner is looked at from. */
const INTO = 1e-3;

/**
 * Faces that follow, such as the strips of a rounding, take nothing by themselves unless they are asked for: their corners
 * go along with those of other faces that they shared a normal with, so that no break comes where there was none.
 * @param source in the frame of the mesh
 * @param watch asked every few hundred faces. Time n log m for n corners and m triangles.
 */
export function castNormals(
  mesh: PolyMesh,
  source: PolyMesh,
  o: CastOptions,
  watch: Watch = UNWATCHED,
): Cast {
  const before = shadingNormals(mesh);
  const theirs = shadingNormals(source);
  const tree = treeOf(source);
  const normals = before.slice();
  const missed = new Set<number>();
  const took = new Uint8Array(mesh.corners.length);
  const asked = new Set(o.faces ?? []);
  const rank = mesh.layers.face.rank?.data;
  const least = Math.cos((o.turn * Math.PI) / 180);
  let found = 0;
  const all = Array.from({ length: mesh.faceStart.length - 1 }, (_, f) => f);
  const following = all.filter((f) => follows(rank?.[f]) && !asked.has(f));
  const faces = o.faces ?? all.filter((f) => !follows(rank?.[f]));
  for (const [i, f] of faces.entries()) {
    if (i % 256 === 0) watch(i / faces.length);
    const own = faceNormal(mesh, f);
    const middle = middleOf(mesh, f);
    for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) {
      const v = mesh.corners[c];
      const strength = o.strength * (o.weights ? o.weights[v] : 1);
      if (o.weights && !(o.weights[v] > 0)) continue;
      const p = pointOf(mesh.positions, v);
      // From a little inside its face, so that of two surfaces that meet here it takes the one it lies on.
      const from = o.hard === 'keep' ? lerp(p, middle, INTO) : p;
      const old = pointOf(before, c);
      const place = o.way === 'nearest' ? tree.nearest(from) : tree.meets(from, old, true);
      const n = place && normalAt(source, theirs, place.corners, o.way === 'nearest' ? p : place.at);
      if (!place || !n || distance(place.at, from) > o.reach || dot(n, own) < least) {
        missed.add(v);
        continue;
      }
      found++;
      took[c] = 1;
      const mixed = add(scale(old, 1 - strength), scale(n, strength));
      normals.set(length(mixed) > 1e-9 ? unit(mixed) : n, 3 * c);
    }
  }
  for (const c of goingAlong(mesh, following, before, took)) {
    normals.set(normals.slice(3 * c.with, 3 * c.with + 3), 3 * c.corner);
    took[c.corner] = 1;
    found++;
  }
  return { normals, found, took, missed: [...missed] };
}

/** Corners of faces that follow, each with one that took and had the same normal before. */
function goingAlong(
  mesh: PolyMesh,
  following: readonly number[],
  before: Float32Array,
  took: Uint8Array,
): Array<{ corner: number; with: number }> {
  const { vertexStart, vertexCorners } = topologyOf(mesh);
  const out: Array<{ corner: number; with: number }> = [];
  for (const f of following)
    for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) {
      const v = mesh.corners[c];
      for (let i = vertexStart[v]; i < vertexStart[v + 1]; i++) {
        const d = vertexCorners[i];
        if (!took[d] || dot(pointOf(before, c), pointOf(before, d)) < SHARED) continue;
        out.push({ corner: c, with: d });
        break;
      }
    }
  return out;
}

/** Cosine above which two corners have one normal. */
const SHARED = 1 - 1e-6;

function middleOf(mesh: PolyMesh, f: number): Vec3 {
  let sum: Vec3 = [0, 0, 0];
  const [from, to] = [mesh.faceStart[f], mesh.faceStart[f + 1]];
  for (let c = from; c < to; c++) sum = add(sum, pointOf(mesh.positions, mesh.corners[c]));
  return scale(sum, 1 / (to - from));
}

/** The shading normal of a triangle at its place nearest to a point, mixed from its corners. */
function normalAt(mesh: PolyMesh, normals: Float32Array, corners: readonly number[], p: Vec3): Vec3 | null {
  const [a, b, c] = corners.map((k) => pointOf(mesh.positions, mesh.corners[k]));
  const at = nearestOnTriangle(p, a, b, c);
  const whole = cross(sub(b, a), sub(c, a));
  const area = dot(whole, whole);
  if (!(area > 0)) return null;
  const share = (x: Vec3, y: Vec3): number => dot(cross(sub(x, at), sub(y, at)), whole) / area;
  const n = [share(b, c), share(c, a), share(a, b)].reduce<Vec3>(
    (sum, w, k) => add(sum, scale(pointOf(normals, corners[k]), w)),
    [0, 0, 0],
  );
  return length(n) > 1e-9 ? unit(n) : null;
}
