import { colorDistance, labOf } from '../../color/oklab';
import type { Raster, Rect } from '../../raster/raster';
import { clipRect } from '../../raster/raster';

/** An 8-bit sRGB color. */
export interface Rgb {
  readonly red: number;
  readonly green: number;
  readonly blue: number;
}

/** The square of `areaPx` x `areaPx` pixels around a point, cut off at the raster's border. */
export function sampleArea(x: number, y: number, areaPx: number, raster: Raster): Rect {
  const half = (areaPx - 1) >> 1;
  const inside = { x: Math.min(x, raster.width - 1), y: Math.min(y, raster.height - 1) };
  return clipRect(
    { x: inside.x - half, y: inside.y - half, width: areaPx, height: areaPx },
    raster.width,
    raster.height,
  );
}

/**
 * The color of an area, robust against stray pixels: the mean of those pixels whose distance to the channel-wise
 * median is at most three times the median distance plus half a unit of tolerance (a trimmed mean after Huber, 1981).
 * Mean of encoded values, rounded to 8 bits. Fully transparent pixels do not count unless there are no others.
 */
export function sampleColor(raster: Raster, area: Rect): Rgb {
  const pixels = pixelsOf(raster, area);
  const center = {
    red: median(pixels.map((pixel) => pixel.red)),
    green: median(pixels.map((pixel) => pixel.green)),
    blue: median(pixels.map((pixel) => pixel.blue)),
  };
  const middle = labOf(center.red, center.green, center.blue);
  const distances = pixels.map((pixel) => colorDistance(labOf(pixel.red, pixel.green, pixel.blue), middle));
  const limit = 3 * median(distances) + 0.5;
  let red = 0;
  let green = 0;
  let blue = 0;
  let count = 0;
  pixels.forEach((pixel, i) => {
    if (distances[i]! > limit) return;
    red += pixel.red;
    green += pixel.green;
    blue += pixel.blue;
    count++;
  });
  if (count === 0) return center;
  return { red: Math.round(red / count), green: Math.round(green / count), blue: Math.round(blue / count) };
}

function pixelsOf(raster: Raster, area: Rect): Rgb[] {
  const seen: Rgb[] = [];
  const hidden: Rgb[] = [];
  for (let y = area.y; y < area.y + area.height; y++) {
    for (let x = area.x; x < area.x + area.width; x++) {
      const p = (y * raster.width + x) * 4;
      const pixel = { red: raster.data[p]!, green: raster.data[p + 1]!, blue: raster.data[p + 2]! };
      (raster.data[p + 3]! > 0 ? seen : hidden).push(pixel);
    }
  }
  return seen.length > 0 ? seen : hidden;
}

function median(values: readonly number[]): number {
  const sorted = [...values].sort((p, q) => p - q);
  return sorted[sorted.length >> 1]!;
}
