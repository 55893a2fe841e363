import { solveSymmetric } from './solve';

/** Terms of a polynomial of order 3 in the place: 1, u, v, uu, uv, vv, uuu, uuv, uvv, vvv. */
export const CUBIC_TERMS = 10;

/** Where a pixel's middle lies along a side of some length, from -1 to 1. */
export function cubicPlace(at: number, length: number): number {
  return (2 * (at + 0.5)) / length - 1;
}

/** Fills `out` with the values of the terms at a place. */
export function fillCubic(out: Float64Array, u: number, v: number): void {
  out[0] = 1;
  out[1] = u;
  out[2] = v;
  out[3] = u * u;
  out[4] = u * v;
  out[5] = v * v;
  out[6] = u * u * u;
  out[7] = u * u * v;
  out[8] = u * v * v;
  out[9] = v * v * v;
}

/**
 * The coefficients that solve normal equations of the first `terms` terms for several right sides, the others 0. Only the lower
 * triangle of `matrix`, `terms` x `terms` row by row, is read; the upper one is filled. Null where it is singular.
 */
export function solvedCubics(
  matrix: Float64Array,
  terms: number,
  rights: readonly Float64Array[],
): Float64Array[] | null {
  for (let j = 0; j < terms; j++) for (let k = 0; k < j; k++) matrix[k * terms + j] = matrix[j * terms + k]!;
  const solved = solveSymmetric(matrix, terms, rights);
  return (
    solved &&
    solved.map((values) => {
      const all = new Float64Array(CUBIC_TERMS);
      all.set(values);
      return all;
    })
  );
}
