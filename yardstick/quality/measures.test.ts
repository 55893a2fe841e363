import { describe, expect, it } from 'vitest';
import { createRaster, type Raster } from '../../src/core/raster/raster';
import { measure, yardstickOf } from './measures';

/** An opaque red square with a half covered rim of one pixel. */
function square(left = 20, side = 20): Raster {
  const raster = createRaster(60, 60);
  for (let y = 0, p = 0; y < 60; y++) {
    for (let x = 0; x < 60; x++, p += 4) {
      const depth = Math.min(x - left, left + side - 1 - x, y - 20, 20 + side - 1 - y);
      raster.data.set([200, 30, 30, depth < 0 ? 0 : depth === 0 ? 128 : 255], p);
    }
  }
  return raster;
}

describe('the yardstick', () => {
  const yardstick = yardstickOf(square());

  it('finds nothing wrong with the truth itself', () => {
    expect(measure(yardstick, square())).toEqual({
      sad: 0,
      mse: 0,
      gradient: 0,
      edgeColor: 0,
      leftover: 0,
      loss: 0,
    });
  });

  it('counts alpha as defined', () => {
    const off = square();
    off.data[(5 * 60 + 5) * 4 + 3] = 255;
    const found = measure(yardstick, off);
    expect(found.sad).toBeCloseTo(0.001, 9);
    expect(found.mse).toBeCloseTo(1000 / 3600, 9);
    expect(found.leftover).toBeCloseTo(1e6 / 3600, 6);
    expect(found.loss).toBe(0);
  });

  it('does not count what lies within 2 px of the subject as leftover', () => {
    const near = square();
    near.data[(30 * 60 + 18) * 4 + 3] = 200;
    expect(measure(yardstick, near).leftover).toBe(0);
    near.data[(30 * 60 + 17) * 4 + 3] = 200;
    expect(measure(yardstick, near).leftover).toBeGreaterThan(0);
  });

  it('counts opaque pixels that lost alpha, from 247 down', () => {
    const lost = square();
    lost.data[(30 * 60 + 30) * 4 + 3] = 247;
    expect(measure(yardstick, lost).loss).toBe(0);
    lost.data[(30 * 60 + 30) * 4 + 3] = 246;
    expect(measure(yardstick, lost).loss).toBeCloseTo(100 / (18 * 18), 6);
  });

  it('sees a wrong edge color only where it shows', () => {
    const wrong = square();
    for (let p = 0; p < wrong.data.length; p += 4) {
      if (wrong.data[p + 3] === 128) wrong.data.set([255, 255, 255], p);
    }
    expect(measure(yardstick, wrong).edgeColor).toBeGreaterThan(1);
    const hidden = square();
    for (let p = 0; p < hidden.data.length; p += 4)
      if (hidden.data[p + 3] === 0) hidden.data.set([0, 255, 0], p);
    expect(measure(yardstick, hidden).edgeColor).toBe(0);
  });

  it('grows with how far the cutout is moved', () => {
    const one = measure(yardstick, square(21));
    const two = measure(yardstick, square(22));
    expect(two.gradient).toBeGreaterThan(one.gradient);
    expect(two.mse).toBeGreaterThan(one.mse);
    expect(one.gradient).toBeGreaterThan(0);
  });
});
