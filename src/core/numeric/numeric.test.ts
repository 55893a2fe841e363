import { describe, expect, it } from 'vitest';
import { seededRandom } from './random';
import { solveSymmetric } from './solve';
import { deviation, median, quantile } from './statistics';

describe('solveSymmetric', () => {
  it('solves what was multiplied before', () => {
    const random = seededRandom(11);
    const n = 6;
    const root = Array.from({ length: n * n }, () => random() - 0.5);
    // root * root' + identity is symmetric and positive definite.
    const matrix = new Float64Array(n * n);
    for (let i = 0; i < n; i++)
      for (let j = 0; j < n; j++) {
        for (let k = 0; k < n; k++) matrix[i * n + j]! += root[i * n + k]! * root[j * n + k]!;
        if (i === j) matrix[i * n + j]! += 1;
      }
    const x = Array.from({ length: n }, () => random() * 10);
    const right = Float64Array.from({ length: n }, (_, i) =>
      x.reduce((sum, value, j) => sum + matrix[i * n + j]! * value, 0),
    );
    const [found] = solveSymmetric(matrix, n, [right])!;
    x.forEach((value, i) => expect(found![i]).toBeCloseTo(value, 9));
  });

  it('refuses a singular matrix', () => {
    expect(solveSymmetric(Float64Array.from([1, 2, 2, 4]), 2, [new Float64Array(2)])).toBeNull();
  });
});

describe('statistics', () => {
  it('takes middles and shares without changing the input', () => {
    const values = [5, 1, 4, 2, 3];
    expect(median(values)).toBe(3);
    expect(quantile(values, 0)).toBe(1);
    expect(quantile(values, 1)).toBe(5);
    expect(values).toEqual([5, 1, 4, 2, 3]);
    expect(median([])).toBeNaN();
  });

  it('takes the value that sorting would put at a share', () => {
    const random = seededRandom(11);
    for (let n = 1; n < 60; n++) {
      // Few different values, so that many are equal.
      const values = Float32Array.from({ length: n }, () => Math.round(random() * (n % 2 ? 6 : 1000)) - 3);
      const sorted = values.slice().sort();
      for (const share of [0, 0.002, 0.3, 0.5, 0.9, 0.998, 1])
        expect(quantile(values, share)).toBe(sorted[Math.min(n - 1, Math.floor(share * n))]);
    }
  });

  it('measures how far values lie from their mean', () => {
    expect(deviation([2, 4, 4, 4, 5, 5, 7, 9])).toBe(2);
    expect(deviation([3])).toBe(0);
    expect(deviation([])).toBe(0);
  });
});
