import { colorDistance, labOf, type Lab } from '../../color/oklab';
import type { Raster } from '../../raster/raster';

/** Steps of a stored distance per unit of tolerance. */
export const STEPS_PER_UNIT = 20;

/** The largest stored distance: tolerance 100. */
export const MAX_LEVEL = 100 * STEPS_PER_UNIT;

/** Tolerance 0 to 100 -> the largest stored distance that it clears. */
export function toleranceLevel(tolerance: number): number {
  return Math.floor(tolerance * STEPS_PER_UNIT + 1e-6);
}

/** Colors remembered at a time while distances are computed; a power of two. */
const MEMO = 1 << 14;

/**
 * Writes the perceptual distance of the pixels `from` up to `to` (indices) to `color` into `out`, in steps of
 * 1 / STEPS_PER_UNIT, rounded, at most MAX_LEVEL, each with the bits of `mark` set. Fully transparent pixels have no
 * color: their distance is 0. Same measure as `colorDistance`; colors met lately are looked up in a small memo.
 */
export function distanceLevels(
  raster: Raster,
  color: Lab,
  from: number,
  to: number,
  mark: number,
  out: Uint16Array,
): void {
  const { data } = raster;
  const memoKeys = new Int32Array(MEMO).fill(-1);
  const memoLevels = new Uint16Array(MEMO);
  for (let i = from, p = from * 4; i < to; i++, p += 4) {
    if (data[p + 3] === 0) {
      out[i] = mark;
      continue;
    }
    const key = (data[p]! << 16) | (data[p + 1]! << 8) | data[p + 2]!;
    const slot = (key ^ (key >> 7) ^ (key >> 13)) & (MEMO - 1);
    if (memoKeys[slot] !== key) {
      memoKeys[slot] = key;
      memoLevels[slot] = levelBetween(labOf(key >> 16, (key >> 8) & 255, key & 255), color);
    }
    out[i] = memoLevels[slot]! | mark;
  }
}

function levelBetween(one: Lab, other: Lab): number {
  return Math.round(colorDistance(one, other) * STEPS_PER_UNIT);
}
