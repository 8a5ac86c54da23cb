/**
 * Further faults of shading and UVs, each reported with its place:
 *
 * - *lie*: a shading normal more than 90° from its face;
 * - *break*: two corners at one point of an edge within one sheet that are shaded differently;
 * - *ripple*: over a quad of a sheet the shading turns against the surface, a dent in the gloss that is not there;
 * - *leak*: a cut or a rounding has changed how a face beside it is shaded: see `leak.ts`;
 * - *seam*: shading parts at an edge over which the UVs run on, so a baked map bleeds there;
 * - *mirrored*: a face whose UVs are laid out the other way round than most around it are;
 * - *flat*: a face with area whose UVs have none.
 *
 * UVs count where a person laid them out, as in a file. A sheet is what stands for one surface by its shape alone, whatever the shading says: see `FaceRoles`.
 */
import { edgeLines } from '../inspect/edgeLines';
import { areaVectors } from '../mesh/measure';
import { faceCount, type PolyMesh } from '../mesh/PolyMesh';
import { nextCorner, topologyOf, type Topology } from '../mesh/Topology';
import { shadingNormals } from './shadingNormals';
import { softCorners } from './hardEdges';
import { CURVED, FaceRoles, FLAT_FACE } from './faceRoles';
import { shadingLeak } from './leak';
import { OFF } from './limits';

export type ShadingFaultKind = 'lie' | 'break' | 'ripple' | 'leak' | 'seam' | 'mirrored' | 'flat';

export interface ShadingFault {
  kind: ShadingFaultKind;
  /** Edges for breaks and seams, faces for all others; ascending. */
  indices: number[];
  /** The most it is off, degrees; of UVs 0. */
  worst: number;
}

/** Edges that turn by more are no part of a sheet, degrees. */
const SHEET_ANGLE = 30;
/** Shading that differs by less is taken for the same, degrees. */
const SAME = 1;
const SAME_COSINE = Math.cos((SAME * Math.PI) / 180);
const MEANT_COSINE = Math.cos((OFF * Math.PI) / 180);
/** Shading that turns back by less is no dent, degrees. */
const DENT = 1;
/** Areas of UVs below this share of the median are none. */
const NO_AREA = 1e-9;

const degrees = (x: number): number => (x * 180) / Math.PI;
const at = (n: ArrayLike<number>, i: number, j: number): number =>
  n[3 * i] * n[3 * j] + n[3 * i + 1] * n[3 * j + 1] + n[3 * i + 2] * n[3 * j + 2];
const dotAt = (a: ArrayLike<number>, b: ArrayLike<number>, c: number): number =>
  a[3 * c] * b[3 * c] + a[3 * c + 1] * b[3 * c + 1] + a[3 * c + 2] * b[3 * c + 2];
const between = (cos: number): number => degrees(Math.acos(Math.min(1, Math.max(-1, cos))));

/** Elements of a fault that are lit at most. */
const MOST_LIT = 5000;

/** The lines of a fault: its edges, or those of its faces; 6 numbers each. */
export function faultLines(mesh: PolyMesh, { kind, indices }: ShadingFault): Float64Array {
  const lit = indices.slice(0, MOST_LIT);
  if (kind === 'break' || kind === 'seam') return edgeLines(mesh, lit);
  const t = topologyOf(mesh);
  const edges = new Set<number>();
  for (const f of lit)
    for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) edges.add(t.edgeOfCorner[c]);
  return edgeLines(mesh, [...edges]);
}

/**
 * All that is found, in the order of the kinds; a kind of which nothing is found is left out. Linear in corners, but for
 * leaks.
 * @param formed the piece before its cuts and roundings, to tell leaks by
 */
export function shadingFaults(mesh: PolyMesh, formed: PolyMesh | null = null): ShadingFault[] {
  const shown = shadingNormals(mesh);
  const leaks =
    formed && isCut(mesh, formed) && isSound(formed) ? [told('leak', shadingLeak(mesh, formed))] : [];
  return [lies(mesh, shown), ...onSheets(mesh, shown), ...leaks, ...ofUVs(mesh, shown)].filter(
    (f) => f.indices.length > 0,
  );
}

const told = (kind: ShadingFaultKind, found: Omit<ShadingFault, 'kind'>): ShadingFault => ({
  kind,
  ...found,
});

/** More than the same faces with other shading. */
const isCut = (mesh: PolyMesh, formed: PolyMesh): boolean =>
  mesh.corners !== formed.corners || mesh.positions !== formed.positions;

const sound = new WeakMap<PolyMesh, boolean>();

/** Faces shaded wrong before a cut do not count after it. */
function isSound(formed: PolyMesh): boolean {
  let known = sound.get(formed);
  if (known === undefined) {
    const shown = shadingNormals(formed);
    known = [lies(formed, shown), ...onSheets(formed, shown)].every((f) => !f.indices.length);
    sound.set(formed, known);
  }
  return known;
}

function lies(mesh: PolyMesh, shown: Float32Array): ShadingFault {
  const normals = areaVectors(mesh);
  const indices: number[] = [];
  let worst = 0;
  for (let f = 0; f < faceCount(mesh); f++) {
    const length = Math.sqrt(at(normals, f, f));
    let least = 0;
    for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) {
      const cos =
        normals[3 * f] * shown[3 * c] +
        normals[3 * f + 1] * shown[3 * c + 1] +
        normals[3 * f + 2] * shown[3 * c + 2];
      least = Math.min(least, cos / length);
    }
    // Exactly square to it is on the rim, and no lie yet.
    if (!(length > 0) || least > -1e-6) continue;
    indices.push(f);
    worst = Math.max(worst, between(least));
  }
  return { kind: 'lie', indices, worst };
}

/** Breaks and ripples: what is told of sheets. */
function onSheets(mesh: PolyMesh, shown: Float32Array): [ShadingFault, ShadingFault] {
  const t = topologyOf(mesh);
  const areas = areaVectors(mesh);
  const soft = softCorners(mesh, SHEET_ANGLE);
  const roles = new FaceRoles(mesh, soft).all();
  const broken: ShadingFault = { kind: 'break', indices: [], worst: 0 };
  const rippled: ShadingFault = { kind: 'ripple', indices: [], worst: 0 };
  const inSheet = (c: number): boolean => {
    const d = t.twin[c];
    return (
      d >= 0 && soft[c] === 1 && roles[t.faceOfCorner[c]] === CURVED && roles[t.faceOfCorner[d]] === CURVED
    );
  };
  const surface = mesh.layers.corner.surface?.data;
  const isKnown = (k: number): boolean =>
    surface !== undefined && (surface[3 * k] !== 0 || surface[3 * k + 1] !== 0 || surface[3 * k + 2] !== 0);
  /** Two surfaces meet at a vertex: two that are known, or one that is with one that is not. */
  const areTwo = (a: number, b: number): boolean =>
    isKnown(a) !== isKnown(b) || (isKnown(a) && at(surface!, a, b) < SAME_COSINE);
  for (let e = 0; e < t.edgeCount; e++) {
    const c = t.cornerOfEdge[e];
    const d = t.twin[c];
    if (!inSheet(c) && !isFlatSeam(areas, t, roles, soft, c)) continue;
    let least = 1;
    for (const [a, b] of [
      [c, nextCorner(mesh, t, d)],
      [nextCorner(mesh, t, c), d],
    ])
      if (!areTwo(a, b)) least = Math.min(least, at(shown, a, b));
    if (least >= SAME_COSINE) continue;
    const off = between(least);
    broken.indices.push(e);
    broken.worst = Math.max(broken.worst, off);
  }
  for (let f = 0; f < roles.length; f++) {
    const s = mesh.faceStart[f];
    if (roles[f] !== CURVED || mesh.faceStart[f + 1] - s !== 4) continue;
    // Shaded as it is meant, it ripples as its surface does.
    if ([0, 1, 2, 3].every((k) => isKnown(s + k) && dotAt(surface!, shown, s + k) > MEANT_COSINE)) continue;
    const back = Math.max(
      turnedBack(mesh, t, areas, shown, inSheet, s),
      turnedBack(mesh, t, areas, shown, inSheet, s + 1),
    );
    if (back <= DENT) continue;
    rippled.indices.push(f);
    rippled.worst = Math.max(rippled.worst, back);
  }
  return [broken, rippled];
}

/** Two flat faces in one plane that were one. */
function isFlatSeam(
  areas: Float64Array,
  t: Topology,
  roles: Uint8Array,
  soft: Uint8Array,
  c: number,
): boolean {
  const d = t.twin[c];
  if (d < 0 || !soft[c]) return false;
  const [f, g] = [t.faceOfCorner[c], t.faceOfCorner[d]];
  if (roles[f] !== FLAT_FACE || roles[g] !== FLAT_FACE) return false;
  const cos = at(areas, f, g) / Math.sqrt(at(areas, f, f) * at(areas, g, g));
  return cos > 1 - 1e-9;
}

/**
 * How far the shading turns against the surface from one side of a quad to the opposite one, degrees. The surface must
 * turn the same way over both.
 * @param c corner whose outgoing edge is the one side
 */
function turnedBack(
  mesh: PolyMesh,
  t: Topology,
  areas: Float64Array,
  shown: Float32Array,
  inSheet: (c: number) => boolean,
  c: number,
): number {
  const f = t.faceOfCorner[c];
  const s = mesh.faceStart[f];
  const corner = (k: number): number => s + ((c - s + k) % 4);
  const opposite = corner(2);
  if (!inSheet(c) || !inSheet(opposite)) return 0;
  const [a, b] = [outward(mesh, t, areas, c), outward(mesh, t, areas, opposite)];
  if (Math.abs(a) < SAME || Math.abs(b) < SAME || a > 0 !== b > 0) return 0;
  // From the middle of the one side to that of the other.
  const p = mesh.positions;
  const way = [0, 0, 0];
  const turn = [0, 0, 0];
  for (let k = 0; k < 3; k++) {
    const point = (i: number): number => p[3 * mesh.corners[corner(i)] + k];
    way[k] = point(2) + point(3) - point(0) - point(1);
    const normal = (i: number): number => shown[3 * corner(i) + k];
    turn[k] = (normal(2) + normal(3) - normal(0) - normal(1)) / 2;
  }
  const along = (turn[0] * way[0] + turn[1] * way[1] + turn[2] * way[2]) / (Math.hypot(...way) || 1);
  // Where the surface turns outward, normals lean apart along the way.
  const back = a > 0 ? -along : along;
  return back > 0 ? degrees(2 * Math.asin(Math.min(1, back / 2))) : 0;
}

/** Turn of the surface over the outgoing edge of a corner, degrees; below zero where it turns inward. */
function outward(mesh: PolyMesh, t: Topology, n: Float64Array, c: number): number {
  const f = 3 * t.faceOfCorner[c];
  const g = 3 * t.faceOfCorner[t.twin[c]];
  const [a, b] = [3 * mesh.corners[c], 3 * mesh.corners[nextCorner(mesh, t, c)]];
  const p = mesh.positions;
  const [x, y, z] = [p[b] - p[a], p[b + 1] - p[a + 1], p[b + 2] - p[a + 2]];
  const sin =
    (n[f + 1] * n[g + 2] - n[f + 2] * n[g + 1]) * x +
    (n[f + 2] * n[g] - n[f] * n[g + 2]) * y +
    (n[f] * n[g + 1] - n[f + 1] * n[g]) * z;
  const cos = n[f] * n[g] + n[f + 1] * n[g + 1] + n[f + 2] * n[g + 2];
  return degrees(Math.atan2(sin / (Math.sqrt(x * x + y * y + z * z) || 1), cos));
}

function ofUVs(mesh: PolyMesh, shown: Float32Array): ShadingFault[] {
  const uv = mesh.layers.corner.uv?.data;
  // UVs that come with a primitive are not a layout yet.
  const laid = mesh.layers.face.uvLaid?.data;
  if (!uv || !laid) return [];
  const t = topologyOf(mesh);
  const F = faceCount(mesh);
  const areas = new Float64Array(F);
  const inSpace = areaVectors(mesh);
  for (let f = 0; f < F; f++) {
    const [s, e] = [mesh.faceStart[f], mesh.faceStart[f + 1]];
    for (let c = s; c < e; c++) {
      const d = c + 1 === e ? s : c + 1;
      areas[f] += (uv[2 * c] * uv[2 * d + 1] - uv[2 * d] * uv[2 * c + 1]) / 2;
    }
  }
  const sizes = areas.map(Math.abs).sort();
  const none = NO_AREA * (sizes[F >> 1] || 1);
  const seam: ShadingFault = { kind: 'seam', indices: [], worst: 0 };
  const mirrored: ShadingFault = { kind: 'mirrored', indices: [], worst: 0 };
  const flat: ShadingFault = { kind: 'flat', indices: [], worst: 0 };
  let against = 0;
  for (let f = 0; f < F; f++) {
    if (!laid[f]) continue;
    if (Math.abs(areas[f]) <= none && at(inSpace, f, f) > 0) flat.indices.push(f);
    against += Math.sign(areas[f]);
  }
  for (let f = 0; f < F; f++)
    if (laid[f] && Math.abs(areas[f]) > none && areas[f] > 0 !== against >= 0) mirrored.indices.push(f);
  const same = (c: number, d: number): boolean =>
    Math.abs(uv[2 * c] - uv[2 * d]) < 1e-6 && Math.abs(uv[2 * c + 1] - uv[2 * d + 1]) < 1e-6;
  for (let e = 0; e < t.edgeCount; e++) {
    const c = t.cornerOfEdge[e];
    const d = t.twin[c];
    if (d < 0 || !laid[t.faceOfCorner[c]] || !laid[t.faceOfCorner[d]]) continue;
    const [b, a] = [nextCorner(mesh, t, c), nextCorner(mesh, t, d)];
    const off = between(Math.min(at(shown, c, a), at(shown, b, d)));
    if (off <= SAME || !same(c, a) || !same(b, d)) continue;
    seam.indices.push(e);
    seam.worst = Math.max(seam.worst, off);
  }
  return [seam, mirrored, flat];
}
