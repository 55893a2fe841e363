import { describe, expect, it } from 'vitest';
import { blurBox, sumBox } from './box';
import { seededRandom } from './random';

const naive = (plane: ArrayLike<number>, width: number, height: number, radius: number) =>
  Array.from({ length: width * height }, (_, i) => {
    const x = i % width;
    const y = (i - x) / width;
    let sum = 0;
    let count = 0;
    for (let v = Math.max(0, y - radius); v <= Math.min(height - 1, y + radius); v++)
      for (let u = Math.max(0, x - radius); u <= Math.min(width - 1, x + radius); u++, count++)
        sum += plane[v * width + u]!;
    return { sum, mean: sum / count };
  });

describe('sums and means over a square', () => {
  it.each([
    [1, 1, 2],
    [9, 1, 2],
    [1, 7, 3],
    [13, 11, 2],
    [6, 5, 9],
  ])('equal a slow search on %d x %d with radius %d', (width, height, radius) => {
    const random = seededRandom(width * 100 + height);
    const plane = Int32Array.from({ length: width * height }, () => Math.floor(random() * 1000) - 400);
    const expected = naive(plane, width, height, radius);
    expect([...sumBox(plane, width, height, radius)]).toEqual(expected.map(({ sum }) => sum));
    blurBox(plane, width, height, radius).forEach((mean, i) =>
      expect(mean).toBeCloseTo(expected[i]!.mean, 3),
    );
  });
});
