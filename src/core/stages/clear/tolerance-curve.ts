import { MAX_LEVEL, STEPS_PER_UNIT } from './distance';
import type { ReachMap } from './reach-map';

/** How many pixels a sample clears at every tolerance: `cleared[level]` of `pixels`. */
export interface ToleranceCurve {
  readonly pixels: number;
  /** MAX_LEVEL + 1 entries, never falling. */
  readonly cleared: Float64Array;
}

/** Tolerances, in units, between which hardly anything more is cleared. */
export interface SafeRange {
  readonly from: number;
  readonly to: number;
}

/** Where a new sample starts, and why. */
export interface StartingTolerance {
  readonly tolerance: number;
  readonly safeRange: SafeRange | null;
}

/** The tolerance of a new sample when the curve shows no safe range. */
export const DEFAULT_TOLERANCE = 12;

// What the figures of this file rest on: docs/decisions/004-proposal-and-pockets.md

/** A safe range clears at most this share of the picture more per unit of tolerance, taken over WINDOW_TOLERANCE units. */
const FLAT_SLOPE = 0.0012;
const WINDOW_TOLERANCE = 4;

/** A safe range is at least this wide and starts below this tolerance. */
const SHORTEST_TOLERANCE = 5;
const LATEST_START_TOLERANCE = 45;

/** Less than this share cleared means that no background was reached yet. */
const LEAST_CLEARED_SHARE = 0.02;

/** What may be cleared between two stretches, as a share of the picture, for the second to count as the same plateau. */
const SMALL_STEP_SHARE = 0.012;

/** Reads the curve off a reach map: the cumulative histogram of its levels. */
export function toleranceCurve(map: ReachMap): ToleranceCurve {
  const cleared = new Float64Array(MAX_LEVEL + 1);
  const { levels } = map;
  for (let i = 0; i < levels.length; i++) cleared[levels[i]!]!++;
  for (let level = 1; level <= MAX_LEVEL; level++) cleared[level]! += cleared[level - 1]!;
  return { pixels: levels.length, cleared };
}

/**
 * The plateau of the curve: the first stretch of at least SHORTEST_TOLERANCE whole units in which every WINDOW_TOLERANCE units clear at most
 * FLAT_SLOPE of the picture each on average; a longer one behind it counts instead if hardly anything is cleared on the
 * way there. The first is meant, since a later one often lies behind the subject. Null where there is none.
 */
export function safeRangeOf(curve: ToleranceCurve): SafeRange | null {
  const share = (unit: number) => curve.cleared[Math.min(MAX_LEVEL, unit * STEPS_PER_UNIT)]! / curve.pixels;
  const flat = (unit: number) =>
    share(unit + WINDOW_TOLERANCE) - share(unit) <= FLAT_SLOPE * WINDOW_TOLERANCE &&
    share(unit + WINDOW_TOLERANCE) < 1;
  let best: SafeRange | null = null;
  for (let from = 1; from <= LATEST_START_TOLERANCE; from++) {
    if (share(from) < LEAST_CLEARED_SHARE || !flat(from)) continue;
    let last = from;
    while (last + WINDOW_TOLERANCE < 100 && flat(last + 1)) last++;
    const to = Math.min(100, last + WINDOW_TOLERANCE);
    const longer =
      !best || (to - from > best.to - best.from && share(from) - share(best.to) <= SMALL_STEP_SHARE);
    if (to - from >= SHORTEST_TOLERANCE && longer) best = { from, to };
    from = last;
  }
  return best;
}

/** A third into the safe range, at most 8 units in; DEFAULT_TOLERANCE where there is no safe range. */
export function startingTolerance(curve: ToleranceCurve): StartingTolerance {
  const safeRange = safeRangeOf(curve);
  if (!safeRange) return { tolerance: DEFAULT_TOLERANCE, safeRange };
  const into = Math.min(8, (safeRange.to - safeRange.from) / 3);
  return { tolerance: Math.round((safeRange.from + into) * 10) / 10, safeRange };
}
