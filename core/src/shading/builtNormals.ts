/**
 * Shading normals as built: where the surface a face stands for is known (layer `surface`), its normal; elsewhere the
 * common normal of the smooth fan by weights.
 *
 * Between two faces the shading goes on where both have the same normal there, whatever the angle of their facets. Where
 * they differ it is an edge between surfaces: it parts above the hard angle, measured between the two normals. Where
 * faces agree at one end of an edge and differ at the other, as at the point of a cone, it parts at that end only.
 */
import { follows } from '../mesh/layers';
import { areaVectors } from '../mesh/measure';
import { faceCount, type PolyMesh } from '../mesh/PolyMesh';
import { nextCorner, topologyOf, type Topology } from '../mesh/Topology';
import { cornerWeights, unitFaceNormals, type NormalWeight } from './cornerWeights';
import { FanWeights, type FaceStanding } from './FanWeights';
import { eachFan } from './fans';
import { addBorders, type Borders } from './hardEdges';
import { FLAT_FACE } from './faceRoles';
import { leadingOrder } from './leads';
import { leansOver } from './leans';
import { unknownRoles } from './unknownRoles';
import { whereNormalsDiffer } from './whereNormalsDiffer';
import { allHeld, overlayHeld } from './heldNormals';

export interface BuiltOptions extends Borders {
  /** Edges between surfaces that differ by more are hard, degrees. */
  hardAngle: number;
  /** How faces count whose surface is not known. */
  weight: NormalWeight;
  /** The order in which those lead, asked for only where there are any. */
  standing: (() => FaceStanding) | null;
  /** Per face: where known normals in one fan differ, the lowest count; null for the usual order. */
  leads: (() => Uint8Array) | null;
  /** Keep held normals (corner layer `normal`) where present. */
  keepHeld: boolean;
}

export const BUILT_DEFAULTS: BuiltOptions = {
  hardAngle: 30,
  weight: 'angle',
  standing: null,
  leads: null,
  hardSeams: false,
  hardMaterials: false,
  keepHeld: true,
};

const COS_SAME = Math.cos(Math.PI / 180);
/** Normals that differ by less are one; 1 less the cosine. */
const EQUAL = 1e-12;

/**
 * Unit normal per corner, 3 numbers each. Linear in corners; where all corners around a vertex agree there is nothing to
 * do for it.
 * @param only corners to compute, whole vertices at a time (all corners around each); the others hold what is known
 */
export function builtNormals(
  mesh: PolyMesh,
  options: Partial<BuiltOptions> = {},
  only?: Uint32Array,
): Float32Array {
  const o = { ...BUILT_DEFAULTS, ...options };
  const held = o.keepHeld ? mesh.layers.corner.normal?.data : undefined;
  if (held && allHeld(held)) return Float32Array.from(held);
  const surface = mesh.layers.corner.surface?.data;
  const out = surface ? Float32Array.from(surface) : new Float32Array(3 * mesh.corners.length);
  const open = only ?? (surface ? whereNormalsDiffer(mesh, surface) : undefined);
  if (!open || open.length) new Built(mesh, o, open).write(out);
  if (held) overlayHeld(held, out);
  return out;
}

class Built {
  private readonly t: Topology;
  private readonly areas: Float64Array;
  /** Unit normals of faces, as far as they were asked for. */
  private readonly normals: Float64Array;
  private readonly surface: ArrayLike<number> | undefined;
  private readonly ranks: ArrayLike<number> | undefined;
  private readonly cosHard: number;
  private weights: FanWeights | null = null;
  private angles: Float64Array | null = null;
  private leads: Uint8Array | null = null;

  constructor(
    private readonly mesh: PolyMesh,
    private readonly o: BuiltOptions,
    private readonly only: Uint32Array | undefined,
  ) {
    this.t = topologyOf(mesh);
    this.areas = areaVectors(mesh);
    this.normals = new Float64Array(3 * faceCount(mesh));
    this.surface = mesh.layers.corner.surface?.data;
    this.ranks = mesh.layers.face.rank?.data;
    this.cosHard = Math.cos((o.hardAngle * Math.PI) / 180) - 1e-9;
  }

  write(out: Float32Array): void {
    eachFan(this.mesh, this.parting(), (fan, size) => this.writeFan(out, fan, size), this.only);
  }

  private parting(): Uint8Array {
    const { mesh, t, o, only } = this;
    const n = mesh.corners.length;
    const parts = new Uint8Array(n);
    const marked = mesh.layers.edge.hard?.data;
    const bridge = mesh.layers.edge.bridge?.data;
    const count = only ? only.length : n;
    for (let i = 0; i < count; i++) {
      const c = only ? only[i] : i;
      const d = t.twin[c];
      if (d < 0) continue;
      const e = t.edgeOfCorner[c];
      if (bridge && bridge[e]) continue;
      if ((marked && marked[e]) || this.partsAt(c, d)) parts[c] = 1;
    }
    if (o.hardSeams || o.hardMaterials) addBorders(mesh, t, parts, o);
    return parts;
  }

  /** Whether the shading parts at the start of a half-edge. */
  private partsAt(c: number, d: number): boolean {
    const { mesh, t } = this;
    const e = nextCorner(mesh, t, d);
    const here = this.cosine(c, e);
    if (here > COS_SAME) return false;
    if (here < this.cosHard) return true;
    const known = this.isKnown(c);
    const there = this.cosine(nextCorner(mesh, t, c), d);
    if (known !== this.isKnown(e)) return !this.runsOn(known ? c : d);
    // Of one surface, which has no one normal here.
    if (known && there > COS_SAME) return true;
    return there < this.cosHard;
  }

  /** Whether the face over the outgoing edge of a corner that is known is a facet of the same surface, or follows. */
  private runsOn(c: number): boolean {
    const { mesh, t, normals } = this;
    this.own(c);
    this.own(t.twin[c]);
    const other = t.faceOfCorner[t.twin[c]];
    if (follows(this.ranks?.[other])) return true;
    return leansOver(mesh, t, this.surface!, normals, c) && unknownRoles(mesh).roles[other] !== FLAT_FACE;
  }

  private isKnown(c: number): boolean {
    const s = this.surface;
    return s !== undefined && (s[3 * c] !== 0 || s[3 * c + 1] !== 0 || s[3 * c + 2] !== 0);
  }

  /** The index in `normals` of a corner's face. */
  private own(c: number): number {
    const f = 3 * this.t.faceOfCorner[c];
    const { normals: n, areas: a } = this;
    if (n[f] === 0 && n[f + 1] === 0 && n[f + 2] === 0) {
      const l = Math.sqrt(a[f] * a[f] + a[f + 1] * a[f + 1] + a[f + 2] * a[f + 2]);
      for (let k = 0; l > 0 && k < 3; k++) n[f + k] = a[f + k] / l;
    }
    return f;
  }

  /** Between the normals of two corners, of their faces where none is known. */
  private cosine(c: number, d: number): number {
    const [a, i] = this.isKnown(c) ? [this.surface!, 3 * c] : [this.normals, this.own(c)];
    const [b, k] = this.isKnown(d) ? [this.surface!, 3 * d] : [this.normals, this.own(d)];
    return a[i] * b[k] + a[i + 1] * b[k + 1] + a[i + 2] * b[k + 2];
  }

  private writeFan(out: Float32Array, fan: Int32Array, size: number): void {
    let first = -1;
    let [alike, known] = [true, 0];
    for (let i = 0; i < size; i++) {
      if (!this.isKnown(fan[i])) continue;
      known++;
      if (first < 0) first = fan[i];
      else alike &&= this.cosine(first, fan[i]) > 1 - EQUAL;
    }
    if (first < 0) return this.weigh(out, fan, size);
    if (alike && known === size) return;
    if (!alike) this.writeMean(out, fan, size);
    else
      for (let i = 0; i < size; i++)
        if (!this.isKnown(fan[i]))
          for (let k = 0; k < 3; k++) out[3 * fan[i] + k] = this.surface![3 * first + k];
  }

  private writeOwn(out: Float32Array, fan: Int32Array, size: number): void {
    for (let i = 0; i < size; i++) {
      if (this.isKnown(fan[i])) continue;
      const f = this.own(fan[i]);
      for (let k = 0; k < 3; k++) out[3 * fan[i] + k] = this.normals[f + k];
    }
  }

  private weigh(out: Float32Array, fan: Int32Array, size: number): void {
    if (size === 1) {
      const f = this.own(fan[0]);
      for (let k = 0; k < 3; k++) out[3 * fan[0] + k] = this.normals[f + k];
      return;
    }
    const { mesh, o } = this;
    this.weights ??= new FanWeights(
      mesh,
      { weight: o.weight, standing: o.standing?.() ?? null, cutOff: 0, alike: 0, hardAngle: o.hardAngle },
      this.only,
    );
    this.weights.write(out, fan, size);
  }

  /**
   * The mean, by the angle of each, of what those faces have that lead a fan in which known normals differ. Where these
   * differ as over a hard edge, as at the tip of a strip that runs out, there is no one normal and each keeps its own.
   */
  private writeMean(out: Float32Array, fan: Int32Array, size: number): void {
    const { surface, normals, t } = this;
    this.angles ??= cornerWeights(this.mesh, unitFaceNormals(this.mesh), 'angle', t.faceOfCorner, this.only);
    this.leads ??= this.o.leads?.() ?? leadingOrder(this.mesh);
    let best = 255;
    for (let i = 0; i < size; i++) best = Math.min(best, this.leads[t.faceOfCorner[fan[i]]]);
    const sum = [0, 0, 0];
    let first = -1;
    for (let i = 0; i < size; i++) {
      const c = fan[i];
      const f = t.faceOfCorner[c];
      if (this.leads[f] !== best) continue;
      if (first < 0) first = c;
      else if (this.cosine(first, c) < this.cosHard) return this.writeOwn(out, fan, size);
      const [from, at] = this.isKnown(c) ? [surface!, 3 * c] : [normals, this.own(c)];
      for (let k = 0; k < 3; k++) sum[k] += this.angles[c] * from[at + k];
    }
    const l = Math.hypot(sum[0], sum[1], sum[2]);
    if (l < 1e-9) return this.weigh(out, fan, size);
    for (let i = 0; i < size; i++) for (let k = 0; k < 3; k++) out[3 * fan[i] + k] = sum[k] / l;
  }
}
