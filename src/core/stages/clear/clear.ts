import type { Cut, Sample } from '../../cut/schema';
import type { Steps } from '../../numeric/steps';
import type { Raster, Rect } from '../../raster/raster';
import { MAX_LEVEL, STEPS_PER_UNIT, toleranceLevel } from './distance';
import { reachMapSteps, type ReachMap } from './reach-map';
import { sampleArea, sampleColor, type Rgb } from './sample-color';

/** Above the tolerance alpha rises from 0 to 255 over this many units of distance. */
export const RAMP_UNITS = 8;

/**
 * The same picture at one size: `raster` is the original reduced `reduction` times by halving, so original pixel
 * (x, y) lies in pixel (x >> reduction, y >> reduction). Sample colors are always read from `original`.
 */
export interface Scene {
  readonly original: Raster;
  readonly raster: Raster;
  readonly reduction: number;
}

/** Reach maps by what they depend on; owned by the caller, one for each size of a picture. */
export type ReachCache = Map<string, ReachMap>;

/** What a sample's reach map depends on; tolerance and switch are not part of it. */
export function reachKey(sample: Sample): string {
  return `${sample.x},${sample.y},${sample.areaPx},${sample.reach}`;
}

/** The background color a sample reads from the original. */
export function colorOfSample(original: Raster, sample: Sample): Rgb {
  return sampleColor(original, sampleArea(sample.x, sample.y, sample.areaPx, original));
}

/** The reach map of one sample, from the cache or computed into it. */
export function* reachOfSample(scene: Scene, sample: Sample, cache: ReachCache): Steps<ReachMap> {
  const key = reachKey(sample);
  const known = cache.get(key);
  if (known) return known;
  const area = sampleArea(sample.x, sample.y, sample.areaPx, scene.original);
  const map = yield* reachMapSteps(
    scene.raster,
    sampleColor(scene.original, area),
    reduceRect(area, scene.reduction),
    sample.reach,
  );
  cache.set(key, map);
  return map;
}

/** The samples that act: none when the stage is switched off. */
export function actingSamples(cut: Cut): Sample[] {
  return cut.clear.on ? cut.clear.samples.filter((sample) => sample.on) : [];
}

/**
 * Writes the cleared picture's part `rect` into `out` (a raster of `rect`'s size): the color of the scene, and its
 * alpha times the smallest alpha any sample gives. A sample gives 0 up to its tolerance, then a straight ramp in
 * distance over RAMP_UNITS. `maps` are those of `samples`, in the same order.
 */
export function clearInto(
  raster: Raster,
  samples: readonly Sample[],
  maps: readonly ReachMap[],
  rect: Rect,
  out: Raster,
): void {
  const alpha = new Uint8Array(rect.width);
  const tables = samples.map((sample) => alphaTable(sample.tolerance));
  for (let row = 0; row < rect.height; row++) {
    const start = (rect.y + row) * raster.width + rect.x;
    alpha.fill(255);
    for (let k = 0; k < maps.length; k++) lowerAlpha(alpha, maps[k]!.levels, start, tables[k]!);
    copyRow(raster.data, start * 4, out.data, row * rect.width * 4, alpha);
  }
}

/** Alpha for every level of a reach map at one tolerance. */
export function alphaTable(tolerance: number): Uint8Array {
  const table = new Uint8Array(MAX_LEVEL + 1);
  const cleared = toleranceLevel(tolerance);
  const ramp = RAMP_UNITS * STEPS_PER_UNIT;
  for (let level = 0; level <= MAX_LEVEL; level++) {
    table[level] = Math.round(Math.min(1, Math.max(0, (level - cleared) / ramp)) * 255);
  }
  return table;
}

function lowerAlpha(alpha: Uint8Array, levels: Uint16Array, start: number, table: Uint8Array): void {
  for (let x = 0; x < alpha.length; x++) {
    const value = table[levels[start + x]!]!;
    if (value < alpha[x]!) alpha[x] = value;
  }
}

function copyRow(source: Uint8Array, from: number, target: Uint8Array, to: number, alpha: Uint8Array): void {
  for (let x = 0, p = from, q = to; x < alpha.length; x++, p += 4, q += 4) {
    const own = source[p + 3]!;
    const cleared = alpha[x]!;
    target[q] = source[p]!;
    target[q + 1] = source[p + 1]!;
    target[q + 2] = source[p + 2]!;
    target[q + 3] = own === 255 ? cleared : Math.round((own * cleared) / 255);
  }
}

function reduceRect(rect: Rect, reduction: number): Rect {
  const x = rect.x >> reduction;
  const y = rect.y >> reduction;
  return {
    x,
    y,
    width: ((rect.x + rect.width - 1) >> reduction) - x + 1,
    height: ((rect.y + rect.height - 1) >> reduction) - y + 1,
  };
}
