import { colorDistance, labOf } from '../../color/oklab';
import type { Sample } from './settings';
import { median } from '../../numeric/statistics';
import type { Raster, Rect } from '../../raster/raster';
import { clipRect } from '../../raster/raster';

/** An 8-bit sRGB color. */
export interface Rgb {
  readonly red: number;
  readonly green: number;
  readonly blue: number;
}

/** The squares of `areaPx` x `areaPx` pixels that a sample reads: one, or many along its stretch. */
export function sampleAreas(sample: Pick<Sample, 'x' | 'y' | 'to' | 'areaPx'>, raster: Raster): Rect[] {
  const { x, y, to, areaPx } = sample;
  if (!to) return [squareAround(x, y, areaPx, raster)];
  const length = Math.max(Math.abs(to.x - x), Math.abs(to.y - y));
  const count = Math.min(MOST_SQUARES, Math.max(1, Math.ceil(length / areaPx)));
  return Array.from({ length: count + 1 }, (_, k) =>
    squareAround(
      Math.round(x + ((to.x - x) * k) / count),
      Math.round(y + ((to.y - y) * k) / count),
      areaPx,
      raster,
    ),
  );
}

/** Squares that a stretch is read in at most. */
const MOST_SQUARES = 256;

function squareAround(x: number, y: number, areaPx: number, raster: Raster): Rect {
  const half = (areaPx - 1) >> 1;
  const left = Math.min(x, raster.width - 1) - half;
  const top = Math.min(y, raster.height - 1) - half;
  return clipRect({ x: left, y: top, width: areaPx, height: areaPx }, raster.width, raster.height);
}

/**
 * The color of one or more areas, robust against stray pixels: the mean of those pixels whose distance to the
 * channel-wise median is at most three times the median distance plus half a unit of tolerance (a trimmed mean after
 * Huber, 1981). Mean of encoded values, rounded to 8 bits. Fully transparent pixels do not count unless there are no
 * others.
 */
export function sampleColor(raster: Raster, areas: readonly Rect[]): Rgb {
  const pixels = pixelsOf(raster, areas);
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

function pixelsOf(raster: Raster, areas: readonly Rect[]): Rgb[] {
  const seen: Rgb[] = [];
  const hidden: Rgb[] = [];
  for (const area of areas) {
    for (let y = area.y; y < area.y + area.height; y++) {
      for (let x = area.x; x < area.x + area.width; x++) {
        const p = (y * raster.width + x) * 4;
        const pixel = { red: raster.data[p]!, green: raster.data[p + 1]!, blue: raster.data[p + 2]! };
        (raster.data[p + 3]! > 0 ? seen : hidden).push(pixel);
      }
    }
  }
  return seen.length > 0 ? seen : hidden;
}
