/** Rims of sets of the kernel's triangles, looked at by their points alone. */
import { trianglePrint } from './Solid';
/** The rim of a set of triangles if it is one loop that visits no point twice; else null. */
export function singleRim(triangles: number[], triVerts: Uint32Array): number[] | null {
  if (triangles.length === 1) {
    const t = 3 * triangles[0];
    return [triVerts[t], triVerts[t + 1], triVerts[t + 2]];
  }
  if (triangles.length <= FEW) return fewRim(triangles, triVerts);
  const key = (a: number, b: number): number => a * 0x4000000 + b;
  const all = new Set<number>();
  for (const t of triangles)
    for (let k = 0; k < 3; k++) {
      const e = key(triVerts[3 * t + k], triVerts[3 * t + ((k + 1) % 3)]);
      if (all.has(e)) return null;
      all.add(e);
    }
  const after = new Map<number, number>();
  let rim = 0;
  for (const t of triangles)
    for (let k = 0; k < 3; k++) {
      const a = triVerts[3 * t + k];
      const b = triVerts[3 * t + ((k + 1) % 3)];
      if (all.has(key(b, a))) continue;
      if (after.has(a)) return null;
      after.set(a, b);
      rim++;
    }
  const first = after.keys().next().value;
  if (first === undefined) return null;
  const loop = [first];
  for (let v = after.get(first)!; v !== first; v = after.get(v)!) loop.push(v);
  return loop.length === rim ? loop : null;
}

/** Up to this many triangles, plain loops are quicker than sets and maps. */
const FEW = 12;

/** `singleRim` for a handful of triangles. */
function fewRim(triangles: number[], tv: Uint32Array): number[] | null {
  const from: number[] = [];
  const to: number[] = [];
  for (const t of triangles)
    for (let k = 0; k < 3; k++) {
      from.push(tv[3 * t + k]);
      to.push(tv[3 * t + (k === 2 ? 0 : k + 1)]);
    }
  const n = from.length;
  const rim: number[] = [];
  for (let i = 0; i < n; i++) {
    let inner = false;
    for (let j = 0; j < n; j++) {
      if (from[j] === to[i] && to[j] === from[i]) inner = true;
      if (j !== i && from[j] === from[i] && to[j] === to[i]) return null;
    }
    if (!inner) rim.push(i);
  }
  const loop: number[] = [];
  let at = rim[0];
  if (at === undefined) return null;
  do {
    loop.push(from[at]);
    let next = -1;
    for (const i of rim)
      if (from[i] === to[at]) {
        // Two ways on: the rim touches itself in this point.
        if (next >= 0) return null;
        next = i;
      }
    if (next < 0) return null;
    at = next;
  } while (at !== rim[0] && loop.length <= rim.length);
  return loop.length === rim.length ? loop : null;
}

/** Triangles that cover each other back to back enclose nothing and are left out in pairs. */
export function withoutFlaps(triangles: number[], tv: Uint32Array): number[] {
  if (triangles.length < 2) return triangles;
  const print = (t: number): number => trianglePrint(tv[3 * t], tv[3 * t + 1], tv[3 * t + 2]);
  const byPoints = new Map<number, number[]>();
  let doubled = false;
  for (const t of triangles) {
    const k = print(t);
    const list = byPoints.get(k);
    if (list) {
      list.push(t);
      doubled = true;
    } else byPoints.set(k, [t]);
  }
  if (!doubled) return triangles;
  const gone = new Set<number>();
  for (const list of byPoints.values())
    for (const t of list)
      for (const u of list)
        if (u > t && !gone.has(t) && !gone.has(u) && backToBack(t, u, tv)) gone.add(t).add(u);
  return gone.size ? triangles.filter((t) => !gone.has(t)) : triangles;
}

/** The same three points, the other way round. */
function backToBack(t: number, u: number, tv: Uint32Array): boolean {
  const [a, b, c] = [tv[3 * t], tv[3 * t + 1], tv[3 * t + 2]];
  for (let k = 0; k < 3; k++)
    if (tv[3 * u + k] === a && tv[3 * u + ((k + 1) % 3)] === c && tv[3 * u + ((k + 2) % 3)] === b)
      return true;
  return false;
}
