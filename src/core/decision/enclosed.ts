import { CHAMFER_UNIT, distancesTo } from '../numeric/chamfer-distance';
import { dilateGray } from '../numeric/morphology';
import { quantile } from '../numeric/statistics';
import type { Checker } from '../stages/clear/checker';
import type { Area, AreaReason } from './area';
import { drawnReasons, isDrawn, isHole, type Candidate } from './drawn';
import { forEachOutside, placeOf, regionsOf, type Region, type Regions } from './regions';
import type { Sight } from './sight';

/** What was decided of enclosed areas, and their pixels. */
export interface Enclosed {
  readonly areas: readonly Area[];
  /** For each area: whether it is so small or narrow that what is around it may have changed its look. */
  readonly doubts: readonly boolean[];
  /** Index of its area for each pixel, -1 outside. */
  readonly of: Int32Array;
}

// What the figures of this file rest on: docs/decisions/013-one-decision-for-the-picture.md

/** A pixel up to this deviation may belong to an area. */
const ALIKE_NOISE = 5;

/** Smaller areas are no areas: pixels, and the share of the picture. */
const LEAST_PIXELS = 12;
const LEAST_SHARE = 0.00003;

/** The rim of a hole is a border along at least this share; less is enough where the backdrop's color tells. */
const RIM_SHARE = 0.72;
const RIM_DRAWN_SHARE = 0.55;
const RIM_COLORED_SHARE = 0.4;

/** A rim pixel lies at most this far from a border, in pixels. */
const AT_BORDER_PX = 1.5;

/** Where the focus is soft, a rim is one where the picture deviates so much within so many pixels, in units of noise. */
const RISES_NOISE = 20;
const RISES_PX = 2;

/** A pixel with so many of a region's among the 25 around it lies within that. */
const MOSTLY_AROUND_PIXELS = 13;

/** Where the subject's own rim rises so slowly, light and color are read this far from the rim, if that leaves enough. */
const SOFT = 0.9;
const INSIDE_PX = 3;
const INSIDE_SHARE = 0.3;

/** A hole deviates from the backdrop by no more than this on average, in units of noise. */
const SAME_NOISE = 3.2;

/** Its light is as even as the backdrop's: within so many times its spread, and so far in the mean, in levels. */
const EVEN_TIMES = 1.5;
const EVEN_NOISE = 1.2;
const LEAST_EVEN_ENCODED = 1;
const LEAST_MEAN_ENCODED = 2.5;

/** Compression spreads the light in a small hole of a drawing, in levels, but leaves its mean. */
const RINGING_SPREAD_ENCODED = 1.65;
const RINGING_MEAN_ENCODED = 1.45;

/** A pattern that goes on in an area shows both of its tones: each on at least this share of it. */
const BOTH_TONES_SHARE = 0.2;

/** Where neighborhoods show the pattern, or a plain color, on this share of an area, they decide. */
const MOSTLY_SHARE = 0.5;

/** A smaller share of the subject is not worth a question. */
const LEAST_DOUBT_SHARE = 0.004;

/** A smaller share of the subject of a drawing, and what is so many times as large as the square in it, is told by colors at full size. */
const SMALL_SHARE = 0.005;
const NARROW_TIMES = 7;

/**
 * Finds the areas that look like the backdrop and are not reached from it, and decides each. `told` says of a pixel what was
 * told about it: 1 goes, -1 stays.
 */
export function decideEnclosed(
  sight: Sight,
  goes: Uint8Array,
  pattern: { readonly checker: Checker; readonly scale: number } | null,
  told: ReadonlyMap<number, 1 | -1>,
): Enclosed {
  const { planes, borders, deviation } = sight;
  const { width, height } = planes;
  const { data: rises } = dilateGray({ data: deviation, width, height }, RISES_PX);
  const regions = regionsOf(
    width,
    height,
    // A slit is all border: it is told by what it is beside.
    (i) => goes[i] === 0 && deviation[i]! < ALIKE_NOISE && (borders[i] === 0 || rises[i]! > RISES_NOISE),
  );
  const least = Math.max(LEAST_PIXELS, LEAST_SHARE * goes.length);
  const light = lightOf(sight, goes);
  const depths = distancesTo(width, height, (i) => regions.of[i]! < 0);
  const usualRise = riseOf(sight, goes, rimOf(goes, width));
  const found: Candidate[] = [];
  for (const region of regions.list) {
    if (region.pixels < least || isOuterRim(sight, goes, regions, region)) continue;
    const inside = usualRise < SOFT ? deepOf(regions, region, depths) : ownOf(regions, region);
    const why = differenceOf(sight, regions, region, inside, light, rises, pattern);
    found.push({ region, looksSame: why === 'same-light', why });
  }
  const subject = goes.reduce((sum, one) => sum + 1 - one, 0);
  const drawn = isDrawn(sight) && !pattern ? drawnReasons(sight, goes, regions, found) : null;
  const answers = new Map<number, 1 | -1>();
  for (const [i, answer] of told) if (regions.of[i]! >= 0) answers.set(regions.of[i]!, answer);
  const of = new Int32Array(goes.length).fill(-1);
  const areas = found.map(({ region, looksSame, why }, index): Area => {
    for (let k = region.from; k < region.to; k++) of[regions.places[k]!] = index;
    const answer = answers.get(region.index);
    const reason = answer ? 'told' : (drawn?.get(region.index) ?? why);
    const goes = answer ? answer === 1 : drawn?.has(region.index) ? isHole(reason) : looksSame;
    const matters = region.pixels > LEAST_DOUBT_SHARE * subject;
    const byLook = looksSame ? !drawn || reason === 'lettering' : why !== 'soft-rim';
    const sure = answer !== undefined || !matters || byLook;
    return { ...placeOf(regions, region, depths, width), pixels: region.pixels, goes, why: reason, sure };
  });
  const doubts = found.map(({ region, why }) => {
    if (pattern) return false;
    const isSmall = sight.clean && region.pixels < SMALL_SHARE * subject;
    return isSmall || (why === 'other-color' && isNarrow(regions, region, depths));
  });
  return { areas, doubts, of };
}

function ownOf({ places }: Regions, { from, to }: Region): Int32Array {
  return places.subarray(from, to);
}

/** The inside of a region, away from where the subject is mixed in; all of it where too little is left. */
function deepOf(regions: Regions, region: Region, depths: Uint8Array): Int32Array {
  const own = ownOf(regions, region);
  const deep = own.filter((i) => depths[i]! >= INSIDE_PX * CHAMFER_UNIT);
  return deep.length > INSIDE_SHARE * own.length ? deep : own;
}

/** Whether a region is much longer than wide. */
function isNarrow({ places }: Regions, { from, to, pixels }: Region, depths: Uint8Array): boolean {
  let deep = 0;
  for (let k = from; k < to; k++) deep = Math.max(deep, depths[places[k]!]!);
  const radius = deep / CHAMFER_UNIT;
  return pixels > NARROW_TIMES * radius * radius;
}

/** Whether a region is the outer half of a border: all border, and beside the background. */
function isOuterRim({ borders, planes }: Sight, goes: Uint8Array, regions: Regions, region: Region): boolean {
  for (let k = region.from; k < region.to; k++) if (borders[regions.places[k]!] === 0) return false;
  let beside = false;
  forEachOutside(regions, region, planes.width, (i) => {
    if (goes[i] === 1) beside = true;
  });
  return beside;
}

/** How the light of the backdrop lies around its model, in levels; what is known to lie in a shadow says nothing of that. */
function lightOf({ calm, backdrop, deviation, inShadow }: Sight, goes: Uint8Array): number {
  let squares = 0;
  let count = 0;
  for (let i = 0; i < goes.length; i++) {
    if (goes[i] === 0 || inShadow[i] === 1 || deviation[i]! >= ALIKE_NOISE) continue;
    const off = calm[0][i]! - backdrop[0][i]!;
    squares += off * off;
    count++;
  }
  return Math.sqrt(squares / Math.max(1, count));
}

/** Whether a region has the backdrop's light, color and a sharp rim: 'same-light', or what it lacks. */
function differenceOf(
  sight: Sight,
  regions: Regions,
  region: Region,
  inside: Int32Array,
  light: number,
  rises: Float32Array,
  pattern: { readonly checker: Checker; readonly scale: number } | null,
): AreaReason {
  const { calm, backdrop, deviation, toBorder, colored, clean, noise, planes } = sight;
  let rim = 0;
  let sharp = 0;
  forEachOutside(regions, region, planes.width, (i) => {
    const isSharp = toBorder[i]! <= AT_BORDER_PX * CHAMFER_UNIT || rises[i]! > RISES_NOISE;
    if (!isSharp && isWithin(regions, region, planes, i)) return;
    rim++;
    if (isSharp) sharp++;
  });
  let sum = 0;
  let squares = 0;
  let off = 0;
  let even = 0;
  let shown = 0;
  let plain = 0;
  for (const i of inside) {
    shown += planes.pattern?.shown[i] ?? 0;
    plain += planes.pattern?.plain[i] ?? 0;
    const own = calm[0][i]! - backdrop[0][i]!;
    sum += own;
    squares += own * own;
    off += deviation[i]!;
    if (pattern && isEven(pattern, i, planes.width)) even++;
  }
  const pixels = inside.length;
  if (planes.pattern && shown > MOSTLY_SHARE * pixels) return 'same-light';
  if (planes.pattern && plain > MOSTLY_SHARE * pixels) return 'off-pattern';
  const mean = sum / pixels;
  const spread = Math.sqrt(Math.max(0, squares / pixels - mean * mean));
  if (sharp < (colored ? RIM_COLORED_SHARE : clean ? RIM_DRAWN_SHARE : RIM_SHARE) * rim) return 'soft-rim';
  const mayRing = clean && spread < RINGING_SPREAD_ENCODED && Math.abs(mean) < RINGING_MEAN_ENCODED;
  if (off > SAME_NOISE * pixels) return 'other-color';
  if (spread > Math.max(EVEN_NOISE * noise[0], LEAST_EVEN_ENCODED, EVEN_TIMES * light) && !mayRing)
    return 'other-color';
  if (Math.abs(mean) > Math.max(LEAST_MEAN_ENCODED, EVEN_TIMES * light)) return 'other-color';
  if (pattern && (pixels < cellOf(pattern) || Math.min(even, pixels - even) < BOTH_TONES_SHARE * pixels))
    return 'off-pattern';
  return 'same-light';
}

/** So far from a rim the difference is read; the largest up to the last; of at least so many pixels. */
const RISE_PX = 3;
const RISEN_PX = 8;
const LEAST_RING_PIXELS = 12;

/** The pixels of what goes that lie beside what stays. */
function rimOf(goes: Uint8Array, width: number): number[] {
  const found: number[] = [];
  for (let i = 0; i < goes.length; i++) {
    if (goes[i] === 0) continue;
    const x = i % width;
    const stays = (j: number) => j >= 0 && j < goes.length && goes[j] === 0;
    if ((x > 0 && stays(i - 1)) || (x < width - 1 && stays(i + 1)) || stays(i - width) || stays(i + width))
      found.push(i);
  }
  return found;
}

/** How much of its full difference from the backdrop a subject has RISE_PX from some places: 1 at a sharp rim. */
function riseOf({ planes, deviation }: Sight, goes: Uint8Array, from: ArrayLike<number>): number {
  const { width } = planes;
  const seen = new Set<number>();
  for (let k = 0; k < from.length; k++) seen.add(from[k]!);
  let ring: number[] = Array.from(from);
  let near = 0;
  let most = 0;
  for (let px = 1; px <= RISEN_PX; px++) {
    const next: number[] = [];
    for (const i of ring) {
      const x = i % width;
      for (const j of [x > 0 ? i - 1 : -1, x < width - 1 ? i + 1 : -1, i - width, i + width]) {
        if (j < 0 || j >= goes.length || goes[j] === 1 || seen.has(j)) continue;
        seen.add(j);
        next.push(j);
      }
    }
    if (next.length < LEAST_RING_PIXELS) break;
    most = Math.max(
      most,
      quantile(
        Array.from(next, (i) => deviation[i]!),
        0.5,
      ),
    );
    if (px <= RISE_PX) near = most;
    ring = next;
  }
  return near > 0 ? near / most : 1;
}

/** Whether a region surrounds a pixel beside it so closely that it is a speck within, as of compression. */
function isWithin(
  { of }: Regions,
  { index }: Region,
  { width, height }: Sight['planes'],
  i: number,
): boolean {
  const x = i % width;
  const y = (i - x) / width;
  let around = 0;
  for (let v = Math.max(0, y - 2); v <= Math.min(height - 1, y + 2); v++)
    for (let u = Math.max(0, x - 2); u <= Math.min(width - 1, x + 2); u++)
      if (of[v * width + u] === index) around++;
  return around >= MOSTLY_AROUND_PIXELS;
}

/** How many pixels a cell of a pattern has. */
function cellOf({ checker, scale }: { readonly checker: Checker; readonly scale: number }): number {
  return (checker.cellPx / scale) * (checker.cellPx / scale);
}

function isEven(
  { checker, scale }: { readonly checker: Checker; readonly scale: number },
  i: number,
  width: number,
): boolean {
  const x = ((i % width) + 0.5) * scale;
  const y = (Math.floor(i / width) + 0.5) * scale;
  return checker.across(x, y).wave * checker.down(y, x).wave > 0;
}
