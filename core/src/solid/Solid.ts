/**
 * A mesh prepared as an operand: checked closed, handed to the kernel in triangles, with what is needed to
 * find its vertices and faces again in a result. Cached by mesh identity.
 */
import type { PolyMesh } from '../mesh/PolyMesh';
import { faceCount, vertexCount } from '../mesh/PolyMesh';
import { topologyOf } from '../mesh/Topology';
import { OperationError } from '../mesh/errors';
import { edgeLines } from '../inspect/edgeLines';
import { selfCrossings } from '../inspect/selfCross';
import { triangulate } from '../planar/triangulate';
import { kernel, type Manifold } from './kernel';

export interface Solid {
  readonly mesh: PolyMesh;
  readonly body: Manifold;
  /** The kernel's id of this operand in results. */
  readonly id: number;
  /** Kernel face id per face: faces joined over bridge edges share the lowest face's index. */
  readonly region: Int32Array;
  /** Some faces are joined across bridges. */
  readonly bridged: boolean;
  /** Triangles per region (indexed by region id) and an order-free fingerprint of their vertices. */
  readonly regionTriangles: Int32Array;
  readonly regionPrint: Uint32Array;
  /** Finds a vertex by its single-precision position; −1 when there is none. */
  find(x: number, y: number, z: number): number;
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

function build(mesh: PolyMesh, name: string, piece?: string): Solid {
  const region = bridgedRegions(mesh);
  const t = triangulate(mesh);
  const T = t.face.length;
  const triVerts = new Uint32Array(3 * T);
  const faceID = new Uint32Array(T);
  const F = faceCount(mesh);
  const regionTriangles = new Int32Array(F);
  const regionPrint = new Uint32Array(F);
  const vertProperties = Float32Array.from(mesh.positions);
  const index = new PositionIndex(vertProperties);
  const { canonical } = index;
  for (let i = 0; i < T; i++) {
    const r = region[t.face[i]];
    faceID[i] = r;
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
    body,
    id,
    region,
    bridged: region.some((r, f) => r !== f),
    regionTriangles,
    regionPrint,
    find: (x, y, z) => index.find(x, y, z),
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

/** Open-addressing hash from exact single-precision positions to the lowest vertex there. */
class PositionIndex {
  readonly canonical: Int32Array | null;
  private readonly table: Int32Array;
  private readonly shift: number;
  private readonly key = new Float32Array(3);
  private readonly bits = new Uint32Array(this.key.buffer);

  constructor(private readonly p: Float32Array) {
    const V = p.length / 3;
    let log = 4;
    while (1 << log < V * 2) log++;
    this.shift = 32 - log;
    this.table = new Int32Array(1 << log).fill(-1);
    let canonical: Int32Array | null = null;
    for (let v = 0; v < V; v++) {
      const slot = this.slot(p[3 * v], p[3 * v + 1], p[3 * v + 2]);
      const first = this.table[slot];
      if (first < 0) this.table[slot] = v;
      else {
        canonical ??= Int32Array.from({ length: V }, (_, i) => i);
        canonical[v] = first;
      }
    }
    this.canonical = canonical;
  }

  find(x: number, y: number, z: number): number {
    return this.table[this.slot(x, y, z)];
  }

  private slot(x: number, y: number, z: number): number {
    // + 0 turns −0 into 0, which compares equal but has other bits.
    this.key[0] = x + 0;
    this.key[1] = y + 0;
    this.key[2] = z + 0;
    const h =
      Math.imul(this.bits[0], 0x9e3779b1) ^
      Math.imul(this.bits[1], 0x85ebca77) ^
      Math.imul(this.bits[2], 0xc2b2ae3d);
    let slot = Math.imul(h ^ (h >>> 15), 0x27d4eb2f) >>> this.shift;
    const mask = this.table.length - 1;
    for (;;) {
      const v = this.table[slot];
      if (v < 0 || (this.p[3 * v] === x && this.p[3 * v + 1] === y && this.p[3 * v + 2] === z)) return slot;
      slot = (slot + 1) & mask;
    }
  }
}

/** Number of vertices in all operands; sizes scratch arrays. */
export const totalVertices = (solids: ReadonlyArray<Solid>): number =>
  solids.reduce((n, s) => n + vertexCount(s.mesh), 0);
