import { describe, expect, it } from 'vitest';
import { CUBIC_TERMS, cubicPlace, fillCubic, solvedCubics } from './cubic';
import { seededRandom } from './random';

describe('polynomials of order 3', () => {
  it('lie from -1 to 1, mirrored about the middle', () => {
    for (let at = 0; at < 7; at++) expect(cubicPlace(at, 7)).toBeCloseTo(-cubicPlace(6 - at, 7), 12);
    expect(cubicPlace(3, 7)).toBe(0);
    expect(cubicPlace(0, 1000)).toBeGreaterThan(-1);
  });

  it.each([1, 3, 6, CUBIC_TERMS])('are found from their values with %d terms', (terms) => {
    const random = seededRandom(terms);
    const own = Float64Array.from({ length: terms }, () => random() * 40 - 20);
    const matrix = new Float64Array(terms * terms);
    const right = new Float64Array(terms);
    const basis = new Float64Array(CUBIC_TERMS);
    for (let n = 0; n < 60; n++) {
      fillCubic(basis, 2 * random() - 1, 2 * random() - 1);
      const value = own.reduce((sum, coefficient, j) => sum + coefficient * basis[j]!, 0);
      for (let j = 0; j < terms; j++) {
        right[j]! += basis[j]! * value;
        for (let k = 0; k <= j; k++) matrix[j * terms + k]! += basis[j]! * basis[k]!;
      }
    }
    const [found] = solvedCubics(matrix, terms, [right])!;
    expect(found).toHaveLength(CUBIC_TERMS);
    own.forEach((coefficient, j) => expect(found![j]).toBeCloseTo(coefficient, 7));
    expect([...found!.subarray(terms)].every((value) => value === 0)).toBe(true);
  });

  it('are not found where the places tell too little', () => {
    expect(solvedCubics(new Float64Array(9), 3, [new Float64Array(3)])).toBeNull();
  });
});
