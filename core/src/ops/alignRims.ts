/**
 * Finds where two closed rims match: the start on the one at which the sum of squared distances to the other is
 * least. That sum is a constant less a circular correlation, which the fast Fourier transform gives for all starts at
 * once (Cooley & Tukey 1965).
 */
import { distance, type Vec3 } from '../mesh/vec3';

/** Shorter rims are tried start by start as quickly. */
const SHORT = 64;
/** Starts that come as near as this share of the largest sum are compared again, exactly; so many of them at most. */
const NEARLY = 1e-9;
const AGAIN = 32;

/**
 * @param a points of one rim
 * @param b points of the other, in the same direction; point k of `a` meets the one at the same share of `b`
 * @returns the place in `b` that meets the first of `a`; the lowest of equals. O(n log n)
 */
export function bestStart(a: ReadonlyArray<Vec3>, b: ReadonlyArray<Vec3>): number {
  const n = b.length;
  const starts = Array.from({ length: n }, (_, s) => s);
  if (n <= SHORT) return leastOf(a, b, starts);
  const sums = allSums(a, b);
  let [low, high] = [Infinity, -Infinity];
  for (const x of sums) {
    low = Math.min(low, x);
    high = Math.max(high, x);
  }
  const near = starts.filter((s) => sums[s] <= low + NEARLY * Math.max(Math.abs(high), Math.abs(low)));
  return leastOf(a, b, near.slice(0, AGAIN));
}

function leastOf(a: ReadonlyArray<Vec3>, b: ReadonlyArray<Vec3>, starts: ReadonlyArray<number>): number {
  let best = starts[0];
  let least = Infinity;
  for (const s of starts) {
    let sum = 0;
    for (let k = 0; k < a.length; k++) sum += distance(a[k], b[(meets(k, a, b) + s) % b.length]) ** 2;
    if (sum < least - 1e-12) [best, least] = [s, sum];
  }
  return best;
}

const meets = (k: number, a: ReadonlyArray<Vec3>, b: ReadonlyArray<Vec3>): number =>
  Math.floor((k * b.length) / a.length);

/** Per start the sum of squared distances, less what is the same for all. */
function allSums(a: ReadonlyArray<Vec3>, b: ReadonlyArray<Vec3>): Float64Array {
  const n = b.length;
  // From the middle of the points, so that large coordinates cost no digits.
  const middle = [0, 1, 2].map((c) => b.reduce((sum, p) => sum + p[c], 0) / n);
  const out = new Float64Array(n);
  const add = (x: Float64Array, y: Float64Array, by: number): void => {
    correlation(x, y).forEach((v, s) => (out[s] += by * v));
  };
  const count = new Float64Array(n);
  a.forEach((_, k) => count[meets(k, a, b)]++);
  const squares = Float64Array.from(b, (p) => [0, 1, 2].reduce((sum, c) => sum + (p[c] - middle[c]) ** 2, 0));
  add(count, squares, 1);
  for (let c = 0; c < 3; c++) {
    const gathered = new Float64Array(n);
    a.forEach((p, k) => (gathered[meets(k, a, b)] += p[c] - middle[c]));
    const along = Float64Array.from(b, (p) => p[c] - middle[c]);
    add(gathered, along, -2);
  }
  return out;
}

/** Per s: the sum over j of x[j] · y[j + s], around. */
function correlation(x: Float64Array, y: Float64Array): Float64Array {
  const n = x.length;
  let size = 1;
  while (size < 2 * n) size *= 2;
  // y twice over, so that its end runs on into its beginning.
  const [xr, xi, yr, yi] = [0, 1, 2, 3].map(() => new Float64Array(size));
  xr.set(x);
  for (let i = 0; i < Math.min(size, 2 * n); i++) yr[i] = y[i % n];
  transform(xr, xi);
  transform(yr, yi);
  // conj(X) · Y; transformed back by transforming the conjugate.
  for (let i = 0; i < size; i++) {
    const re = xr[i] * yr[i] + xi[i] * yi[i];
    const im = xr[i] * yi[i] - xi[i] * yr[i];
    xr[i] = re;
    xi[i] = -im;
  }
  transform(xr, xi);
  return xr.subarray(0, n).map((v) => v / size);
}

/** Fourier transform in place; the length is a power of two. */
function transform(re: Float64Array, im: Float64Array): void {
  const n = re.length;
  for (let i = 1, j = 0; i < n; i++) {
    let bit = n >> 1;
    for (; j & bit; bit >>= 1) j ^= bit;
    j ^= bit;
    if (i < j) {
      [re[i], re[j]] = [re[j], re[i]];
      [im[i], im[j]] = [im[j], im[i]];
    }
  }
  for (let span = 2; span <= n; span *= 2) {
    const half = span / 2;
    for (let k = 0; k < half; k++) {
      const angle = (-2 * Math.PI * k) / span;
      const [c, s] = [Math.cos(angle), Math.sin(angle)];
      for (let i = k; i < n; i += span) {
        const j = i + half;
        const [r, m] = [re[j] * c - im[j] * s, re[j] * s + im[j] * c];
        re[j] = re[i] - r;
        im[j] = im[i] - m;
        re[i] += r;
        im[i] += m;
      }
    }
  }
}
