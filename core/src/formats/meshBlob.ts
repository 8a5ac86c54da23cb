/**
 * Stored meshes: a JSON header naming the arrays, then their bytes, each on an 8-byte boundary. The same mesh
 * always gives the same bytes, so blobs are addressed by their hash.
 */
import type { PolyMesh } from '../mesh/PolyMesh';
import { makeMesh } from '../mesh/PolyMesh';
import { OperationError } from '../mesh/errors';
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
    for (const name of Object.keys(mesh.layers[domain]).sort())
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

/** @throws OperationError `bad-blob` when the bytes are not a stored mesh. */
export function decodeMesh(bytes: Uint8Array): PolyMesh {
  const refuse = (): never => {
    throw new OperationError('bad-blob', 'A stored mesh cannot be read: its bytes are damaged.');
  };
  const end = bytes.indexOf(0);
  const text = new TextDecoder().decode(bytes.subarray(0, end));
  if (end < 0 || !text.startsWith(MAGIC)) refuse();
  const entries = JSON.parse(text.slice(MAGIC.length)) as Entry[];
  const arrays = new Map<string, Layer>();
  let at = Math.ceil((end + 1) / 8) * 8;
  for (const e of entries) {
    const Type = KINDS[e.kind];
    const size = e.length * Type.BYTES_PER_ELEMENT;
    if (at + size > bytes.length) refuse();
    arrays.set(e.path, { size: e.size, data: new Type(bytes.slice(at, at + size).buffer) });
    at += Math.ceil(size / 8) * 8;
  }
  const layers = (domain: Domain): Record<string, Layer> =>
    Object.fromEntries(
      [...arrays]
        .filter(([p]) => p.startsWith(domain + '/'))
        .map(([p, l]) => [p.slice(domain.length + 1), l]),
    );
  const main = (p: string): LayerArray => arrays.get(p)?.data ?? refuse();
  return makeMesh(
    main('positions') as Float64Array,
    main('faceStart') as Uint32Array,
    main('corners') as Uint32Array,
    { vertex: layers('vertex'), edge: layers('edge'), corner: layers('corner'), face: layers('face') },
  );
}

/** SHA-256 of bytes as 64 hexadecimal digits. */
export async function contentHash(bytes: Uint8Array): Promise<string> {
  const digest = new Uint8Array(await crypto.subtle.digest('SHA-256', bytes as Uint8Array<ArrayBuffer>));
  return Array.from(digest, (b) => b.toString(16).padStart(2, '0')).join('');
}
