/** Normals that are held: set by hand, cast, or from a file. A zero holds none. */

export function allHeld(held: ArrayLike<number>): boolean {
  for (let c = 0; c < held.length; c += 3)
    if (held[c] === 0 && held[c + 1] === 0 && held[c + 2] === 0) return false;
  return true;
}

export function overlayHeld(held: ArrayLike<number>, out: Float32Array): void {
  for (let c = 0; c < held.length; c += 3)
    if (held[c] !== 0 || held[c + 1] !== 0 || held[c + 2] !== 0) {
      out[c] = held[c];
      out[c + 1] = held[c + 1];
      out[c + 2] = held[c + 2];
    }
}
