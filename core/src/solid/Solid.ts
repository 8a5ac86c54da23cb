/**
 * A mesh prepared as an operand: checked closed, handed to the kernel in triangles, with what is needed to
 * find its vertices and faces again in a result. Cached by mesh identity.
 */
import { type PolyMesh, faceCount } from '../mesh/PolyMesh';
import { topologyOf } from '../mesh/Topology';
import { OperationError } from '../mesh/errors';
import { edgeLines } from '../inspect/edgeLines';
import { selfCrossings } from '../inspect/selfCross';
import { triangulate } from '../planar/triangulate';
import { boundsOf, sizeOf, type Bounds } from '../mesh/measure';
import { TOLERANCE } from '../mesh/tolerance';
import { dropExact } from './exact';
import { facetsOf, liesInPlane } from './facets';
import { kernel, type Manifold } from './kernel';
import { PositionIndex } from './PositionIndex';

export interface Solid {
  readonly mesh: PolyMesh;
  readonly bounds: Bounds;
  /** Diagonal of the bounding box. */
  readonly size: number;
  /** In single precision, as the kernel takes meshes. */
  readonly body: Manifold;
  /** The kernel's id of this operand in results. */
  readonly id: number;
  /** Faces joined over bridge edges are one region, named by its lowest face. */
  readonly region: Int32Array;
  /** Some faces are joined across bridges. */
  readonly bridged: boolean;
  /** Triangles per region (indexed by region id) and an order-free fingerprint of their vertices. */
  readonly regionTriangles: Int32Array;
  readonly regionPrint: Uint32Array;
  /** Finds vertices by the positions of the body's points. */
  readonly index: PositionIndex;
  /** Lowest vertex at the same position, or null when no two vertices coincide. */
  readonly canonical: Int32Array | null;
}

const cache = new WeakMap<PolyMesh, Solid>();
/** Meshes known not to cross themselves: primitives and results of cuts. */
const sound = new WeakSet<PolyMesh>();
/** Solids by last use, oldest first. The kernel's memory is not collected: old bodies are given back here. */
const recent = new Set<Solid>();
const TRIANGLE_BUDGET = 1_500_000;

const weigh = (s: Solid): number => s.mesh.corners.length - 2 * faceCount(s.mesh);

/** Gives back the kernel's memory of solids not used lately; those used last stay up to a budget. */
export function trimSolids(keep: ReadonlyArray<Solid>): void {
  let total = 0;
  for (const s of recent) total += weigh(s);
  for (const s of recent) {
    if (total <= TRIANGLE_BUDGET) return;
    if (keep.includes(s)) continue;
    total -= weigh(s);
    recent.delete(s);
    cache.delete(s.mesh);
    s.body.delete();
    dropExact(s);
  }
}

/** Spares a mesh the search for self-crossings; only for meshes that cannot have any. */
export const markSound = (mesh: PolyMesh): PolyMesh => (sound.add(mesh), mesh);

export const isSound = (mesh: PolyMesh): boolean => sound.has(mesh);

/**
 * @throws OperationError `open-operand`, `folded-operand` or `crossed-operand` with the edges to light up.
 */
export function solidOf(mesh: PolyMesh, name: string, piece?: string): Solid {
  let s = cache.get(mesh);
  if (s) {
    recent.delete(s);
    recent.add(s);
    return s;
  }
  refuseOpen(mesh, name, piece);
  if (!sound.has(mesh)) refuseCrossed(mesh, name, piece);
  s = build(mesh, name, piece);
  cache.set(mesh, s);
  recent.add(s);
  return s;
}

function refuseOpen(mesh: PolyMesh, name: string, piece?: string): void {
  const t = topologyOf(mesh);
  const open: number[] = [];
  const folded: number[] = [];
  for (let e = 0; e < t.edgeCount; e++) {
    if (t.edgeUse[e] === 1) open.push(e);
    else if (t.twin[t.cornerOfEdge[e]] < 0) folded.push(e);
  }
  if (faceCount(mesh) === 0)
    throw new OperationError('empty-operand', `“${name}” has no faces, so it cannot take part in a cut.`, undefined, 'Give it a base with volume.', piece); // prettier-ignore
  if (open.length)
    throw new OperationError(
      'open-operand',
      `“${name}” is not a closed solid: ${open.length} of its edges are open.`,
      { domain: 'edge', indices: open },
      'Close the holes, or use a solid primitive.',
      piece,
      edgeLines(mesh, open),
    );
  if (folded.length)
    throw new OperationError(
      'folded-operand',
      `“${name}” is not a clean solid: at ${folded.length} edges its faces disagree or more than two meet.`,
      { domain: 'edge', indices: folded },
      'Turn the faces outward or remove the extra ones.',
      piece,
      edgeLines(mesh, folded),
    );
}

function refuseCrossed(mesh: PolyMesh, name: string, piece?: string): void {
  const crossed = selfCrossings(mesh);
  if (!crossed.edges.length) {
    sound.add(mesh);
    return;
  }
  throw new OperationError(
    'crossed-operand',
    `“${name}” crosses itself: ${crossed.edges.length} of its edges pass through other faces of it.`,
    { domain: 'edge', indices: crossed.edges },
    'Pull the crossing parts apart, or union them as separate pieces.',
    piece,
    edgeLines(mesh, crossed.edges),
  );
}

export const mixBits = (x: number): number => {
  x = Math.imul(x ^ (x >>> 16), 0x7feb352d);
  x = Math.imul(x ^ (x >>> 15), 0x846ca68b);
  return (x ^ (x >>> 16)) >>> 0;
};

/** Fingerprint of a triangle that does not depend on the order of its vertices. */
export const trianglePrint = (a: number, b: number, c: number): number =>
  mixBits((mixBits(a + 1) + mixBits(b + 1) + mixBits(c + 1)) | 0);

const regionLists = new WeakMap<PolyMesh, Map<number, number[]>>();

/** All faces of a region. */
export function facesOfRegion({ mesh, region, bridged }: Solid, r: number): ReadonlyArray<number> {
  if (!bridged) return [r];
  let lists = regionLists.get(mesh);
  if (!lists) {
    lists = new Map();
    for (let f = 0; f < region.length; f++) {
      const list = lists.get(region[f]);
      if (list) list.push(f);
      else lists.set(region[f], [f]);
    }
    regionLists.set(mesh, lists);
  }
  return lists.get(r)!;
}

/** The region a triangle with a kernel face id belongs to. */
export function regionOfId({ mesh, region }: Solid, id: number): number {
  const F = faceCount(mesh);
  return id < F ? id : region[facetsOf(mesh).face[id - F]];
}

/**
 * Face ids the kernel is given, per triangle: the region where that is flat, so that its triangles may be divided in
 * any way; else, counted on from the number of faces, the facet.
 */
function kernelFaceIds(mesh: PolyMesh, region: Int32Array): Uint32Array {
  const t = triangulate(mesh);
  const f = facetsOf(mesh);
  const F = faceCount(mesh);
  const bent = TOLERANCE.kernel * sizeOf(mesh);
  const facetOfFace = new Uint32Array(F);
  for (let i = f.face.length - 1; i >= 0; i--) facetOfFace[f.face[i]] = i;
  const flat = new Uint8Array(F).fill(1);
  for (let i = 0; i < f.face.length; i++) {
    const r = region[f.face[i]];
    const plane = facetOfFace[r];
    if (i !== plane && !liesInPlane(f, i, f, plane, bent)) flat[r] = 0;
  }
  const out = new Uint32Array(t.face.length);
  for (let i = 0; i < out.length; i++) {
    const face = t.face[i];
    const whole = (facetOfFace[face + 1] ?? f.face.length) - facetOfFace[face] === 1;
    // Triangles of a face are consecutive, and so are the facets of one that is not planar.
    const nth = i === 0 || t.face[i - 1] !== face ? 0 : whole ? 0 : out[i - 1] - F - facetOfFace[face] + 1;
    out[i] = flat[region[face]] ? region[face] : F + facetOfFace[face] + nth;
  }
  return out;
}

function build(mesh: PolyMesh, name: string, piece?: string): Solid {
  const region = bridgedRegions(mesh);
  const t = triangulate(mesh);
  const T = t.face.length;
  const triVerts = new Uint32Array(3 * T);
  const faceID = kernelFaceIds(mesh, region);
  const F = faceCount(mesh);
  const regionTriangles = new Int32Array(F);
  const regionPrint = new Uint32Array(F);
  const vertProperties = Float32Array.from(mesh.positions);
  const index = new PositionIndex(vertProperties);
  const { canonical } = index;
  for (let i = 0; i < T; i++) {
    const r = region[t.face[i]];
    for (let k = 0; k < 3; k++) {
      const v = mesh.corners[t.corners[3 * i + k]];
      triVerts[3 * i + k] = v;
    }
    const [a, b, c] = [triVerts[3 * i], triVerts[3 * i + 1], triVerts[3 * i + 2]];
    regionTriangles[r]++;
    regionPrint[r] += canonical
      ? trianglePrint(canonical[a], canonical[b], canonical[c])
      : trianglePrint(a, b, c);
  }
  const k = kernel();
  const id = k.Manifold.reserveIDs(1);
  const input = new k.Mesh({
    numProp: 3,
    vertProperties,
    triVerts,
    faceID,
    runOriginalID: Uint32Array.of(id),
    runIndex: Uint32Array.of(0, 3 * T),
  });
  let body: Manifold;
  try {
    body = new k.Manifold(input);
  } catch (e) {
    throw kernelRefusal(name, piece, e instanceof Error ? e.message : String(e));
  }
  const status = body.status() as unknown as string;
  if (status !== 'NoError') {
    body.delete();
    throw kernelRefusal(name, piece, status);
  }
  return {
    mesh,
    bounds: boundsOf(mesh),
    size: sizeOf(mesh),
    body,
    id,
    region,
    bridged: region.some((r, f) => r !== f),
    regionTriangles,
    regionPrint,
    index,
    canonical,
  };
}

const kernelRefusal = (name: string, piece: string | undefined, status: string): OperationError =>
  new OperationError(
    'bad-operand',
    `“${name}” cannot be used as a solid (${status}).`,
    undefined,
    'Check the piece for folded or doubled faces.',
    piece,
  );

/** Faces joined across bridge edges count as one face. */
export function bridgedRegions(mesh: PolyMesh): Int32Array {
  const region = new Int32Array(faceCount(mesh));
  for (let f = 0; f < region.length; f++) region[f] = f;
  const bridge = mesh.layers.edge.bridge?.data;
  if (!bridge) return region;
  const t = topologyOf(mesh);
  const find = (f: number): number => {
    while (region[f] !== f) f = region[f] = region[region[f]];
    return f;
  };
  for (let e = 0; e < t.edgeCount; e++) {
    const c = t.cornerOfEdge[e];
    if (!bridge[e] || t.twin[c] < 0) continue;
    const a = find(t.faceOfCorner[c]);
    const b = find(t.faceOfCorner[t.twin[c]]);
    if (a < b) region[b] = a;
    else region[a] = b;
  }
  for (let f = 0; f < region.length; f++) region[f] = find(f);
  return region;
}
