import { colorDistance, labOf } from '../color/oklab';
import type { Raster } from '../raster/raster';
import { sampleArea, sampleColor, type Rgb } from '../stages/clear/sample-color';

/** How far apart the corners' colors may lie, in units of tolerance, to count as one background. */
const AGREEMENT = 6;

/** Side of the area read in each corner, in pixels. */
export const CORNER_AREA_PX = 5;

/** What the four corners say: the place to sample if they agree, and their colors. */
export interface Corners {
  readonly agree: boolean;
  readonly x: number;
  readonly y: number;
  readonly colors: readonly Rgb[];
}

/** Reads the four corners of a picture. They agree if no two of them differ by more than AGREEMENT. */
export function readCorners(raster: Raster): Corners {
  const inset = (size: number) => Math.min(size - 1, (CORNER_AREA_PX - 1) >> 1);
  const left = inset(raster.width);
  const top = inset(raster.height);
  const places = [
    [left, top],
    [raster.width - 1 - left, top],
    [left, raster.height - 1 - top],
    [raster.width - 1 - left, raster.height - 1 - top],
  ] as const;
  const colors = places.map(([x, y]) => sampleColor(raster, sampleArea(x, y, CORNER_AREA_PX, raster)));
  const labs = colors.map(({ red, green, blue }) => labOf(red, green, blue));
  const agree = labs.every((one) => labs.every((other) => colorDistance(one, other) <= AGREEMENT));
  return { agree, x: left, y: top, colors };
}
