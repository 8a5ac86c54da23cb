/** Short hashes of births: 32 bits, never 0, mixed as in MurmurHash3 (Appleby 2011). */
export const hashOf = (...parts: number[]): number => hashAll(parts);

export function hashAll(parts: ArrayLike<number>): number {
  let h = 0x9747b28c;
  for (let i = 0; i < parts.length; i++) {
    let k = Math.imul(parts[i] | 0, 0xcc9e2d51);
    k = Math.imul((k << 15) | (k >>> 17), 0x1b873593);
    h ^= k;
    h = (Math.imul((h << 13) | (h >>> 19), 5) + 0xe6546b64) | 0;
  }
  h ^= parts.length;
  h = Math.imul(h ^ (h >>> 16), 0x85ebca6b);
  h = Math.imul(h ^ (h >>> 13), 0xc2b2ae35);
  return (h ^ (h >>> 16)) >>> 0 || 1;
}

export function hashOfText(text: string): number {
  let h = 0x811c9dc5;
  for (let i = 0; i < text.length; i++) h = Math.imul(h ^ text.charCodeAt(i), 0x01000193);
  return hashOf(h);
}

/** The code by which rim edges remember their cutter: 31-bit FNV-1a of the piece's id, never 0. */
export function cutterCode(id: string): number {
  let h = 0x811c9dc5;
  for (let i = 0; i < id.length; i++) h = Math.imul(h ^ id.charCodeAt(i), 0x01000193);
  return h & 0x7fffffff || 1;
}
