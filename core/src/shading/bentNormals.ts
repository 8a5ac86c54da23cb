/**
 * Bent normals and openness: of the rays that leave a corner over the hemisphere of its shading normal, those that meet
 * nothing. Their mean direction is the bent normal, their share the openness (Landis 2002, "Production-ready global
 * illumination", sections 2 and 3).
 */
import { boundsOf, faceNormal } from '../mesh/measure';
import type { PolyMesh } from '../mesh/PolyMesh';
import { topologyOf } from '../mesh/Topology';
import { distance } from '../mesh/vec3';
import { ShadowTree } from '../spatial/ShadowTree';
import { UNWATCHED, type Watch } from '../watch';
import { shadingNormals } from './shadingNormals';

export interface BentOptions {
  /** Per corner; an odd number counts as the next even one. */
  rays: number;
  /** Surfaces further away do not occlude, mm. */
  reach: number;
  /** Chooses among equally good sets of rays. */
  seed: number;
}

export interface Bent {
  /** Per corner, 3 numbers: a unit direction; the shading normal where no ray escapes. */
  normals: Float32Array;
  /** Per corner, 0…1. */
  openness: Float32Array;
}

/** So much of the way to the middle of its face a ray leaves a corner, and so far over it in sizes of the mesh. */
const INTO = 1e-3;
const OVER = 1e-5;

/**
 * Corners of one point with one shading normal share their rays, so what is smooth stays smooth. Each ray leaves from
 * over the face that looks its way the most: a convex body shuts out nothing of its own, however coarse it is.
 * Time rays · log n per point and normal.
 * @param watch asked every few hundred points
 */
export function bentNormals(mesh: PolyMesh, o: BentOptions, watch: Watch = UNWATCHED): Bent {
  const normals = shadingNormals(mesh);
  const out: Bent = {
    normals: normals.slice(),
    openness: new Float32Array(mesh.corners.length).fill(1),
  };
  const starts = startsOf(mesh);
  const tree = new ShadowTree(mesh);
  const pairs = Math.ceil(o.rays / 2);
  const { vertexStart, vertexCorners } = topologyOf(mesh);
  const points = vertexStart.length - 1;
  const done = new Uint8Array(mesh.corners.length);
  const group: number[] = [];
  for (let v = 0; v < points; v++) {
    if (v % 256 === 0) watch(v / points);
    for (let i = vertexStart[v]; i < vertexStart[v + 1]; i++) {
      const c = vertexCorners[i];
      if (done[c]) continue;
      group.length = 0;
      for (let j = i; j < vertexStart[v + 1]; j++) {
        const d = vertexCorners[j];
        if (!done[d] && sameNormal(normals, c, d)) group.push(d);
      }
      for (const d of group) done[d] = 1;
      castGroup(group, normals, starts, tree, pairs, o, turnOf(o.seed, v), out);
    }
  }
  return out;
}

const sameNormal = (n: Float32Array, a: number, b: number): boolean =>
  n[3 * a] === n[3 * b] && n[3 * a + 1] === n[3 * b + 1] && n[3 * a + 2] === n[3 * b + 2];

interface Starts {
  /** Per corner, where its rays leave. */
  at: Float64Array;
  /** Per corner, the normal of its face. */
  facing: Float64Array;
}

function startsOf(mesh: PolyMesh): Starts {
  const at = new Float64Array(3 * mesh.corners.length);
  const facing = new Float64Array(3 * mesh.corners.length);
  const { min, max } = boundsOf(mesh);
  const over = OVER * distance(min, max);
  for (let f = 0; f < mesh.faceStart.length - 1; f++) {
    const [from, to] = [mesh.faceStart[f], mesh.faceStart[f + 1]];
    const n = faceNormal(mesh, f);
    for (let k = 0; k < 3; k++) {
      let middle = 0;
      for (let c = from; c < to; c++) middle += mesh.positions[3 * mesh.corners[c] + k] / (to - from);
      for (let c = from; c < to; c++) {
        const p = mesh.positions[3 * mesh.corners[c] + k];
        at[3 * c + k] = p + INTO * (middle - p) + over * n[k];
        facing[3 * c + k] = n[k];
      }
    }
  }
  return { at, facing };
}

function castGroup(
  group: readonly number[],
  normals: Float32Array,
  { at, facing }: Starts,
  tree: ShadowTree,
  pairs: number,
  { reach }: BentOptions,
  turn: number,
  out: Bent,
): void {
  const [nx, ny, nz] = normals.subarray(3 * group[0], 3 * group[0] + 3);
  // A frame about the normal (Duff et al. 2017, "Building an orthonormal basis, revisited").
  const sign = nz >= 0 ? 1 : -1;
  const a = -1 / (sign + nz);
  const b = nx * ny * a;
  const [ux, uy, uz] = [1 + sign * nx * nx * a, sign * b, -sign * nx];
  const [vx, vy, vz] = [b, sign + ny * ny * a, -ny];
  let [sx, sy, sz] = [0, 0, 0];
  let open = 0;
  for (let i = 0; i < 2 * pairs; i++) {
    // Malley's way: even on the disc is cosine-weighted on the hemisphere; each ray has one opposite it about the normal.
    const k = i >> 1;
    const r2 = (k + 0.5) / pairs;
    const angle = 2 * Math.PI * (k * GOLDEN + turn) + (i & 1 ? Math.PI : 0);
    const r = Math.sqrt(r2);
    const [x, y, z] = [r * Math.cos(angle), r * Math.sin(angle), Math.sqrt(1 - r2)];
    const dx = x * ux + y * vx + z * nx;
    const dy = x * uy + y * vy + z * ny;
    const dz = x * uz + y * vz + z * nz;
    let from = -1;
    let most = 0;
    for (const c of group) {
      const ahead = dx * facing[3 * c] + dy * facing[3 * c + 1] + dz * facing[3 * c + 2];
      if (ahead > most) [from, most] = [c, ahead];
    }
    if (from < 0 || tree.meets(at[3 * from], at[3 * from + 1], at[3 * from + 2], dx, dy, dz, reach)) continue;
    open++;
    sx += dx;
    sy += dy;
    sz += dz;
  }
  const long = Math.hypot(sx, sy, sz);
  for (const c of group) {
    out.openness[c] = open / (2 * pairs);
    if (long > 1e-9) out.normals.set([sx / long, sy / long, sz / long], 3 * c);
  }
}

/** Steps by the golden section spread over a circle as evenly as can be. */
const GOLDEN = (Math.sqrt(5) - 1) / 2;

/** How far the rays of a point are turned, 0…1; as good as random (Wellons 2018, the lowbias32 mixer). */
function turnOf(seed: number, point: number): number {
  let x = Math.imul(seed + 1, 0x9e3779b1) ^ point;
  x = Math.imul(x ^ (x >>> 16), 0x21f0aaad);
  x = Math.imul(x ^ (x >>> 15), 0x735a2d97);
  return ((x ^ (x >>> 15)) >>> 0) / 2 ** 32;
}
