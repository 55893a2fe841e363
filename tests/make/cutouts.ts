import { finishedOf, type Finished } from '../../src/core/findings/finding';
import type { Raster } from '../../src/core/raster/raster';
import { paint } from './pictures';

type Pixel = readonly [number, number, number, number];

/** A square cutout: a solid dark red disc in its middle with an anti-aliased edge, nothing around it. */
export function cutDisc(side: number, radius = side / 4): Raster {
  const middle = (side - 1) / 2;
  return paint(side, side, (x, y) => {
    const alpha = Math.round(
      255 * Math.min(1, Math.max(0, radius + 0.5 - Math.hypot(x - middle, y - middle))),
    );
    return alpha === 0 ? [0, 0, 0, 0] : [140, 30, 40, alpha];
  });
}

/** The same with single pixels or rectangles of it set to something else. */
export function spoiled(
  raster: Raster,
  ...spots: readonly (readonly [x: number, y: number, width: number, height: number, pixel: Pixel])[]
): Raster {
  const data = raster.data.slice();
  for (const [x, y, width, height, pixel] of spots)
    for (let v = y; v < y + height; v++)
      for (let u = x; u < x + width; u++) data.set(pixel, (v * raster.width + u) * 4);
  return { ...raster, data };
}

export function finished(raster: Raster): Finished {
  return finishedOf(raster);
}
