import { describe, expect, it } from 'vitest';
import { paint } from '../../../tests/make/pictures';
import type { Raster } from '../raster/raster';
import { contoursOf, type Contour } from './contours';
import { smoothParts } from './corners';
import { coverageOf } from './coverage';
import { settleContours } from './settle';

/** How much of each pixel a shape covers, by many samples a pixel. */
function covered(size: number, isIn: (x: number, y: number) => boolean): Raster {
  const steps = 16;
  return paint(size, size, (x, y) => {
    let count = 0;
    for (let v = 0; v < steps; v++)
      for (let u = 0; u < steps; u++) if (isIn(x + (u + 0.5) / steps, y + (v + 0.5) / steps)) count++;
    return [0, 0, 0, Math.round((255 * count) / steps / steps)];
  });
}

const disc = covered(60, (x, y) => Math.hypot(x - 30.3, y - 29.6) < 20.4);
const settled = (raster: Raster): Contour[] => {
  const contours = contoursOf(raster);
  settleContours(contours, raster);
  return contours;
};

/** Signed: positive for what is around something, negative around a hole. */
function areaOf(points: Contour): number {
  let sum = 0;
  for (let k = 0; k < points.length; k += 2) {
    const next = (k + 2) % points.length;
    sum += points[k]! * points[next + 1]! - points[next]! * points[k + 1]!;
  }
  return sum / 2;
}

describe('contoursOf', () => {
  it('goes once around each island, and the other way round each hole', () => {
    const ring = covered(60, (x, y) => {
      const r = Math.hypot(x - 30, y - 30);
      return r < 20 && r > 9;
    });
    const areas = contoursOf(ring).map(areaOf);
    expect(areas.filter((area) => area > 0)).toHaveLength(1);
    expect(areas.filter((area) => area < 0)).toHaveLength(1);
  });

  it('finds islands of a pixel, pixels that touch by a corner, and what fills the picture', () => {
    const dots = paint(9, 9, (x, y) => [
      0,
      0,
      0,
      (x === 2 && y === 2) || (x === 3 && y === 3) || x === 8 ? 255 : 0,
    ]);
    const areas = contoursOf(dots).map(areaOf);
    expect(areas.every((area) => area > 0)).toBe(true);
    expect(contoursOf(paint(3, 2, () => [0, 0, 0, 255]))).toHaveLength(1);
    expect(contoursOf(paint(3, 2, () => [0, 0, 0, 0]))).toHaveLength(0);
  });
});

describe('coverageOf', () => {
  it('is exact for squares that lie anywhere', () => {
    const square = Float64Array.from([1.25, 1.5, 4.25, 1.5, 4.25, 3.75, 1.25, 3.75]);
    const found = coverageOf([square], 6, 5);
    const share = (from: number, to: number, at: number) =>
      Math.max(0, Math.min(to, at + 1) - Math.max(from, at));
    for (let y = 0; y < 5; y++)
      for (let x = 0; x < 6; x++)
        expect(found[y * 6 + x]).toBeCloseTo(share(1.25, 4.25, x) * share(1.5, 3.75, y), 5);
  });

  it('is that of many samples for a triangle, also beyond the borders', () => {
    const corners = [-3, 2, 11, -4, 7.5, 9.2] as const;
    const [ax, ay, bx, by, cx, cy] = corners;
    const side = (px: number, py: number, qx: number, qy: number, x: number, y: number) =>
      (qx - px) * (y - py) - (qy - py) * (x - px);
    const inside = covered(8, (x, y) => {
      const sides = [side(ax, ay, bx, by, x, y), side(bx, by, cx, cy, x, y), side(cx, cy, ax, ay, x, y)];
      return sides.every((one) => one >= 0) || sides.every((one) => one <= 0);
    });
    const found = coverageOf([Float64Array.from(corners)], 8, 8);
    found.forEach((value, i) => expect(Math.abs(value - inside.data[4 * i + 3]! / 255)).toBeLessThan(0.02));
  });

  it('takes off what is gone around the other way', () => {
    const outer = Float64Array.from([0, 0, 4, 0, 4, 4, 0, 4]);
    const hole = Float64Array.from([1, 1, 1, 3, 3, 3, 3, 1]);
    expect([...coverageOf([outer, hole], 4, 4)].map((value) => Math.round(value))).toEqual([
      1, 1, 1, 1, 1, 0, 0, 1, 1, 0, 0, 1, 1, 1, 1, 1,
    ]);
  });
});

describe('settleContours', () => {
  it('brings a disc to its true area and radius', () => {
    const [contour] = settled(disc);
    expect(areaOf(contour!)).toBeCloseTo(Math.PI * 20.4 * 20.4, -1);
    const radii: number[] = [];
    for (let k = 0; k < contour!.length; k += 2)
      radii.push(Math.hypot(contour![k]! - 30.3, contour![k + 1]! - 29.6));
    expect(Math.max(...radii) - 20.4).toBeLessThan(0.12);
    expect(20.4 - Math.min(...radii)).toBeLessThan(0.12);
  });

  it('keeps a hairline as thin as it is faint', () => {
    const hair = covered(40, (x, y) => Math.abs(x - 20.2) < 0.2 && y > 4 && y < 36);
    const areas = settled(hair).map(areaOf);
    const area = areas.reduce((sum, one) => sum + one, 0);
    // Its ends are rounded a little.
    expect(area / (0.4 * 32)).toBeGreaterThan(0.9);
    expect(area / (0.4 * 32)).toBeLessThan(1.05);
  });
});

describe('smoothParts', () => {
  it('finds the corners of a square, where they are', () => {
    const square = covered(50, (x, y) => x > 10.4 && x < 40.4 && y > 9.7 && y < 39.7);
    const { parts, hasCorners } = smoothParts(settled(square)[0]!);
    expect(hasCorners).toBe(true);
    expect(parts).toHaveLength(4);
    const wanted = [
      [10.4, 9.7],
      [40.4, 9.7],
      [40.4, 39.7],
      [10.4, 39.7],
    ] as const;
    for (const [x, y] of wanted) {
      const nearest = Math.min(...parts.map(([first]) => Math.hypot(first![0] - x, first![1] - y)));
      expect(nearest).toBeLessThan(0.35);
    }
  });

  it('finds none in a circle, which ends where it begins', () => {
    const { parts, hasCorners } = smoothParts(settled(disc)[0]!);
    expect(hasCorners).toBe(false);
    expect(parts).toHaveLength(1);
    expect(parts[0]!.at(-1)).toEqual(parts[0]![0]);
  });
});
