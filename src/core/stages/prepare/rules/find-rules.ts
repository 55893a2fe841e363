import { median, quantile } from '../../../numeric/statistics';
import type { Reduced } from '../../../raster/reduce';
import type { Raster } from '../../../raster/raster';
import type { Rgb } from '../../clear/sample-color';
import { CAP_SHARE, darknessOf, HALF_PX, thinLines, type Darkness } from '../darkness';
import type { Light } from '../light';
import { profileAngle, profileAt, slopeOf } from '../profile-angle';
import { profilesOf, type Profile } from './profile';
import { agreeing, followed, shifted, type Rule } from './rule';

// What the figures of this file rest on: docs/decisions/008-ink-and-paper.md

/** Rules lie at most so far from the horizontal or the vertical. */
const MOST_DEG = 12;

/** Lines are looked for only at an angle that is so sure, 0 to 1. */
const LEAST_SURE_SHARE = 0.25;

/** A rule runs through so much of the picture; or through less, where there are others. */
const WHOLE_SHARE = 0.4;
const FOLLOWED_SHARE = 0.85;
const CORNER_SHARE = 0.04;

/** The middle of a rule may lie so far outside, so that only its rim is seen. */
const OUTSIDE_PX = 1;

/** Over this share of its length a rule is seen. */
const SEEN_SHARE = 0.6;

/** The ruled lines of a picture and what is needed to take them out. */
export interface Ruling {
  readonly rules: readonly Rule[];
  /** Across a rule: paper's share that is seen through it, per channel, from -reach to reach in PROFILE_STEPS a pixel. */
  readonly profiles: readonly Profile[];
  readonly reachPx: number;
  readonly light: Light;
  readonly ink: Rgb;
}

/**
 * Finds straight, nearly parallel lines that are thin, fainter than the ink and seen over most of the picture: across it
 * and, on squared paper, also down. Null where there are none.
 */
export function findRules(raster: Raster, small: Reduced, light: Light): Ruling | null {
  const dark = darknessOf(small.raster, light, small.reduction);
  const found = linesOf(dark, small.reduction);
  if (found.length === 0) return null;
  const unit = 1 << small.reduction;
  const reachPx = (HALF_PX + 1) * unit;
  const ink = inkOf(small.raster, dark);
  const rules: Rule[] = [];
  const profiles: Profile[] = [];
  for (const upright of [false, true]) {
    const rough = found.filter((rule) => rule.upright === upright && !rule.short);
    const free = rough.map((rule) => followed(raster, light, rule, HALF_PX * unit));
    const whole = free.map((rule, k) => {
      const near = free.filter((_, other) => other !== k && Math.abs(other - k) <= 2);
      return agreeing(raster, light, rule, near, HALF_PX * unit);
    });
    const short = found.filter((rule) => rule.upright === upright && rule.short);
    // Of a short rule too little is seen: it bends, slopes and looks like the others, where there are others.
    const like = whole.length > 0 && {
      bend: median(whole.map((rule) => rule.bend)),
      slope: median(whole.map((rule) => rule.slope)),
    };
    const moved = like
      ? short.map((rule) => shifted(raster, light, { ...rule, ...like }, HALF_PX * unit))
      : short;
    const measured = like ? whole : short;
    if (measured.length === 0) continue;
    const { own, shared } = profilesOf(raster, light, measured, reachPx);
    rules.push(...whole, ...moved);
    profiles.push(...own, ...(like ? moved.map(() => shared) : []));
  }
  return { rules, profiles, reachPx, light, ink };
}

/** Whether a picture, given as its small copy, has ruled lines. */
export function hasRules(small: Reduced, light: Light): boolean {
  return linesOf(darknessOf(small.raster, light, small.reduction), small.reduction).length > 0;
}

function linesOf(dark: Darkness, reduction: number): Rule[] {
  return [...rulesOf(dark, false, reduction), ...rulesOf(dark, true, reduction)];
}

function rulesOf(dark: Darkness, upright: boolean, reduction: number): Rule[] {
  const plane = thinLines(upright ? transposed(dark) : dark);
  const { deg, confidence } = profileAngle(plane, MOST_DEG);
  if (confidence < LEAST_SURE_SHARE) return [];
  const slope = slopeOf(deg);
  const { sums, offset } = profileAt(plane, slope);
  const unit = 1 << reduction;
  const linesAt = (least: number): Rule[] => {
    const lines: Rule[] = [];
    for (let k = 1; k < sums.length - 1; k++) {
      if (!(sums[k]! >= sums[k - 1]! && sums[k]! > sums[k + 1]!)) continue;
      const peak = peakBetween(sums[k - 1]!, sums[k]!, sums[k + 1]!);
      const at = k + peak - offset + 0.5;
      if (!isSeen(plane, at, slope, least)) continue;
      if (lines.length > 0 && at * unit - lines.at(-1)!.at < 2 * HALF_PX * unit) continue;
      lines.push({
        upright,
        at: at * unit,
        slope: (slope * plane.width * unit) / 2,
        bend: 0,
        short:
          !isSeen(plane, at, slope, FOLLOWED_SHARE) || at < HALF_PX + 2 || at > plane.height - HALF_PX - 2,
      });
    }
    return lines;
  };
  const lines = linesAt(WHOLE_SHARE);
  // Among several rules also those that only cut off a corner are believed.
  return lines.length >= 3 ? linesAt(CORNER_SHARE) : lines;
}

/** Where between -0.5 and 0.5 a parabola through three neighbors has its top. */
function peakBetween(before: number, here: number, after: number): number {
  const curve = before - 2 * here + after;
  return curve < 0 ? Math.max(-0.5, Math.min(0.5, (0.5 * (before - after)) / curve)) : 0;
}

function transposed({ width, height, data }: Darkness): Darkness {
  const out = new Float32Array(data.length);
  for (let y = 0, i = 0; y < height; y++) for (let x = 0; x < width; x++, i++) out[x * height + y] = data[i]!;
  return { width: height, height: width, data: out };
}

/** Whether a line is seen over most of its length within the plane. */
function isSeen({ width, height, data }: Darkness, at: number, slope: number, least: number): boolean {
  let within = 0;
  let seen = 0;
  for (let x = 0; x < width; x++) {
    const y = Math.floor(at + slope * (x + 0.5 - width / 2));
    if (y < -OUTSIDE_PX || y >= height + OUTSIDE_PX) continue;
    within++;
    const i = Math.min(height - 1, Math.max(0, y)) * width + x;
    if (data[i]! > 0 || (data[i - width] ?? 0) > 0 || (data[i + width] ?? 0) > 0) seen++;
  }
  return within > least * width && seen >= SEEN_SHARE * within;
}

/** The color of the darkest strokes. */
function inkOf({ data }: Raster, dark: Darkness): Rgb {
  const step = Math.max(1, Math.floor(dark.data.length / 200_000));
  const some = Array.from({ length: Math.floor(dark.data.length / step) }, (_, k) => k * step).filter(
    (i) => dark.data[i]! > CAP_SHARE,
  );
  if (some.length === 0) return { red: 0, green: 0, blue: 0 };
  const limit = quantile(
    some.map((i) => dark.data[i]!),
    0.8,
  );
  const darkest = some.filter((i) => dark.data[i]! >= limit);
  const mean = (c: number) => darkest.reduce((sum, i) => sum + data[i * 4 + c]!, 0) / darkest.length;
  return { red: mean(0), green: mean(1), blue: mean(2) };
}
