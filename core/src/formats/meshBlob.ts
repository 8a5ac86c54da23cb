/**
 * Stored meshes: a JSON header naming the arrays, then their bytes, each on an 8-byte boundary. The same mesh
 * always gives the same bytes, so blobs are addressed by their hash.
 */
import { type PolyMesh, makeMesh } from '../mesh/PolyMesh';
import { OperationError } from '../mesh/errors';
import { topologyOf } from '../mesh/Topology';
import { isReservedWord } from '../schema/json';
import { isPassing } from '../mesh/layerKinds';
import type { Domain, Layer, LayerArray } from '../mesh/layers';

const MAGIC = 'URNMESH1';
const KINDS = { Float64Array, Float32Array, Int32Array, Uint32Array, Uint8Array };
type Kind = keyof typeof KINDS;
interface Entry {
  path: string;
  kind: Kind;
  size: number;
  length: number;
}

export function encodeMesh(mesh: PolyMesh): Uint8Array {
  const arrays: Array<{ entry: Entry; data: LayerArray }> = [];
  const put = (path: string, size: number, data: LayerArray): void => {
    arrays.push({ entry: { path, kind: data.constructor.name as Kind, size, length: data.length }, data });
  };
  put('positions', 3, mesh.positions);
  put('faceStart', 1, mesh.faceStart);
  put('corners', 1, mesh.corners);
  for (const domain of ['vertex', 'edge', 'corner', 'face'] as const)
    for (const name of Object.keys(mesh.layers[domain])
      .filter((n) => !isPassing(n))
      .sort())
      put(`${domain}/${name}`, mesh.layers[domain][name].size, mesh.layers[domain][name].data);
  const header = new TextEncoder().encode(MAGIC + JSON.stringify(arrays.map((a) => a.entry)));
  const pad = (n: number): number => Math.ceil(n / 8) * 8;
  const start = pad(header.length + 1);
  const out = new Uint8Array(arrays.reduce((n, a) => n + pad(a.data.byteLength), start));
  out.set(header);
  let at = start;
  for (const { data } of arrays) {
    out.set(new Uint8Array(data.buffer, data.byteOffset, data.byteLength), at);
    at += pad(data.byteLength);
  }
  return out;
}

/** Items of arrays whose meaning is known; every other layer is as wide as it says. */
const ITEM_SIZES = new Map([
  ['positions', 3],
  ['faceStart', 1],
  ['corners', 1],
  ['corner/uv', 2],
  ['corner/normal', 3],
  ['corner/surface', 3],
]);
/** Components a layer's item may have. */
const WIDEST_ITEM = 64;

/**
 * Reads a stored mesh and checks it whole: every array where and as long as it must be, every index in range, every
 * number finite.
 * @throws OperationError `bad-blob` when the bytes are not a stored mesh
 */
export function decodeMesh(bytes: Uint8Array): PolyMesh {
  const refuse = (why: string): never => {
    throw new OperationError('bad-blob', `A stored mesh cannot be read: ${why}.`);
  };
  const end = bytes.subarray(0, 1 << 20).indexOf(0);
  const text = new TextDecoder().decode(bytes.subarray(0, Math.max(end, 0)));
  if (end < 0 || !text.startsWith(MAGIC)) refuse('its bytes are damaged');
  const arrays = new Map<string, Layer>();
  let at = Math.ceil((end + 1) / 8) * 8;
  for (const { path, kind, size, length } of headerOf(text.slice(MAGIC.length), refuse)) {
    if (arrays.has(path)) refuse(`“${path}” is there twice`);
    const Kind = KINDS[kind];
    const taken = length * Kind.BYTES_PER_ELEMENT;
    if (at + taken > bytes.length) refuse('it ends too soon');
    // A copy of its own, on its own boundary; `slice` of a Node buffer would share.
    const own = new Uint8Array(taken);
    own.set(bytes.subarray(at, at + taken));
    arrays.set(path, { size, data: new Kind(own.buffer) });
    at += Math.ceil(taken / 8) * 8;
  }
  if (at !== bytes.length) refuse('its length is wrong');
  const layers = (domain: Domain): Record<string, Layer> =>
    Object.fromEntries(
      [...arrays]
        .filter(([p]) => p.startsWith(domain + '/'))
        .map(([p, l]) => [p.slice(domain.length + 1), l]),
    );
  const main = <T>(p: string, Kind: new () => T): T => {
    const data = arrays.get(p)?.data;
    return data instanceof Kind ? (data as T) : refuse(`the array “${p}” is missing`);
  };
  const mesh = makeMesh(
    main('positions', Float64Array),
    main('faceStart', Uint32Array),
    main('corners', Uint32Array),
    { vertex: layers('vertex'), edge: layers('edge'), corner: layers('corner'), face: layers('face') },
  );
  const fault = faultOfArrays(mesh);
  if (fault) refuse(fault);
  return mesh;
}

function headerOf(text: string, refuse: (why: string) => never): Entry[] {
  let entries: unknown;
  try {
    entries = JSON.parse(text);
  } catch {
    return refuse('its header is damaged');
  }
  const isCount = (n: unknown): boolean => Number.isSafeInteger(n) && (n as number) >= 0;
  const sound =
    Array.isArray(entries) &&
    entries.every(
      (e: Partial<Entry> | null) =>
        typeof e?.path === 'string' &&
        /^(positions|faceStart|corners|(vertex|edge|corner|face)\/.{1,64})$/.test(e.path) &&
        !isReservedWord(e.path.split('/')[1] ?? '') &&
        Object.hasOwn(KINDS, String(e.kind)) &&
        isCount(e.length) &&
        isCount(e.size) &&
        e.size! > 0 &&
        e.size! <= WIDEST_ITEM &&
        e.size === (ITEM_SIZES.get(e.path) ?? e.size),
    );
  return sound ? (entries as Entry[]) : refuse('its header is damaged');
}

/** The fault of a mesh's arrays, in words; null when they fit together. */
function faultOfArrays(mesh: PolyMesh): string | null {
  const { positions, faceStart, corners } = mesh;
  const points = positions.length / 3;
  if (!Number.isInteger(points)) return 'its points are not whole';
  if (!faceStart.length || faceStart[0] !== 0 || faceStart[faceStart.length - 1] !== corners.length)
    return 'its faces do not fit its corners';
  for (let f = 1; f < faceStart.length; f++)
    if (faceStart[f] < faceStart[f - 1] + 3) return `face ${f - 1} has fewer than 3 corners`;
  for (let c = 0; c < corners.length; c++)
    if (corners[c] >= points) return `corner ${c} is at a point that is not there`;
  for (let i = 0; i < positions.length; i++)
    if (!Number.isFinite(positions[i])) return `point ${Math.floor(i / 3)} is nowhere`;
  const { vertex, edge, corner, face } = mesh.layers;
  const counts: Array<[string, Record<string, Layer>, () => number]> = [
    ['point', vertex, () => points],
    ['corner', corner, () => corners.length],
    ['face', face, () => faceStart.length - 1],
    // Counting edges builds the adjacency, so it comes last, when indices are known to be sound.
    ['edge', edge, () => topologyOf(mesh).edgeCount],
  ];
  for (const [of, layers, count] of counts)
    for (const [name, { data, size }] of Object.entries(layers)) {
      if (data.length !== count() * size) return `the ${of} layer “${name}” has a wrong length`;
      if ((data instanceof Float64Array || data instanceof Float32Array) && !data.every(Number.isFinite))
        return `the ${of} layer “${name}” has values that are not numbers`;
    }
  return null;
}

/** SHA-256 of bytes as 64 hexadecimal digits. */
export async function contentHash(bytes: Uint8Array): Promise<string> {
  const digest = new Uint8Array(await crypto.subtle.digest('SHA-256', bytes as Uint8Array<ArrayBuffer>));
  return Array.from(digest, (b) => b.toString(16).padStart(2, '0')).join('');
}
