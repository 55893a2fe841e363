import { labOf } from '../color/oklab';
import { deviation } from '../numeric/statistics';
import type { Raster } from '../raster/raster';
import type { ReachMap } from '../stages/clear/reach-map';
import type { Rgb } from '../stages/clear/sample-color';

/** Paper is at least this light (OKLab) and not the pure white of a drawn picture. */
const PAPER = 0.8;
const PURE = 252;

/** Ink covers this share of a sheet, at least and at most. */
const LEAST_INK = 0.0005;
const MOST_INK = 0.12;

/** A stroke is at most so wide, as a share of the shorter side, and never less than FINEST_PX counts as one. */
const WIDEST = 1 / 40;
const FINEST_PX = 5;

/** Of the strokes so much is thin. */
const THIN = 0.85;

/** Ink is at most this light on average, and of one hue (deviation of OKLab a and b). */
const DARK = 0.62;
const ONE_HUE = 0.03;

/**
 * Whether a picture is dark writing on light paper: what stays is little, thin, dark and of one hue. `joined` is the
 * reach map of the backdrop's sample, `limit` the level up to which it clears.
 */
export function isInk(raster: Raster, joined: ReachMap, limit: number, paper: Rgb): boolean {
  const { width, height, data } = raster;
  if (labOf(paper.red, paper.green, paper.blue).lightness < PAPER) return false;
  if (Math.min(paper.red, paper.green, paper.blue) >= PURE) return false;
  const ink: number[] = [];
  for (let i = 0; i < joined.levels.length; i++) if (joined.levels[i]! > limit) ink.push(i);
  const share = ink.length / joined.levels.length;
  if (share < LEAST_INK || share > MOST_INK) return false;
  const widest = Math.max(FINEST_PX, Math.round(Math.min(width, height) * WIDEST));
  const thin = ink.filter((i) => runThrough(joined.levels, limit, width, height, i, widest)).length;
  if (thin < THIN * ink.length) return false;
  const labs = ink.map((i) => labOf(data[i * 4]!, data[i * 4 + 1]!, data[i * 4 + 2]!));
  const mean = labs.reduce((sum, { lightness }) => sum + lightness, 0) / labs.length;
  return (
    mean < DARK && deviation(labs.map(({ a }) => a)) < ONE_HUE && deviation(labs.map(({ b }) => b)) < ONE_HUE
  );
}

/** Whether the run of ink through a pixel, across or down, is at most `widest` long. */
function runThrough(
  levels: Uint16Array,
  limit: number,
  width: number,
  height: number,
  i: number,
  widest: number,
): boolean {
  const x = i % width;
  const y = (i - x) / width;
  const run = (step: number, back: number, forth: number) => {
    let length = 1;
    for (let k = 1; k <= back && length <= widest && levels[i - k * step]! > limit; k++) length++;
    for (let k = 1; k <= forth && length <= widest && levels[i + k * step]! > limit; k++) length++;
    return length;
  };
  return Math.min(run(1, x, width - 1 - x), run(width, y, height - 1 - y)) <= widest;
}
