/**
 * Shading normals. Corners are grouped around each vertex into smooth fans, divided at hard edges (marked, or
 * sharper than an angle); within a fan every face's normal counts by the chosen weight and rank.
 *
 * Weights by corner angle: Thürmer & Wüthrich 1998. By area: the area vector itself. Of a fan only the faces that lead it
 * most count, and among them only those whose weight comes near the heaviest. Where all of these are facets of a curved
 * surface or strips, the angle counts whatever the weight: area would make a facet pull the surface its way. Around a
 * corner with a face that was weighed by hand (layer `weight`) all count by such weights, whoever leads.
 */
import { type PolyMesh, faceCount, vertexCount } from '../mesh/PolyMesh';
import { areaVectors } from '../mesh/measure';
import { nextCorner, topologyOf, type Topology } from '../mesh/Topology';

export type NormalWeight = 'angle' | 'area' | 'both' | 'squared';

/** How the faces of a mesh count beside each other. */
export interface FaceStanding {
  /** Per face: the lowest around a fan counts, the others follow. */
  place: Uint8Array;
  /** 1 per face that counts by its angle where all that lead a fan do. */
  byAngle: Uint8Array;
}

export interface NormalOptions {
  /** Edges sharper than this are hard; degrees between face normals. */
  hardAngle: number;
  weight: NormalWeight;
  /** The order of leading faces; null lets all count alike. */
  standing: FaceStanding | null;
  /** A face counts if its weight is at least this share (0…1) of the fan's heaviest; 0 counts all. */
  cutOff: number;
  /** Weights within this share (0…1) of the fan's heaviest count as that one. */
  alike: number;
  /** Edges at which the UVs part, or that are marked as seams, are hard. */
  hardSeams: boolean;
  /** Edges between two materials are hard. */
  hardMaterials: boolean;
  /** Keep held normals (corner layer `normal`) where present. */
  keepHeld: boolean;
}
export const NORMAL_DEFAULTS: NormalOptions = {
  hardAngle: 30,
  weight: 'angle',
  standing: null,
  cutOff: 0,
  alike: 0,
  hardSeams: false,
  hardMaterials: false,
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
  const held = o.keepHeld ? mesh.layers.corner.normal?.data : undefined;
  if (held && allHeld(held)) return Float32Array.from(held);
  const t = topologyOf(mesh);
  const n = mesh.corners.length;
  const out = new Float32Array(3 * n);
  const faces = unitFaceNormals(mesh);
  const weights = cornerWeights(mesh, faces, o.weight, t.faceOfCorner, only);
  const hard = hardCorners(mesh, t, faces.normals, o.hardAngle);
  if (o.hardSeams || o.hardMaterials) addBorders(mesh, t, hard, o);
  const byHand = o.standing && o.weight !== 'angle' ? mesh.layers.face.weight?.data : undefined;
  const angles =
    o.standing && o.weight !== 'angle' ? cornerWeights(mesh, faces, 'angle', t.faceOfCorner, only) : null;
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
    const weighed = byHand !== undefined && someWeighed(fan, size, faceOf, byHand);
    const at = weighed ? asWeighed(fan, size, faceOf, byHand, weights, angles!, o.weight) : null;
    if (at) sumFan(out, fan, size, faceOf, faces.normals, at, null, surface, o, null);
    else sumFan(out, fan, size, faceOf, faces.normals, weights, angles, surface, o, o.standing);
  }
  if (held) overlayHeld(held, out);
  return out;
}

/** The weight of a face without one, where others around the corner have theirs. */
const UNWEIGHED = 50;

function someWeighed(fan: Int32Array, size: number, faceOf: Uint32Array, byHand: ArrayLike<number>): boolean {
  for (let i = 0; i < size; i++) if (byHand[faceOf[fan[i]]] > 0) return true;
  return false;
}

/** The weights of a fan with what was set by hand in place of the area. */
function asWeighed(
  fan: Int32Array,
  size: number,
  faceOf: Uint32Array,
  byHand: ArrayLike<number>,
  weights: Float64Array,
  angles: Float64Array,
  kind: NormalWeight,
): Float64Array {
  // Corners of a fan are summed once, so theirs may be written over.
  for (let i = 0; i < size; i++) {
    const c = fan[i];
    const set = byHand[faceOf[c]];
    const w = set > 0 ? set - 1 : UNWEIGHED;
    weights[c] = kind === 'squared' ? w * w : kind === 'both' ? w * angles[c] : w;
  }
  return weights;
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
  chosen: Float64Array,
  angles: Float64Array | null,
  surface: ArrayLike<number> | undefined,
  { cutOff, alike }: Pick<NormalOptions, 'cutOff' | 'alike'>,
  standing: FaceStanding | null,
): void {
  const place = standing?.place;
  let best = 255;
  if (place) for (let i = 0; i < size; i++) best = Math.min(best, place[faceOf[fan[i]]]);
  let byAngle = angles !== null;
  for (let i = 0; byAngle && i < size; i++) {
    const f = faceOf[fan[i]];
    if (place![f] === best && !standing!.byAngle[f]) byAngle = false;
  }
  const weights = byAngle ? angles! : chosen;
  let heaviest = 0;
  if (cutOff > 0 || alike > 0)
    for (let i = 0; i < size; i++)
      if (!place || place[faceOf[fan[i]]] === best) heaviest = Math.max(heaviest, weights[fan[i]]);
  let x = 0;
  let y = 0;
  let z = 0;
  for (let i = 0; i < size; i++) {
    const c = fan[i];
    const f = faceOf[c];
    if (place && place[f] !== best) continue;
    let w = weights[c];
    if (cutOff > 0 && w < cutOff * heaviest) continue;
    if (w >= (1 - alike) * heaviest && alike > 0) w = heaviest;
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
  const areaWeight = (area: number): number => (kind === 'squared' ? area * area : area);
  const weigh = (f: number, s: number, e: number, c: number): void => {
    const angle = cornerAngle(mesh, faces.normals, f, c === s ? e - 1 : c - 1, c, c + 1 === e ? s : c + 1);
    out[c] = kind === 'angle' ? angle : angle * faces.areas[f];
  };
  if (only)
    for (const c of only) {
      const f = faceOf[c];
      if (kind === 'area' || kind === 'squared') out[c] = areaWeight(faces.areas[f]);
      else weigh(f, faceStart[f], faceStart[f + 1], c);
    }
  else
    for (let f = 0; f < faceCount(mesh); f++) {
      const s = faceStart[f];
      const e = faceStart[f + 1];
      if (kind === 'area' || kind === 'squared') out.fill(areaWeight(faces.areas[f]), s, e);
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

/** 1 per corner over whose outgoing edge the shading runs on: neither open, nor marked hard, nor sharper than the angle. */
export function softCorners(mesh: PolyMesh, hardAngle: number): Uint8Array {
  const t = topologyOf(mesh);
  const hard = hardCorners(mesh, t, unitFaceNormals(mesh).normals, hardAngle);
  return hard.map((x, c) => Number(!x && t.twin[c] >= 0));
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

/** Marks corners over whose outgoing edge the UVs or the material change. */
function addBorders(
  mesh: PolyMesh,
  t: Topology,
  hard: Uint8Array,
  { hardSeams, hardMaterials }: Pick<NormalOptions, 'hardSeams' | 'hardMaterials'>,
): void {
  const seam = hardSeams ? mesh.layers.edge.seam?.data : undefined;
  const uv = hardSeams ? mesh.layers.corner.uv?.data : undefined;
  const material = hardMaterials ? mesh.layers.face.material?.data : undefined;
  const apart = (a: number, b: number): boolean =>
    Math.abs(uv![2 * a] - uv![2 * b]) > SAME_UV || Math.abs(uv![2 * a + 1] - uv![2 * b + 1]) > SAME_UV;
  for (let c = 0; c < hard.length; c++) {
    const tw = t.twin[c];
    if (tw < c || hard[c]) continue;
    const parts =
      (seam && seam[t.edgeOfCorner[c]] > 0) ||
      (material && material[t.faceOfCorner[c]] !== material[t.faceOfCorner[tw]]) ||
      (uv && (apart(c, nextCorner(mesh, t, tw)) || apart(nextCorner(mesh, t, c), tw)));
    if (parts) hard[c] = hard[tw] = 1;
  }
}

/** UVs nearer to each other are one. */
const SAME_UV = 1e-6;

function allHeld(held: ArrayLike<number>): boolean {
  for (let c = 0; c < held.length; c += 3)
    if (held[c] === 0 && held[c + 1] === 0 && held[c + 2] === 0) return false;
  return true;
}

function overlayHeld(held: ArrayLike<number>, out: Float32Array): void {
  for (let c = 0; c < held.length; c += 3)
    if (held[c] !== 0 || held[c + 1] !== 0 || held[c + 2] !== 0) {
      out[c] = held[c];
      out[c + 1] = held[c + 1];
      out[c + 2] = held[c + 2];
    }
}
