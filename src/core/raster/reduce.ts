import { assertRaster, createRaster, type Raster, type Rect } from './raster';

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
  const words = wordsOf(source.data);
  const target = wordsOf(out.data);
  for (let y = fromRow; y < toRow; y++) {
    const whole = words && target ? halveOpaque(source, words, out, target, y) : 0;
    for (let x = whole; x < out.width; x++) halvePixel(source, out, x, y);
  }
}

/**
 * Pixels of a row from the left that could be halved as whole words; what follows has an alpha below 255, or no
 * right or lower neighbor. Two channels of a pixel are added at a time, in the halves of a word.
 */
function halveOpaque(source: Raster, words: Int32Array, out: Raster, target: Int32Array, y: number): number {
  const { width, height } = source;
  if (2 * y + 1 >= height) return 0;
  const end = width >> 1;
  let i = 2 * y * width;
  let q = y * out.width;
  for (let x = 0; x < end; x++, i += 2, q++) {
    const one = words[i]!;
    const two = words[i + 1]!;
    const three = words[i + width]!;
    const four = words[i + width + 1]!;
    if ((one & two & three & four) >>> 24 !== 255) {
      halvePixel(source, out, x, y);
      continue;
    }
    const even = (one & LANES) + (two & LANES) + (three & LANES) + (four & LANES) + ROUNDING;
    const odd =
      ((one >>> 8) & LANES) +
      ((two >>> 8) & LANES) +
      ((three >>> 8) & LANES) +
      ((four >>> 8) & LANES) +
      ROUNDING;
    target[q] = ((even >>> 2) & LANES) | (((odd >>> 2) & LANES) << 8);
  }
  return end;
}

const LANES = 0x00ff00ff;
const ROUNDING = 0x00020002;

/** The pixels of a raster as words with alpha in the highest byte; null where memory does not lie so. */
function wordsOf(data: Uint8Array): Int32Array | null {
  if (data.byteOffset % 4 !== 0 || !ALPHA_IS_HIGH) return null;
  return new Int32Array(data.buffer, data.byteOffset, data.length >> 2);
}

const ALPHA_IS_HIGH = new Uint32Array(Uint8Array.of(0, 0, 0, 1).buffer)[0] === 1 << 24;

function halvePixel(source: Raster, out: Raster, x: number, y: number): void {
  const { width, height, data } = source;
  const target = out.data;
  const top = 2 * y * width;
  const bottom = 2 * y + 1 < height ? top + width : top;
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
  const q = (y * out.width + x) * 4;
  if (sum === 0) {
    target[q] = target[q + 1] = target[q + 2] = target[q + 3] = 0;
    return;
  }
  const half = sum >> 1;
  for (let c = 0; c < 3; c++) {
    const mixed = data[p0 + c]! * a0 + data[p1 + c]! * a1 + data[p2 + c]! * a2 + data[p3 + c]! * a3;
    target[q + c] = ((mixed + half) / sum) | 0;
  }
  target[q + 3] = (sum + 2) >> 2;
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

/** The pixels of a reduced raster in which those of a rectangle of the original lie. */
export function reduceRect(rect: Rect, reduction: number): Rect {
  const x = rect.x >> reduction;
  const y = rect.y >> reduction;
  return {
    x,
    y,
    width: ((rect.x + rect.width - 1) >> reduction) - x + 1,
    height: ((rect.y + rect.height - 1) >> reduction) - y + 1,
  };
}
