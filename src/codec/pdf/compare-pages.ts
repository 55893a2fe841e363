import { drawnSteps, type Layer } from '../../core/proof/lay';
import { runToEnd } from '../../core/numeric/steps';
import { overlapRect, wholeOf, type Raster, type Rect } from '../../core/raster/raster';

/** How far a page lies from what it should show, in levels of 0 to 255. */
export interface PageDifference {
  /** The most that anything beside the pieces differs. */
  readonly beside: number;
  /** The mean over the boxes of the pieces, lighter and darker evening out: how much ink is there. */
  readonly mean: number;
  /** The most that a square of BLOCK_PX differs in the mean, within the boxes. */
  readonly block: number;
}

/** Renderers place the edges of pictures by parts of a pixel apart; over squares of so many pixels that evens out. */
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
  for (const layer of layers) {
    const { raster, left, top } = runToEnd(drawnSteps(layer, before));
    const box: Rect = {
      x: left - MARGIN_PX,
      y: top - MARGIN_PX,
      width: raster.width + 2 * MARGIN_PX,
      height: raster.height + 2 * MARGIN_PX,
    };
    const seen = overlapRect(box, wholeOf(before));
    if (!seen) continue;
    for (let y = seen.y; y < seen.y + seen.height; y++)
      within.fill(1, y * width + seen.x, y * width + seen.x + seen.width);
  }
  let beside = 0;
  let sum = 0;
  let count = 0;
  for (let i = 0, p = 0; i < within.length; i++, p += 4)
    for (let c = 0; c < 3; c++) {
      if (within[i] === 0) beside = Math.max(beside, Math.abs(after.data[p + c]! - before.data[p + c]!));
      else {
        sum += after.data[p + c]! - expected.data[p + c]!;
        count++;
      }
    }
  return {
    beside,
    mean: count === 0 ? 0 : Math.abs(sum) / count,
    block: worstBlock(expected, after, within),
  };
}

function worstBlock(expected: Raster, after: Raster, within: Uint8Array): number {
  const { width, height } = expected;
  let worst = 0;
  for (let top = 0; top + BLOCK_PX <= height; top += BLOCK_PX)
    for (let left = 0; left + BLOCK_PX <= width; left += BLOCK_PX) {
      if (within[top * width + left] === 0) continue;
      for (let c = 0; c < 3; c++) {
        let sum = 0;
        for (let y = top; y < top + BLOCK_PX; y++)
          for (let x = left; x < left + BLOCK_PX; x++) {
            const p = (y * width + x) * 4 + c;
            sum += after.data[p]! - expected.data[p]!;
          }
        worst = Math.max(worst, Math.abs(sum) / (BLOCK_PX * BLOCK_PX));
      }
    }
  return worst;
}
