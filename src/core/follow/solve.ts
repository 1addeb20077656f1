/** Solves A·x = b, A symmetric and positive (Cholesky); false where it is not. b becomes x. */
export function solve(A: Float64Array, b: Float64Array, n: number): boolean {
  for (let i = 0; i < n; i++)
    for (let j = 0; j <= i; j++) {
      let s = A[i * n + j];
      for (let k = 0; k < j; k++) s -= A[i * n + k] * A[j * n + k];
      if (i === j) {
        if (s <= 1e-12) return false;
        A[i * n + i] = Math.sqrt(s);
      } else A[i * n + j] = s / A[j * n + j];
    }
  for (let i = 0; i < n; i++) {
    for (let k = 0; k < i; k++) b[i] -= A[i * n + k] * b[k];
    b[i] /= A[i * n + i];
  }
  for (let i = n - 1; i >= 0; i--) {
    for (let k = i + 1; k < n; k++) b[i] -= A[k * n + i] * b[k];
    b[i] /= A[i * n + i];
  }
  return true;
}
