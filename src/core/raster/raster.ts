import { badArgument } from '../errors';

/** Bytes that own their memory, so that they can be transferred between workers. */
export type Bytes = Uint8Array<ArrayBuffer>;

/**
 * A picture in memory: 8-bit sRGB-encoded RGBA, straight alpha, rows from the top, no padding.
 * `data.length` is `width * height * 4`.
 */
export interface Raster {
  readonly kind: 'rgba8';
  readonly space: 'srgb';
  readonly alpha: 'straight';
  readonly width: number;
  readonly height: number;
  readonly data: Bytes;
}

/** A rectangle of whole pixels; `x, y` is its upper left pixel. */
export interface Rect {
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
}

/** Tags `data` as a raster, or makes a transparent one of that size. Throws `bad-argument` if sizes disagree. */
export function createRaster(width: number, height: number, data?: Bytes): Raster {
  const raster: Raster = {
    kind: 'rgba8',
    space: 'srgb',
    alpha: 'straight',
    width,
    height,
    data: data ?? new Uint8Array(checkedPixels(width, height) * 4),
  };
  assertRaster(raster);
  return raster;
}

/** Throws `bad-argument` unless the raster's size is positive and its data has exactly that many pixels. */
export function assertRaster(raster: Raster): void {
  const pixels = checkedPixels(raster.width, raster.height);
  if (raster.data.length !== pixels * 4) {
    throw badArgument('raster.data', `${pixels * 4} bytes`, raster.data.length);
  }
}

/**
 * The pixels of a raster as one number each, alpha in the highest byte: below 2^24 a pixel is transparent. The same memory
 * where that begins as such numbers do, a copy elsewhere.
 */
export function wordsOf({ data }: Raster): { readonly words: Uint32Array; readonly shares: boolean } {
  const shares = IS_LITTLE && data.byteOffset % 4 === 0;
  if (shares) return { words: new Uint32Array(data.buffer, data.byteOffset, data.length >> 2), shares };
  const words = new Uint32Array(data.length >> 2);
  for (let i = 0, p = 0; i < words.length; i++, p += 4)
    words[i] = data[p]! | (data[p + 1]! << 8) | (data[p + 2]! << 16) | (data[p + 3]! << 24);
  return { words, shares };
}

/** Whether the lowest byte of a number comes first, as on nearly all machines. */
const IS_LITTLE = new Uint8Array(new Uint32Array([1]).buffer)[0] === 1;

/** The whole of a raster as a rectangle. */
export function wholeOf(raster: { readonly width: number; readonly height: number }): Rect {
  return { x: 0, y: 0, width: raster.width, height: raster.height };
}

/** The part of `rect` that lies within `width` x `height`; its size is 0 where nothing does. */
export function clipRect(rect: Rect, width: number, height: number): Rect {
  const x = Math.min(Math.max(rect.x, 0), width);
  const y = Math.min(Math.max(rect.y, 0), height);
  return {
    x,
    y,
    width: Math.max(0, Math.min(rect.x + rect.width, width) - x),
    height: Math.max(0, Math.min(rect.y + rect.height, height) - y),
  };
}

/** What two rectangles share; null where that is nothing. */
export function overlapRect(one: Rect, other: Rect): Rect | null {
  const x = Math.max(one.x, other.x);
  const y = Math.max(one.y, other.y);
  const width = Math.min(one.x + one.width, other.x + other.width) - x;
  const height = Math.min(one.y + one.height, other.y + other.height) - y;
  return width > 0 && height > 0 ? { x, y, width, height } : null;
}

/** A rectangle in squares of a side, row by row; smaller ones at its right and lower side. */
export function tilesOf({ x, y, width, height }: Rect, side: number): Rect[] {
  const tiles: Rect[] = [];
  for (let v = 0; v < height; v += side)
    for (let u = 0; u < width; u += side)
      tiles.push({
        x: x + u,
        y: y + v,
        width: Math.min(side, width - u),
        height: Math.min(side, height - v),
      });
  return tiles;
}

/** A rectangle that goes `margin` farther on every side. */
export function growRect({ x, y, width, height }: Rect, margin: number): Rect {
  return { x: x - margin, y: y - margin, width: width + 2 * margin, height: height + 2 * margin };
}

/** Copies a rectangle of pixels, whose upper left one is `at` in one raster, to `there` in another. It must lie in both. */
export function copyPixels(
  from: { readonly data: Uint8Array; readonly width: number },
  at: { readonly x: number; readonly y: number },
  { width, height }: { readonly width: number; readonly height: number },
  to: Raster,
  there: { readonly x: number; readonly y: number },
): void {
  for (let row = 0; row < height; row++) {
    const p = ((at.y + row) * from.width + at.x) * 4;
    to.data.set(from.data.subarray(p, p + width * 4), ((there.y + row) * to.width + there.x) * 4);
  }
}

/** The rows of a raster that `rect` lies in, sharing its memory: of `rect` only `y` and `height` are read. */
export function rowsOf(raster: Raster, { y, height }: Rect): Raster {
  const start = y * raster.width * 4;
  return { ...raster, height, data: raster.data.subarray(start, start + raster.width * height * 4) };
}

function checkedPixels(width: number, height: number): number {
  if (!Number.isInteger(width) || width < 1)
    throw badArgument('raster.width', 'a whole number from 1', width);
  if (!Number.isInteger(height) || height < 1)
    throw badArgument('raster.height', 'a whole number from 1', height);
  return width * height;
}
