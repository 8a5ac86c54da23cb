/** Large and hostile texts for the mesh reader: what they cost in processor time and memory, as shares of their size. */
import { OperationError } from '../core/src/mesh/errors';
import { readObj } from '../core/src/formats/readObj';

const encode = (text: string): Uint8Array => new TextEncoder().encode(text);

function filled(unit: string, bytes: number): Uint8Array {
  const one = encode(unit);
  const out = new Uint8Array(Math.floor(bytes / one.length) * one.length);
  for (let at = 0; at < out.length; at += one.length) out.set(one, at);
  return out;
}

/** Texts of about so many bytes, each a different burden. */
export const TEXTS: Array<[string, (bytes: number) => Uint8Array]> = [
  ['points', (n) => filled('v 1 2 3\n', n)],
  ['long numbers', (n) => filled('v 1.23456789012345678901234567890e-3 2.5 3.75\n', n)],
  ['triangles on the same points', (n) => encode('v 0 0 0\nv 1 0 0\nv 0 1 0\n' + 'f 1 2 3\n'.repeat(Math.floor(Math.min(n, 50e6) / 8)))], // prettier-ignore
  ['a grid with UVs and normals', grid],
  ['continued lines', (n) => encode('v 1 2 \\\n'.repeat(Math.floor(n / 8)) + '3\n')],
  ['one continued comment', (n) => filled('# a \\\n', n)],
  ['spaces', (n) => filled(' ', n)],
  ['one word', (n) => filled('v', n)],
  ['one face without an end', (n) => encode('v 0 0 0\nf' + ' 1'.repeat(Math.floor(n / 2)))],
  ['objects', (n) => encode('v 0 0 0\nv 1 0 0\nv 0 1 0\n' + Array.from({ length: Math.floor(Math.min(n, 100e6) / 18) }, (_, k) => `o o${k}\nf 1 2 3\n`).join(''))], // prettier-ignore
  ['noise', (n) => Uint8Array.from({ length: n }, (_, i) => (Math.imul(i, 2654435761) >>> 23) & 127)],
];

function grid(bytes: number): Uint8Array {
  const side = Math.max(2, Math.floor(Math.sqrt(bytes / 185)));
  const parts: string[] = [];
  for (let y = 0; y < side; y++)
    for (let x = 0; x < side; x++)
      parts.push(`v ${x}.25 ${y}.5 0.125\nvt ${x / side} ${y / side}\nvn 0 0 1\n`);
  for (let y = 1; y < side; y++)
    for (let x = 1; x < side; x++) {
      const [a, b, c, d] = [(y - 1) * side + x, (y - 1) * side + x + 1, y * side + x + 1, y * side + x];
      parts.push(`f ${a}/${a}/${a} ${b}/${b}/${b} ${c}/${c}/${c} ${d}/${d}/${d}\n`);
    }
  return encode(parts.join(''));
}

export interface ReadCost {
  name: string;
  megabytes: number;
  /** Processor time, seconds. */
  seconds: number;
  /** Memory taken beyond the text, as a multiple of it. */
  times: number;
  outcome: string;
}

export function readCost(name: string, text: Uint8Array): ReadCost {
  globalThis.gc?.();
  const before = process.memoryUsage();
  const cpu = process.cpuUsage();
  let outcome = '';
  let peak = 0;
  try {
    const objects = readObj(text);
    const after = process.memoryUsage();
    peak = after.arrayBuffers + after.heapUsed - before.arrayBuffers - before.heapUsed;
    outcome = `${objects.length} objects`;
  } catch (e) {
    if (!(e instanceof OperationError)) throw e;
    const after = process.memoryUsage();
    peak = after.arrayBuffers + after.heapUsed - before.arrayBuffers - before.heapUsed;
    outcome = e.message;
  }
  const { user, system } = process.cpuUsage(cpu);
  return {
    name,
    megabytes: text.length / 1024 / 1024,
    seconds: (user + system) / 1e6,
    times: (Math.max(0, peak) + text.length) / text.length,
    outcome: outcome.slice(0, 90),
  };
}
