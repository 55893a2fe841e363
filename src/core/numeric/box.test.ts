import { describe, expect, it } from 'vitest';
import { blurBox, sumBox, takeMeans } from './box';
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
    expect([...sumBox({ data: plane, width, height }, radius)]).toEqual(expected.map(({ sum }) => sum));
    blurBox({ data: plane, width, height }, radius).forEach((mean, i) =>
      expect(mean).toBeCloseTo(expected[i]!.mean, 3),
    );
  });
});

describe('means of what counts', () => {
  it.each([
    [1, 1, 2],
    [13, 11, 2],
    [6, 5, 9],
  ])(
    'equal a slow search on %d x %d with radius %d, and leave what too little counts for',
    (width, height, radius) => {
      const random = seededRandom(width * 10 + height);
      const plane = () => Float32Array.from({ length: width * height }, () => random() * 300 - 100);
      const planes = [plane(), plane(), plane()] as const;
      const counts = Uint8Array.from(planes[0], () => (random() < 0.3 ? 1 : 0));
      const out = [plane(), plane(), plane()] as const;
      const before = out.map((one) => one.slice());
      takeMeans(planes, { data: counts, width, height }, radius, 0.25, out);
      const share = naive(counts, width, height, radius);
      planes.forEach((own, c) => {
        const counted = naive(
          own.map((value, i) => value * counts[i]!),
          width,
          height,
          radius,
        );
        out[c]!.forEach((mean, i) =>
          expect(mean).toBeCloseTo(
            share[i]!.mean > 0.25 ? counted[i]!.sum / share[i]!.sum : before[c]![i]!,
            3,
          ),
        );
      });
    },
  );
});
