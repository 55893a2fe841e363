import { hexOfRgb } from '../../color/hex';
import { lengthOf } from '../../numeric/exact';
import type { Point } from '../../numeric/matrix3';
import { offsetsWithin } from '../../numeric/ring';
import type { Raster } from '../../raster/raster';

/** Where a line ends on either side of a gap, in pixels with decimals; how wide it is there; and its color. */
export interface LineEnds {
  readonly from: Point;
  readonly to: Point;
  readonly widthPx: number;
  readonly endWidthPx: number;
  readonly color: string;
}

/** How far from a place its line's end is looked for, and how far into the line its width is measured. */
const SEARCH_PX = 24;
const INTO_PX = 3;

/** A line is where alpha is at least this; no line is wider than this on either side of its middle. */
const LINE_ALPHA = 128;
const HALF_WIDEST_PX = 100;

const RING = offsetsWithin(SEARCH_PX);

/**
 * The two ends of a line that a gap lies between, near two places of a cutout; null where none is near one of them. The width is
 * what alpha adds up to across the line, a little way into it; the color the mean of what is opaque there in `picture`, of the
 * same size.
 */
export function lineEndsOf(cutout: Raster, picture: Raster, from: Point, to: Point): LineEnds | null {
  const length = lengthOf(to.x - from.x, to.y - from.y);
  if (length === 0) return null;
  const [dx, dy] = [(to.x - from.x) / length, (to.y - from.y) / length];
  const one = endNear(cutout, picture, from, -dx, -dy);
  const other = endNear(cutout, picture, to, dx, dy);
  if (!one || !other) return null;
  const count = one.count + other.count;
  const mean = (k: 0 | 1 | 2) => (one.sum[k] + other.sum[k]) / count;
  return {
    from: one.at,
    to: other.at,
    widthPx: one.width,
    endWidthPx: other.width,
    color: hexOfRgb(mean(0), mean(1), mean(2)),
  };
}

/** The end near a place; `(dx, dy)` leads into its line. */
function endNear(cutout: Raster, picture: Raster, place: Point, dx: number, dy: number) {
  const start = nearest(cutout, Math.floor(place.x), Math.floor(place.y));
  if (!start) return null;
  const [cx, cy] = [start.x + 0.5 + dx * INTO_PX, start.y + 0.5 + dy * INTO_PX];
  const found =
    across(cutout, picture, cx, cy, dx, dy) ?? across(cutout, picture, start.x + 0.5, start.y + 0.5, dx, dy);
  return found;
}

/** A line measured across, at a place in it. */
function across(cutout: Raster, picture: Raster, x: number, y: number, dx: number, dy: number) {
  if (alphaAt(cutout, x, y) < LINE_ALPHA) return null;
  const sum: [number, number, number] = [0, 0, 0];
  let [width, middle, count] = [0, 0, 0];
  for (let side = -1; side <= 1; side += 2)
    for (let far = side < 0 ? 1 : 0; far < HALF_WIDEST_PX; far++) {
      const off = side * far;
      const [u, v] = [x - dy * off, y + dx * off];
      const alpha = alphaAt(cutout, u, v);
      if (alpha < 8) break;
      width += alpha / 255;
      middle += (off * alpha) / 255;
      if (alpha < 250) continue;
      const p = (Math.floor(v) * picture.width + Math.floor(u)) * 4;
      for (let c = 0; c < 3; c++) sum[c]! += picture.data[p + c]!;
      count++;
    }
  if (count === 0) {
    const p = (Math.floor(y) * picture.width + Math.floor(x)) * 4;
    for (let c = 0; c < 3; c++) sum[c] = picture.data[p + c]!;
    count = 1;
  }
  const off = middle / width;
  const tenth = (at: number) => Math.round(at * 10) / 10;
  return {
    at: { x: tenth(x - dy * off), y: tenth(y + dx * off) },
    width: Math.max(0.5, tenth(width)),
    sum,
    count,
  };
}

function nearest(cutout: Raster, x: number, y: number): Point | null {
  for (let k = 0; k < RING.length; k += 2) {
    const at = { x: x + RING[k]!, y: y + RING[k + 1]! };
    if (alphaAt(cutout, at.x, at.y) >= LINE_ALPHA) return at;
  }
  return null;
}

/** 0 outside. */
function alphaAt({ width, height, data }: Raster, x: number, y: number): number {
  const [u, v] = [Math.floor(x), Math.floor(y)];
  return u < 0 || v < 0 || u >= width || v >= height ? 0 : data[(v * width + u) * 4 + 3]!;
}
