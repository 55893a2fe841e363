import { describe, expect, it } from 'vitest';
import { paint } from '../../../../tests/make/pictures';
import { runToEnd } from '../../numeric/steps';
import { bleedColor } from './bleed';
import { outputIn } from './new-output';
import { AS_IT_IS, type Output } from './output-settings';
import { flattened, shapeSteps, targetsOf, thresholded } from './shape-output';

const spot = () =>
  paint(20, 12, (x, y) => (x >= 5 && x < 9 && y >= 3 && y < 6 ? [9, 200, 30, 255] : [0, 0, 0, 0]));

describe('shapeSteps', () => {
  it('gives the cutout itself where nothing is asked for', () => {
    const cutout = spot();
    const { raster } = runToEnd(
      shapeSteps(cutout, outputIn('png'), { kind: 'own' }, { content: null, dpi: null }),
    );
    expect(raster).toBe(cutout);
  });

  it('trims and pads exactly, moving no value', () => {
    const output: Output = {
      format: 'png',
      size: { ...AS_IT_IS, trim: true, padding: { top: 1, right: 2, bottom: 3, left: 4, unit: 'px' } },
    };
    const content = { x: 5, y: 3, width: 4, height: 3 };
    const { raster } = runToEnd(shapeSteps(spot(), output, { kind: 'own' }, { content, dpi: null }));
    expect([raster.width, raster.height]).toEqual([10, 7]);
    const expected = paint(10, 7, (x, y) =>
      x >= 4 && x < 8 && y >= 1 && y < 4 ? [9, 200, 30, 255] : [0, 0, 0, 0],
    );
    expect(raster.data).toEqual(expected.data);
  });

  it('makes a square for each side of an icon', () => {
    const output = outputIn('ico');
    const sides = targetsOf(output).map(
      (target) => runToEnd(shapeSteps(spot(), output, target, { content: null, dpi: null })).raster,
    );
    expect(sides.map(({ width, height }) => [width, height])).toEqual([
      [16, 16],
      [32, 32],
      [48, 48],
    ]);
  });
});

describe('bleedColor', () => {
  it('goes on with the color of the nearest pixel that is seen, and with no other', () => {
    const raster = paint(9, 5, (x) =>
      x === 1 ? [255, 0, 0, 10] : x === 7 ? [0, 0, 255, 255] : [7, 7, 7, 0],
    );
    bleedColor(raster);
    const row = Array.from({ length: 9 }, (_, x) => [...raster.data.subarray(4 * x, 4 * x + 4)]);
    expect(row[0]).toEqual([255, 0, 0, 0]);
    expect(row[3]).toEqual([255, 0, 0, 0]);
    expect(row[6]).toEqual([0, 0, 255, 0]);
    expect(row[1]).toEqual([255, 0, 0, 10]);
    const empty = paint(3, 3, () => [1, 2, 3, 0]);
    bleedColor(empty);
    expect([...empty.data.subarray(0, 4)]).toEqual([1, 2, 3, 0]);
  });
});

describe('flattened and thresholded', () => {
  const half = paint(3, 1, (x) => [200, 0, 0, [0, 128, 255][x]!]);

  it('lays on a backing', () => {
    expect([...flattened(half, '#0000ff').data]).toEqual([0, 0, 255, 255, 100, 0, 127, 255, 200, 0, 0, 255]);
  });

  it('decides by alpha, and mixes what stays with the matte', () => {
    expect([...thresholded(half, 128, '#0000ff').data]).toEqual([
      0, 0, 0, 0, 100, 0, 127, 255, 200, 0, 0, 255,
    ]);
    expect([...thresholded(half, 129, '#0000ff').data].slice(4, 8)).toEqual([0, 0, 0, 0]);
  });
});
