import type { Bytes, Raster } from '../raster/raster';

/**
 * What a cut took from a picture, as opaque pixels of the picture's size: the original less what is left of it, channel by
 * channel and without sign. Black where a pixel is as it was, the old background where it is gone, and along the edge the
 * part that was taken out. `original` holds the part of the picture that `result` is, at (`x`, `y`).
 */
export function differenceOf(original: Raster, result: Raster, x: number, y: number): Raster {
  const { width, height } = result;
  const data: Bytes = new Uint8Array(width * height * 4);
  for (let row = 0; row < height; row++) {
    for (let column = 0; column < width; column++) {
      const p = (row * width + column) * 4;
      const [u, v] = [x + column, y + row];
      data[p + 3] = 255;
      if (u < 0 || v < 0 || u >= original.width || v >= original.height) continue;
      const q = (v * original.width + u) * 4;
      const was = original.data[q + 3]!;
      const is = result.data[p + 3]!;
      for (let c = 0; c < 3; c++) {
        const taken = (original.data[q + c]! * was - result.data[p + c]! * is) / 255;
        data[p + c] = Math.round(Math.abs(taken));
      }
    }
  }
  return { ...result, data };
}
