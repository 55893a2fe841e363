import { describe, expect, it } from 'vitest';
import { blotches, disc, paint } from '../../../../tests/make/pictures';
import { seededRandom } from '../../numeric/random';
import { findChecker } from './checker';

function checkerboard(
  cell: number,
  left: number,
  top: number,
  light: number,
  dark: number,
  grain = 0,
  seed = 1,
) {
  const random = seededRandom(seed);
  const side = (at: number) => (Math.floor(at / cell) % 2 === 0 ? 1 : -1);
  // The share of a pixel that even cells cover, from 8 x 8 points: the edges of cells of any size are soft.
  const share = (x: number, y: number) => {
    let even = 0;
    for (let v = 0; v < 8; v++)
      for (let u = 0; u < 8; u++)
        if (side(x + (u + 0.5) / 8 - left + 100 * cell) * side(y + (v + 0.5) / 8 - top + 100 * cell) > 0)
          even++;
    return even / 64;
  };
  return paint(220, 180, (x, y) => {
    const subject = Math.hypot(x - 110, y - 90) < 55;
    const tone = subject ? 60 : dark + (light - dark) * share(x, y) + (random() - 0.5) * grain;
    const value = Math.round(Math.min(255, Math.max(0, tone)));
    return [value, value, value];
  });
}

describe('findChecker', () => {
  it.each([
    [8, 0, 0],
    [13.37, 4.2, 7.9],
    [21.4, 12.5, 3.1],
  ])('finds cells of %d px with their phase and tones', (cell, left, top) => {
    const checker = findChecker(checkerboard(cell, left, top, 255, 204))!;
    expect(Math.abs(checker.cellPx - cell)).toBeLessThan(0.06);
    expect([checker.even.green, checker.odd.green].sort((a, b) => a - b)).toEqual([204, 255]);
    // Far from the frame, where the phase must still fit.
    const middle = (at: number, start: number, k: number) =>
      start + cell * (k + 0.5) + Math.round((at - start) / cell) * cell;
    const x = middle(100, left, 0);
    const y = middle(80, top, 0);
    const parity = (Math.round((x - left) / cell - 0.5) + Math.round((y - top) / cell - 0.5)) % 2 === 0;
    expect(Math.abs(checker.toneAt(x, y).green - (parity ? 255 : 204))).toBeLessThan(4);
    expect(Math.abs(checker.toneAt(x + cell, y).green - (parity ? 204 : 255))).toBeLessThan(4);
  });

  it('finds it under grain and with little contrast', () => {
    expect(findChecker(checkerboard(11.3, 2, 5, 255, 232, 8))).not.toBeNull();
  });

  it('finds it where a subject, dark or colored, lies on much of the frame', () => {
    const board = (subject: readonly [number, number, number], frameShare: number) =>
      paint(300, 240, (x, y) => {
        const isCovered = (x < 12 || x >= 288) && y < 240 * frameShare;
        const isThere = isCovered || (y < 12 && x > 30 && x < 30 + 300 * frameShare);
        if (isThere || Math.hypot(x - 150, y - 120) < 70) return subject;
        const tone = (Math.floor((x + 3) / 9) + Math.floor((y + 5) / 9)) % 2 ? 255 : 204;
        return [tone, tone, tone];
      });
    for (const subject of [
      [38, 44, 48],
      [90, 170, 240],
      [140, 140, 140],
    ] as const) {
      const checker = findChecker(board(subject, 0.55))!;
      expect(checker.cellPx).toBeCloseTo(9, 1);
      expect([checker.even.green, checker.odd.green].sort((a, b) => a - b)).toEqual([204, 255]);
    }
  });

  it('sees none where two grays of the frame lie in no pattern', () => {
    const patches = paint(300, 240, (x, y) => {
      if (Math.hypot(x - 20, y - 20) < 90) return [60, 90, 40];
      return (x * 7 + y * 3) % 190 < 95 ? [250, 250, 250] : [180, 180, 180];
    });
    expect(findChecker(patches)).toBeNull();
  });

  it('sees none in a flat frame, in stripes, in noise', () => {
    expect(findChecker(disc(200, 60))).toBeNull();
    expect(findChecker(blotches(200, 160, 4))).toBeNull();
    const stripes = paint(200, 160, (x) => (Math.floor(x / 10) % 2 ? [255, 255, 255] : [204, 204, 204]));
    expect(findChecker(stripes)).toBeNull();
    const random = seededRandom(2);
    const noise = paint(200, 160, () => (random() < 0.5 ? [255, 255, 255] : [204, 204, 204]));
    expect(findChecker(noise)).toBeNull();
  });

  it('says something of cells that are nearly as large as the picture', () => {
    const large = paint(120, 70, (x, y) => {
      const tone = (Math.floor(x / 45) + Math.floor(y / 45)) % 2 === 0 ? 255 : 204;
      return Math.hypot(x - 60, y - 35) < 12 ? [200, 30, 30] : [tone, tone, tone];
    });
    expect(() => findChecker(large)).not.toThrow();
  });

  it('finds it in two colors of any hue', () => {
    const colored = paint(200, 160, (x, y) =>
      (Math.floor(x / 10) + Math.floor(y / 10)) % 2 ? [255, 90, 90] : [90, 90, 255],
    );
    expect(findChecker(colored)!.cellPx).toBeCloseTo(10, 1);
  });

  it('tells how far a column is from a border between cells', () => {
    const checker = findChecker(checkerboard(16, 0, 0, 255, 204))!;
    expect(checker.across(8, 0).toBorder).toBeCloseTo(8, 0);
    expect(checker.across(16, 0).toBorder).toBeLessThan(0.4);
    expect(checker.across(8, 0).wave * checker.across(24, 0).wave).toBeCloseTo(-1, 5);
  });
});
