/** The planes a mesh's surface lies in, face by face; faces that are not planar are taken as the triangles shown. */
import type { PolyMesh } from '../mesh/PolyMesh';
import { faceCount } from '../mesh/PolyMesh';
import { areaVectors, sizeOf } from '../mesh/measure';
import { TOLERANCE } from '../mesh/tolerance';
import { triangulate } from '../planar/triangulate';

export interface Facets {
  /** Face per facet; facets come in the order of faces, and of triangles within them. */
  readonly face: Uint32Array;
  /** Corners of facet i: corners[start[i]] … corners[start[i + 1] − 1]. */
  readonly start: Uint32Array;
  readonly corners: Uint32Array;
  /** Unit normal per facet (zero for one without area), and its plane's distance from the origin along it. */
  readonly normal: Float64Array;
  readonly offset: Float64Array;
  /** Bounding box per facet: minimum, then maximum. */
  readonly box: Float64Array;
  /** The box around all of them. */
  readonly bounds: Float64Array;
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
  const p = mesh.positions;
  const area = areaVectors(mesh);
  const bent = TOLERANCE.kernel * sizeOf(mesh);
  const face: number[] = [];
  const start: number[] = [0];
  const corners: number[] = [];
  const normal: number[] = [];
  const offset: number[] = [];
  const box: number[] = [];
  const addFacet = (f: number, cs: ReadonlyArray<number>, x: number, y: number, z: number): void => {
    // A facet without area lies in no plane: its normal is zero.
    const l = Math.hypot(x, y, z) || Infinity;
    let d = 0;
    const at = box.length;
    box.push(Infinity, Infinity, Infinity, -Infinity, -Infinity, -Infinity);
    for (const c of cs) {
      const v = 3 * mesh.corners[c];
      d += x * p[v] + y * p[v + 1] + z * p[v + 2];
      for (let k = 0; k < 3; k++) {
        if (p[v + k] < box[at + k]) box[at + k] = p[v + k];
        if (p[v + k] > box[at + 3 + k]) box[at + 3 + k] = p[v + k];
      }
      corners.push(c);
    }
    face.push(f);
    start.push(corners.length);
    normal.push(x / l, y / l, z / l);
    offset.push(d / (l * cs.length));
  };
  const list: number[] = [];
  for (let f = 0; f < F; f++) {
    list.length = 0;
    for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) list.push(c);
    if (list.length === 3 || isPlanar(mesh, area, f, bent))
      addFacet(f, list, area[3 * f], area[3 * f + 1], area[3 * f + 2]);
    else
      eachTriangle(mesh, f, (a, b, c) => {
        const [i, j, k] = [3 * mesh.corners[a], 3 * mesh.corners[b], 3 * mesh.corners[c]];
        const [ux, uy, uz] = [p[j] - p[i], p[j + 1] - p[i + 1], p[j + 2] - p[i + 2]];
        const [vx, vy, vz] = [p[k] - p[i], p[k + 1] - p[i + 1], p[k + 2] - p[i + 2]];
        addFacet(f, [a, b, c], uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx);
      });
  }
  const boxes = Float64Array.from(box);
  return {
    face: Uint32Array.from(face),
    start: Uint32Array.from(start),
    corners: Uint32Array.from(corners),
    normal: Float64Array.from(normal),
    offset: Float64Array.from(offset),
    box: boxes,
    bounds: boxAround([boxes]),
  };
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

/** Whether all corners of facet i lie in the plane of facet j of a mesh's facets. */
export function liesInPlane(
  mesh: PolyMesh,
  f: Facets,
  i: number,
  plane: Facets,
  j: number,
  reach: number,
): boolean {
  const [x, y, z] = [plane.normal[3 * j], plane.normal[3 * j + 1], plane.normal[3 * j + 2]];
  for (let c = f.start[i]; c < f.start[i + 1]; c++) {
    const v = 3 * mesh.corners[f.corners[c]];
    const h = x * mesh.positions[v] + y * mesh.positions[v + 1] + z * mesh.positions[v + 2];
    if (Math.abs(h - plane.offset[j]) > reach) return false;
  }
  return true;
}

/** The box around all boxes (6 numbers each) of all lists. */
export function boxAround(lists: ReadonlyArray<Float64Array>): Float64Array {
  const out = Float64Array.of(Infinity, Infinity, Infinity, -Infinity, -Infinity, -Infinity);
  for (const boxes of lists)
    for (let i = 0; i < boxes.length; i += 6)
      for (let k = 0; k < 3; k++) {
        if (boxes[i + k] < out[k]) out[k] = boxes[i + k];
        if (boxes[i + 3 + k] > out[3 + k]) out[3 + k] = boxes[i + 3 + k];
      }
  return out;
}

function isPlanar(mesh: PolyMesh, area: Float64Array, f: number, within: number): boolean {
  const [x, y, z] = [area[3 * f], area[3 * f + 1], area[3 * f + 2]];
  const reach = within * Math.hypot(x, y, z);
  let [lo, hi] = [Infinity, -Infinity];
  for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) {
    const v = 3 * mesh.corners[c];
    const h = x * mesh.positions[v] + y * mesh.positions[v + 1] + z * mesh.positions[v + 2];
    lo = Math.min(lo, h);
    hi = Math.max(hi, h);
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
