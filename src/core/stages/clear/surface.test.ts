import { describe, expect, it } from 'vitest';
import { blotches, paint } from '../../../../tests/make/pictures';
import { seededRandom } from '../../numeric/random';
import { fitSurface, surfaceColor } from './surface';

const gradient = (x: number, y: number): [number, number, number] => [
  120 + 0.3 * x + 0.1 * y,
  200 - 0.2 * x + 0.0006 * y * y,
  90 + 0.25 * y,
];
const rounded = (color: readonly number[]) => color.map(Math.round) as [number, number, number];
const frame = [
  { x: 1, y: 1 },
  { x: 150, y: 1 },
  { x: 298, y: 1 },
];

describe('fitSurface', () => {
  it('finds a smooth backdrop, everywhere within one step', () => {
    const surface = fitSurface(
      paint(300, 200, (x, y) => rounded(gradient(x, y))),
      frame,
    )!;
    for (const [x, y] of [
      [0, 0],
      [150, 100],
      [299, 199],
      [20, 180],
    ] as const) {
      const found = surfaceColor(surface, x, y);
      const [red, green, blue] = gradient(x, y);
      expect(Math.abs(found.red - red)).toBeLessThan(1);
      expect(Math.abs(found.green - green)).toBeLessThan(1);
      expect(Math.abs(found.blue - blue)).toBeLessThan(1);
    }
  });

  it('is not pulled by a subject that covers a third of the picture, nor by grain', () => {
    const random = seededRandom(5);
    const picture = paint(300, 200, (x, y) => {
      const subject = Math.abs(x - 160) < 90 && Math.abs(y - 110) < 62;
      const color = subject ? [40, 40, 120] : gradient(x, y);
      return rounded(color.map((value) => value + (random() - 0.5) * 6));
    });
    const surface = fitSurface(picture, frame)!;
    for (const [x, y] of [
      [5, 190],
      [160, 110],
      [290, 100],
    ] as const) {
      const found = surfaceColor(surface, x, y);
      const [red, green, blue] = gradient(x, y);
      expect(Math.hypot(found.red - red, found.green - green, found.blue - blue)).toBeLessThan(6);
    }
  });

  it('gives the same for a picture large enough to be reduced', () => {
    const small = fitSurface(
      paint(300, 200, (x, y) => rounded(gradient(x, y))),
      frame,
    )!;
    const large = fitSurface(
      paint(1200, 800, (x, y) => rounded(gradient(x / 4, y / 4))),
      frame.map(({ x, y }) => ({ x: 4 * x, y: 4 * y })),
    )!;
    const one = surfaceColor(small, 150, 100);
    const other = surfaceColor(large, 602, 402);
    expect(Math.hypot(one.red - other.red, one.green - other.green, one.blue - other.blue)).toBeLessThan(1.5);
  });

  it('is null where too little is smooth', () => {
    expect(fitSurface(blotches(60, 60, 8), [{ x: 0, y: 0 }])?.spread ?? 99).toBeGreaterThan(1);
  });
});
