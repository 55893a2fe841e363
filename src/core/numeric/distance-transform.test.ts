import { describe, expect, it } from 'vitest';
import { nearestPixel, pixelDistance, squaredDistance } from './distance-transform';
import { seededRandom } from './random';

describe('nearestPixel', () => {
  it.each([
    [1, 23, 17, 0.05],
    [2, 40, 1, 0.1],
    [3, 1, 40, 0.1],
    [4, 31, 29, 0.5],
    [5, 30, 30, 0.003],
  ])(
    'finds a pixel as near as a search over all of them does (seed %i, %i x %i)',
    (seed, width, height, share) => {
      const random = seededRandom(seed);
      const mask = Uint8Array.from({ length: width * height }, () => (random() < share ? 1 : 0));
      mask[width * height - 1] = 1;
      const nearest = nearestPixel({ data: mask, width, height }, 1);
      const wanted = [...mask.keys()].filter((i) => mask[i] === 1);
      for (let i = 0; i < mask.length; i++) {
        const best = Math.min(...wanted.map((j) => squaredDistance(i, j, width)));
        expect(mask[nearest[i]!]).toBe(1);
        expect(squaredDistance(i, nearest[i]!, width)).toBe(best);
      }
    },
  );

  it('says -1 where there is none', () => {
    expect([...nearestPixel({ data: new Uint8Array(6), width: 3, height: 2 }, 1)]).toEqual([
      -1, -1, -1, -1, -1, -1,
    ]);
  });
});

describe('pixelDistance', () => {
  it('is Euclidean', () => {
    expect(pixelDistance(0, 4 * 10 + 3, 10)).toBe(5);
  });
});
