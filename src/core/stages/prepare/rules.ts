import { lumaOf } from '../../color/luma';
import { median, quantile } from '../../numeric/statistics';
import { solveSymmetric } from '../../numeric/solve';
import type { Reduced } from '../../raster/reduce';
import type { Raster } from '../../raster/raster';
import type { Rgb } from '../clear/sample-color';
import { lightIndex, type Light } from './light';
import { profileAngle, profileAt, slopeOf, type Darkness } from './profile-angle';

/** Rules lie at most so far from the horizontal or the vertical. */
const MOST_DEG = 12;

/** What counts of a place's darkness toward a rule, at most: ink is darker and must not outweigh it. */
const CAP = 0.3;

/** A rule is darker than its surroundings by this share at least. */
const FAINTEST = 0.025;

/** A rule runs through so much of the picture; or through less, where there are others. */
const WHOLE = 0.4;
const FOLLOWED = 0.85;
const CORNER = 0.04;

/** The middle of a rule may lie so far outside, so that only its rim is seen. */
const OUTSIDE_PX = 1;

/** Over this share of its length a rule is seen. */
const SEEN = 0.6;

/** Half of the widest rule, in pixels of the small copy. */
const HALF_PX = 3;

/** Stretches into which a rule is parted to follow its bend. */
const STRETCHES = 24;

/** Steps a pixel in which the profile across a rule is kept. */
const PROFILE_STEPS = 8;

/** One ruled line, in pixels of the raster: its middle is at `at` + `slope` * t + `bend` * t * t, t running -1 to 1. */
interface Rule {
  readonly upright: boolean;
  readonly at: number;
  readonly slope: number;
  readonly bend: number;
  /** Whether it cuts off a corner or lies on the picture's border, so that too little is seen of it to follow its bend. */
  readonly short: boolean;
}

/** The ruled lines of a picture and what is needed to take them out. */
export interface Ruling {
  readonly rules: readonly Rule[];
  /** Across a rule: paper's share that is seen through it, per channel, from -reach to reach in PROFILE_STEPS a pixel. */
  readonly profiles: readonly (readonly Float32Array[])[];
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
  const found = [false, true].flatMap((upright) => rulesOf(dark, upright, small.reduction));
  if (found.length === 0) return null;
  const unit = 1 << small.reduction;
  const reachPx = (HALF_PX + 1) * unit;
  const ink = inkOf(small.raster, dark);
  const rules: Rule[] = [];
  const profiles: (readonly Float32Array[])[] = [];
  for (const upright of [false, true]) {
    const rough = found.filter((rule) => rule.upright === upright && !rule.short);
    const free = rough.map((rule) => followed(raster, light, rule, HALF_PX * unit));
    const whole = free.map((rule, k) => {
      const near = free.filter((_, other) => other !== k && Math.abs(other - k) <= 2);
      return agreeing(raster, light, rule, near, HALF_PX * unit);
    });
    const own = profilesOf(raster, light, whole, reachPx);
    const short = found.filter((rule) => rule.upright === upright && rule.short);
    // Of a short rule too little is seen: it bends and looks like the others.
    const shared =
      short.length > 0 ? profileOf(raster, light, whole.length > 0 ? whole : short, reachPx) : [];
    const like = {
      bend: median(whole.map((rule) => rule.bend)),
      slope: median(whole.map((rule) => rule.slope)),
    };
    const moved = short.map((rule) =>
      whole.length === 0 ? rule : shifted(raster, light, { ...rule, ...like }, HALF_PX * unit),
    );
    rules.push(...whole, ...moved);
    profiles.push(...own, ...short.map(() => shared));
  }
  return { rules, profiles, reachPx, light, ink };
}

/** How much darker each place of a raster of that reduction is than the bare paper, 0 to 1. */
export function darknessOf({ width, height, data }: Raster, light: Light, reduction: number): Darkness {
  const out = new Float32Array(width * height);
  const [reds, greens, blues] = light.channels;
  const shift = Math.max(0, light.reduction - reduction);
  for (let y = 0, i = 0, p = 0; y < height; y++) {
    const row = (y >> shift) * light.width;
    for (let x = 0; x < width; x++, i++, p += 4) {
      if (data[p + 3] === 0) continue;
      const k = row + (x >> shift);
      const paper = lumaOf(reds[k]!, greens[k]!, blues[k]!);
      const darker = 1 - lumaOf(data[p]!, data[p + 1]!, data[p + 2]!) / Math.max(1, paper);
      if (darker > 0) out[i] = darker;
    }
  }
  return { width, height, data: out };
}

function rulesOf(dark: Darkness, upright: boolean, reduction: number): Rule[] {
  const plane = thinLines(upright ? transposed(dark) : dark);
  const { deg, confidence } = profileAngle(plane, MOST_DEG);
  if (confidence < 0.25) return [];
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
        short: !isSeen(plane, at, slope, FOLLOWED) || at < HALF_PX + 2 || at > plane.height - HALF_PX - 2,
      });
    }
    return lines;
  };
  const lines = linesAt(WHOLE);
  // Among several rules also those that only cut off a corner are believed.
  return lines.length >= 3 ? linesAt(CORNER) : lines;
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

/** How much darker places are than those some pixels above and below, up to CAP. */
export function thinLines({ width, height, data }: Darkness): Darkness {
  const out = new Float32Array(data.length);
  const apart = HALF_PX + 1;
  for (let y = 0; y < height; y++) {
    const above = y >= apart ? -apart * width : apart * width;
    const below = y < height - apart ? apart * width : -apart * width;
    for (let x = 0, i = y * width; x < width; x++, i++) {
      const beside = Math.max(data[i + above] ?? 0, data[i + below] ?? 0);
      const more = data[i]! - beside;
      out[i] = more < FAINTEST ? 0 : Math.min(CAP, more);
    }
  }
  return { width, height, data: out };
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
  return within > least * width && seen >= SEEN * within;
}

/** The middle of a rule across its direction, at place `along` of its length. */
function middleOf({ at, slope, bend }: Rule, along: number, length: number): number {
  const t = (2 * (along + 0.5)) / length - 1;
  return at + slope * t + bend * t * t;
}

/** How far a rule's darkest places lie off it, stretch by stretch: [place of the stretch, -1 to 1; offset]. */
function offsetsOf(raster: Raster, light: Light, rule: Rule, reachPx: number): [number, number][] {
  const length = rule.upright ? raster.height : raster.width;
  const most = rule.upright ? raster.width : raster.height;
  const sums = new Float64Array(2 * reachPx + 1);
  const found: [number, number][] = [];
  for (let stretch = 0; stretch < STRETCHES; stretch++) {
    const from = Math.floor((stretch * length) / STRETCHES);
    const to = Math.floor(((stretch + 1) * length) / STRETCHES);
    sums.fill(0);
    const middle = middleOf(rule, (from + to) >> 1, length);
    if (middle < 0 || middle >= most) continue;
    for (let along = from; along < to; along++) {
      const here = middleOf(rule, along, length);
      for (let k = -reachPx; k <= reachPx; k++)
        sums[k + reachPx]! += Math.min(CAP, darkAt(raster, light, rule.upright, along, Math.floor(here + k)));
    }
    const center = centerOf(sums);
    if (center !== null) found.push([(from + to) / length - 1, center - reachPx]);
  }
  return found;
}

/** The rule with its slope and bend, from where it is darkest in each of its stretches. */
function followed(raster: Raster, light: Light, rule: Rule, reachPx: number): Rule {
  const offsets = offsetsOf(raster, light, rule, reachPx);
  if (offsets.length < STRETCHES / 2) return rule;
  const matrix = new Float64Array(9);
  const right = new Float64Array(3);
  for (const [t, offset] of offsets) {
    const basis = [1, t, t * t];
    const value = rule.at + rule.slope * t + rule.bend * t * t + offset;
    for (let j = 0; j < 3; j++) {
      for (let k = 0; k < 3; k++) matrix[j * 3 + k]! += basis[j]! * basis[k]!;
      right[j]! += basis[j]! * value;
    }
  }
  const solved = solveSymmetric(matrix, 3, [right]);
  if (!solved) return rule;
  const [at, slope, bend] = solved[0]!;
  return { ...rule, at: at!, slope: slope!, bend: bend! };
}

/** Neighboring rules run alike within so many pixels at their ends. */
const ALIKE_PX = 0.3;

/** A rule that runs otherwise than those near it was led astray by ink along it: then it runs as they do. */
function agreeing(raster: Raster, light: Light, rule: Rule, near: readonly Rule[], reachPx: number): Rule {
  if (near.length < 2) return rule;
  const slope = median(near.map((one) => one.slope));
  const bend = median(near.map((one) => one.bend));
  if (Math.abs(rule.slope - slope) <= ALIKE_PX && Math.abs(rule.bend - bend) <= ALIKE_PX) return rule;
  return shifted(raster, light, { ...rule, at: rule.at + (rule.bend - bend) / 3, slope, bend }, reachPx);
}

/** The rule moved to where it is darkest, as it lies otherwise. */
function shifted(raster: Raster, light: Light, rule: Rule, reachPx: number): Rule {
  const offsets = offsetsOf(raster, light, rule, reachPx).map(([, offset]) => offset);
  return offsets.length > 0 ? { ...rule, at: rule.at + median(offsets) } : rule;
}

/** The center of what stands out of a profile; null where nothing does. */
function centerOf(sums: Float64Array): number | null {
  const base = quantile([...sums], 0.5);
  let weight = 0;
  let sum = 0;
  for (let k = 0; k < sums.length; k++) {
    const more = Math.max(0, sums[k]! - base);
    weight += more * more;
    sum += more * more * k;
  }
  return weight > 0 ? sum / weight : null;
}

function darkAt(raster: Raster, light: Light, upright: boolean, along: number, across: number): number {
  const x = upright ? across : along;
  const y = upright ? along : across;
  if (x < 0 || y < 0 || x >= raster.width || y >= raster.height) return 0;
  const p = (y * raster.width + x) * 4;
  const i = lightIndex(light, x, y);
  const paper = lumaOf(light.channels[0][i]!, light.channels[1][i]!, light.channels[2][i]!);
  return Math.max(
    0,
    1 - lumaOf(raster.data[p]!, raster.data[p + 1]!, raster.data[p + 2]!) / Math.max(1, paper),
  );
}

/** Shares of the paper that are seen across rules where there is no ink, per channel. */
function profileOf(
  raster: Raster,
  light: Light,
  rules: readonly Rule[],
  reachPx: number,
  quantile = MIDDLE,
): Float32Array[] {
  const steps = 2 * reachPx * PROFILE_STEPS + 1;
  const counts = new Uint32Array(3 * steps * SHARES);
  const places = new Float64Array(2 * steps);
  for (const rule of rules) countAcross(raster, light, rule, reachPx, counts, places);
  return [0, 1, 2].map((c) => regularProfile(counts, places, c, steps, quantile));
}

/** Rules that tell what the others look like. */
const ENOUGH = 3;

/** A profile this much deeper than that of all rules is deeper than they are. */
const DEEPER = 1.25;

/**
 * What each rule takes from the paper. Where ink runs along most of one, it seems deeper than the others, while its lightest
 * parts are not; then it looks like them.
 */
function profilesOf(raster: Raster, light: Light, rules: readonly Rule[], reachPx: number): Float32Array[][] {
  const own = rules.map((rule) => profileOf(raster, light, [rule], reachPx));
  if (rules.length < ENOUGH) return own;
  const shared = own[0]!.map((first, c) =>
    first.map((_, k) => median(own.map((profile) => profile[c]![k]!))),
  );
  const depth = depthOf(shared);
  return own.map((profile, k) => {
    if (depthOf(profile) <= DEEPER * depth) return profile;
    const lightest = depthOf(profileOf(raster, light, [rules[k]!], reachPx, LIGHT_END));
    return lightest > DEEPER * depth ? profile : shared;
  });
}

/** The most that a profile takes from the paper, as a share. */
function depthOf(profile: readonly Float32Array[]): number {
  return Math.max(...profile.map((shares) => 1 - Math.min(...shares)));
}

function countAcross(
  raster: Raster,
  light: Light,
  rule: Rule,
  reachPx: number,
  counts: Uint32Array,
  places: Float64Array,
): void {
  const length = rule.upright ? raster.height : raster.width;
  const most = rule.upright ? raster.width : raster.height;
  const steps = places.length / 2;
  const step = Math.max(1, Math.floor(length / 2000));
  for (let along = 0; along < length; along += step) {
    const middle = middleOf(rule, along, length);
    for (let across = Math.ceil(middle - reachPx - 0.5); across < middle + reachPx - 0.5; across++) {
      if (across < 0 || across >= most) continue;
      const at = (across + 0.5 - middle + reachPx) * PROFILE_STEPS;
      const k = Math.round(at);
      if (k < 0 || k >= steps) continue;
      places[2 * k]! += at;
      places[2 * k + 1]!++;
      const x = rule.upright ? across : along;
      const y = rule.upright ? along : across;
      const p = (y * raster.width + x) * 4;
      const i = lightIndex(light, x, y);
      for (let c = 0; c < 3; c++) {
        const share = raster.data[p + c]! / Math.max(1, light.channels[c]![i]!);
        counts[(c * steps + k) * SHARES + Math.min(SHARES - 1, Math.round(share * SHARES_A_UNIT))]!++;
      }
    }
  }
}

/** Bins in which shares of the paper are counted: up to 1.28. */
const SHARES_A_UNIT = 400;
const SHARES = 512;

/** What is seen across a rule in one channel at every step, from those steps at which anything was seen. */
function regularProfile(
  counts: Uint32Array,
  places: Float64Array,
  c: number,
  steps: number,
  quantile: number,
): Float32Array {
  const at: number[] = [];
  const medians: number[] = [];
  for (let k = 0; k < steps; k++) {
    const count = places[2 * k + 1]!;
    if (count === 0) continue;
    at.push(places[2 * k]! / count);
    medians.push(ruleShare(counts, (c * steps + k) * SHARES, count, quantile));
  }
  // Beyond the rule the profile is the paper itself.
  const ends = [...medians.slice(0, 2), ...medians.slice(-2)];
  const paper = ends.reduce((sum, value) => sum + value, 0) / Math.max(1, ends.length);
  const out = new Float32Array(steps).fill(1);
  for (let k = 0, j = 0; k < steps; k++) {
    while (j < at.length - 2 && at[j + 1]! < k) j++;
    if (at.length < 2) break;
    const part = Math.min(1, Math.max(0, (k - at[j]!) / (at[j + 1]! - at[j]!)));
    const share = (medians[j]! + (medians[j + 1]! - medians[j]!) * part) / paper;
    out[k] = share > 1 - FAINTEST / 3 ? 1 : share;
  }
  return out;
}

/** A little above the middle, since ink that crosses makes it darker; and what is seen of a rule that is mostly under ink. */
const MIDDLE = 0.55;
const LIGHT_END = 0.85;

function ruleShare(counts: Uint32Array, start: number, count: number, quantile: number): number {
  const wanted = quantile * count;
  let below = 0;
  for (let k = 0; k < SHARES; k++) {
    const here = counts[start + k]!;
    if (here > 0 && below + here >= wanted) return (k - 0.5 + (wanted - below) / here) / SHARES_A_UNIT;
    below += here;
  }
  return 1;
}

/** The color of the darkest strokes. */
function inkOf({ data }: Raster, dark: Darkness): Rgb {
  const step = Math.max(1, Math.floor(dark.data.length / 200_000));
  const some = Array.from({ length: Math.floor(dark.data.length / step) }, (_, k) => k * step).filter(
    (i) => dark.data[i]! > CAP,
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

/**
 * Takes one rule out of a raster, in place. What is seen there is a mixture of ink and ruled paper; how much is ink is
 * read from it, and the ruled paper's share is exchanged for bare paper, so that strokes that cross a rule stay.
 */
export function removeRule(raster: Raster, ruling: Ruling, index: number): void {
  const { light, ink, reachPx } = ruling;
  const rule = ruling.rules[index]!;
  const [reds, greens, blues] = ruling.profiles[index]! as readonly [
    Float32Array,
    Float32Array,
    Float32Array,
  ];
  const { width, height, data } = raster;
  const length = rule.upright ? height : width;
  const most = rule.upright ? width : height;
  const last = reds.length - 2;
  for (let along = 0; along < length; along++) {
    const middle = middleOf(rule, along, length);
    for (let across = Math.ceil(middle - reachPx - 0.5); across < middle + reachPx - 0.5; across++) {
      if (across < 0 || across >= most) continue;
      const at = (across + 0.5 - middle + reachPx) * PROFILE_STEPS;
      const k = Math.min(last, Math.max(0, Math.floor(at)));
      const part = Math.min(1, Math.max(0, at - k));
      const shareRed = reds[k]! + (reds[k + 1]! - reds[k]!) * part;
      const shareGreen = greens[k]! + (greens[k + 1]! - greens[k]!) * part;
      const shareBlue = blues[k]! + (blues[k + 1]! - blues[k]!) * part;
      if (shareRed === 1 && shareGreen === 1 && shareBlue === 1) continue;
      const x = rule.upright ? across : along;
      const y = rule.upright ? along : across;
      const p = (y * width + x) * 4;
      const i = lightIndex(light, x, y);
      const red = light.channels[0][i]!;
      const green = light.channels[1][i]!;
      const blue = light.channels[2][i]!;
      const ruledRed = red * shareRed - ink.red;
      const ruledGreen = green * shareGreen - ink.green;
      const ruledBlue = blue * shareBlue - ink.blue;
      const span = ruledRed * ruledRed + ruledGreen * ruledGreen + ruledBlue * ruledBlue;
      const dot =
        (data[p]! - ink.red) * ruledRed +
        (data[p + 1]! - ink.green) * ruledGreen +
        (data[p + 2]! - ink.blue) * ruledBlue;
      const bare = span > 0 ? Math.min(1, Math.max(0, dot / span)) : 0;
      data[p] = Math.min(255, Math.round(data[p]! + bare * red * (1 - shareRed)));
      data[p + 1] = Math.min(255, Math.round(data[p + 1]! + bare * green * (1 - shareGreen)));
      data[p + 2] = Math.min(255, Math.round(data[p + 2]! + bare * blue * (1 - shareBlue)));
    }
  }
}
