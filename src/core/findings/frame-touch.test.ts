import { describe, expect, it } from 'vitest';
import { cutDisc, finished, spoiled } from '../../../tests/make/cutouts';
import { paint } from '../../../tests/make/pictures';
import { findFrameTouches } from './frame-touch';

describe('findFrameTouches', () => {
  const touching = spoiled(cutDisc(100), [0, 40, 30, 10, [140, 30, 40, 255]]);

  it('says where the subject touches, and what a crop took', () => {
    const found = findFrameTouches(finished(touching), [])!;
    expect(found.sentence).toContain('(left)');
    expect(found.places).toEqual([{ x: 0, y: 40, width: 1, height: 10, at: { x: 0, y: 40 }, pixels: 10 }]);
    expect(findFrameTouches(finished(touching), ['left', 'top'])!.sentence).toContain(
      'The crop goes through the subject (left)',
    );
    expect(findFrameTouches(finished(touching), ['top'])!.sentence).toContain('touches the frame');
  });

  it('names all four sides of a picture without transparency', () => {
    expect(findFrameTouches(finished(paint(20, 9, () => [1, 1, 1])), [])!.count).toBe(4);
  });

  it.each([
    ['a subject with room around it', cutDisc(100)],
    ['faint alpha at the frame', spoiled(cutDisc(100), [0, 40, 2, 10, [9, 9, 9, 40]])],
    ['a single pixel at the frame', spoiled(cutDisc(100), [0, 40, 1, 1, [9, 9, 9, 255]])],
  ])('says nothing of %s', (_name, raster) => {
    expect(findFrameTouches(finished(raster), [])).toBeNull();
  });
});
