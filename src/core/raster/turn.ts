import { createRaster, type Raster } from './raster';

/** A raster with left and right exchanged where `flip` says so, and then turned clockwise by quarter turns. */
export function turnRaster(source: Raster, flip: boolean, turn: 0 | 90 | 180 | 270): Raster {
  const { width, height, data } = source;
  const isUpright = turn === 0 || turn === 180;
  const out = isUpright ? createRaster(width, height) : createRaster(height, width);
  for (let y = 0, p = 0; y < out.height; y++) {
    for (let x = 0; x < out.width; x++, p += 4) {
      // Where the pixel was before the turn.
      const upX = turn === 0 ? x : turn === 90 ? y : turn === 180 ? width - 1 - x : width - 1 - y;
      const upY = turn === 0 ? y : turn === 90 ? height - 1 - x : turn === 180 ? height - 1 - y : x;
      const s = (upY * width + (flip ? width - 1 - upX : upX)) * 4;
      out.data[p] = data[s]!;
      out.data[p + 1] = data[s + 1]!;
      out.data[p + 2] = data[s + 2]!;
      out.data[p + 3] = data[s + 3]!;
    }
  }
  return out;
}
