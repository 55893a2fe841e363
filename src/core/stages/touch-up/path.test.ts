import { describe, expect, it } from 'vitest';
import {
  closedLine,
  cornersOf,
  isOutline,
  isPath,
  ledThrough,
  pathOf,
  textOfCorners,
  textOfPath,
} from './path';

describe('paths as text', () => {
  it('come back as they were written, to hundredths of a pixel', () => {
    const text = textOfPath([
      [310.4, 96],
      [-12.126, 0.004, 0.5],
    ]);
    expect(text).toBe('310.4,96 -12.13,0,0.5');
    const { xs, ys, pressures } = pathOf(text);
    expect([...xs]).toEqual([310.4, -12.13]);
    expect([...ys]).toEqual([96, 0]);
    expect([...pressures!]).toEqual([1, 0.5]);
    expect(pathOf('1,2 3,4').pressures).toBeNull();
  });

  it.each([
    '',
    ' ',
    '1',
    '1,2,',
    '1,2  3,4',
    '1,2;3,4',
    'NaN,1',
    '1e3,2',
    'Infinity,0',
    '1,2,1.5',
    '1,2,-1',
    '1,2 3',
  ])('refuse %o', (text) => expect(isPath(text)).toBe(false));

  it('have at most 4000 places, and none out of reach', () => {
    const places = (count: number) => Array.from({ length: count }, (_, k) => `${k},5`).join(' ');
    expect(isPath(places(4000))).toBe(true);
    expect(isPath(places(4001))).toBe(false);
    expect(isPath(places(10_000))).toBe(false);
    expect(isPath('-1000,0')).toBe(true);
    expect(isPath('-1001,0')).toBe(false);
    expect(isPath('1,1000001')).toBe(false);
  });

  it('are led to other places, and halved with the picture', () => {
    const moved = ledThrough(pathOf('10,20 30,40'), [1, 0, 5, 0, 1, -4, 0, 0, 1], 1);
    expect([...moved.xs]).toEqual([7.5, 17.5]);
    expect([...moved.ys]).toEqual([8, 18]);
  });
});

describe('outlines as text', () => {
  it('have corners with and without a handle', () => {
    const text = '12,40 80,40,6,-2 60,90';
    expect(isOutline(text)).toBe(true);
    expect(textOfCorners(cornersOf(text))).toBe(text);
    expect(cornersOf(text)[1]).toEqual({ x: 80, y: 40, handle: { x: 6, y: -2 } });
    expect(isOutline('1,2,3')).toBe(false);
  });

  it('run straight between corners and in a curve through a handle', () => {
    const straight = closedLine('outline', '0,0 10,0 10,10');
    expect([...straight.xs]).toEqual([0, 10, 10]);
    const curved = closedLine('outline', '0,0,0,-10 30,0,0,10');
    // At its middle a cubic with those handles is 3/4 of them away.
    const middle = [...curved.xs].findIndex((x) => Math.abs(x - 15) < 1e-9);
    expect(curved.ys[middle]).toBeCloseTo(-7.5, 9);
  });

  it('of an ellipse lie on it', () => {
    const { xs, ys } = closedLine('ellipse', '10,20 50,40');
    for (let k = 0; k < xs.length; k++)
      expect(((xs[k]! - 30) / 20) ** 2 + ((ys[k]! - 30) / 10) ** 2).toBeCloseTo(1, 9);
  });
});
