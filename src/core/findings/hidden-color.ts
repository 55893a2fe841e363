import type { Raster } from '../raster/raster';
import { foundAt, type Finding, type Place } from './finding';

/**
 * Color under alpha 0, which a reader that ignores alpha shows again. `where` is what it was read from: a finished
 * file, or an original, of which nothing hidden is delivered.
 */
export function findHiddenColor({ width, height, data }: Raster, where: 'file' | 'original'): Finding | null {
  let [left, top, right, bottom, pixels, first] = [width, height, -1, -1, 0, -1];
  for (let y = 0, p = 0; y < height; y++)
    for (let x = 0; x < width; x++, p += 4) {
      if (data[p + 3] !== 0 || (data[p]! | data[p + 1]! | data[p + 2]!) === 0) continue;
      if (first < 0) first = p >> 2;
      pixels++;
      if (x < left) left = x;
      if (x > right) right = x;
      if (y < top) top = y;
      bottom = y;
    }
  if (pixels === 0) return null;
  const place: Place = {
    x: left,
    y: top,
    width: right - left + 1,
    height: bottom - top + 1,
    at: { x: first % width, y: Math.floor(first / width) },
    pixels,
  };
  return where === 'file'
    ? foundAt('hidden-color', 'doubt', [place], `${pixels} px that are fully transparent still hold a color.`)
    : foundAt(
        'hidden-color',
        'note',
        [place],
        `The original holds color under ${pixels} fully transparent px; deliveries do not.`,
      );
}
