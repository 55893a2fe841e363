import { lengthOf } from '../../numeric/exact';
import type { Raster } from '../../raster/raster';

/** How far two colors lie from each other, encoded. */
export function apart(one: Float64Array, other: Float64Array): number {
  return lengthOf(one[0]! - other[0]!, one[1]! - other[1]!, one[2]! - other[2]!);
}

/** Sine of the angle between the way from `b` to a color and another way; 2 where they lead apart. */
export function sineToWay(color: Float64Array, b: Float64Array, way: Float64Array): number {
  const red = color[0]! - b[0]!;
  const green = color[1]! - b[1]!;
  const blue = color[2]! - b[2]!;
  const lengths = lengthOf(red, green, blue) * lengthOf(way[0]!, way[1]!, way[2]);
  const cosine = (red * way[0]! + green * way[1]! + blue * way[2]!) / Math.max(1e-9, lengths);
  return cosine <= 0 ? 2 : Math.sqrt(Math.max(0, 1 - cosine * cosine));
}

/** The sum of the ways from `b` to the pixels within `radius` of a place of the picture. */
export function wayAround(
  { width, height, data }: Raster,
  x: number,
  y: number,
  radius: number,
  b: Float64Array,
  out: Float64Array,
): void {
  out.fill(0);
  for (let ny = Math.max(0, y - radius); ny <= Math.min(height - 1, y + radius); ny++) {
    for (let nx = Math.max(0, x - radius); nx <= Math.min(width - 1, x + radius); nx++) {
      const p = (ny * width + nx) * 4;
      for (let c = 0; c < 3; c++) out[c]! += data[p + c]! - b[c]!;
    }
  }
}
