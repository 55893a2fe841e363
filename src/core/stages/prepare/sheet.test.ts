import { describe, expect, it } from 'vitest';
import { noise, paint } from '../../../../tests/make/pictures';
import { writtenSheet } from '../../../../tests/make/sheets';
import { AS_IT_CAME } from './settings';
import { contentOf } from './content';
import { uncropped } from './prepare';
import { findSheet } from './sheet';
import { findStraightening } from './straighten';

describe('findSheet', () => {
  const inside = (x: number, y: number, corners: readonly (readonly [number, number])[]) =>
    corners.every(([x0, y0], k) => {
      const [x1, y1] = corners[(k + 1) % 4]!;
      return (x1 - x0) * (y + 0.5 - y0) - (y1 - y0) * (x + 0.5 - x0) > 0;
    });
  const corners = [
    [42, 30],
    [280, 48],
    [262, 205],
    [28, 190],
  ] as const;
  const photo = paint(320, 240, (x, y) => (inside(x, y, corners) ? [236, 232, 224] : [70, 60, 52]));

  it('finds the corners of a light sheet before a dark ground', () => {
    const found = findSheet({ raster: photo, reduction: 0 })!;
    found.forEach(([x, y], k) => {
      expect(Math.abs(x - corners[k]![0])).toBeLessThan(1.5);
      expect(Math.abs(y - corners[k]![1])).toBeLessThan(1.5);
    });
  });

  it.each([
    ['noise', noise(200, 150)],
    ['a sheet that fills the picture', writtenSheet()],
    [
      // Two of its sides lie on one line, so that they meet nowhere.
      'a light band along the diagonal',
      paint(54, 57, (x, y) => (Math.abs(x - y) < 10 ? [228, 228, 228] : [52, 52, 52])),
    ],
    [
      'a light disc',
      paint(200, 200, (x, y) => (Math.hypot(x - 100, y - 100) < 80 ? [240, 240, 240] : [40, 40, 40])),
    ],
  ])('finds none in %s', (_what, raster) => {
    expect(findSheet({ raster, reduction: 0 })).toBeNull();
  });
});

describe('findStraightening', () => {
  it.each([2.4, -6.3])('finds ruled lines that lie %d degrees askew, and is sure', (rulesDeg) => {
    const found = findStraightening(writtenSheet({ rules: 26, rulesDeg, width: 480, height: 360 }));
    expect(found.deg).toBeCloseTo(-rulesDeg, 0.7);
    expect(found.confidence).toBeGreaterThan(0.6);
    expect(found.by).toBe('ruled lines');
  });

  it('finds lines of writing', () => {
    const lines = paint(420, 300, (x, y) => {
      const across = y - Math.tan((3 * Math.PI) / 180) * (x - 210);
      const near = Math.abs(across - 30 * Math.round(across / 30));
      const letter = Math.sin(x * 0.9) + Math.sin(x * 0.37 + y) > 0.2;
      return near < 5 && letter && x > 40 && x < 380 ? [30, 30, 40] : [245, 244, 240];
    });
    const found = findStraightening(lines);
    expect(Math.abs(found.deg + 3)).toBeLessThan(0.4);
    expect(found.confidence).toBeGreaterThan(0.5);
  });

  it('is not sure of a single wave', () => {
    expect(findStraightening(writtenSheet()).confidence).toBeLessThan(0.6);
  });

  it('lays a picture level that it found askew', () => {
    const original = writtenSheet({ rules: 26, rulesDeg: 4, width: 480, height: 360 });
    const { deg } = findStraightening(original);
    const level = uncropped({ original }, { ...AS_IT_CAME, straightenDeg: deg });
    expect(Math.abs(findStraightening(level).deg)).toBeLessThan(0.3);
  });
});

describe('contentOf', () => {
  it('is the smallest box around what is seen', () => {
    const raster = paint(20, 10, (x, y) => [0, 0, 0, x >= 4 && x < 9 && y >= 3 && y < 5 ? 255 : 8]);
    expect(contentOf(raster)).toEqual({ x: 4, y: 3, width: 5, height: 2 });
    expect(contentOf(paint(4, 4, () => [0, 0, 0, 0]))).toBeNull();
  });
});
