/**
 * Reads Wavefront OBJ: n-gons, objects and groups, normals, UVs, negative indices, continued lines.
 * @throws OperationError `bad-obj` with the line at fault.
 */
import type { PolyMesh } from '../mesh/PolyMesh';
import { makeMesh } from '../mesh/PolyMesh';
import { OperationError } from '../mesh/errors';
import type { Layer } from '../mesh/layers';

export interface ObjObject {
  name: string;
  mesh: PolyMesh;
}

export const OBJ_LIMITS = { bytes: 256 * 1024 * 1024, corners: 20_000_000, cornersPerFace: 100_000 };

interface Reading {
  v: number[];
  vt: number[];
  vn: number[];
  objects: Map<string, Faces>;
  current: string;
  group: string;
}
interface Faces {
  starts: number[];
  v: number[];
  vt: number[];
  vn: number[];
  groups: number[];
  groupNames: Map<string, number>;
}

export function readObj(text: string): ObjObject[] {
  if (text.length > OBJ_LIMITS.bytes) throw fault(0, 'the file is larger than 256 MB');
  const r: Reading = { v: [], vt: [], vn: [], objects: new Map(), current: 'Object', group: '' };
  const lines = text.split(/\r?\n/);
  for (let i = 0; i < lines.length; i++) {
    const first = i + 1;
    let line = lines[i];
    while (line.endsWith('\\') && i + 1 < lines.length) line = line.slice(0, -1) + ' ' + lines[++i];
    readLine(line, first, r);
  }
  const out = [...r.objects].filter(([, f]) => f.starts.length).map(([name, f]) => objectOf(name, f, r));
  if (!out.length) throw fault(lines.length, 'the file has no faces');
  return out;
}

function readLine(line: string, at: number, r: Reading): void {
  const hash = line.indexOf('#');
  const words = (hash >= 0 ? line.slice(0, hash) : line).trim().split(/\s+/);
  switch (words[0]) {
    case 'v':
      readNumbers(words, 3, at, r.v);
      return;
    case 'vt':
      readNumbers(words, 2, at, r.vt);
      return;
    case 'vn':
      readNumbers(words, 3, at, r.vn);
      return;
    case 'o':
      r.current = words.slice(1).join(' ') || 'Object';
      return;
    case 'g':
      r.group = words.slice(1).join(' ');
      return;
    case 'f':
      readFace(words, at, r);
  }
}

function readNumbers(words: string[], count: number, at: number, into: number[]): void {
  for (let k = 1; k <= count; k++) {
    const x = words[k] === undefined || words[k] === '' ? NaN : Number(words[k]);
    if (!Number.isFinite(x))
      throw fault(
        at,
        words[k] === undefined ? `“${words[0]}” needs ${count} numbers` : `“${words[k]}” is not a number`,
      );
    into.push(x);
  }
}

function readFace(words: string[], at: number, r: Reading): void {
  if (words.length < 4) throw fault(at, `a face needs at least 3 corners, this one has ${words.length - 1}`);
  if (words.length - 1 > OBJ_LIMITS.cornersPerFace) throw fault(at, 'a face has more than 100000 corners');
  let f = r.objects.get(r.current);
  if (!f)
    r.objects.set(r.current, (f = { starts: [], v: [], vt: [], vn: [], groups: [], groupNames: new Map() }));
  f.starts.push(f.v.length);
  const seen = new Set<number>();
  for (const word of words.slice(1)) {
    const parts = word.split('/');
    const v = index(parts[0], r.v.length / 3, 'point', at);
    if (seen.has(v)) throw fault(at, `a face uses point ${v + 1} twice`);
    seen.add(v);
    f.v.push(v);
    f.vt.push(parts[1] ? index(parts[1], r.vt.length / 2, 'UV', at) : -1);
    f.vn.push(parts[2] ? index(parts[2], r.vn.length / 3, 'normal', at) : -1);
  }
  if (f.v.length > OBJ_LIMITS.corners) throw fault(at, 'the file has more than 20 million corners');
  if (!f.groupNames.has(r.group)) f.groupNames.set(r.group, f.groupNames.size);
  f.groups.push(f.groupNames.get(r.group)!);
}

function index(word: string, count: number, what: string, at: number): number {
  const n = Number(word);
  if (!Number.isInteger(n) || n === 0) throw fault(at, `“${word}” is not a ${what} index`);
  const i = n > 0 ? n - 1 : count + n;
  if (i < 0 || i >= count) throw fault(at, `${what} ${n} does not exist, there are ${count} so far`);
  return i;
}

function objectOf(name: string, f: Faces, r: Reading): ObjObject {
  const number = new Map<number, number>();
  const corners = Uint32Array.from(f.v, (v) => {
    let i = number.get(v);
    if (i === undefined) number.set(v, (i = number.size));
    return i;
  });
  const positions = new Float64Array(3 * number.size);
  for (const [v, i] of number) for (let k = 0; k < 3; k++) positions[3 * i + k] = r.v[3 * v + k];
  const corner: Record<string, Layer> = {};
  if (f.vt.some((i) => i >= 0)) corner.uv = gather(f.vt, r.vt, 2, false);
  if (f.vn.some((i) => i >= 0)) corner.normal = gather(f.vn, r.vn, 3, true);
  const face: Record<string, Layer> =
    f.groupNames.size > 1 ? { group: { size: 1, data: Int32Array.from(f.groups) } } : {};
  const faceStart = Uint32Array.from([...f.starts, f.v.length]);
  return { name, mesh: makeMesh(positions, faceStart, corners, { corner, face }) };
}

function gather(ids: number[], values: number[], size: number, unit: boolean): Layer {
  const data = new Float64Array(ids.length * size);
  ids.forEach((id, i) => {
    if (id < 0) return;
    let l = 1;
    if (unit) l = Math.hypot(values[3 * id], values[3 * id + 1], values[3 * id + 2]) || 1;
    for (let k = 0; k < size; k++) data[size * i + k] = values[size * id + k] / l;
  });
  return { size, data: unit ? Float32Array.from(data) : data };
}

const fault = (line: number, what: string): OperationError =>
  new OperationError(
    'bad-obj',
    line ? `Line ${line}: ${what}.` : `The file cannot be read: ${what}.`,
    undefined,
    'Correct the line or export the file again.',
  );
