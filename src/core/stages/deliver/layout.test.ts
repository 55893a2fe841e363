import { describe, expect, it } from 'vitest';
import { layOut, type LayoutFacts } from './layout';
import { NO_PADDING, type Padding, type Target } from './output-settings';

const facts: LayoutFacts = {
  width: 400,
  height: 200,
  content: { x: 50, y: 20, width: 200, height: 100 },
  dpi: 300,
};
const around = (side: number, unit: Padding['unit']): Padding => ({
  top: side,
  right: side,
  bottom: side,
  left: side,
  unit,
});
const laid = (to: Target, trim = false, padding: Padding = NO_PADDING) =>
  layOut({ trim, padding }, to, facts);

describe('layOut', () => {
  it('as it is: the cutout, or its content, with its resolution', () => {
    expect(laid({ kind: 'own' })).toMatchObject({ width: 400, height: 200, scale: 1, dpi: 300 });
    expect(laid({ kind: 'own' }, true)).toMatchObject({ from: facts.content, width: 200, height: 100 });
    expect(
      layOut({ trim: true, padding: NO_PADDING }, { kind: 'own' }, { ...facts, content: null }),
    ).toMatchObject({
      width: 400,
    });
  });

  it.each<[Target, number, number, number]>([
    [{ kind: 'scale', factor: 2 }, 800, 400, 2],
    [{ kind: 'width', px: 100 }, 100, 50, 0.25],
    [{ kind: 'height', px: 100 }, 200, 100, 0.5],
    [{ kind: 'print', widthMm: 25.4, dpi: 600 }, 600, 300, 1.5],
  ])('%o', (to, width, height, scale) => {
    expect(laid(to)).toMatchObject({ width, height, scale, dpi: to.kind === 'print' ? 600 : null });
  });

  it('padding is room within a width, and beside a scale', () => {
    expect(laid({ kind: 'width', px: 100 }, false, around(10, 'px'))).toMatchObject({
      width: 100,
      at: { x: 10, y: 10, width: 80, height: 40 },
      height: 60,
    });
    expect(laid({ kind: 'scale', factor: 2 }, false, around(10, 'px'))).toMatchObject({
      width: 820,
      height: 420,
    });
  });

  it('padding in percent is of the longer side, in millimeters of the paper', () => {
    expect(laid({ kind: 'own' }, false, around(5, '%'))).toMatchObject({ width: 440, height: 240 });
    // The width holds the picture and 10 % of it.
    const wide = laid({ kind: 'width', px: 440 }, false, around(5, '%'));
    expect(wide).toMatchObject({ width: 440, at: { x: 20, width: 400 } });
    const printed = laid({ kind: 'print', widthMm: 85, dpi: 300 }, false, around(2.54, 'mm'));
    expect(printed).toMatchObject({ width: 1004, at: { x: 30, y: 30, width: 944 } });
  });

  it('a canvas holds the picture as large as it fits, where the anchor says', () => {
    const on = (anchor: 'center' | 'top-left' | 'bottom' | 'right') =>
      laid({ kind: 'canvas', widthPx: 1000, heightPx: 1000, anchor }, true, around(10, '%'));
    expect(on('center')).toMatchObject({
      width: 1000,
      height: 1000,
      at: { x: 100, y: 300, width: 800, height: 400 },
    });
    expect(on('top-left').at).toMatchObject({ x: 100, y: 100 });
    expect(on('bottom').at).toMatchObject({ x: 100, y: 500 });
    expect(on('right').at).toMatchObject({ x: 100, y: 300 });
  });

  it('never makes a side of nothing, and refuses what leaves no room or is too large', () => {
    expect(laid({ kind: 'width', px: 1 })).toMatchObject({ width: 1, height: 1 });
    expect(() => laid({ kind: 'width', px: 20 }, false, around(10, 'px'))).toThrow(/padding: expected room/);
    expect(() => laid({ kind: 'scale', factor: 16 }, false, around(10_000, 'px'))).toThrow(/100 megapixels/);
  });
});
