import { describe, expect, it } from 'vitest';
import { CHAMFER_UNIT, chamferDistances } from './chamfer-distance';
import { seededRandom } from './random';

/** The shortest way of straight steps of 3 and diagonal ones of 4 on a free grid, looked for over all pixels. */
function slowly(marks: Uint8Array, width: number): number[] {
  return Array.from(marks, (mark, i) => {
    if (mark === 0) return 0;
    let least = 255;
    marks.forEach((other, j) => {
      if (other === 1) return;
      const dx = Math.abs((i % width) - (j % width));
      const dy = Math.abs(Math.floor(i / width) - Math.floor(j / width));
      least = Math.min(least, 4 * Math.min(dx, dy) + 3 * Math.abs(dx - dy));
    });
    return least;
  });
}

describe('chamferDistances', () => {
  it.each([
    [1, 1],
    [1, 40],
    [40, 1],
    [37, 29],
  ])('finds what a slow look finds, %d x %d', (width, height) => {
    const random = seededRandom(width);
    for (const share of [0.5, 0.03, 0]) {
      const marks = Uint8Array.from({ length: width * height }, () => (random() < share ? 0 : 1));
      const out = new Uint8Array(marks.length);
      chamferDistances(marks, 1, width, height, out);
      expect([...out], `share ${share}`).toEqual(slowly(marks, width));
    }
  });

  it('is within 8 % of the Euclidean distance, and stops at 255', () => {
    const marks = new Uint8Array(121 * 121).fill(1);
    marks[60 * 121 + 60] = 0;
    const out = new Uint8Array(marks.length);
    chamferDistances(marks, 1, 121, 121, out);
    for (let i = 0; i < out.length; i++) {
      const far = Math.hypot((i % 121) - 60, Math.floor(i / 121) - 60);
      if (far === 0 || out[i] === 255) continue;
      expect(Math.abs(out[i]! / CHAMFER_UNIT / far - 1)).toBeLessThan(0.08);
    }
    const row = new Uint8Array(200).fill(1);
    row[0] = 0;
    const along = new Uint8Array(200);
    chamferDistances(row, 1, 200, 1, along);
    expect([along[84], along[85], along[199]]).toEqual([252, 255, 255]);
  });
});
