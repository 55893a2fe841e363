import type { Sample } from '../stages/clear/settings';
import type { Rect } from '../raster/raster';
import { toleranceLevel } from '../stages/clear/distance';
import type { ReachMap } from '../stages/clear/reach-map';
import { startingTolerance, toleranceCurve, type SafeRange } from '../stages/clear/tolerance-curve';
import { foundAt, type Finding, type Fix, type Place } from './finding';

/** Samples whose tolerance lies outside of the safe range of their curve: something is left, or the subject eaten. */
export function findTolerances(
  samples: readonly Sample[],
  maps: readonly ReachMap[],
  window: Rect,
): Finding | null {
  const places: Place[] = [];
  const words: string[] = [];
  samples.forEach((sample, k) => {
    const { tolerance, safeRange } = startingTolerance(toleranceCurve(maps[k]!));
    if (!safeRange || isAbout(sample.tolerance, safeRange) || !matters(maps[k]!, sample, safeRange)) return;
    places.push(placeOfSample(sample, window, tolerance));
    words.push(`${sample.tolerance} is outside of ${safeRange.from} to ${safeRange.to}`);
  });
  return foundAt('tolerance', 'doubt', places, `The tolerance ${words.join(', ')}, its safe range.`);
}

/** Whether a tolerance lies in a range or not far outside: where a plateau begins and ends is not that exact. */
function isAbout(tolerance: number, { from, to }: SafeRange): boolean {
  return tolerance >= from - Math.min(3, from / 2) && tolerance <= to + Math.min(8, Math.max(3, to / 3));
}

/** Less than this share of the picture, and this many pixels, make no difference. */
const LEAST_SHARE = 0.0005;
const LEAST_PX = 12;

/**
 * Whether a tolerance clears something broad less, or more, than one in the safe range would: pixels that lie between, with
 * none around them beyond. The rim of an edge is not broad.
 */
function matters(
  { width, height, levels }: ReachMap,
  { tolerance }: Sample,
  { from, to }: SafeRange,
): boolean {
  const low = toleranceLevel(Math.min(tolerance, to));
  const high = toleranceLevel(Math.max(tolerance, from));
  const least = Math.max(LEAST_PX, LEAST_SHARE * levels.length);
  let count = 0;
  for (let y = 1; y + 1 < height; y++)
    for (let x = 1, i = y * width + 1; x + 1 < width; x++, i++) {
      if (levels[i]! <= low || levels[i]! > high) continue;
      let around = true;
      for (let j = i - width; around && j <= i + width; j += width)
        around = levels[j - 1]! <= high && levels[j]! <= high && levels[j + 1]! <= high;
      if (around && ++count >= least) return true;
    }
  return false;
}

/** Sets each into its safe range. */
export const useSafeTolerance: Fix = (cut, places) => ({
  ...cut,
  clear: {
    ...cut.clear,
    samples: cut.clear.samples.map((sample) => {
      const place = places.find((one) => one.sample?.id === sample.id);
      return place ? { ...sample, tolerance: place.sample!.tolerance } : sample;
    }),
  },
});

/** A sample as a place of the cutout. */
export function placeOfSample(
  { id, x, y, areaPx, tolerance }: Sample,
  window: Rect,
  better = tolerance,
): Place {
  const half = areaPx >> 1;
  return {
    x: x - half - window.x,
    y: y - half - window.y,
    width: areaPx,
    height: areaPx,
    at: { x: x - window.x, y: y - window.y },
    pixels: areaPx * areaPx,
    sample: { id, tolerance: better },
  };
}
