/**
 * The limit positions and normals of a subdivided mesh's points (Halstead, Kass, DeRose 1993, section 3 and appendix
 * A). On creases and rims the curve's own limit; corners stay.
 */
import { makeMesh, vertexCount, type PolyMesh } from '../mesh/PolyMesh';
import { nextCorner, prevCorner, topologyOf, type Topology } from '../mesh/Topology';
import { cross, unit, type Vec3 } from '../mesh/vec3';

/**
 * The mesh with its points on the limit surface, and normals held at corners of smooth points. Points with a face that
 * is no quad stay: one level must have been made before. An edge whose crease has levels left counts as sharp.
 * Linear in corners.
 */
export function ontoLimit(mesh: PolyMesh): PolyMesh {
  const t = topologyOf(mesh);
  const positions = mesh.positions.slice();
  const normal = new Float32Array(3 * mesh.corners.length);
  for (let v = 0; v < vertexCount(mesh); v++) {
    const sharp = sharpEnds(mesh, t, v);
    if (sharp.length > 2 || (sharp.length === 2 && facesAt(t, v) === 1)) continue;
    if (sharp.length === 2) {
      for (let k = 0; k < 3; k++) positions[3 * v + k] = (4 * at(mesh, v, k) + at(mesh, sharp[0], k) + at(mesh, sharp[1], k)) / 6; // prettier-ignore
      continue;
    }
    const ring = ringOf(mesh, t, v);
    if (!ring) continue;
    const { limit, up } = smoothLimit(mesh, v, ring);
    positions.set(limit, 3 * v);
    for (let i = t.vertexStart[v]; i < t.vertexStart[v + 1]; i++) normal.set(up, 3 * t.vertexCorners[i]);
  }
  const { corner } = mesh.layers;
  return makeMesh(positions, mesh.faceStart, mesh.corners, {
    ...mesh.layers,
    corner: { ...corner, normal: { size: 3, data: normal } },
  });
}

/** The normals of the limit surface at corners of smooth points, 3 numbers each; zeros on creases and rims. Linear. */
export function limitNormals(mesh: PolyMesh): Float32Array {
  const t = topologyOf(mesh);
  const out = new Float32Array(3 * mesh.corners.length);
  for (let v = 0; v < vertexCount(mesh); v++) {
    if (sharpEnds(mesh, t, v).length > 1) continue;
    const ring = ringOf(mesh, t, v);
    if (!ring) continue;
    const { up } = smoothLimit(mesh, v, ring);
    for (let i = t.vertexStart[v]; i < t.vertexStart[v + 1]; i++) out.set(up, 3 * t.vertexCorners[i]);
  }
  return out;
}

const at = (mesh: PolyMesh, v: number, k: number): number => mesh.positions[3 * v + k];
const facesAt = (t: Topology, v: number): number => t.vertexStart[v + 1] - t.vertexStart[v];

/** Far ends of the sharp edges at a point: open ones, and those with some crease left. */
function sharpEnds(mesh: PolyMesh, t: Topology, v: number): number[] {
  const crease = mesh.layers.edge.crease?.data;
  const out = new Set<number>();
  for (let i = t.vertexStart[v]; i < t.vertexStart[v + 1]; i++) {
    const c = t.vertexCorners[i];
    const before = prevCorner(mesh, t, c);
    for (const [side, end] of [
      [c, nextCorner(mesh, t, c)],
      [before, before],
    ])
      if (t.twin[side] < 0 || (crease?.[t.edgeOfCorner[side]] ?? 0) > 0) out.add(mesh.corners[end]);
  }
  return [...out];
}

/** Ends of the edges and far corners of the quads around a point, in turn; null where one is no quad. */
function ringOf(mesh: PolyMesh, t: Topology, v: number): { ends: number[]; far: number[] } | null {
  const start = t.vertexCorners[t.vertexStart[v]];
  const ends: number[] = [];
  const far: number[] = [];
  let c = start;
  do {
    const f = t.faceOfCorner[c];
    if (mesh.faceStart[f + 1] - mesh.faceStart[f] !== 4) return null;
    const next = nextCorner(mesh, t, c);
    ends.push(mesh.corners[next]);
    far.push(mesh.corners[nextCorner(mesh, t, next)]);
    c = t.twin[prevCorner(mesh, t, c)];
  } while (c >= 0 && c !== start);
  return c === start && ends.length === facesAt(t, v) ? { ends, far } : null;
}

function smoothLimit(
  mesh: PolyMesh,
  v: number,
  { ends, far }: { ends: number[]; far: number[] },
): { limit: Vec3; up: Vec3 } {
  const n = ends.length;
  const step = (2 * Math.PI) / n;
  const a = 1 + Math.cos(step) + Math.cos(step / 2) * Math.sqrt(2 * (9 + Math.cos(step)));
  const limit: Vec3 = [0, 0, 0];
  const along: Vec3 = [0, 0, 0];
  const across: Vec3 = [0, 0, 0];
  for (let k = 0; k < 3; k++) {
    limit[k] = n * n * at(mesh, v, k);
    for (let i = 0; i < n; i++) {
      const [e, f] = [at(mesh, ends[i], k), at(mesh, far[i], k)];
      limit[k] += 4 * e + f;
      along[k] += a * Math.cos(step * i) * e + (Math.cos(step * i) + Math.cos(step * (i + 1))) * f;
      across[k] += a * Math.sin(step * i) * e + (Math.sin(step * i) + Math.sin(step * (i + 1))) * f;
    }
    limit[k] /= n * (n + 5);
  }
  return { limit, up: unit(cross(along, across)) };
}
