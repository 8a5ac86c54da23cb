/** The planes a mesh's surface lies in, face by face; faces that are not planar are taken as the triangles shown. */
import { type PolyMesh, faceCount } from '../mesh/PolyMesh';
import { areaVectors, sizeOf } from '../mesh/measure';
import { TOLERANCE } from '../mesh/tolerance';
import { triangulate } from '../planar/triangulate';

export interface Facets {
  readonly mesh: PolyMesh;
  /** Face per facet; facets come in the order of faces, and of triangles within them. */
  readonly face: Uint32Array;
  /** Corners of facet i: corners[start[i]] … corners[start[i + 1] − 1]. */
  readonly start: Uint32Array;
  readonly corners: Uint32Array;
  /** Unit normal per facet (zero for one without area), and its plane's distance from the origin along it. */
  readonly normal: Float64Array;
  readonly offset: Float64Array;
}

const cache = new WeakMap<PolyMesh, Facets>();

/** Cached by identity; linear in corners. */
export function facetsOf(mesh: PolyMesh): Facets {
  let facets = cache.get(mesh);
  if (!facets) cache.set(mesh, (facets = build(mesh)));
  return facets;
}

function build(mesh: PolyMesh): Facets {
  const F = faceCount(mesh);
  const area = areaVectors(mesh);
  const bent = TOLERANCE.kernel * sizeOf(mesh);
  const planar = Uint8Array.from({ length: F }, (_, f) => +isPlanar(mesh, area, f, bent));
  let n = 0;
  let c = 0;
  for (let f = 0; f < F; f++) {
    const sides = mesh.faceStart[f + 1] - mesh.faceStart[f];
    n += planar[f] ? 1 : sides - 2;
    c += planar[f] ? sides : 3 * (sides - 2);
  }
  const out = {
    mesh,
    face: new Uint32Array(n),
    start: new Uint32Array(n + 1),
    corners: new Uint32Array(c),
    normal: new Float64Array(3 * n),
    offset: new Float64Array(n),
  };
  n = 0;
  for (let f = 0; f < F; f++) {
    if (planar[f]) {
      let at = out.start[n];
      for (let k = mesh.faceStart[f]; k < mesh.faceStart[f + 1]; k++) out.corners[at++] = k;
      out.start[n + 1] = at;
      layFacet(out, n++, f, area[3 * f], area[3 * f + 1], area[3 * f + 2]);
    } else
      eachTriangle(mesh, f, (a, b, c) => {
        const p = mesh.positions;
        const [i, j, k] = [3 * mesh.corners[a], 3 * mesh.corners[b], 3 * mesh.corners[c]];
        const [ux, uy, uz] = [p[j] - p[i], p[j + 1] - p[i + 1], p[j + 2] - p[i + 2]];
        const [vx, vy, vz] = [p[k] - p[i], p[k + 1] - p[i + 1], p[k + 2] - p[i + 2]];
        out.corners.set([a, b, c], out.start[n]);
        out.start[n + 1] = out.start[n] + 3;
        layFacet(out, n++, f, uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx);
      });
  }
  return out;
}

/** Fills in the plane of facet i, whose corners are there, from its area vector. */
function layFacet(
  { mesh, face, start, corners, normal, offset }: Facets,
  i: number,
  f: number,
  x: number,
  y: number,
  z: number,
): void {
  const p = mesh.positions;
  // A facet without area lies in no plane: its normal is zero.
  const l = Math.hypot(x, y, z) || Infinity;
  let d = 0;
  for (let at = start[i]; at < start[i + 1]; at++) {
    const v = 3 * mesh.corners[corners[at]];
    d += x * p[v] + y * p[v + 1] + z * p[v + 2];
  }
  face[i] = f;
  normal[3 * i] = x / l;
  normal[3 * i + 1] = y / l;
  normal[3 * i + 2] = z / l;
  offset[i] = d / (l * (start[i + 1] - start[i]));
}

/** The first facet of a face; facets are in order of faces. */
export function facetOfFace({ face }: Facets, f: number): number {
  let [lo, hi] = [0, face.length - 1];
  while (lo < hi) {
    const mid = (lo + hi) >> 1;
    if (face[mid] < f) lo = mid + 1;
    else hi = mid;
  }
  return lo;
}

/** Whether all corners of facet i lie in the plane of facet j of another mesh, or the same. */
export function liesInPlane(f: Facets, i: number, plane: Facets, j: number, reach: number): boolean {
  const { mesh } = f;
  const [x, y, z] = [plane.normal[3 * j], plane.normal[3 * j + 1], plane.normal[3 * j + 2]];
  for (let c = f.start[i]; c < f.start[i + 1]; c++) {
    const v = 3 * mesh.corners[f.corners[c]];
    const h = x * mesh.positions[v] + y * mesh.positions[v + 1] + z * mesh.positions[v + 2];
    if (Math.abs(h - plane.offset[j]) > reach) return false;
  }
  return true;
}

function isPlanar(mesh: PolyMesh, area: Float64Array, f: number, within: number): boolean {
  if (mesh.faceStart[f + 1] - mesh.faceStart[f] === 3) return true;
  const [x, y, z] = [area[3 * f], area[3 * f + 1], area[3 * f + 2]];
  const reach = within * Math.hypot(x, y, z);
  let [lo, hi] = [Infinity, -Infinity];
  for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) {
    const v = 3 * mesh.corners[c];
    const h = x * mesh.positions[v] + y * mesh.positions[v + 1] + z * mesh.positions[v + 2];
    if (h < lo) lo = h;
    if (h > hi) hi = h;
  }
  return hi - lo <= reach;
}

function eachTriangle(mesh: PolyMesh, f: number, each: (a: number, b: number, c: number) => void): void {
  const t = triangulate(mesh);
  // Faces before f have two triangles fewer than corners each.
  const first = mesh.faceStart[f] - 2 * f;
  for (let i = first; t.face[i] === f; i++)
    each(t.corners[3 * i], t.corners[3 * i + 1], t.corners[3 * i + 2]);
}
