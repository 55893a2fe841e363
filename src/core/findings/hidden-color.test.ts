import { describe, expect, it } from 'vitest';
import { cutDisc, spoiled } from '../../../tests/make/cutouts';
import { findHiddenColor } from './hidden-color';

describe('findHiddenColor', () => {
  const hiding = spoiled(cutDisc(60), [3, 5, 10, 4, [200, 10, 0, 0]]);

  it('tells of color under alpha 0, and where', () => {
    const found = findHiddenColor(hiding, 'file')!;
    expect(found).toMatchObject({ severity: 'doubt', pixels: 40 });
    expect(found.places[0]).toMatchObject({ x: 3, y: 5, width: 10, height: 4 });
    expect(findHiddenColor(hiding, 'original')).toMatchObject({ severity: 'note', pixels: 40 });
  });

  it('says nothing where there is none', () => {
    expect(findHiddenColor(cutDisc(60), 'file')).toBeNull();
  });
});
