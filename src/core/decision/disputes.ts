import { CHAMFER_UNIT, chamferDistances, distancesTo } from '../numeric/chamfer-distance';
import { bytesBy } from '../numeric/plane';
import { quantile } from '../numeric/statistics';
import { toleranceLevel } from '../stages/clear/distance';
import type { Decision } from './decision';
import { regionsOf } from './regions';

// What the figures of this file rest on: docs/decisions/013-one-decision-for-the-picture.md

/** A difference no deeper than this lies along a border that both see, in pixels of the decision. */
const DEEP_PX = 2;

/** A smaller difference at the open border is a matter of detail: as a share of the subject, and of the picture. */
const LEAST_SHARE = 0.03;
const LEAST_PICTURE_SHARE = 0.002;

/**
 * In drawings and before patterns so is one that is narrow and long, as what compression does around letters: many times the
 * square of its half width, and that a small share of the subject's size.
 */
const LONG_TIMES = 8;
const NARROW_SHARE = 0.1;

/** Enclosed slits between threads lie mostly within so many pixels of a border; shines and eyes do not, or are round. */
const BESIDE_PX = 2;
export const BESIDE_TO_BORDER = BESIDE_PX * CHAMFER_UNIT;
const MOST_BESIDE_SHARE = 0.5;
const ROUND_TIMES = 5;
const ROUND_PX = 6;

/** What is enclosed is the decision's, unless so much of it was a matter of detail to that too. */
const MOST_DOUBT_SHARE = 0.3;

/**
 * Details have the background's color. In drawings nearly all do where the usual one is so near to what is around it, in units
 * of tolerance; in photos where this share of them is within the background's grain, and where there is no color, up to a
 * bound. Elsewhere those have it that are surely near.
 */
const LIKE_DRAWN_TOLERANCE = 3.4;
const LIKE_GRAIN_SHARE = 0.1;
const MOST_UNLIKE_TOLERANCE = 7.5;
const SURELY_LIKE_TOLERANCE = 2;
const MAX_TOLERANCE = 100;

/**
 * In drawings on another ground than white shading may pass through the ground's color. Where details do not have that, those
 * that lie so far from what goes, in pixels, must be nearer to it; thin ones too, from so many pixels on.
 */
const SURELY_DRAWN_SHARE = 0.7;
const ENCLOSED_PX = 2;
const LEAST_THIN_PIXELS = 12;

/**
 * In photos what is deeper than this, in pixels, and not surely within the grain (this share of it) is a bite out of the
 * subject, not a slit; deeper than that it is in any case.
 */
const BITE_PX = 5;
const SURELY_SHARE = 0.6;
const ANY_BITE_PX = 12;

/**
 * What is so far from the background, in pixels, and not surely within the grain (in drawings: so many times beyond it,
 * and no more than so many of them: shines) is no slit either.
 */
const FAR_PX = 8;
const BEYOND_TIMES = 1.4;
const MOST_SHINES = 1;

/** The middle of a difference is this share of its depth from its rim. */
const MIDDLE_SHARE = 0.6;

/** A body of which no more than this share is left has vanished. */
const LEFT_SHARE = 0.1;

/** The decision rules this far around a difference, in pixels. */
const AROUND_PX = 4;

/**
 * Where a decision and what a tolerance clears (1 in `cleared`, at the decision's size) differ in more than detail, so that
 * the decision must be followed: 1 there, 0 elsewhere; null where there is no such place. `levels` are distances to the
 * background around each place. A tolerance sees the picture at its full size and is the better judge of slits, threads and
 * specks; the decision sees borders and what belongs together.
 */
export function disputed(decision: Decision, cleared: Uint8Array, levels: Uint16Array): Uint8Array | null {
  const { width, height, goes, clean, colored } = decision;
  const { between, tolerance, checker } = decision.carried;
  const isPhoto = !clean && !checker;
  const isTinted = clean && !checker && !decision.drawnOnWhite;
  const grain = toleranceLevel(tolerance);
  const pixels = goes.length;
  const differs = bytesBy(goes.length, (i) => (goes[i] === cleared[i] ? 0 : 1));
  const depths = new Uint8Array(pixels);
  chamferDistances(differs, 1, width, height, depths);
  const subject = goes.reduce((sum, one) => sum + 1 - one, 0);
  const least = Math.max(LEAST_SHARE * subject, LEAST_PICTURE_SHARE * pixels);
  const toOutside = distancesTo(width, height, (i) => goes[i] === 1);
  const found = vanishing(decision, cleared, least);
  const details: Detail[] = [];
  const thin: Detail[] = [];
  const { list, places } = regionsOf(width, height, (i) => differs[i] === 1);
  for (const { from, to } of list) {
    const own = places.subarray(from, to);
    const shape = shapeOf(decision, own, depths);
    const stays = goes[own[0]!] === 0;
    const level = stays && shape.deep > 0 ? levelOf(own, shape, depths, levels) : 0;
    const isBite =
      isPhoto &&
      stays &&
      shape.deepest >= BITE_PX &&
      (shape.deepest >= ANY_BITE_PX || level > SURELY_SHARE * grain);
    if (isBite || matters(decision, shape, least, subject)) for (const i of own) found[i] = 1;
    else if (stays) {
      for (const i of own) if (between[i] === 1) found[i] = 1;
      if (shape.deep > 0) details.push({ own, level, far: farFrom(own, toOutside) });
      else if (isTinted && !shape.open && shape.pixels >= LEAST_THIN_PIXELS)
        thin.push({ own, level: levelOf(own, shape, depths, levels), far: farFrom(own, toOutside) });
    }
  }
  const isNear = clean
    ? usualOf(details) <= toleranceLevel(LIKE_DRAWN_TOLERANCE)
    : shareBelow(details, grain) >= LIKE_GRAIN_SHARE;
  const usual = clean || colored ? MAX_TOLERANCE : MOST_UNLIKE_TOLERANCE;
  const mostOf = ({ far }: Detail) =>
    isNear ? usual : isTinted && far >= ENCLOSED_PX ? SURELY_DRAWN_SHARE : SURELY_LIKE_TOLERANCE;
  const inside = details.filter(
    ({ level, far }) => far >= FAR_PX && level > (clean ? BEYOND_TIMES : SURELY_SHARE) * grain,
  );
  const held = new Set(checker || (clean && inside.length > MOST_SHINES) ? [] : inside);
  for (const one of isNear ? details : [...details, ...thin.filter(({ far }) => far >= ENCLOSED_PX)])
    if (one.level > toleranceLevel(mostOf(one)) || held.has(one)) for (const i of one.own) found[i] = 1;
  // Single pixels within the tolerance are not seen at this size.
  for (let i = 0; i < pixels; i++)
    if (between[i] === 1 && toOutside[i]! > FAR_PX * CHAMFER_UNIT) found[i] = 1;
  if (!found.includes(1)) return null;
  chamferDistances(found, 0, width, height, depths);
  for (let i = 0; i < pixels; i++) if (depths[i]! <= AROUND_PX * CHAMFER_UNIT) found[i] = 1;
  return found;
}

/** A difference that may be a matter of detail. */
interface Detail {
  readonly own: Int32Array;
  /** How far its middle is from the background around, in color; and it from what goes, in pixels. */
  readonly level: number;
  readonly far: number;
}

/** What a difference looks like. */
interface Shape {
  readonly pixels: number;
  /** Pixels deeper than DEEP_PX; and how deep the deepest is, in pixels. */
  readonly deep: number;
  readonly deepest: number;
  /** Pixels that are doubtful to the decision, and near a border. */
  readonly doubts: number;
  readonly beside: number;
  /** Whether it touches what goes; and whether it holds what was told, or what an enclosed area is part of. */
  readonly open: boolean;
  readonly firm: boolean;
}

function shapeOf(
  { goes, width, firm, doubtful, toBorder }: Decision,
  places: Int32Array,
  depths: Uint8Array,
): Shape {
  let deep = 0;
  let deepest = 0;
  let doubts = 0;
  let beside = 0;
  let isOpen = false;
  let isFirm = false;
  for (const i of places) {
    if (firm[i] === 1) isFirm = true;
    if (depths[i]! >= DEEP_PX * CHAMFER_UNIT) deep++;
    deepest = Math.max(deepest, depths[i]! / CHAMFER_UNIT);
    doubts += doubtful[i]!;
    if (toBorder[i]! <= BESIDE_TO_BORDER) beside++;
    isOpen ||= goes[i] === 1 || besides(i, width, goes.length).some((j) => goes[j] === 1);
  }
  return { pixels: places.length, deep, deepest, doubts, beside, open: isOpen, firm: isFirm };
}

/** Whether a difference is more than a detail. */
function matters({ clean, carried }: Decision, shape: Shape, least: number, subject: number): boolean {
  const { pixels, deep, deepest, doubts, beside, open, firm } = shape;
  if (firm) return true;
  const isLarge = deep >= least;
  const length = pixels / (deepest * deepest);
  if (open) {
    const mayBeFringe = clean || carried.checker !== null;
    return isLarge && (!mayBeFringe || length < LONG_TIMES || deepest > NARROW_SHARE * Math.sqrt(subject));
  }
  if (doubts > MOST_DOUBT_SHARE * pixels) return isLarge;
  if (carried.checker) return true;
  return isLarge || beside < MOST_BESIDE_SHARE * pixels || (length < ROUND_TIMES && deepest >= ROUND_PX);
}

/** How far a difference lies from what goes, in pixels. */
function farFrom(places: Int32Array, toOutside: Uint8Array): number {
  let least = 255;
  for (const i of places) least = Math.min(least, toOutside[i]!);
  return least / CHAMFER_UNIT;
}

/** How far the middle of a difference is from the background around. */
function levelOf(places: Int32Array, { deepest }: Shape, depths: Uint8Array, levels: Uint16Array): number {
  const middle = places.filter((i) => depths[i]! >= MIDDLE_SHARE * deepest * CHAMFER_UNIT);
  return quantile(
    Array.from(middle, (i) => levels[i]!),
    0.5,
  );
}

/** The level of the difference in which the middle one of all their pixels lies. */
function usualOf(details: readonly Detail[]): number {
  const sorted = [...details].sort((one, other) => one.level - other.level);
  const half = sorted.reduce((sum, { own }) => sum + own.length, 0) / 2;
  let sum = 0;
  for (const { own, level } of sorted) {
    sum += own.length;
    if (sum >= half) return level;
  }
  return 0;
}

/** The share of all pixels of details that lies in those up to a level. */
function shareBelow(details: readonly Detail[], most: number): number {
  let below = 0;
  let sum = 0;
  for (const { own, level } of details) {
    sum += own.length;
    if (level <= most) below += own.length;
  }
  return below / Math.max(1, sum);
}

/** Marks whole bodies of the subject of which nothing would be left, if they are worth a word together. */
function vanishing({ width, height, goes }: Decision, cleared: Uint8Array, least: number): Uint8Array {
  const found = new Uint8Array(goes.length);
  const { list, places } = regionsOf(width, height, (i) => goes[i] === 0);
  let sum = 0;
  for (const { from, to, pixels } of list) {
    const own = places.subarray(from, to);
    let left = 0;
    for (const i of own) left += 1 - cleared[i]!;
    if (left > LEFT_SHARE * pixels) continue;
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
