import { describe, expect, it } from 'vitest';
import { cutDisc, finished, spoiled } from '../../../tests/make/cutouts';
import { paint } from '../../../tests/make/pictures';
import { runToEnd } from '../numeric/steps';
import { findPinholes as steps } from './pinholes';

const findPinholes = (...input: Parameters<typeof steps>) => runToEnd(steps(...input));

const HOLE = [0, 0, 0, 0] as const;

describe('findPinholes', () => {
  it('finds small holes in what is solid', () => {
    const raster = spoiled(cutDisc(120), [60, 60, 2, 2, HOLE], [50, 70, 1, 1, [140, 30, 40, 90]]);
    expect(findPinholes(finished(raster), [])).toMatchObject({ kind: 'pinhole', count: 2, pixels: 5 });
  });

  it.each([
    ['a solid disc', cutDisc(120)],
    ['a large opening', spoiled(cutDisc(120), [55, 55, 10, 10, HOLE])],
    ['a dent in the edge', spoiled(cutDisc(120), [60, 30, 2, 2, HOLE])],
    ['a pixel that is nearly opaque', spoiled(cutDisc(120), [60, 60, 2, 2, [140, 30, 40, 230]])],
    ['a grid, whose holes are meant', paint(90, 90, (x, y) => [9, 9, 9, x % 5 < 2 && y % 5 < 2 ? 0 : 255])],
  ])('says nothing of %s', (_name, raster) => {
    expect(findPinholes(finished(raster), [])).toBeNull();
  });

  it('leaves out what was cleared on purpose', () => {
    const raster = spoiled(cutDisc(120), [60, 60, 2, 2, HOLE]);
    expect(findPinholes(finished(raster), [{ x: 61, y: 60 }])).toBeNull();
    expect(findPinholes(finished(raster), [{ x: 20, y: 60 }])?.count).toBe(1);
  });
});
