import type { Layer } from '../../core/proof/lay';
import { cornersOf } from '../../core/proof/place';
import { clipRect, type Raster } from '../../core/raster/raster';

/** How far a page lies from what it should show, in levels of 0 to 255. */
export interface PageDifference {
  /** The most that anything beside the pieces differs. */
  readonly beside: number;
  /**
   * The mean over the boxes of the pieces of how far a pixel lies beyond all that the proof shows within a pixel of it, of the color
   * channel in which it is most: renderers round the places of pictures to whole pixels, and that is no difference.
   */
  readonly mean: number;
  /** The same over the square of BLOCK_PX in which it is most. */
  readonly block: number;
}

const BLOCK_PX = 12;

/** Around a box, where its soft edge may reach. */
const MARGIN_PX = 2;

/**
 * Compares a page that was drawn of a file with what it should show: `before` with the layers laid on it is `expected`. All three
 * have the same size.
 */
export function comparePages(
  before: Raster,
  expected: Raster,
  after: Raster,
  layers: readonly Layer[],
): PageDifference {
  const { width, height } = before;
  const within = new Uint8Array(width * height);
  for (const { box, angleDeg } of layers) {
    const corners = cornersOf(box, angleDeg);
    const left = Math.floor(Math.min(...corners.map(({ x }) => x))) - MARGIN_PX;
    const top = Math.floor(Math.min(...corners.map(({ y }) => y))) - MARGIN_PX;
    const right = Math.ceil(Math.max(...corners.map(({ x }) => x))) + MARGIN_PX;
    const bottom = Math.ceil(Math.max(...corners.map(({ y }) => y))) + MARGIN_PX;
    const seen = clipRect({ x: left, y: top, width: right - left, height: bottom - top }, width, height);
    for (let y = seen.y; y < seen.y + seen.height; y++)
      within.fill(1, y * width + seen.x, y * width + seen.x + seen.width);
  }
  let beside = 0;
  for (let p = 0, i = 0; i < within.length; i++, p += 4)
    if (within[i] === 0)
      for (let c = 0; c < 3; c++)
        beside = Math.max(beside, Math.abs(after.data[p + c]! - before.data[p + c]!));
  return { beside, ...beyond(expected, after, within) };
}

/** How far a page lies beyond what is expected within a pixel of each place, where that counts. */
function beyond(expected: Raster, after: Raster, within: Uint8Array): Pick<PageDifference, 'mean' | 'block'> {
  const { width, height } = expected;
  const across = Math.ceil(width / BLOCK_PX);
  const blocks = new Float64Array(across * Math.ceil(height / BLOCK_PX) * 3);
  const sums = [0, 0, 0];
  let count = 0;
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      if (within[y * width + x] === 0) continue;
      count++;
      const block = 3 * (Math.floor(y / BLOCK_PX) * across + Math.floor(x / BLOCK_PX));
      for (let c = 0; c < 3; c++) {
        const off = offAt(expected, after.data[(y * width + x) * 4 + c]!, x, y, c);
        sums[c]! += off;
        blocks[block + c]! += off;
      }
    }
  const most = blocks.reduce((one, other) => Math.max(one, other), 0);
  return { mean: count === 0 ? 0 : Math.max(...sums) / count, block: most / (BLOCK_PX * BLOCK_PX) };
}

/** How far a value lies beyond those within a pixel of a place. */
function offAt({ data, width, height }: Raster, value: number, x: number, y: number, c: number): number {
  let [low, high] = [255, 0];
  for (let v = Math.max(0, y - 1); v <= Math.min(height - 1, y + 1); v++)
    for (let u = Math.max(0, x - 1); u <= Math.min(width - 1, x + 1); u++) {
      const one = data[(v * width + u) * 4 + c]!;
      if (one < low) low = one;
      if (one > high) high = one;
    }
  return Math.max(0, low - value, value - high);
}
