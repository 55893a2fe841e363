import { describe, expect, it } from 'vitest';
import { noise } from '../../../../tests/make/pictures';
import { apart, sineToWay, wayAround } from './ways';

const color = (...channels: [number, number, number]) => Float64Array.from(channels);
const B = color(200, 190, 180);

describe('ways from the background', () => {
  it('are as long as the distance of colors', () => {
    expect(apart(color(203, 194, 180), B)).toBe(5);
    expect(apart(B, B)).toBe(0);
  });

  it('differ by the sine of their angle, however long they are', () => {
    const way = color(-30, 0, 0);
    expect(sineToWay(color(100, 190, 180), B, way)).toBe(0);
    expect(sineToWay(color(100, 90, 180), B, way)).toBeCloseTo(Math.SQRT1_2, 12);
    expect(sineToWay(color(199, 189, 180), B, way)).toBeCloseTo(Math.SQRT1_2, 12);
  });

  it('lead apart from a right angle on, and where there is none', () => {
    const way = color(-30, 0, 0);
    for (const other of [color(200, 90, 180), color(250, 190, 180), B])
      expect(sineToWay(other, B, way)).toBe(2);
    expect(sineToWay(color(100, 90, 80), B, color(0, 0, 0))).toBe(2);
  });

  it('are summed over the square around a place, as far as the picture goes', () => {
    const picture = noise(9, 7, 4);
    const out = new Float64Array(3);
    for (const [x, y, radius, pixels] of [
      [4, 3, 1, 9],
      [0, 0, 1, 4],
      [8, 3, 3, 28],
      [4, 3, 20, 63],
    ] as const) {
      wayAround(picture, x, y, radius, B, out);
      const sums = [0, 0, 0];
      let count = 0;
      for (let i = 0; i < 63; i++) {
        if (Math.abs((i % 9) - x) > radius || Math.abs(Math.floor(i / 9) - y) > radius) continue;
        count++;
        for (let c = 0; c < 3; c++) sums[c]! += picture.data[i * 4 + c]! - B[c]!;
      }
      expect(count).toBe(pixels);
      expect([...out]).toEqual(sums);
    }
  });
});
