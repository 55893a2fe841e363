import { assertRaster, createRaster, type Raster } from './raster';

/**
 * Halves a raster by averaging blocks of 2 x 2 pixels; an odd last row or column is averaged over what is there.
 * Color is averaged weighted by alpha (as if premultiplied), so no hidden color bleeds in; the result is
 * straight again. Size: `ceil(width / 2)` x `ceil(height / 2)`.
 */
export function halve(source: Raster): Raster {
  assertRaster(source);
  const out = createRaster((source.width + 1) >> 1, (source.height + 1) >> 1);
  halveRows(source, out, 0, out.height);
  return out;
}

/** The rows `fromRow` up to `toRow` of `out = halve(source)`; lets a caller spread the work over time. */
export function halveRows(source: Raster, out: Raster, fromRow: number, toRow: number): void {
  const { width, height, data } = source;
  const target = out.data;
  const outWidth = out.width;
  for (let y = fromRow; y < toRow; y++) {
    const top = 2 * y * width;
    const bottom = 2 * y + 1 < height ? top + width : top;
    let q = y * outWidth * 4;
    for (let x = 0; x < outWidth; x++, q += 4) {
      const left = 2 * x;
      const right = left + 1 < width ? left + 1 : left;
      const p0 = (top + left) * 4;
      const p1 = (top + right) * 4;
      const p2 = (bottom + left) * 4;
      const p3 = (bottom + right) * 4;
      const a0 = data[p0 + 3]!;
      const a1 = data[p1 + 3]!;
      const a2 = data[p2 + 3]!;
      const a3 = data[p3 + 3]!;
      const sum = a0 + a1 + a2 + a3;
      if (sum === 1020) {
        target[q] = (data[p0]! + data[p1]! + data[p2]! + data[p3]! + 2) >> 2;
        target[q + 1] = (data[p0 + 1]! + data[p1 + 1]! + data[p2 + 1]! + data[p3 + 1]! + 2) >> 2;
        target[q + 2] = (data[p0 + 2]! + data[p1 + 2]! + data[p2 + 2]! + data[p3 + 2]! + 2) >> 2;
        target[q + 3] = 255;
      } else if (sum > 0) {
        const half = sum >> 1;
        target[q] = ((data[p0]! * a0 + data[p1]! * a1 + data[p2]! * a2 + data[p3]! * a3 + half) / sum) | 0;
        target[q + 1] =
          ((data[p0 + 1]! * a0 + data[p1 + 1]! * a1 + data[p2 + 1]! * a2 + data[p3 + 1]! * a3 + half) / sum) |
          0;
        target[q + 2] =
          ((data[p0 + 2]! * a0 + data[p1 + 2]! * a1 + data[p2 + 2]! * a2 + data[p3 + 2]! * a3 + half) / sum) |
          0;
        target[q + 3] = (sum + 2) >> 2;
      } else {
        target[q] = target[q + 1] = target[q + 2] = target[q + 3] = 0;
      }
    }
  }
}

/** Halvings needed until a raster has at most `maxPixels` pixels. */
export function halvingsTo(maxPixels: number, width: number, height: number): number {
  let count = 0;
  while (width * height > maxPixels) {
    width = (width + 1) >> 1;
    height = (height + 1) >> 1;
    count++;
  }
  return count;
}

/** Pixels of the small copy. */
export const SMALL_PIXELS = 1_000_000;

/** A raster that was halved `reduction` times. */
export interface Reduced {
  readonly raster: Raster;
  readonly reduction: number;
}

/** The raster halved to at most SMALL_PIXELS. */
export function smallCopy(original: Raster): Reduced {
  const reduction = halvingsTo(SMALL_PIXELS, original.width, original.height);
  let raster = original;
  for (let k = 0; k < reduction; k++) raster = halve(raster);
  return { raster, reduction };
}
