/**
 * Finds edges that only approximate a surface. Faces joined across them are one sheet, and a rounded edge's side runs
 * over them as over paper.
 */
import type { PolyMesh } from '../../mesh/PolyMesh';
import { nextCorner, type Topology } from '../../mesh/Topology';
import { areaVectors } from '../../mesh/measure';
import { TOLERANCE } from '../../mesh/tolerance';

/** Faces that meet at less than this are one sheet, whatever they came from; radians. */
const SOFT_ANGLE = (35 * Math.PI) / 180;
/** Normals of the true surface on both sides of an edge that differ by less belong to one surface; cosine. */
const SAME_SURFACE = Math.cos((2 * Math.PI) / 180);

/**
 * 1 per edge that does not end a sheet: a bridge, or one between faces of a flat or curved surface.
 * @param follow with `edges` only flat faces are sheets
 */
export function softEdges(
  mesh: PolyMesh,
  t: Topology,
  rounded: Uint8Array,
  follow: 'surface' | 'edges',
): Uint8Array {
  if (follow === 'edges') return flatButEnds(mesh, t, rounded);
  const out = new Uint8Array(t.edgeCount);
  const bridge = mesh.layers.edge.bridge?.data;
  const hard = mesh.layers.edge.hard?.data;
  const n = areaVectors(mesh);
  const least = Math.cos(SOFT_ANGLE);
  for (let e = 0; e < t.edgeCount; e++) {
    const c = t.cornerOfEdge[e];
    const d = t.twin[c];
    if (d < 0 || rounded[e]) continue;
    if (bridge?.[e]) out[e] = 1;
    else if (!hard?.[e])
      out[e] = Number(
        cosBetween(n, t.faceOfCorner[c], t.faceOfCorner[d]) > least || onOneSurface(mesh, t, c, d),
      );
  }
  return out;
}

/** Bridges and edges within a plane, but for those on which the strip of a run of edges can end. */
function flatButEnds(mesh: PolyMesh, t: Topology, rounded: Uint8Array): Uint8Array {
  const bridge = mesh.layers.edge.bridge?.data;
  const runs = new Uint8Array(mesh.positions.length / 3);
  for (let e = 0; e < rounded.length; e++)
    if (rounded[e]) for (const v of [t.edges[2 * e], t.edges[2 * e + 1]]) runs[v] = Math.min(2, runs[v] + 1);
  const ends = (e: number): boolean => runs[t.edges[2 * e]] === 1 || runs[t.edges[2 * e + 1]] === 1;
  return flatEdges(mesh, t).map((x, e) => Number(x && !rounded[e] && (bridge?.[e] || !ends(e))));
}

function cosBetween(n: Float64Array, f: number, g: number): number {
  const [a, b] = [3 * f, 3 * g];
  const both = Math.hypot(n[a], n[a + 1], n[a + 2]) * Math.hypot(n[b], n[b + 1], n[b + 2]);
  // A face without area has no say.
  return both > 0 ? (n[a] * n[b] + n[a + 1] * n[b + 1] + n[a + 2] * n[b + 2]) / both : 1;
}

/** Both faces remember the same normals of a curved surface at both ends of their edge. */
function onOneSurface(mesh: PolyMesh, t: Topology, c: number, d: number): boolean {
  const s = mesh.layers.corner.surface?.data;
  if (!s) return false;
  const alike = (i: number, j: number): boolean => {
    const [a, b] = [3 * i, 3 * j];
    const [aa, bb] = [Math.hypot(s[a], s[a + 1], s[a + 2]), Math.hypot(s[b], s[b + 1], s[b + 2])];
    return aa > 0.5 && bb > 0.5 && s[a] * s[b] + s[a + 1] * s[b + 1] + s[a + 2] * s[b + 2] > SAME_SURFACE;
  };
  return alike(c, nextCorner(mesh, t, d)) && alike(nextCorner(mesh, t, c), d);
}

/** 1 per edge there is nothing to round at: bridges, and edges between faces of one plane. */
export function flatEdges(mesh: PolyMesh, t: Topology): Uint8Array {
  const out = new Uint8Array(t.edgeCount);
  const bridge = mesh.layers.edge.bridge?.data;
  const n = areaVectors(mesh);
  const sin = Math.sin(TOLERANCE.coplanarAngle * 100);
  for (let e = 0; e < t.edgeCount; e++) {
    const c = t.cornerOfEdge[e];
    if (t.twin[c] < 0) continue;
    if (bridge?.[e]) {
      out[e] = 1;
      continue;
    }
    const f = 3 * t.faceOfCorner[c];
    const g = 3 * t.faceOfCorner[t.twin[c]];
    const x = n[f + 1] * n[g + 2] - n[f + 2] * n[g + 1];
    const y = n[f + 2] * n[g] - n[f] * n[g + 2];
    const z = n[f] * n[g + 1] - n[f + 1] * n[g];
    const cos = n[f] * n[g] + n[f + 1] * n[g + 1] + n[f + 2] * n[g + 2];
    // |a×b| < sin·|a||b|, with a·b standing for |a||b| at such small angles.
    if (cos > 0 && x * x + y * y + z * z < sin * sin * cos * cos) out[e] = 1;
  }
  return out;
}

/** Whether edges lie on a surface that their faces only approximate, so that nothing would end a sheet beside them. */
export function lieOnSurface(mesh: PolyMesh, t: Topology, edges: ReadonlyArray<number>): boolean {
  const soft = softEdges(mesh, t, new Uint8Array(t.edgeCount), 'surface');
  return edges.some((e) => soft[e]);
}
