/**
 * Solves the symmetric positive definite system `matrix * x = right` for several right sides by Cholesky's method.
 * `matrix` is n x n, row by row; `rights` are vectors of length n. Returns null where the matrix is singular.
 */
export function solveSymmetric(
  matrix: Float64Array,
  n: number,
  rights: readonly Float64Array[],
): Float64Array[] | null {
  const factor = new Float64Array(n * n);
  for (let i = 0; i < n; i++) {
    for (let j = 0; j <= i; j++) {
      let sum = matrix[i * n + j]!;
      for (let k = 0; k < j; k++) sum -= factor[i * n + k]! * factor[j * n + k]!;
      if (i === j) {
        if (sum <= 1e-12) return null;
        factor[i * n + i] = Math.sqrt(sum);
      } else {
        factor[i * n + j] = sum / factor[j * n + j]!;
      }
    }
  }
  return rights.map((right) => substitute(factor, n, right));
}

function substitute(factor: Float64Array, n: number, right: Float64Array): Float64Array {
  const x = Float64Array.from(right);
  for (let i = 0; i < n; i++) {
    for (let k = 0; k < i; k++) x[i]! -= factor[i * n + k]! * x[k]!;
    x[i]! /= factor[i * n + i]!;
  }
  for (let i = n - 1; i >= 0; i--) {
    for (let k = i + 1; k < n; k++) x[i]! -= factor[k * n + i]! * x[k]!;
    x[i]! /= factor[i * n + i]!;
  }
  return x;
}
