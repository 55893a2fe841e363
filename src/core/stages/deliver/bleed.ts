import { nearestPixel } from '../../numeric/distance-transform';
import type { Raster } from '../../raster/raster';

/**
 * Gives every transparent pixel the color of the nearest one that is not, in place, for programs that mix hidden color into
 * edges. Its alpha stays 0, and no color is there that was not to be seen. Does nothing where all is transparent.
 */
export function bleedColor(raster: Raster): void {
  const { width, height, data } = raster;
  const shown = new Uint8Array(width * height);
  for (let i = 0, p = 3; i < shown.length; i++, p += 4) if (data[p] !== 0) shown[i] = 1;
  const nearest = nearestPixel({ data: shown, width, height }, 1);
  for (let i = 0, p = 0; i < shown.length; i++, p += 4) {
    const from = nearest[i]!;
    if (shown[i] === 1 || from < 0) continue;
    data[p] = data[4 * from]!;
    data[p + 1] = data[4 * from + 1]!;
    data[p + 2] = data[4 * from + 2]!;
  }
}
