import { wordsOf, type Raster } from '../raster/raster';
import { foundAt, type Finding, type Place } from './finding';

/** From here on a pixel's number has some alpha. */
const SEEN_FROM = 1 << 24;

/**
 * Color under alpha 0, which a reader that ignores alpha shows again. `where` is what it was read from: a finished
 * file, or an original, of which nothing hidden is delivered.
 */
export function findHiddenColor(raster: Raster, where: 'file' | 'original'): Finding | null {
  const { width, height } = raster;
  const { words } = wordsOf(raster);
  let [left, top, right, bottom, pixels, first] = [width, height, -1, -1, 0, -1];
  for (let y = 0; y < height; y++) {
    const end = (y + 1) * width;
    let all = -1;
    for (let i = y * width; i < end; i++) all &= words[i]!;
    // Most rows have nothing that is transparent.
    if (all >>> 24 === 255) continue;
    for (let x = 0, i = y * width; x < width; x++, i++) {
      if (words[i]! >= SEEN_FROM || words[i] === 0) continue;
      if (first < 0) first = i;
      pixels++;
      if (x < left) left = x;
      if (x > right) right = x;
      if (y < top) top = y;
      bottom = y;
    }
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
