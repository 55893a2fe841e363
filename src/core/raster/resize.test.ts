import { describe, expect, it } from 'vitest';
import { blotches, paint } from '../../../tests/make/pictures';
import { runToEnd } from '../numeric/steps';
import { wholeOf, type Raster } from './raster';
import { resizeSteps, type ResizeKernel } from './resize';
import { turnRaster } from './turn';

const KERNELS: readonly ResizeKernel[] = ['lanczos', 'cubic', 'box', 'nearest'];

const resized = (
  source: Raster,
  width: number,
  height: number,
  kernel: ResizeKernel = 'cubic',
  light: 'linear' | 'encoded' = 'linear',
  from = wholeOf(source),
) => runToEnd(resizeSteps(source, from, width, height, kernel, light));

const at = ({ data, width }: Raster, x: number, y: number) => [
  ...data.subarray((y * width + x) * 4).subarray(0, 4),
];

describe('resizeSteps', () => {
  it.each(KERNELS)('%s keeps one color with its alpha at any size', (kernel) => {
    const flat = paint(17, 9, () => [200, 60, 9, 140]);
    for (const [width, height] of [
      [5, 3],
      [40, 31],
      [1, 1],
      [17, 40],
    ] as const)
      for (const light of ['linear', 'encoded'] as const) {
        const out = resized(flat, width, height, kernel, light);
        for (let p = 0; p < out.data.length; p += 4)
          if (Buffer.compare(out.data.subarray(p, p + 4), flat.data.subarray(0, 4)) !== 0)
            expect.fail(`${width} x ${height} ${light}: ${at(out, 0, 0).join()}`);
      }
  });

  it.each(KERNELS)('%s of the same size changes nothing', (kernel) => {
    const source = blotches(23, 19, 3);
    expect(Buffer.compare(resized(source, 23, 19, kernel).data, source.data)).toBe(0);
  });

  it.each(KERNELS)('%s of a flipped and turned picture is the same flipped and turned', (kernel) => {
    const source = blotches(24, 18, 5);
    for (const [flip, turn] of [
      [true, 0],
      [false, 180],
      [false, 90],
    ] as const) {
      const [width, height] = turn === 90 ? [7, 11] : [11, 7];
      const one = turnRaster(resized(source, 11, 7, kernel), flip, turn);
      const other = resized(turnRaster(source, flip, turn), width, height, kernel);
      const most = Math.max(...one.data.map((value, p) => Math.abs(value - other.data[p]!)));
      // Sums in another order round the last bit otherwise; the nearest pixel is another one where two are as near.
      expect(most).toBeLessThanOrEqual(kernel === 'nearest' ? 255 : 1);
    }
  });

  it('leaves no dark or bright rim: colors under transparency count nowhere', () => {
    for (const hidden of [
      [0, 0, 0],
      [255, 255, 255],
      [0, 255, 0],
    ] as const) {
      const source = paint(60, 60, (x, y) =>
        Math.hypot(x - 29.5, y - 29.5) < 20 ? [180, 90, 30, 255] : [...hidden, 0],
      );
      for (const kernel of ['lanczos', 'cubic', 'box'] as const)
        for (const light of ['linear', 'encoded'] as const)
          for (const size of [23, 97]) {
            const out = resized(source, size, size, kernel, light);
            for (let p = 0; p < out.data.length; p += 4) {
              if (out.data[p + 3] === 0) continue;
              const off = [180, 90, 30].map((value, c) => Math.abs(value - out.data[p + c]!));
              if (Math.max(...off) > 1) expect.fail(`${kernel} ${light} ${size}: off by ${Math.max(...off)}`);
            }
          }
    }
  });

  it('mixes in linear light, or in encoded values', () => {
    const source = paint(2, 1, (x) => (x === 0 ? [0, 0, 0] : [255, 255, 255]));
    // Half the light of white is 188 in sRGB (IEC 61966-2-1).
    expect(at(resized(source, 1, 1, 'box', 'linear'), 0, 0)).toEqual([188, 188, 188, 255]);
    expect(at(resized(source, 1, 1, 'box', 'encoded'), 0, 0)).toEqual([128, 128, 128, 255]);
  });

  it('box is the mean of what a pixel covers, by a slow reference', () => {
    const source = blotches(30, 20, 9);
    const out = resized(source, 10, 5, 'box', 'encoded');
    for (const [x, y] of [
      [0, 0],
      [4, 2],
      [9, 4],
    ] as const) {
      const sums = [0, 0, 0, 0];
      for (let v = 0; v < 4; v++)
        for (let u = 0; u < 3; u++) {
          const [r, g, b, a] = at(source, 3 * x + u, 4 * y + v) as [number, number, number, number];
          [r * a, g * a, b * a, a].forEach((value, c) => (sums[c]! += value));
        }
      const alpha = sums[3]!;
      const expected = [...sums.slice(0, 3).map((sum) => Math.round(sum / alpha)), Math.round(alpha / 12)];
      at(out, x, y).forEach((value, c) => expect(Math.abs(value - expected[c]!)).toBeLessThanOrEqual(1));
    }
  });

  it('sees what lies around the part', () => {
    const source = paint(40, 40, (x) => (x < 20 ? [255, 0, 0] : [0, 0, 255]));
    const part = { x: 10, y: 10, width: 10, height: 10 };
    const out = resized(source, 5, 5, 'cubic', 'encoded', part);
    // The blue beside the part is felt in its last column.
    expect(at(out, 4, 2)[2]).toBeGreaterThan(0);
    expect(at(out, 0, 2)).toEqual([255, 0, 0, 255]);
  });

  it('takes pictures of one pixel and very wide ones', () => {
    expect(
      at(
        resized(
          paint(1, 1, () => [9, 8, 7, 6]),
          3,
          2,
          'lanczos',
        ),
        2,
        1,
      ),
    ).toEqual([9, 8, 7, 6]);
    const wide = paint(70_000, 1, (x) => [x % 256, 0, 0]);
    expect(resized(wide, 700, 1, 'box').width).toBe(700);
    expect(() => resized(wide, 0, 1)).toThrow('at least 1 x 1');
  });
});
