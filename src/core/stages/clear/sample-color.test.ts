import { describe, expect, it } from 'vitest';
import { paint } from '../../../../tests/make/pictures';
import { sampleArea, sampleColor } from './sample-color';

describe('sampleColor', () => {
  it('is the mean of a calm area', () => {
    const raster = paint(3, 1, (x) => [200 + x, 100, 50]);
    expect(sampleColor(raster, { x: 0, y: 0, width: 3, height: 1 })).toEqual({
      red: 201,
      green: 100,
      blue: 50,
    });
  });

  it('does not move for one stray pixel, nor for four of twenty-five', () => {
    const calm = paint(5, 5, () => [240, 238, 230]);
    const area = { x: 0, y: 0, width: 5, height: 5 };
    const stray = paint(5, 5, (x, y) => (y === 2 && x < 4 ? [0, 0, 0] : [240, 238, 230]));
    expect(sampleColor(stray, area)).toEqual(sampleColor(calm, area));
  });

  it('leaves fully transparent pixels out unless there are no others', () => {
    const half = paint(2, 1, (x) => (x === 0 ? [0, 0, 0, 0] : [90, 80, 70]));
    expect(sampleColor(half, { x: 0, y: 0, width: 2, height: 1 })).toEqual({ red: 90, green: 80, blue: 70 });
    const none = paint(1, 1, () => [9, 8, 7, 0]);
    expect(sampleColor(none, { x: 0, y: 0, width: 1, height: 1 })).toEqual({ red: 9, green: 8, blue: 7 });
  });
});

describe('sampleArea', () => {
  const raster = paint(10, 8, () => [0, 0, 0]);

  it('is centered and cut off at the border', () => {
    expect(sampleArea(5, 4, 3, raster)).toEqual({ x: 4, y: 3, width: 3, height: 3 });
    expect(sampleArea(0, 0, 5, raster)).toEqual({ x: 0, y: 0, width: 3, height: 3 });
    expect(sampleArea(9, 7, 5, raster)).toEqual({ x: 7, y: 5, width: 3, height: 3 });
  });

  it('brings a point outside of the picture back in', () => {
    expect(sampleArea(500, 4, 1, raster)).toEqual({ x: 9, y: 4, width: 1, height: 1 });
  });
});
