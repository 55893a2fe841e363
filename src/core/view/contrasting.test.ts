import { describe, expect, it } from 'vitest';
import { labOf, type Lab } from '../color/oklab';
import { rgbOfHex } from '../color/hex';
import { paint } from '../../../tests/make/pictures';
import { cutDisc } from '../../../tests/make/cutouts';
import { contrastingBacking } from './contrasting';

const discOf = (color: readonly [number, number, number]) => {
  const { data } = cutDisc(60);
  return paint(60, 60, (x, y) => [...color, data[(y * 60 + x) * 4 + 3]!]);
};

describe('contrastingBacking', () => {
  const far = (one: Lab, other: Lab) =>
    Math.hypot(one.lightness - other.lightness, one.a - other.a, one.b - other.b);

  it.each([
    [250, 250, 245],
    [10, 10, 12],
    [200, 30, 30],
    [40, 90, 200],
    [128, 128, 128],
  ] as const)('lies far from an edge of color %i %i %i', (r, g, b) => {
    const color = [r, g, b] as const;
    const { red, green, blue } = rgbOfHex(contrastingBacking(discOf(color)));
    const halfway = 0.45 * far(labOf(0, 0, 0), labOf(255, 255, 255));
    expect(far(labOf(red, green, blue), labOf(...color))).toBeGreaterThan(halfway);
  });

  it('looks only where it is told to, and gives black where nothing is', () => {
    const halves = paint(60, 20, (x, y) => {
      if (x % 30 < 8 || x % 30 > 22 || y < 4 || y > 15) return [0, 0, 0, 0];
      return x < 30 ? [255, 255, 255] : [0, 0, 0];
    });
    const left = contrastingBacking(halves, { x: 0, y: 0, width: 30, height: 20 });
    const right = contrastingBacking(halves, { x: 30, y: 0, width: 30, height: 20 });
    expect(left).not.toBe(right);
    expect(contrastingBacking(paint(4, 4, () => [9, 9, 9, 0]))).toBe('#000000');
  });
});
