import { expect, it } from 'vitest';
import { nameColor } from './name-color';

it.each([
  [255, 255, 255, 'White'],
  [240, 238, 230, 'Off-white'],
  [0, 0, 0, 'Black'],
  [128, 128, 128, 'Gray'],
  [220, 30, 30, 'Red'],
  [30, 140, 60, 'Green'],
  [40, 80, 200, 'Blue'],
  [240, 200, 40, 'Yellow'],
  [42, 127, 134, 'Teal'],
  [120, 60, 170, 'Purple'],
])('%d, %d, %d is called %s', (red, green, blue, name) => {
  expect(nameColor({ red, green, blue })).toBe(name);
});
