import { median } from '../../../numeric/statistics';
import type { Raster } from '../../../raster/raster';
import { FAINTEST_SHARE } from '../darkness';
import { lightIndex, type Light } from '../light';
import { middleOf, type Rule } from './rule';

/** Steps a pixel in which the profile across a rule is kept. */
export const PROFILE_STEPS = 8;

/** Shares of the paper that are seen across a rule where there is no ink, for red, green and blue, from -reach to reach. */
export type Profile = readonly [Float32Array, Float32Array, Float32Array];

function profileOf(
  raster: Raster,
  light: Light,
  rule: Rule,
  reachPx: number,
  quantile = MIDDLE_SHARE,
): Profile {
  const steps = 2 * reachPx * PROFILE_STEPS + 1;
  const counts = new Uint32Array(3 * steps * SHARE_BINS);
  const places = new Float64Array(2 * steps);
  countAcross(raster, light, rule, reachPx, counts, places);
  const regular = (c: number) => regularProfile(counts, places, c, steps, quantile);
  return [regular(0), regular(1), regular(2)];
}

// What the figures of this file rest on: docs/decisions/008-ink-and-paper.md

/** Rules that tell what the others look like. */
const ENOUGH_RULES = 3;

/** A profile this much deeper than that of all rules is deeper than they are. */
const DEEPER_TIMES = 1.25;

/**
 * What each rule takes from the paper, and what the middle one of them does. Where ink runs along most of a rule, it seems
 * deeper than the others, while its lightest parts are not; then it looks like them.
 */
export function profilesOf(
  raster: Raster,
  light: Light,
  rules: readonly Rule[],
  reachPx: number,
): { readonly own: readonly Profile[]; readonly shared: Profile } {
  const own = rules.map((rule) => profileOf(raster, light, rule, reachPx));
  const middle = (c: 0 | 1 | 2) => own[0]![c].map((_, k) => median(own.map((profile) => profile[c][k]!)));
  const shared: Profile = [middle(0), middle(1), middle(2)];
  if (rules.length < ENOUGH_RULES) return { own, shared };
  const depth = depthOf(shared);
  const believed = own.map((profile, k) => {
    if (depthOf(profile) <= DEEPER_TIMES * depth) return profile;
    const lightest = depthOf(profileOf(raster, light, rules[k]!, reachPx, LIGHT_END_SHARE));
    return lightest > DEEPER_TIMES * depth ? profile : shared;
  });
  return { own: believed, shared };
}

/** The most that a profile takes from the paper, as a share. */
function depthOf(profile: Profile): number {
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
        counts[(c * steps + k) * SHARE_BINS + Math.min(SHARE_BINS - 1, Math.round(share * BINS_A_UNIT))]!++;
      }
    }
  }
}

/** Bins in which shares of the paper are counted: up to 1.28. */
const BINS_A_UNIT = 400;
const SHARE_BINS = 512;

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
    medians.push(ruleShare(counts, (c * steps + k) * SHARE_BINS, count, quantile));
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
    out[k] = share > 1 - FAINTEST_SHARE / 3 ? 1 : share;
  }
  return out;
}

/** A little above the middle, since ink that crosses makes it darker; and what is seen of a rule that is mostly under ink. */
const MIDDLE_SHARE = 0.55;
const LIGHT_END_SHARE = 0.85;

function ruleShare(counts: Uint32Array, start: number, count: number, quantile: number): number {
  const wanted = quantile * count;
  let below = 0;
  for (let k = 0; k < SHARE_BINS; k++) {
    const here = counts[start + k]!;
    if (here > 0 && below + here >= wanted) return (k - 0.5 + (wanted - below) / here) / BINS_A_UNIT;
    below += here;
  }
  return 1;
}
