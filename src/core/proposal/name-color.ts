import { labOf } from '../color/oklab';
import { lengthOf, turnsOf } from '../numeric/exact';
import type { Rgb } from '../stages/clear/sample-color';

const HUES: readonly (readonly [number, string])[] = [
  [20, 'Pink'],
  [50, 'Red'],
  [80, 'Orange'],
  [115, 'Yellow'],
  [165, 'Green'],
  [215, 'Teal'],
  [285, 'Blue'],
  [325, 'Purple'],
  [360, 'Pink'],
];

/** A plain word for a color, for sentences: by lightness where it is neutral, else by its hue in OKLab. */
export function nameColor({ red, green, blue }: Rgb): string {
  const { lightness, a, b } = labOf(red, green, blue);
  if (lengthOf(a, b) < 0.025) {
    if (lightness > 0.965) return 'White';
    if (lightness > 0.85) return 'Off-white';
    if (lightness < 0.12) return 'Black';
    return 'Gray';
  }
  const hue = 360 * turnsOf(a, b);
  const name = HUES.find(([until]) => hue <= until)![1];
  return lightness > 0.9 ? `Pale ${name.toLowerCase()}` : name;
}
