import { describe, expect, it } from 'vitest';
import { hexOfRgb, rgbOfHex } from './hex';
import { labOf, rgbOfLab } from './oklab';

describe('hex colors', () => {
  it('go there and back', () => {
    expect(rgbOfHex('#1d2a6b')).toEqual({ red: 29, green: 42, blue: 107 });
    expect(hexOfRgb(29, 42, 107)).toBe('#1d2a6b');
    expect(hexOfRgb(-3, 300, 7.6)).toBe('#00ff08');
    expect(() => rgbOfHex('#1D2A6B')).toThrow(/color: expected #rrggbb/);
  });
});

describe('the comparison space', () => {
  it('goes back to the color it came from', () => {
    for (let red = 0; red < 256; red += 15)
      for (let green = 0; green < 256; green += 17)
        for (let blue = 0; blue < 256; blue += 51) {
          const back = rgbOfLab(labOf(red, green, blue));
          [red, green, blue].forEach((value, c) => expect(Math.abs(back[c]! - value)).toBeLessThanOrEqual(1));
        }
  });
});
