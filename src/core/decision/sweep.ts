import { floatsBy } from '../numeric/plane';
import { median } from '../numeric/statistics';
import type { Planes } from './planes';

// What the figures of this file rest on: docs/decisions/026-sweeps.md

/** How wide the sides are that are read, as a share of the longer one; rows on either side that a row is smoothed over. */
const SIDE_SHARE = 0.012;
const AROUND_ROWS = 3;

/** Both sides have the same light in a row where the one is to the other as usual, give or take this share. */
const SAME_SHARE = 0.04;

/** They must in so many rows, and have the color of one material in so many. */
const LEAST_SAME_SHARE = 0.88;
const SAME_COLOR_SHARE = 0.03;

/**
 * The planes as they would be in even light, where the light of the backdrop changes from row to row as on a sweep, whose floor, bend
 * and wall face it differently: both sides of the picture tell it, and it is taken to pass from one to the other (lofting, the first of
 * the two interpolations of Coons, 1967). Null where the sides do not agree.
 */
export function inEvenRows(planes: Planes): Planes | null {
  const { width, height, channels, blank, pattern } = planes;
  const inset = Math.max(2, Math.round(SIDE_SHARE * Math.max(width, height)));
  if (blank || pattern || width < 4 * inset || height < 8 * AROUND_ROWS) return null;
  const read = (from: number) =>
    channels.map((plane) => {
      const rows = floatsBy(height, (y) =>
        median(plane.subarray(y * width + from, y * width + from + inset)),
      );
      return floatsBy(height, (y) =>
        median(rows.subarray(Math.max(0, y - AROUND_ROWS), y + AROUND_ROWS + 1)),
      );
    }) as [Float32Array, Float32Array, Float32Array];
  const sides = [read(0), read(width - inset)] as const;
  const [left, right] = [sides[0][0], sides[1][0]];
  const ratio = (y: number) => left[y]! / Math.max(1, right[y]!);
  const usual = median(floatsBy(height, ratio));
  const full = median([...left, ...right]);
  const isSame = (y: number) => Math.abs(ratio(y) - usual) <= SAME_SHARE * usual;
  const same = left.filter((_, y) => isSame(y)).length;
  if (same < LEAST_SAME_SHARE * height || full < 1) return null;
  for (const side of sides)
    for (const c of [1, 2] as const) {
      const tints = floatsBy(height, (y) => side[c][y]! / Math.max(8, side[0][y]!));
      const tint = median(tints);
      const alike = tints.filter((own) => Math.abs(own - tint) <= SAME_COLOR_SHARE).length;
      if (alike < LEAST_SAME_SHARE * height) return null;
    }
  for (const side of [left, right]) bridge(side, isSame);
  const light = new Float32Array(width * height);
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++)
      light[i] = Math.max(0.05, (left[y]! + ((right[y]! - left[y]!) * x) / (width - 1)) / full);
  const lit = channels.map((plane) => floatsBy(plane.length, (i) => plane[i]! / light[i]!));
  return { ...planes, channels: lit as unknown as Planes['channels'], light };
}

/** Draws a straight line over the rows in which the sides do not agree: something lies at one of them. */
function bridge(side: Float32Array, isGood: (y: number) => boolean): void {
  const good: number[] = [];
  for (let y = 0; y < side.length; y++) if (isGood(y)) good.push(y);
  const own = side.slice();
  for (let y = 0, k = 0; y < side.length; y++) {
    while (k + 1 < good.length && good[k + 1]! <= y) k++;
    const [from, to] = [good[k]!, good[Math.min(good.length - 1, k + 1)]!];
    const share = to > from ? Math.min(1, Math.max(0, (y - from) / (to - from))) : 0;
    if (good[k] !== y) side[y] = own[from]! + (own[to]! - own[from]!) * share;
  }
}
