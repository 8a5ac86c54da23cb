/**
 * Reads Wavefront OBJ: n-gons, objects and groups, normals, UVs, negative indices, continued lines. Two passes over
 * the bytes, the first to count, so that every array is made once in its size: time grows with the file, and memory
 * stays within five times its size.
 * @throws OperationError `bad-obj` with the line at fault.
 */
import { makeMesh } from '../mesh/PolyMesh';
import { OperationError } from '../mesh/errors';
import type { Layer } from '../mesh/layers';
import type { NamedMesh } from './define';
import { ObjStatements } from './objStatements';

export const OBJ_LIMITS = {
  bytes: 256 * 1024 * 1024,
  corners: 20_000_000,
  points: 20_000_000,
  cornersPerFace: 100_000,
  /** The most pieces a scene holds. */
  objects: 5000,
};
const MOST_WORDS = OBJ_LIMITS.cornersPerFace + 1;

/** The data of one object, filled by the second pass. */
interface Faces {
  name: string;
  faces: number;
  corners: number;
  starts: Uint32Array;
  v: Uint32Array;
  vt: Int32Array | null;
  vn: Int32Array | null;
  groups: Int32Array;
  groupNames: Map<string, number>;
}
interface Counts {
  v: number;
  vt: number;
  vn: number;
  corners: number;
  objects: Map<string, { faces: number; corners: number; uvs: boolean; normals: boolean }>;
}

export function readObj(source: string | Uint8Array): NamedMesh[] {
  const bytes = typeof source === 'string' ? new TextEncoder().encode(source) : source;
  if (bytes.length > OBJ_LIMITS.bytes) throw fault(0, 'the file is larger than 256 MB');
  const { counts, lines } = count(bytes);
  const r = new Reading(counts);
  const s = new ObjStatements(bytes, MOST_WORDS);
  while (s.next()) r.take(s);
  if (!counts.objects.size) throw fault(lines, 'the file has no faces');
  // One table for all objects, cleaned behind each: a point's number in the object at work.
  const number = new Int32Array(counts.v).fill(-1);
  return r.objects.map((f) => objectOf(f, r, number));
}

function count(bytes: Uint8Array): { counts: Counts; lines: number } {
  const counts: Counts = { v: 0, vt: 0, vn: 0, corners: 0, objects: new Map() };
  const s = new ObjStatements(bytes, MOST_WORDS);
  let current = 'Object';
  while (s.next()) {
    if (s.is('v')) counts.v++;
    else if (s.is('vt')) counts.vt++;
    else if (s.is('vn')) counts.vn++;
    else if (s.is('o')) current = s.rest() || 'Object';
    else if (s.is('f')) {
      let o = counts.objects.get(current);
      if (!o) counts.objects.set(current, (o = { faces: 0, corners: 0, uvs: false, normals: false }));
      const corners = s.words - 1;
      if (corners > OBJ_LIMITS.cornersPerFace) throw fault(s.line, 'a face has more than 100000 corners');
      o.faces++;
      o.corners += corners;
      counts.corners += corners;
      for (let k = 1; k <= corners && !(o.uvs && o.normals); k++) {
        o.uvs ||= s.part(k, 1) !== 0;
        o.normals ||= s.part(k, 2) !== 0;
      }
    }
    if (counts.objects.size > OBJ_LIMITS.objects)
      throw fault(s.line, `the file has more than ${OBJ_LIMITS.objects} objects; join some of them first`);
    if (counts.corners > OBJ_LIMITS.corners) throw fault(s.line, 'the file has more than 20 million corners');
    if (Math.max(counts.v, counts.vt, counts.vn) > OBJ_LIMITS.points)
      throw fault(s.line, 'the file has more than 20 million points, UVs or normals');
  }
  return { counts, lines: s.passed };
}

class Reading {
  readonly v: Float64Array;
  readonly vt: Float64Array;
  readonly vn: Float32Array;
  readonly objects: Faces[];
  private readonly byName: Map<string, Faces>;
  private readonly at = { v: 0, vt: 0, vn: 0 };
  private current = 'Object';
  private group = '';

  constructor(counts: Counts) {
    this.v = new Float64Array(3 * counts.v);
    this.vt = new Float64Array(2 * counts.vt);
    this.vn = new Float32Array(3 * counts.vn);
    this.objects = [...counts.objects].map(([name, o]) => ({
      name,
      faces: 0,
      corners: 0,
      starts: new Uint32Array(o.faces + 1),
      v: new Uint32Array(o.corners),
      vt: o.uvs ? new Int32Array(o.corners) : null,
      vn: o.normals ? new Int32Array(o.corners) : null,
      groups: new Int32Array(o.faces),
      groupNames: new Map(),
    }));
    this.byName = new Map(this.objects.map((o) => [o.name, o]));
  }

  take(s: ObjStatements): void {
    if (s.is('v')) this.numbers(s, 'v', 3);
    else if (s.is('vt')) this.numbers(s, 'vt', 2);
    else if (s.is('vn')) this.numbers(s, 'vn', 3);
    else if (s.is('o')) this.current = s.rest() || 'Object';
    else if (s.is('g')) this.group = s.rest();
    else if (s.is('f')) this.face(s);
  }

  private numbers(s: ObjStatements, kind: 'v' | 'vt' | 'vn', count: number): void {
    const into = this[kind];
    const base = count * this.at[kind]++;
    for (let k = 1; k <= count; k++) {
      if (k >= s.words) throw fault(s.line, `“${kind}” needs ${count} numbers`);
      const x = s.number(k);
      if (!Number.isFinite(x)) throw fault(s.line, `“${s.text(k)}” is not a number`);
      into[base + k - 1] = x;
    }
  }

  private face(s: ObjStatements): void {
    const n = s.words - 1;
    if (n < 3) throw fault(s.line, `a face needs at least 3 corners, this one has ${n}`);
    const f = this.byName.get(this.current)!;
    const first = f.corners;
    f.starts[f.faces] = first;
    for (let k = 1; k <= n; k++) {
      const c = first + k - 1;
      const v = this.index(s, k, 0, this.at.v, 'point');
      if (v < 0) throw fault(s.line, `“${s.text(k)}” is not a point index`);
      f.v[c] = v;
      if (f.vt) f.vt[c] = this.index(s, k, 1, this.at.vt, 'UV');
      if (f.vn) f.vn[c] = this.index(s, k, 2, this.at.vn, 'normal');
    }
    const twice = repeated(f.v, first, n);
    if (twice >= 0) throw fault(s.line, `a face uses point ${twice + 1} twice`);
    let group = f.groupNames.get(this.group);
    if (group === undefined) f.groupNames.set(this.group, (group = f.groupNames.size));
    f.groups[f.faces++] = group;
    f.corners += n;
    f.starts[f.faces] = f.corners;
  }

  /** From 0; −1 where none is given. */
  private index(s: ObjStatements, word: number, part: number, count: number, what: string): number {
    const n = s.part(word, part);
    if (n === 0) return -1;
    if (Number.isNaN(n)) throw fault(s.line, `“${s.text(word)}” is not a ${what} index`);
    const i = n > 0 ? n - 1 : count + n;
    if (i < 0 || i >= count) throw fault(s.line, `${what} ${n} does not exist, there are ${count} so far`);
    return i;
  }
}

/** An entry that stands twice among `n` entries from `first`; −1 when none does. */
function repeated(list: Uint32Array, first: number, n: number): number {
  if (n > 16) {
    const seen = new Set<number>();
    for (let c = first; c < first + n; c++) {
      if (seen.has(list[c])) return list[c];
      seen.add(list[c]);
    }
    return -1;
  }
  for (let a = first; a < first + n; a++)
    for (let b = a + 1; b < first + n; b++) if (list[a] === list[b]) return list[a];
  return -1;
}

function objectOf(f: Faces, r: Reading, number: Int32Array): NamedMesh {
  let points = 0;
  const used = new Uint32Array(Math.min(f.v.length, number.length));
  for (let c = 0; c < f.v.length; c++) {
    const v = f.v[c];
    if (number[v] < 0) {
      used[points] = v;
      number[v] = points++;
    }
    f.v[c] = number[v];
  }
  const positions = new Float64Array(3 * points);
  for (let i = 0; i < points; i++) {
    const v = used[i];
    for (let k = 0; k < 3; k++) positions[3 * i + k] = r.v[3 * v + k];
    number[v] = -1;
  }
  const corner: Record<string, Layer> = {};
  if (f.vt) corner.uv = { size: 2, data: gathered(f.vt, r.vt, 2, new Float64Array(2 * f.vt.length)) };
  if (f.vn)
    corner.normal = { size: 3, data: unitRows(gathered(f.vn, r.vn, 3, new Float32Array(3 * f.vn.length))) };
  const face: Record<string, Layer> = f.groupNames.size > 1 ? { group: { size: 1, data: f.groups } } : {};
  if (f.vt) face.uvLaid = { size: 1, data: new Uint8Array(f.starts.length - 1).fill(1) };
  return { name: f.name, mesh: makeMesh(positions, f.starts, f.v, { corner, face }) };
}

function gathered<T extends Float64Array | Float32Array>(
  ids: Int32Array,
  values: Float64Array | Float32Array,
  size: number,
  out: T,
): T {
  for (let i = 0; i < ids.length; i++)
    if (ids[i] >= 0) for (let k = 0; k < size; k++) out[size * i + k] = values[size * ids[i] + k];
  return out;
}

function unitRows(rows: Float32Array): Float32Array {
  for (let i = 0; i < rows.length; i += 3) {
    const l = Math.hypot(rows[i], rows[i + 1], rows[i + 2]) || 1;
    for (let k = 0; k < 3; k++) rows[i + k] /= l;
  }
  return rows;
}

const fault = (line: number, what: string): OperationError =>
  new OperationError(
    'bad-obj',
    line ? `Line ${line}: ${what}.` : `The file cannot be read: ${what}.`,
    undefined,
    'Correct the line or export the file again.',
  );
