import { describe, expect, it } from 'vitest';
import { cutDisc, finished, spoiled } from '../../../tests/make/cutouts';
import { flipped, paint } from '../../../tests/make/pictures';
import { runToEnd } from '../numeric/steps';
import { findSpecks as steps } from './specks';

const findSpecks = (...input: Parameters<typeof steps>) => runToEnd(steps(...input));

const INK = [140, 30, 40, 220] as const;

describe('findSpecks', () => {
  it('finds each small island with its box and a pixel of it', () => {
    const found = findSpecks(finished(spoiled(cutDisc(120), [8, 10, 3, 2, INK], [100, 90, 1, 1, INK])))!;
    expect(found).toMatchObject({ kind: 'speck', severity: 'fault', count: 2, pixels: 7 });
    expect(found.places[0]).toMatchObject({ x: 8, y: 10, width: 3, height: 2, pixels: 6 });
    expect(found.places[1]).toMatchObject({ x: 100, y: 90, at: { x: 100, y: 90 } });
  });

  it('finds the same in a flipped cutout', () => {
    const raster = spoiled(cutDisc(120), [8, 10, 3, 2, INK]);
    expect(findSpecks(finished(flipped(raster)))?.places[0]).toMatchObject({ x: 109, y: 10, width: 3 });
  });

  it.each([
    ['the disc alone', cutDisc(120)],
    ['something beside the disc that came off it', spoiled(cutDisc(120), [92, 58, 2, 2, INK])],
    ['a large part of its own', spoiled(cutDisc(120), [4, 4, 12, 12, INK])],
    ['a faint smudge, which is residue', spoiled(cutDisc(120), [8, 10, 3, 3, [140, 30, 40, 30]])],
    ['a piece of a hairline', spoiled(cutDisc(120), [8, 10, 9, 1, INK])],
    ['nothing at all', paint(40, 40, () => [0, 0, 0, 0])],
    ['a single pixel picture', paint(1, 1, () => [1, 2, 3, 255])],
  ])('says nothing of %s', (_name, raster) => {
    expect(findSpecks(finished(raster))).toBeNull();
  });

  it('takes a solid mark as broad as the strokes for a dot of the drawing, inside of it only', () => {
    const strokes = paint(120, 120, (x, y) =>
      (x > 20 && x < 100 && y % 20 < 2 && y > 20 && y < 90) || (Math.abs(x - 60) < 1 && y > 20 && y < 90)
        ? [20, 20, 60, 255]
        : [0, 0, 0, 0],
    );
    const dot = (x: number, y: number) => spoiled(strokes, [x, y, 3, 3, [20, 20, 60, 255]]);
    expect(findSpecks(finished(dot(84, 52)))).toBeNull();
    expect(findSpecks(finished(dot(6, 110)))?.count).toBe(1);
  });

  it('takes a row of small pieces for a line that came apart', () => {
    const pieces = Array.from({ length: 12 }, (_, k) => [6, 10 + 5 * k, 2, 3, INK] as const);
    expect(findSpecks(finished(spoiled(cutDisc(120, 20), ...pieces)))).toBeNull();
    expect(findSpecks(finished(spoiled(cutDisc(120, 20), pieces[0]!)))?.count).toBe(1);
  });
});
