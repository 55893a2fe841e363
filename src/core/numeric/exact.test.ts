import { describe, expect, it } from 'vitest';
import { seededRandom } from './random';
import { lengthOf, sineOfTurns, square, turnsOf } from './exact';

const random = seededRandom(41);
const some = Array.from({ length: 2000 }, () => (random() - 0.5) * 40);

describe('exact arithmetic', () => {
  it('agrees with the library’s square, length and sine', () => {
    for (const [k, x] of some.entries()) {
      const y = some[(k + 1) % some.length]!;
      const z = some[(k + 2) % some.length]!;
      expect(square(x)).toBeCloseTo(x ** 2, 9);
      expect(lengthOf(x, y)).toBeCloseTo(Math.hypot(x, y), 9);
      expect(lengthOf(x, y, z)).toBeCloseTo(Math.hypot(x, y, z), 9);
      expect(Math.abs(sineOfTurns(x) - Math.sin(2 * Math.PI * x))).toBeLessThan(0.0012);
    }
  });

  it('gives the angle of any vector in turns', () => {
    for (const [k, x] of some.entries()) {
      const y = some[(k + 1) % some.length]!;
      const turns = Math.atan2(y, x) / (2 * Math.PI);
      expect(Math.abs(turnsOf(x, y) - (turns < 0 ? turns + 1 : turns))).toBeLessThan(0.00001);
    }
    expect([turnsOf(1, 0), turnsOf(0, 1), turnsOf(-1, 0), turnsOf(0, -1), turnsOf(0, 0)]).toEqual([
      0, 0.25, 0.5, 0.75, 0,
    ]);
  });
});
