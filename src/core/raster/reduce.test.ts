import { describe, expect, it } from 'vitest';
import { blotches, flipped, paint, transposed } from '../../../tests/make/pictures';
import { seededRandom } from '../numeric/random';
import { halve, halvingsTo } from './reduce';

/** The mean of each 2 x 2 block, weighted by alpha, computed the plain way. */
function slowHalve(raster: ReturnType<typeof halve>) {
  const width = Math.ceil(raster.width / 2);
  const height = Math.ceil(raster.height / 2);
  return paint(width, height, (x, y) => {
    const sums = [0, 0, 0, 0];
    for (const dy of [0, 1]) {
      for (const dx of [0, 1]) {
        const sx = Math.min(raster.width - 1, 2 * x + dx);
        const sy = Math.min(raster.height - 1, 2 * y + dy);
        const p = (sy * raster.width + sx) * 4;
        const alpha = raster.data[p + 3]!;
        for (let c = 0; c < 3; c++) sums[c]! += raster.data[p + c]! * alpha;
        sums[3]! += alpha;
      }
    }
    const alpha = sums[3]!;
    if (alpha === 0) return [0, 0, 0, 0];
    return [sums[0]! / alpha, sums[1]! / alpha, sums[2]! / alpha, alpha / 4].map(Math.round) as [
      number,
      number,
      number,
      number,
    ];
  });
}

function withAlpha(width: number, height: number, seed: number) {
  const random = seededRandom(seed);
  const byte = () => Math.floor(random() * 256);
  return paint(width, height, () => [
    byte(),
    byte(),
    byte(),
    random() < 0.3 ? 0 : random() < 0.5 ? 255 : byte(),
  ]);
}

describe('halve', () => {
  it.each([
    [8, 6],
    [7, 5],
    [1, 1],
    [1, 9],
    [9, 1],
  ])('equals the slow mean within rounding at %i x %i', (width, height) => {
    const raster = withAlpha(width, height, width * 31 + height);
    const fast = halve(raster);
    const slow = slowHalve(raster);
    expect([fast.width, fast.height]).toEqual([slow.width, slow.height]);
    for (let i = 0; i < fast.data.length; i++)
      expect(Math.abs(fast.data[i]! - slow.data[i]!)).toBeLessThanOrEqual(1);
  });

  it('commutes with flipping and transposing', () => {
    const raster = blotches(32, 20, 3);
    expect(halve(flipped(raster)).data).toEqual(flipped(halve(raster)).data);
    expect(halve(transposed(raster)).data).toEqual(transposed(halve(raster)).data);
  });

  it('keeps hidden color out of the mean', () => {
    const raster = paint(2, 2, (x) => (x === 0 ? [10, 20, 30, 255] : [255, 255, 255, 0]));
    expect([...halve(raster).data]).toEqual([10, 20, 30, 128]);
  });
});

describe('halvingsTo', () => {
  it('counts halvings until the picture is small enough', () => {
    expect(halvingsTo(1_500_000, 6000, 4000)).toBe(2);
    expect(halvingsTo(1_500_000, 1000, 1000)).toBe(0);
    expect(halvingsTo(1, 5, 1)).toBe(3);
  });
});
