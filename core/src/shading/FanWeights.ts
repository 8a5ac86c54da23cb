/**
 * The common normal of a smooth fan by weights. Of a fan only the faces that lead it most count, and among them only those
 * whose weight comes near the heaviest. Where all of these are facets of a curved surface or strips, the angle counts
 * whatever the weight: area would make a facet pull the surface its way. Around a corner with a face that was weighed by
 * hand (layer `weight`) all count by such weights, whoever leads.
 */
import { follows } from '../mesh/layers';
import type { PolyMesh } from '../mesh/PolyMesh';
import { topologyOf } from '../mesh/Topology';
import { cornerWeights, unitFaceNormals, type FaceNormals, type NormalWeight } from './cornerWeights';

/** How the faces of a mesh count beside each other. */
export interface FaceStanding {
  /** Per face: the lowest around a fan counts, the others follow. */
  place: Uint8Array;
  /** 1 per face that counts by its angle where all that lead a fan do. */
  byAngle: Uint8Array;
}

export interface FanOptions {
  weight: NormalWeight;
  /** The order of leading faces; null lets all count alike. */
  standing: FaceStanding | null;
  /** A face counts if its weight is at least this share (0…1) of the fan's heaviest; 0 counts all. */
  cutOff: number;
  /** Weights within this share (0…1) of the fan's heaviest count as that one. */
  alike: number;
  /** Facets that meet at more are none of one surface, degrees: a known normal that turns further is not weighed in. */
  hardAngle: number;
}

export class FanWeights {
  private readonly faces: FaceNormals;
  private readonly weights: Float64Array;
  private readonly angles: Float64Array | null;
  private readonly byHand: ArrayLike<number> | undefined;
  private readonly faceOf: Uint32Array;

  /** @param only corners of the fans that will be asked for; all without */
  constructor(
    private readonly mesh: PolyMesh,
    private readonly o: FanOptions,
    only?: Uint32Array,
  ) {
    this.faceOf = topologyOf(mesh).faceOfCorner;
    this.faces = unitFaceNormals(mesh);
    this.counts = new Uint8Array(mesh.faceStart.length - 1);
    this.weights = cornerWeights(mesh, this.faces, o.weight, this.faceOf, only);
    const ranked = o.standing !== null && o.weight !== 'angle';
    this.byHand = ranked ? mesh.layers.face.weight?.data : undefined;
    this.angles = ranked ? cornerWeights(mesh, this.faces, 'angle', this.faceOf, only) : null;
  }

  /** Per face: whether its known normals count, 1, or not, 2; 0 until it is asked for. */
  private readonly counts: Uint8Array;

  /** Whether a corner counts by its known normal; not on what follows, or on a facet too coarse to be one of a surface. */
  private readonly isWeighedIn = (c: number, f: number): boolean => {
    const surface = this.mesh.layers.corner.surface?.data;
    if (!surface || (surface[3 * c] === 0 && surface[3 * c + 1] === 0 && surface[3 * c + 2] === 0))
      return false;
    return (this.counts[f] ||= this.isFine(f, surface) ? 1 : 2) === 1;
  };

  private isFine(f: number, surface: ArrayLike<number>): boolean {
    const { mesh, o } = this;
    if (follows(mesh.layers.face.rank?.data[f])) return false;
    const { normals: n } = this.faces;
    const least = Math.cos((o.hardAngle * Math.PI) / 360) - 1e-6;
    for (let k = 3 * mesh.faceStart[f]; k < 3 * mesh.faceStart[f + 1]; k += 3) {
      const [x, y, z] = [surface[k], surface[k + 1], surface[k + 2]];
      if ((x !== 0 || y !== 0 || z !== 0) && x * n[3 * f] + y * n[3 * f + 1] + z * n[3 * f + 2] < least)
        return false;
    }
    return true;
  }

  /**
   * Writes the normal of a fan to all its corners. Each fan may be asked for once.
   * @param fan its corners, the first `size` of them
   */
  write(out: Float32Array, fan: Int32Array, size: number): void {
    const { o, faceOf, byHand, weights, angles } = this;
    const { corner } = this.mesh.layers;
    const weighed = byHand !== undefined && someWeighed(fan, size, faceOf, byHand);
    const at = weighed ? asWeighed(fan, size, faceOf, byHand, weights, angles!, o.weight) : null;
    const surface = corner.surface?.data;
    const { normals } = this.faces;
    if (at) sumFan(out, fan, size, faceOf, normals, at, null, surface, this.isWeighedIn, o, null);
    else sumFan(out, fan, size, faceOf, normals, weights, angles, surface, this.isWeighedIn, o, o.standing);
  }
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

function sumFan(
  out: Float32Array,
  fan: Int32Array,
  size: number,
  faceOf: Uint32Array,
  normals: Float64Array,
  chosen: Float64Array,
  angles: Float64Array | null,
  surface: ArrayLike<number> | undefined,
  isWeighedIn: (c: number, f: number) => boolean,
  { cutOff, alike }: Pick<FanOptions, 'cutOff' | 'alike'>,
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
    if (isWeighedIn(c, f)) {
      x += w * surface![3 * c];
      y += w * surface![3 * c + 1];
      z += w * surface![3 * c + 2];
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
