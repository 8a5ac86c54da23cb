/** The mesh of a composed rounding with its layers: faces keep theirs, strips run on from the faces beside them. */
import { DIRECTIONS } from '../../mesh/layerKinds';
import {
  blendLayers,
  concatLayers,
  copyLayers,
  makeBlend,
  RANK,
  type Blend,
  type LayerArray,
  type LayerSet,
} from '../../mesh/layers';
import { ROLES } from '../../mesh/made';
import { isTracked, writeJoined, writeMade } from '../../mesh/lineage';
import { makeMesh, type PolyMesh } from '../../mesh/PolyMesh';
import { separateFans } from '../../mesh/separateFans';
import type { Topology } from '../../mesh/Topology';
import { dot, lerp, pointOf, unit, type Vec3 } from '../../mesh/vec3';
import { faceNormal } from '../../mesh/measure';
import { surfaceNormals } from '../../shading/surfaceNormals';
import { FaceLocator } from '../../spatial/FaceLocator';
import type { Composed, Part } from './compose';
import { edgeLayers, type Composing } from './edgeLayers';
import { PairMap } from '../../spatial/PairMap';
import { madeAt } from './madeFaces';
import type { Outlines } from './outlines';
import type { OutFace, Source } from './shape';
import { workedNormals } from './workedNormals';

export function meshOf(
  { mesh, t, outlines }: { mesh: PolyMesh; t: Topology; outlines: Outlines },
  c: Composed,
): PolyMesh {
  const made = new Making(mesh, t, outlines, c);
  return made.mesh();
}

class Making implements Composing {
  /** Remains of the old faces, in their order; untouched ones by number. */
  readonly kept: Array<number | OutFace>;
  /** Per corner: the one it was of an untouched face, or −1. */
  readonly corner: Int32Array;
  readonly faceStart: Uint32Array;
  private readonly points: Uint32Array;

  constructor(
    readonly before: PolyMesh,
    readonly t: Topology,
    readonly outlines: Outlines,
    readonly c: Composed,
  ) {
    this.kept = this.inOrder();
    const K = this.kept.length;
    const sizeOf = (x: number | OutFace): number =>
      typeof x === 'number' ? before.faceStart[x + 1] - before.faceStart[x] : x.loop.length;
    const M = c.made.face.length;
    this.faceStart = new Uint32Array(K + M + 1);
    this.kept.forEach((x, i) => (this.faceStart[i + 1] = this.faceStart[i] + sizeOf(x)));
    this.eachMade(({ made }, f, i) => {
      this.faceStart[i + 1] = this.faceStart[i] + made.start[f + 1] - made.start[f];
    });
    this.points = new Uint32Array(this.faceStart[K + M]);
    this.corner = new Int32Array(this.points.length).fill(-1);
    let at = 0;
    for (const x of this.kept)
      if (typeof x !== 'number') for (const p of x.loop) this.points[at++] = p;
      else
        for (let k = before.faceStart[x]; k < before.faceStart[x + 1]; k++) {
          this.corner[at] = k;
          this.points[at++] = before.corners[k];
        }
    this.eachMade(({ made, points }, f) => {
      for (let k = made.start[f]; k < made.start[f + 1]; k++) this.points[at++] = points[made.points[k]];
    });
  }

  /** Calls back for every new face: its part, its number there, and its number in what is made. */
  eachMade(call: (part: Part, face: number, number: number) => void): void {
    const { parts, made } = this.c;
    const K = this.kept.length;
    for (let i = 0; i < made.face.length; i++) call(parts[made.part[i]], made.face[i], K + i);
  }

  mesh(): PolyMesh {
    const { before, c, faceStart, points } = this;
    // Points nothing refers to are left out.
    const V = before.positions.length / 3;
    const number = new Int32Array(V + c.source.length).fill(-1);
    const order: number[] = [];
    const corners = points.map((p) => (number[p] < 0 ? (number[p] = order.push(p) - 1) : number[p]));
    // Strips of groups that met in a point must not share it.
    const apart = separateFans(makeMesh(this.gather(order), faceStart, corners));
    const ids = apart ? Array.from(apart.source, (v) => order[v]) : order;
    const positions = this.gather(ids);
    const bare = makeMesh(positions, faceStart, apart?.corners ?? corners);
    return makeMesh(positions, faceStart, bare.corners, {
      vertex: copyLayers(
        before.layers.vertex,
        Int32Array.from(ids, (p) => (p < V ? p : c.source[p - V])),
      ),
      edge: edgeLayers(this, bare, ids),
      corner: this.cornerLayers(),
      face: this.faceLayers(),
    });
  }

  private inOrder(): Array<number | OutFace> {
    const { region } = this.outlines;
    const untouched = [...this.c.untouched].sort((f, g) => region[f] - region[g] || f - g);
    const out: Array<number | OutFace> = [];
    let k = 0;
    for (const x of this.c.left) {
      for (; k < untouched.length && region[untouched[k]] < region[x.from]; k++) out.push(untouched[k]);
      out.push(x);
    }
    for (; k < untouched.length; k++) out.push(untouched[k]);
    return out;
  }

  private at(p: number): Vec3 {
    const V = this.before.positions.length / 3;
    return p < V ? pointOf(this.before.positions, p) : pointOf(this.c.positions, p - V);
  }

  private gather(ids: number[]): Float64Array {
    const out = new Float64Array(3 * ids.length);
    ids.forEach((p, i) => out.set(this.at(p), 3 * i));
    return out;
  }

  private faceLayers(): LayerSet {
    const { before, t, kept, c, outlines } = this;
    const K = kept.length;
    const source = new Int32Array(K + c.made.face.length);
    kept.forEach((x, i) => (source[i] = typeof x === 'number' ? x : x.from));
    this.eachMade(({ made, slots }, f, i) => (source[i] = t.faceOfCorner[slots[made.from[f]]]));
    const copied = copyLayers(before.layers.face, source);
    const rank = new Uint8Array(source.length).fill(RANK.plain);
    if (copied.rank) rank.set(copied.rank.data);
    this.eachMade(
      ({ made }, f, i) => (rank[i] = ROLES[made.role[f]] === 'corner' ? RANK.corner : RANK.follow),
    );
    kept.forEach((x, i) => {
      if (typeof x === 'object' && x.whole)
        writeJoined(copied, i, before.layers.face, outlines.faces(outlines.region[x.from]));
    });
    if (isTracked(copied))
      this.eachMade(({ made, slots }, f, i) => {
        const faceAt = (slot: number): number => t.faceOfCorner[slots[slot]];
        const edgeAt = (slot: number): number => t.edgeOfCorner[slots[slot]];
        writeMade(copied, i, before.layers, madeAt(made, f, faceAt, edgeAt));
      });
    return { ...copied, rank: { size: 1, data: rank } };
  }

  /**
   * The layer *surface* on all corners of faces that are divided. A cut leaves it where it passes only: a corner without
   * one is the surface's too, and what lies between is not all that of those that have one.
   */
  private withWholeSurface(set: LayerSet): { set: LayerSet; filled: ReadonlySet<number> } {
    const { before, kept, outlines } = this;
    const regions = new Set(kept.flatMap((f) => (typeof f === 'number' ? [] : [outlines.region[f.from]])));
    const given = set.surface.data;
    // Where no corner has one, the face is its own surface; where all have, there is nothing to add.
    const faces = [...regions]
      .flatMap((r) => outlines.faces(r))
      .filter((f) => {
        let zeros = 0;
        for (let c = before.faceStart[f]; c < before.faceStart[f + 1]; c++) zeros += Number(isZero(given, c));
        return zeros > 0 && zeros < before.faceStart[f + 1] - before.faceStart[f];
      });
    const filled = new Set(faces.map((f) => outlines.region[f]));
    if (!faces.length) return { set, filled };
    const vertices = new Set<number>();
    for (const f of faces)
      for (let c = before.faceStart[f]; c < before.faceStart[f + 1]; c++) vertices.add(before.corners[c]);
    const shaded = surfaceNormals(before, [...vertices]);
    const data = Float32Array.from(given);
    for (const f of faces) {
      const own = faceNormal(before, f);
      for (let c = before.faceStart[f]; c < before.faceStart[f + 1]; c++) {
        if (!isZero(data, c)) continue;
        data.set(isZero(shaded, c) ? own : shaded.subarray(3 * c, 3 * c + 3), 3 * c);
      }
    }
    return { set: { ...set, surface: { size: 3, data } }, filled };
  }

  /** Corners that had none, or whose normal is the face's own, lose it again. @param filled regions where some had none */
  private withoutOwn(set: LayerSet, filled: ReadonlySet<number>): LayerSet {
    const { before, kept, corner, faceStart, outlines } = this;
    if (!filled.size) return set;
    const data = Float32Array.from(set.surface.data);
    const old = before.layers.corner.surface.data;
    kept.forEach((f, i) => {
      if (typeof f !== 'number' && !filled.has(outlines.region[f.from])) return;
      const own = typeof f === 'number' ? null : faceNormal(before, f.from);
      for (let c = faceStart[i], k = 0; c < faceStart[i + 1]; c++, k++) {
        const was = typeof f === 'number' ? corner[c] : f.sources[k];
        if (typeof was === 'number') data.set(old.subarray(3 * was, 3 * was + 3), 3 * c);
        else if (dot(pointOf(data, c), own!) > 1 - OWN) data.fill(0, 3 * c, 3 * c + 3);
      }
    });
    return { ...set, surface: { size: 3, data } };
  }

  /**
   * Writes the normals of new corners.
   * @param rest those of what is left of the faces
   * @param cornerAt the corner of a region at a point
   */
  private writeNormals(into: LayerArray, rest: LayerArray, cornerAt: PairMap): void {
    const { before, kept, faceStart, t, way } = this;
    const faceOf = new Int32Array(faceStart[kept.length]);
    kept.forEach((f, i) => faceOf.fill(typeof f === 'number' ? f : f.from, faceStart[i], faceStart[i + 1]));
    const surface = before.layers.corner.surface?.data;
    const old = (c: number): Vec3 =>
      !surface || isZero(surface, c) ? faceNormal(before, t.faceOfCorner[c]) : pointOf(surface, c);
    const worked = new Map<Part, Float64Array>();
    const normalsOf = (part: Part): Float64Array => {
      let out = worked.get(part);
      if (out) return out;
      const { normals } = part.made;
      out = workedNormals(normals, (w) => {
        const p = normals.rail[w];
        const c = p < 0 ? -1 : cornerAt.get(part.regionOf(normals.region[w]), part.points[p]);
        if (c >= 0) return isZero(rest, c) ? faceNormal(before, faceOf[c]) : pointOf(rest, c);
        const [a, b] = [0, 1].map((i) => part.slots[normals.between[2 * w + i]]);
        return unit(lerp(old(a), old(b), normals.share[w]));
      });
      worked.set(part, out);
      return out;
    };
    let k = 0;
    this.eachMade((part, f, face) => {
      const { start, normal } = part.made;
      const normals = normalsOf(part);
      const size = start[f + 1] - start[f];
      this.measure(face);
      let outward = true;
      for (let i = 0; i < size; i++) {
        const n = 3 * normal[start[f] + i];
        if (n < 0) continue;
        for (let a = 0; a < 3; a++) into[3 * (k + i) + a] = normals[n + a];
        outward &&= way[0] * normals[n] + way[1] * normals[n + 1] + way[2] * normals[n + 2] > 0;
      }
      // In a wedge too narrow for it a strip is folded, and stands for nothing.
      if (!outward) into.fill(0, 3 * k, 3 * (k + size));
      k += size;
    });
  }

  /** Sets `way` to the area vector of a new face. */
  private measure(face: number): void {
    const { points, way } = this;
    const [from, to] = [this.faceStart[face], this.faceStart[face + 1]];
    const o = points[from];
    const [ox, oy, oz] = [this.coordinate(o, 0), this.coordinate(o, 1), this.coordinate(o, 2)];
    let [x, y, z, ax, ay, az] = [0, 0, 0, 0, 0, 0];
    for (let c = from + 1; c < to; c++) {
      const p = points[c];
      const bx = this.coordinate(p, 0) - ox;
      const by = this.coordinate(p, 1) - oy;
      const bz = this.coordinate(p, 2) - oz;
      x += ay * bz - az * by;
      y += az * bx - ax * bz;
      z += ax * by - ay * bx;
      ax = bx;
      ay = by;
      az = bz;
    }
    way[0] = x;
    way[1] = y;
    way[2] = z;
  }
  private readonly way = new Float64Array(3);

  private coordinate(p: number, k: number): number {
    const V = this.before.positions.length / 3;
    return p < V ? this.before.positions[3 * p + k] : this.c.positions[3 * (p - V) + k];
  }

  private cornerLayers(): LayerSet {
    const { before, c, kept, corner, faceStart } = this;
    const whole = this.withWholeSurface(withSurface(before));
    const set = whole.set;
    const n = faceStart[kept.length];
    const blend = makeBlend(n);
    const cornerAt = new PairMap(n);
    const locator = new FaceLocator(before, set);
    const V = before.positions.length / 3;
    kept.forEach((f, i) => {
      let slot = faceStart[i];
      if (typeof f === 'number') for (; slot < faceStart[i + 1]; slot++) writeOn(blend, slot, corner[slot]);
      else
        f.sources.forEach((s, k) => {
          const p = f.loop[k];
          cornerAt.set(f.region, p, slot);
          if (typeof s === 'object' && s.kind === 'place')
            locator.write(s.faces, this.at(p), blend, slot, p < V ? p : c.source[p - V]);
          else writeOn(blend, slot, s);
          slot++;
        });
    });
    const faces = this.withoutOwn(blendLayers(set, blend), whole.filled);
    const total = before.corners.length;
    // New faces have no old shading to keep; their own is told by their walls.
    const both = concatLayers([withoutNormals(set), withoutNormals(faces)], [total, n]);
    const made = makeBlend(this.points.length - n);
    let k = 0;
    // Strips mix from the finished corners of what is left of the faces.
    this.eachMade((part, f) => {
      const { start, between, share, rail, region, railShare } = part.made;
      for (let i = start[f]; i < start[f + 1]; i++, k++) {
        const [first, second] = [between[2 * i], between[2 * i + 1]];
        made.index[3 * k] = part.slots[first];
        made.weight[3 * k] = 1 - share[i];
        if (second < 0) continue;
        made.index[3 * k + 1] = part.slots[second];
        made.weight[3 * k + 1] = share[i];
        const moved = rail[i] < 0 ? -1 : cornerAt.get(part.regionOf(region[i]), part.points[rail[i]]);
        if (moved < 0) continue;
        const t = railShare[i];
        made.weight[3 * k] *= 1 - t;
        made.weight[3 * k + 1] *= 1 - t;
        made.index[3 * k + 2] = total + moved;
        made.weight[3 * k + 2] = t;
      }
    });
    const surface = new Float32Array(3 * k);
    this.writeNormals(surface, faces.surface.data, cornerAt);
    const strips = { ...blendLayers(both, made), surface: { size: 3, data: surface } };
    return concatLayers([faces, strips], [n, k]);
  }
}

/** The corner layers of a mesh, *surface* among them. */
const withSurface = ({ layers, corners }: PolyMesh): LayerSet =>
  layers.corner.surface
    ? layers.corner
    : { ...layers.corner, surface: { size: 3, data: new Float32Array(3 * corners.length) } };

function writeOn(b: Blend, slot: number, s: Source): void {
  if (typeof s === 'number') {
    b.index[3 * slot] = s;
    b.weight[3 * slot] = 1;
  } else if (s.kind !== 'place') {
    const [c, d] = s.corners;
    b.index[3 * slot] = c;
    b.weight[3 * slot] = 1 - s.share;
    b.index[3 * slot + 1] = d;
    b.weight[3 * slot + 1] = s.share;
  }
}

const isZero = (n: ArrayLike<number>, c: number): boolean =>
  n[3 * c] === 0 && n[3 * c + 1] === 0 && n[3 * c + 2] === 0;

/** A normal this near to the face's own counts as the face's own; 1 less the cosine. */
const OWN = 1e-9;

/** All layers but those of directions. */
const withoutNormals = (set: LayerSet): LayerSet =>
  Object.fromEntries(Object.entries(set).filter(([name]) => !DIRECTIONS.includes(name)));
