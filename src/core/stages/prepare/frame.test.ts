import { describe, expect, it } from 'vitest';
import { AS_IT_CAME, type Prepare } from './settings';
import { frameOf, pixelToFrame, pixelToOriginal } from './frame';
import { originalPixel, originalPlace, shownPixel, shownPlace } from './shown';

const frame = (change: Partial<Prepare>) => frameOf({ ...AS_IT_CAME, ...change }, 40, 30);

describe('frameOf', () => {
  it('leaves a picture where it is when nothing is set, or the stage is off', () => {
    expect(frame({})).toMatchObject({ width: 40, height: 30, exact: true });
    expect(frame({ on: false, turn: 90 })).toMatchObject({ width: 40, height: 30 });
    expect(pixelToFrame(frame({}), 7, 9)).toEqual({ x: 7, y: 9 });
  });

  it.each([
    [{ turn: 90 as const }, { x: 29, y: 0 }, [30, 40]],
    [{ turn: 180 as const }, { x: 39, y: 29 }, [40, 30]],
    [{ turn: 270 as const }, { x: 0, y: 39 }, [30, 40]],
    [{ flip: true }, { x: 39, y: 0 }, [40, 30]],
    [{ flip: true, turn: 90 as const }, { x: 29, y: 39 }, [30, 40]],
  ])('takes the upper left pixel along with %o', (change, at, [width, height]) => {
    const found = frame(change);
    expect(pixelToFrame(found, 0, 0)).toEqual(at);
    expect(pixelToOriginal(found, at.x, at.y)).toEqual({ x: 0, y: 0 });
    expect(found).toMatchObject({ width, height, exact: true });
  });

  it('grows when it is straightened, and turns clockwise above 0', () => {
    const found = frame({ straightenDeg: 10 });
    expect(found.width).toBe(Math.ceil(40 * Math.cos(Math.PI / 18) + 30 * Math.sin(Math.PI / 18)));
    expect(found.exact).toBe(false);
    const right = shownPlace(found, 40, 15);
    const left = shownPlace(found, 0, 15);
    expect(right.y - left.y).toBeCloseTo(40 * Math.sin(Math.PI / 18), 6);
  });

  it('squares up a sheet between its corners', () => {
    const found = frame({
      corners: [
        [4, 5],
        [34, 3],
        [36, 27],
        [2, 25],
      ],
    });
    const lower = shownPlace(found, 36, 27);
    expect(lower.x).toBeCloseTo(found.width, 6);
    expect(lower.y).toBeCloseTo(found.height, 6);
    expect(Math.abs(found.width - 32)).toBeLessThanOrEqual(1);
  });

  it('goes there and back through a crop', () => {
    const found = frame({ turn: 90, straightenDeg: 7, crop: { x: 5, y: 6, width: 12, height: 13 } });
    const there = originalPlace(found, 3.5, 4.5);
    const back = shownPlace(found, there.x, there.y);
    expect(back.x).toBeCloseTo(3.5, 9);
    expect(back.y).toBeCloseTo(4.5, 9);
    const plain = frame({ crop: { x: 5, y: 6, width: 12, height: 13 } });
    expect(shownPixel(plain, 7, 9)).toEqual({ x: 2, y: 3 });
    expect(originalPixel(plain, 2, 3)).toEqual({ x: 7, y: 9 });
  });

  it('refuses corners that span no sheet and a crop outside of the picture', () => {
    const crossed: Prepare['corners'] = [
      [0, 0],
      [30, 20],
      [30, 0],
      [0, 20],
    ];
    expect(() => frame({ corners: crossed })).toThrow(/cut\.prepare\.corners: expected four corners/);
    expect(() => frame({ crop: { x: 40, y: 0, width: 5, height: 5 } })).toThrow(
      /cut\.prepare\.crop: expected a place/,
    );
    expect(frame({ crop: { x: 30, y: 20, width: 50, height: 50 } }).crop).toMatchObject({
      width: 10,
      height: 10,
    });
  });
});
