import { CHAMFER_UNIT, chamferDistances } from '../numeric/chamfer-distance';
import { quantile } from '../numeric/statistics';
import { toleranceLevel } from '../stages/clear/distance';
import type { Decision } from './decide';
import { regionsOf } from './regions';

/** A difference no deeper than this lies along a border that both see, in pixels of the decision. */
const DEEP_PX = 2;

/** A smaller difference at the open border is a matter of detail: as a share of the subject, and of the picture. */
const LEAST_SHARE = 0.03;
const LEAST_OF_PICTURE = 0.002;

/**
 * In drawings and before patterns so is one that is narrow and long, as what compression does around letters: many times the
 * square of its half width, and that a small share of the subject's size.
 */
const LONG = 8;
const NARROW = 0.1;

/** Enclosed slits between threads lie mostly within so many pixels of a border; shines and eyes do not, or are round. */
const BESIDE_PX = 2;
const MOST_BESIDE = 0.5;
const ROUND = 5;
const ROUND_PX = 6;

/** What is enclosed is the decision's, unless so much of it was a matter of detail to that too. */
const MOST_DOUBT = 0.3;

/**
 * Details have the background's color: nearly all of them where at least half are so near to what is around them, in units of
 * tolerance, but where there is grain and no color only up to a bound; else each that is surely near.
 */
const LIKE = { drawn: 3.4, photographed: 5.3 } as const;
const MOST_UNLIKE = 7.5;
const SURELY_LIKE = 2;
const MAX_TOLERANCE = 100;

/** The middle of a difference is this share of its depth from its rim. */
const MIDDLE = 0.6;

/** A body of which no more than this share is left has vanished. */
const LEFT = 0.1;

/** The decision rules this far around a difference, in pixels. */
const AROUND_PX = 4;

/**
 * Where a decision and what a tolerance clears (1 in `cleared`, at the decision's size) differ in more than detail, so that the
 * decision must be followed (`levels` are distances to the background around each place): 1 there, 0 elsewhere; null where they differ nowhere. A tolerance sees the picture at its full size and is
 * the better judge of slits, threads and specks; the decision sees borders and what belongs together.
 */
export function disputed(
  { width, height, goes, firm, doubtful, clean, colored, toBorder, carried }: Decision,
  cleared: Uint8Array,
  levels: Uint16Array,
): Uint8Array | null {
  const pixels = width * height;
  const differs = new Uint8Array(pixels);
  let subject = 0;
  let any = false;
  for (let i = 0; i < pixels; i++) {
    subject += 1 - goes[i]!;
    if (goes[i] === cleared[i]) continue;
    differs[i] = 1;
    any = true;
  }
  if (!any) return null;
  const depths = new Uint8Array(pixels);
  chamferDistances(differs, 1, width, height, depths);
  const least = Math.max(LEAST_SHARE * subject, LEAST_OF_PICTURE * pixels);
  const isFlat = clean || carried.checker !== null;
  const narrow = NARROW * Math.sqrt(subject);
  /** How far the middle of a difference is from the background around. */
  const levelOf = (places: Int32Array): number => {
    let deepest = 0;
    for (const i of places) deepest = Math.max(deepest, depths[i]!);
    const middle = places.filter((i) => depths[i]! >= MIDDLE * deepest);
    return quantile(
      Array.from(middle, (i) => levels[i]!),
      0.5,
    );
  };
  const matters = (places: Int32Array): boolean => {
    let deep = 0;
    let deepest = 0;
    let doubts = 0;
    let beside = 0;
    let open = false;
    for (const i of places) {
      if (firm[i] === 1) return true;
      if (depths[i]! >= DEEP_PX * CHAMFER_UNIT) deep++;
      deepest = Math.max(deepest, depths[i]! / CHAMFER_UNIT);
      doubts += doubtful[i]!;
      if (toBorder[i]! <= BESIDE_PX * CHAMFER_UNIT) beside++;
      open ||= goes[i] === 1 || besides(i, width, pixels).some((j) => goes[j] === 1);
    }
    const length = places.length / (deepest * deepest);
    if (open) return deep >= least && (!isFlat || length < LONG || deepest > narrow);
    if (doubts > MOST_DOUBT * places.length) return deep >= least;
    if (carried.checker) return true;
    const isRound = length < ROUND && deepest >= ROUND_PX;
    return isRound || beside < MOST_BESIDE * places.length || deep >= least;
  };
  const found = vanishing(width, height, goes, cleared, least);
  let end = found.includes(1) ? 1 : 0;
  const { list, places } = regionsOf(width, height, (i) => differs[i] === 1);
  const details: { readonly own: Int32Array; readonly level: number }[] = [];
  const follow = (own: Int32Array) => {
    for (const i of own) found[i] = 1;
    end++;
  };
  for (const { from, to } of list) {
    const own = places.subarray(from, to);
    if (matters(own)) follow(own);
    else if (goes[own[0]!] === 0 && own.some((i) => depths[i]! >= DEEP_PX * CHAMFER_UNIT))
      details.push({ own, level: levelOf(own) });
  }
  const isNear = usualOf(details) <= toleranceLevel(clean ? LIKE.drawn : LIKE.photographed);
  const most = !isNear ? SURELY_LIKE : clean || colored ? MAX_TOLERANCE : MOST_UNLIKE;
  for (const { own, level } of details) if (level > toleranceLevel(most)) follow(own);
  if (end === 0) return null;
  chamferDistances(found, 0, width, height, depths);
  for (let i = 0; i < pixels; i++) if (depths[i]! <= AROUND_PX * CHAMFER_UNIT) found[i] = 1;
  return found;
}

/** The level of the difference in which the middle one of all their pixels lies. */
function usualOf(details: readonly { readonly own: Int32Array; readonly level: number }[]): number {
  const sorted = [...details].sort((one, other) => one.level - other.level);
  const half = sorted.reduce((sum, { own }) => sum + own.length, 0) / 2;
  let sum = 0;
  for (const { own, level } of sorted) {
    sum += own.length;
    if (sum >= half) return level;
  }
  return 0;
}

/** Marks whole bodies of the subject of which nothing would be left, if they are worth a word together. */
function vanishing(
  width: number,
  height: number,
  goes: Uint8Array,
  cleared: Uint8Array,
  least: number,
): Uint8Array {
  const found = new Uint8Array(goes.length);
  const { list, places } = regionsOf(width, height, (i) => goes[i] === 0);
  let sum = 0;
  for (const { from, to, pixels } of list) {
    const own = places.subarray(from, to);
    let left = 0;
    for (const i of own) left += 1 - cleared[i]!;
    if (left > LEFT * pixels) continue;
    for (const i of own) found[i] = 1;
    sum += pixels;
  }
  return sum >= least ? found : new Uint8Array(goes.length);
}

function besides(i: number, width: number, pixels: number): number[] {
  const x = i % width;
  return [
    x > 0 ? i - 1 : i,
    x < width - 1 ? i + 1 : i,
    i >= width ? i - width : i,
    i < pixels - width ? i + width : i,
  ];
}
