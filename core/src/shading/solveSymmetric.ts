/** Small symmetric systems of least squares. */

/** Directions in which a system says less than this share of what it says most are left alone. */
const LEAST = 1e-9;

/**
 * Solves A·x = b for a symmetric A that is not negative, by Cholesky's factors (Golub & Van Loan 2013, section 4.2).
 * @param A n × n, overwritten
 * @returns null where A does not fix x
 */
export function solveSymmetric(A: Float64Array, b: Float64Array): Float64Array | null {
  const n = b.length;
  let most = 0;
  for (let i = 0; i < n; i++) most = Math.max(most, A[n * i + i]);
  for (let i = 0; i < n; i++) {
    for (let k = 0; k <= i; k++) {
      let sum = A[n * i + k];
      for (let j = 0; j < k; j++) sum -= A[n * i + j] * A[n * k + j];
      if (k < i) A[n * i + k] = sum / A[n * k + k];
      else if (sum > LEAST * most) A[n * i + i] = Math.sqrt(sum);
      else return null;
    }
  }
  const x = Float64Array.from(b);
  for (let i = 0; i < n; i++) {
    for (let j = 0; j < i; j++) x[i] -= A[n * i + j] * x[j];
    x[i] /= A[n * i + i];
  }
  for (let i = n - 1; i >= 0; i--) {
    for (let j = i + 1; j < n; j++) x[i] -= A[n * j + i] * x[j];
    x[i] /= A[n * i + i];
  }
  return x;
}
