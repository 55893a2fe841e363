import { describe, expect, it } from 'vitest';
import { paint } from '../../../../tests/make/pictures';
import { sampleAreas, sampleColor } from './sample-color';

describe('sampleColor', () => {
  it('is the mean of a calm area', () => {
    const raster = paint(3, 1, (x) => [200 + x, 100, 50]);
    expect(sampleColor(raster, [{ x: 0, y: 0, width: 3, height: 1 }])).toEqual({
      red: 201,
      green: 100,
      blue: 50,
    });
  });

  it('does not move for one stray pixel, nor for four of twenty-five', () => {
    const calm = paint(5, 5, () => [240, 238, 230]);
    const area = { x: 0, y: 0, width: 5, height: 5 };
    const stray = paint(5, 5, (x, y) => (y === 2 && x < 4 ? [0, 0, 0] : [240, 238, 230]));
    expect(sampleColor(stray, [area])).toEqual(sampleColor(calm, [area]));
  });

  it('leaves fully transparent pixels out unless there are no others', () => {
    const half = paint(2, 1, (x) => (x === 0 ? [0, 0, 0, 0] : [90, 80, 70]));
    expect(sampleColor(half, [{ x: 0, y: 0, width: 2, height: 1 }])).toEqual({
      red: 90,
      green: 80,
      blue: 70,
    });
    const none = paint(1, 1, () => [9, 8, 7, 0]);
    expect(sampleColor(none, [{ x: 0, y: 0, width: 1, height: 1 }])).toEqual({ red: 9, green: 8, blue: 7 });
  });
});

describe('sampleAreas', () => {
  const raster = paint(10, 8, () => [0, 0, 0]);

  it('is centered and cut off at the border', () => {
    expect(sampleAreas({ x: 5, y: 4, to: null, areaPx: 3 }, raster)).toEqual([
      { x: 4, y: 3, width: 3, height: 3 },
    ]);
    expect(sampleAreas({ x: 0, y: 0, to: null, areaPx: 5 }, raster)).toEqual([
      { x: 0, y: 0, width: 3, height: 3 },
    ]);
    expect(sampleAreas({ x: 9, y: 7, to: null, areaPx: 5 }, raster)).toEqual([
      { x: 7, y: 5, width: 3, height: 3 },
    ]);
  });

  it('brings a point outside of the picture back in', () => {
    expect(sampleAreas({ x: 500, y: 4, to: null, areaPx: 1 }, raster)).toEqual([
      { x: 9, y: 4, width: 1, height: 1 },
    ]);
  });

  it('follows a stretch from end to end without a gap', () => {
    const areas = sampleAreas({ x: 1, y: 1, to: { x: 8, y: 4 }, areaPx: 3 }, raster);
    expect(areas[0]).toEqual({ x: 0, y: 0, width: 3, height: 3 });
    expect(areas.at(-1)).toEqual({ x: 7, y: 3, width: 3, height: 3 });
    areas.slice(1).forEach((area, k) => expect(area.x - areas[k]!.x).toBeLessThanOrEqual(3));
  });
});
