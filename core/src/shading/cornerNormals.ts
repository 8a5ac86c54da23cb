/**
 * Shading normals. Corners are grouped around each vertex into smooth fans, divided at hard edges (marked, or
 * sharper than an angle); within a fan every face's normal counts by the chosen weight and rank.
 *
 * Weights by corner angle: Thürmer & Wüthrich 1998. By area: the area vector itself. Rank and cut-off: only
 * faces of the strongest rank present count (lead, then plain, then follow), and among them only those whose
 * weight comes near the heaviest.
 */
import { type PolyMesh, faceCount, vertexCount } from '../mesh/PolyMesh';
import { RANK } from '../mesh/layers';
import { areaVectors } from '../mesh/measure';
import { topologyOf, type Topology } from '../mesh/Topology';

export type NormalWeight = 'angle' | 'area' | 'both';

export interface NormalOptions {
  /** Edges sharper than this are hard; degrees between face normals. */
  hardAngle: number;
  weight: NormalWeight;
  /** Let lead faces override plain ones, and plain ones follow ones. */
  useRank: boolean;
  /** A face counts if its weight is at least this share (0…1) of the fan's heaviest; 0 counts all. */
  cutOff: number;
  /** Keep held normals (corner layer `normal`) where present. */
  keepHeld: boolean;
}
export const NORMAL_DEFAULTS: NormalOptions = {
  hardAngle: 30,
  weight: 'angle',
  useRank: false,
  cutOff: 0,
  keepHeld: true,
};

const shown = new WeakMap<PolyMesh, Float32Array>();

/** The normals a mesh is drawn and exported with: held ones, else the default smoothing. Cached. */
export function shadingNormals(mesh: PolyMesh): Float32Array {
  let n = shown.get(mesh);
  if (!n) shown.set(mesh, (n = cornerNormals(mesh)));
  return n;
}

/**
 * Unit normal per corner, 3 numbers each. Linear in corners: each fan is walked once.
 * @param only corners to compute, whole vertices at a time (all corners around each); the rest stays zero
 */
export function cornerNormals(
  mesh: PolyMesh,
  options: Partial<NormalOptions> = {},
  only?: Uint32Array,
): Float32Array {
  const o = { ...NORMAL_DEFAULTS, ...options };
  const t = topologyOf(mesh);
  const n = mesh.corners.length;
  const out = new Float32Array(3 * n);
  const faces = unitFaceNormals(mesh);
  const weights = cornerWeights(mesh, faces, o.weight, t.faceOfCorner, only);
  const hard = hardCorners(mesh, t, faces.normals, o.hardAngle);
  const rank = o.useRank ? mesh.layers.face.rank?.data : undefined;
  const surface = mesh.layers.corner.surface?.data;
  const faceOf = t.faceOfCorner;
  const { faceStart } = mesh;
  const done = new Uint8Array(n);
  const fan = new Int32Array(largestFan(t, vertexCount(mesh)));
  const count = only ? only.length : n;
  for (let i = 0; i < count; i++) {
    const c0 = only ? only[i] : i;
    if (done[c0]) continue;
    // Go back to the fan's first corner: across the outgoing edge until it is hard, open or round again.
    let first = c0;
    for (;;) {
      const tw = t.twin[first];
      if (tw < 0 || hard[first]) break;
      const f = faceOf[tw];
      const back = tw + 1 === faceStart[f + 1] ? faceStart[f] : tw + 1;
      if (back === c0) break;
      first = back;
    }
    let size = 0;
    for (let c = first; ;) {
      fan[size++] = c;
      done[c] = 1;
      const f = faceOf[c];
      const into = c === faceStart[f] ? faceStart[f + 1] - 1 : c - 1;
      const tw = t.twin[into];
      if (tw < 0 || hard[into] || done[tw]) break;
      c = tw;
    }
    sumFan(out, fan, size, faceOf, faces.normals, weights, rank, surface, o.cutOff);
  }
  if (o.keepHeld) overlayHeld(mesh, out);
  return out;
}

function largestFan(t: Topology, V: number): number {
  let most = 0;
  for (let v = 0; v < V; v++) most = Math.max(most, t.vertexStart[v + 1] - t.vertexStart[v]);
  return most;
}

function sumFan(
  out: Float32Array,
  fan: Int32Array,
  size: number,
  faceOf: Uint32Array,
  normals: Float64Array,
  weights: Float64Array,
  rank: ArrayLike<number> | undefined,
  surface: ArrayLike<number> | undefined,
  cutOff: number,
): void {
  let best = 99;
  if (rank) for (let i = 0; i < size; i++) best = Math.min(best, strength(rank[faceOf[fan[i]]]));
  let heaviest = 0;
  if (cutOff > 0)
    for (let i = 0; i < size; i++)
      if (!rank || strength(rank[faceOf[fan[i]]]) === best) heaviest = Math.max(heaviest, weights[fan[i]]);
  let x = 0;
  let y = 0;
  let z = 0;
  for (let i = 0; i < size; i++) {
    const c = fan[i];
    const f = faceOf[c];
    if (rank && strength(rank[f]) !== best) continue;
    const w = weights[c];
    if (cutOff > 0 && w < cutOff * heaviest) continue;
    if (surface && (surface[3 * c] !== 0 || surface[3 * c + 1] !== 0 || surface[3 * c + 2] !== 0)) {
      x += w * surface[3 * c];
      y += w * surface[3 * c + 1];
      z += w * surface[3 * c + 2];
    } else {
      x += w * normals[3 * f];
      y += w * normals[3 * f + 1];
      z += w * normals[3 * f + 2];
    }
  }
  let l = Math.sqrt(x * x + y * y + z * z);
  if (l < 1e-12) {
    // Faces that cancel out (a knife edge): fall back to each corner's own face.
    for (let i = 0; i < size; i++) {
      const f = faceOf[fan[i]];
      for (let k = 0; k < 3; k++) out[3 * fan[i] + k] = normals[3 * f + k];
    }
    return;
  }
  l = 1 / l;
  x *= l;
  y *= l;
  z *= l;
  for (let i = 0; i < size; i++) {
    const c = 3 * fan[i];
    out[c] = x;
    out[c + 1] = y;
    out[c + 2] = z;
  }
}

/** Lower is stronger. */
const strength = (rank: number): number => (rank === RANK.lead ? 0 : rank === RANK.follow ? 2 : 1);

interface FaceNormals {
  normals: Float64Array;
  areas: Float64Array;
}

function unitFaceNormals(mesh: PolyMesh): FaceNormals {
  const a = areaVectors(mesh);
  const F = faceCount(mesh);
  const normals = new Float64Array(3 * F);
  const areas = new Float64Array(F);
  for (let f = 0; f < F; f++) {
    const l = Math.sqrt(a[3 * f] * a[3 * f] + a[3 * f + 1] * a[3 * f + 1] + a[3 * f + 2] * a[3 * f + 2]);
    areas[f] = l / 2;
    const s = l > 0 ? 1 / l : 0;
    normals[3 * f] = a[3 * f] * s;
    normals[3 * f + 1] = a[3 * f + 1] * s;
    normals[3 * f + 2] = a[3 * f + 2] * s;
  }
  return { normals, areas };
}

function cornerWeights(
  mesh: PolyMesh,
  faces: FaceNormals,
  kind: NormalWeight,
  faceOf: Uint32Array,
  only?: Uint32Array,
): Float64Array {
  const out = new Float64Array(mesh.corners.length);
  const { faceStart } = mesh;
  const weigh = (f: number, s: number, e: number, c: number): void => {
    const angle = cornerAngle(mesh, faces.normals, f, c === s ? e - 1 : c - 1, c, c + 1 === e ? s : c + 1);
    out[c] = kind === 'angle' ? angle : angle * faces.areas[f];
  };
  if (only)
    for (const c of only) {
      const f = faceOf[c];
      if (kind === 'area') out[c] = faces.areas[f];
      else weigh(f, faceStart[f], faceStart[f + 1], c);
    }
  else
    for (let f = 0; f < faceCount(mesh); f++) {
      const s = faceStart[f];
      const e = faceStart[f + 1];
      if (kind === 'area') out.fill(faces.areas[f], s, e);
      else for (let c = s; c < e; c++) weigh(f, s, e, c);
    }
  return out;
}

/** Inner angle at corner b of its face, radians in (0, 2π); past π at reflex corners. */
function cornerAngle(m: PolyMesh, n: Float64Array, f: number, a: number, b: number, c: number): number {
  const p = m.positions;
  const i = 3 * m.corners[a];
  const j = 3 * m.corners[b];
  const k = 3 * m.corners[c];
  const ux = p[k] - p[j];
  const uy = p[k + 1] - p[j + 1];
  const uz = p[k + 2] - p[j + 2];
  const vx = p[i] - p[j];
  const vy = p[i + 1] - p[j + 1];
  const vz = p[i + 2] - p[j + 2];
  const sin =
    (uy * vz - uz * vy) * n[3 * f] + (uz * vx - ux * vz) * n[3 * f + 1] + (ux * vy - uy * vx) * n[3 * f + 2];
  const angle = Math.atan2(sin, ux * vx + uy * vy + uz * vz);
  return angle < 0 ? angle + 2 * Math.PI : angle;
}

/** 1 per corner whose outgoing edge is hard. Bridge edges never are. */
function hardCorners(mesh: PolyMesh, t: Topology, n: Float64Array, hardAngle: number): Uint8Array {
  const out = new Uint8Array(mesh.corners.length);
  const marked = mesh.layers.edge.hard?.data;
  const bridge = mesh.layers.edge.bridge?.data;
  const limit = Math.cos((hardAngle * Math.PI) / 180) - 1e-9;
  for (let c = 0; c < out.length; c++) {
    const tw = t.twin[c];
    if (tw < c) continue;
    const f = 3 * t.faceOfCorner[c];
    const g = 3 * t.faceOfCorner[tw];
    const e = t.edgeOfCorner[c];
    if (bridge && bridge[e]) continue;
    const cos = n[f] * n[g] + n[f + 1] * n[g + 1] + n[f + 2] * n[g + 2];
    if (cos < limit || (marked && marked[e])) out[c] = out[tw] = 1;
  }
  return out;
}

function overlayHeld(mesh: PolyMesh, out: Float32Array): void {
  const held = mesh.layers.corner.normal?.data;
  if (!held) return;
  for (let c = 0; c < held.length; c += 3)
    if (held[c] !== 0 || held[c + 1] !== 0 || held[c + 2] !== 0) {
      out[c] = held[c];
      out[c + 1] = held[c + 1];
      out[c + 2] = held[c + 2];
    }
}
