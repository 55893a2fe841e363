import { describe, expect, it } from 'vitest';
import { untouchedCut } from '../cut/parse';
import { dpiAt } from '../stages/deliver/print';
import { paint } from '../../../tests/make/pictures';
import { outputIn } from '../stages/deliver/new-output';
import { AS_IT_IS } from '../stages/deliver/output-settings';
import { printKey } from '../stages/deliver/print-key';
import { findPrintSize, printSmaller } from './print-size';
import { AS_NAMED } from '../stages/deliver/settings';

const printed = (widthMm: number, leastDpi: number) => ({
  ...untouchedCut(),
  deliver: { ...AS_NAMED, fileName: null, print: { widthMm, leastDpi } },
});
const same = (x: number, y: number) => ({ x, y });
const bearings = { toOriginal: same, toCutout: same };

describe('findPrintSize', () => {
  it('compares pixels with what the width needs', () => {
    expect(dpiAt(600, 50.8)).toBeCloseTo(300, 9);
    const found = findPrintSize({ width: 599, height: 20 }, printed(50.8, 300))!;
    expect(found.sentence).toBe('599 px over 50.8 mm are 299 dpi, and 300 are wanted.');
    expect(found.amount).toBeCloseTo(299.5, 1);
  });

  it('says nothing where they suffice, or where no size is wanted', () => {
    expect(findPrintSize({ width: 600, height: 20 }, printed(50.8, 300))).toBeNull();
    expect(findPrintSize({ width: 1, height: 1 }, untouchedCut())).toBeNull();
  });

  it('is put right by a width that the pixels suffice for', () => {
    const cut = printed(100, 300);
    const size = { width: 600, height: 20 };
    const after = printSmaller(cut, findPrintSize(size, cut)!.places, bearings);
    expect(after.deliver.print).toEqual({ widthMm: 50, leastDpi: 300 });
    expect(findPrintSize(size, after)).toBeNull();
    const tiny = { width: 3, height: 3 };
    expect(printSmaller(cut, findPrintSize(tiny, cut)!.places, bearings).deliver.print).toBeNull();
  });

  it('counts what a trim leaves for files that are made so large on paper, and needs no pixels for outlines', () => {
    const of = (format: 'tiff' | 'svg') => {
      const size = { ...AS_IT_IS, trim: true, to: { kind: 'print', widthMm: 50.8, dpi: 300 } } as const;
      const untouched = untouchedCut();
      const outputs = [outputIn('png'), outputIn(format, size)];
      return { ...untouched, deliver: { ...untouched.deliver, outputs } };
    };
    const cutout = paint(800, 4, (x) => [0, 0, 0, x < 599 ? 255 : 0]);
    expect(findPrintSize(cutout, of('tiff'))!.sentence).toBe(
      '599 px over 50.8 mm are 299 dpi, and 300 are wanted.',
    );
    expect(findPrintSize(cutout, of('svg'))).toBeNull();
    const after = printSmaller(of('tiff'), findPrintSize(cutout, of('tiff'))!.places, bearings);
    expect(after.deliver.outputs[1]!.size).toMatchObject({ to: { widthMm: 50, dpi: 300 } });
    expect(findPrintSize(cutout, after)).toBeNull();
    expect(printKey(after)).not.toEqual(printKey(of('tiff')));
  });
});
