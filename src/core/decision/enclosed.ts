import { CHAMFER_UNIT, chamferDistances } from '../numeric/chamfer-distance';
import { sumBox } from '../numeric/box';
import { lengthOf } from '../numeric/exact';
import { quantile } from '../numeric/statistics';
import type { Checker } from '../stages/clear/checker';
import { largestNear } from './borders';
import { forEachOutside, regionsOf, type Region, type Regions } from './regions';
import { NEVER, type Sight } from './sight';

/** Why an enclosed area goes or stays. */
export type AreaReason =
  | 'told'
  | 'same-light'
  | 'lettering'
  | 'open-work'
  | 'other-color'
  | 'soft-rim'
  | 'off-pattern'
  | 'holds-parts'
  | 'shaded'
  | 'within'
  | 'solid'
  | 'shade'
  | 'alike'
  | 'unmarked';

/** An area inside of the subject that looks like the backdrop. */
export interface Area {
  /** A pixel deep inside of it. */
  readonly x: number;
  readonly y: number;
  readonly pixels: number;
  /** Upper left and lower right pixel. */
  readonly box: readonly [number, number, number, number];
  readonly goes: boolean;
  readonly why: AreaReason;
  /** Whether it was told, or its look decided, or it lies in lettering; not where what it is part of did. Small ones are. */
  readonly sure: boolean;
}

/** What was decided of enclosed areas, and their pixels. */
export interface Enclosed {
  readonly areas: readonly Area[];
  /** For each area: whether it is so small or narrow that what is around it may have changed its look. */
  readonly doubts: readonly boolean[];
  /** Index of its area for each pixel, -1 outside. */
  readonly of: Int32Array;
}

/** A pixel up to this deviation may belong to an area. */
const ALIKE = 5;

/** Smaller areas are no areas: pixels, and the share of the picture. */
const LEAST_PIXELS = 12;
const LEAST_SHARE = 0.00003;

/** The rim of a hole is a border along at least this share; less is enough where the backdrop's color tells. */
const RIM = 0.72;
const RIM_DRAWN = 0.55;
const RIM_COLORED = 0.4;

/** A rim pixel lies at most this far from a border, in pixels. */
const AT_BORDER = 1.5;

/** Where the focus is soft, a rim is one where the picture deviates so much within two pixels, in units of noise. */
const RISES = 20;

/** A pixel with so many of a region's among the 25 around it lies within that. */
const MOSTLY_AROUND = 13;

/** Where the subject's own rim rises so slowly, light and color are read this far from the rim, if that leaves enough. */
const SOFT = 0.9;
const INSIDE_PX = 3;
const INSIDE_SHARE = 0.3;

/** A hole deviates from the backdrop by no more than this on average, in units of noise. */
const SAME = 3.2;

/** Its light is as even as the backdrop's: within so many times its spread, and so far in the mean, in levels. */
const EVEN = 1.5;
const EVEN_NOISE = 1.2;
const LEAST_EVEN = 1;
const LEAST_MEAN = 2.5;

/** Compression spreads the light in a small hole of a drawing, in levels, but leaves its mean. */
const RINGING_SPREAD = 1.65;
const RINGING_MEAN = 1.45;

/** From this luma on a drawn backdrop is white as paint is: then colors alone tell nothing of what is enclosed. */
const WHITE = 250;

/**
 * Shade lies on white where a neutral color of this share of white's luma is beside it, no line between: so much of it that
 * it is deeper than SHADE_PX and takes LEAST_SHADOW of the picture, no farther than BESIDE_SHADE_PX, along at least SHADED of the rim; gray all around is the body
 * itself.
 */
const SHADE_LUMA = [0.55, 0.97] as const;
const SHADE_CHROMA = 7;
const SHADE_PX = 2;
const LEAST_SHADOW = 0.0002;
const BESIDE_SHADE_PX = 4;
const DARK_LUMA = 0.5;
const BESIDE_DARK_PX = 3;
const SHADED = 0.02;
const MOST_SHADED = 0.6;

/** Reasons in drawings; see docs/decisions. */
const HOLDS_PARTS = 0.05;
const PART = 12;
const LETTERS = 6;
const LEAST_LETTER = 0.0004;
const MOSTLY = 0.5;
const WIDE = 2.5;
const AROUND_PARTS = 0.5;
const WALL = 0.9;
const SOLID = 0.2;

/** A pattern that goes on in an area shows both of its tones: each on at least this share of it. */
const BOTH_TONES = 0.2;

/** A smaller share of the subject is not worth a question. */
const LEAST_DOUBT = 0.004;

/** A smaller share of the subject of a drawing, and what is so many times as large as the square in it, is told by colors at full size. */
const SMALL = 0.005;
const NARROW = 7;

interface Candidate {
  readonly region: Region;
  readonly looksSame: boolean;
  readonly why: AreaReason;
}

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
  const rises = largestNear(deviation, width, height);
  const regions = regionsOf(
    width,
    height,
    // A slit is all border: it is told by what it is beside.
    (i) => goes[i] === 0 && deviation[i]! < ALIKE && (borders[i] === 0 || rises[i]! > RISES),
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
    const matters = region.pixels > LEAST_DOUBT * subject;
    const byLook = looksSame ? !drawn || reason === 'lettering' : why !== 'soft-rim';
    const sure = answer !== undefined || !matters || byLook;
    return { ...placeOf(regions, region, depths, width), pixels: region.pixels, goes, why: reason, sure };
  });
  const doubts = found.map(({ region, why }) => {
    if (pattern) return false;
    const isSmall = sight.clean && region.pixels < SMALL * subject;
    return isSmall || (why === 'other-color' && isNarrow(regions, region, depths));
  });
  return { areas, doubts, of };
}

/** Shade that is this share of the subject is worth a question; on a colored backdrop its color tells enough. */
const LEAST_SHADE = 0.02;
const LEAST_SHADE_PICTURE = 0.001;

/** Background is in the shade from this share of the backdrop's luma down. */
const DARKER = 0.92;

/** Tells whether a pixel could be the backdrop in the shade, and is no part of the backdrop itself. */
export function isInShade({ clearance, reach, calm, backdrop }: Sight): (i: number) => boolean {
  return (i) =>
    clearance[i]! >= 0.5 * reach && clearance[i]! < NEVER && calm[0][i]! < DARKER * backdrop[0][i]!;
}

/**
 * Areas that could be the backdrop in the shade and are none of `enclosed`: pale parts of the subject, or shadows on the
 * backdrop. Nobody can be sure of either by their look.
 */
export function shadeAreas(
  sight: Sight,
  goes: Uint8Array,
  enclosed: Enclosed,
  told: ReadonlyMap<number, 1 | -1>,
): Area[] {
  const { planes, borders, clearance, colored } = sight;
  const { width, height } = planes;
  let subject = 0;
  for (const one of goes) subject += 1 - one;
  const least = Math.max(LEAST_SHADE * subject, LEAST_SHADE_PICTURE * goes.length);
  const found: Area[] = [];
  const isDark = isInShade(sight);
  for (const side of [0, 1] as const) {
    if (side === 1 && colored) continue;
    const isShade = (i: number) =>
      goes[i] === side &&
      borders[i] === 0 &&
      enclosed.of[i]! < 0 &&
      (side === 1 ? isDark(i) : clearance[i]! < NEVER);
    const regions = regionsOf(width, height, isShade);
    if (regions.list.every(({ pixels }) => pixels < least)) continue;
    const answered = new Set([...told.keys()].map((i) => regions.of[i]!));
    const depths = distancesTo(width, height, (i) => regions.of[i]! < 0);
    for (const region of regions.list) {
      if (region.pixels < least) continue;
      const sure = answered.has(region.index);
      const { pixels } = region;
      found.push({
        ...placeOf(regions, region, depths, width),
        pixels,
        goes: side === 1,
        why: sure ? 'told' : 'shade',
        sure,
      });
    }
  }
  return found;
}

/** A part of a photo's subject looks like the backdrop where most pixels around differ by less than this, in levels. */
const LIKE_BACKDROP = 16;
const LIKE_AROUND_PX = 5;
const MOSTLY_LIKE = 0.5;

/** Smaller parts, as a share of the subject, are not worth a question. */
const LEAST_LIKE = 0.06;

/**
 * Large parts of a photo's subject that look like the backdrop and are none of `others`: nobody can be sure by their look that
 * their outline is where it was seen.
 */
export function alikeAreas(
  { planes, calm, backdrop, clean }: Sight,
  goes: Uint8Array,
  { of }: Enclosed,
  others: readonly Area[],
  told: ReadonlyMap<number, 1 | -1>,
): Area[] {
  if (clean) return [];
  const { width, height } = planes;
  const alike = new Uint8Array(goes.length);
  const stays = new Uint8Array(goes.length);
  let subject = 0;
  for (let i = 0; i < goes.length; i++) {
    if (goes[i] === 1 || of[i]! >= 0) continue;
    subject++;
    stays[i] = 1;
    const luma = calm[0][i]! - backdrop[0][i]!;
    const blue = calm[1][i]! - backdrop[1][i]!;
    const red = calm[2][i]! - backdrop[2][i]!;
    if (luma * luma + blue * blue + red * red < LIKE_BACKDROP * LIKE_BACKDROP) alike[i] = 1;
  }
  const likes = sumBox(alike, width, height, LIKE_AROUND_PX);
  const all = sumBox(stays, width, height, LIKE_AROUND_PX);
  const regions = regionsOf(width, height, (i) => stays[i] === 1 && likes[i]! > MOSTLY_LIKE * all[i]!);
  const large = regions.list.filter(({ pixels }) => pixels >= LEAST_LIKE * subject);
  if (large.length === 0) return [];
  const depths = distancesTo(width, height, (i) => regions.of[i]! < 0);
  const answered = new Set([...told].map(([i]) => regions.of[i]!));
  const known = new Set(others.map(({ x, y }) => regions.of[y * width + x]!));
  return large
    .filter(({ index }) => !known.has(index))
    .map((region) => {
      const sure = answered.has(region.index);
      const { pixels } = region;
      return {
        ...placeOf(regions, region, depths, width),
        pixels,
        goes: false,
        why: sure ? 'told' : 'alike',
        sure,
      };
    });
}

function isHole(why: AreaReason): boolean {
  return why === 'lettering' || why === 'open-work' || why === 'same-light';
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
  return pixels > NARROW * radius * radius;
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

/** How the light of the backdrop lies around its model, in levels. */
function lightOf({ calm, backdrop, deviation }: Sight, goes: Uint8Array): number {
  let squares = 0;
  let count = 0;
  for (let i = 0; i < goes.length; i++) {
    if (goes[i] === 0 || deviation[i]! >= ALIKE) continue;
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
    const isSharp = toBorder[i]! <= AT_BORDER * CHAMFER_UNIT || rises[i]! > RISES;
    if (!isSharp && isWithin(regions, region, planes, i)) return;
    rim++;
    if (isSharp) sharp++;
  });
  let sum = 0;
  let squares = 0;
  let off = 0;
  let even = 0;
  for (const i of inside) {
    const own = calm[0][i]! - backdrop[0][i]!;
    sum += own;
    squares += own * own;
    off += deviation[i]!;
    if (pattern && isEven(pattern, i, planes.width)) even++;
  }
  const pixels = inside.length;
  const mean = sum / pixels;
  const spread = Math.sqrt(Math.max(0, squares / pixels - mean * mean));
  if (sharp < (colored ? RIM_COLORED : clean ? RIM_DRAWN : RIM) * rim) return 'soft-rim';
  const mayRing = clean && spread < RINGING_SPREAD && Math.abs(mean) < RINGING_MEAN;
  if (off > SAME * pixels) return 'other-color';
  if (spread > Math.max(EVEN_NOISE * noise[0], LEAST_EVEN, EVEN * light) && !mayRing) return 'other-color';
  if (Math.abs(mean) > Math.max(LEAST_MEAN, EVEN * light)) return 'other-color';
  if (pattern && (pixels < cellOf(pattern) || Math.min(even, pixels - even) < BOTH_TONES * pixels))
    return 'off-pattern';
  return 'same-light';
}

/** So far from a rim the difference is read; the largest up to the last; of at least so many pixels. */
const RISE_PX = 3;
const RISEN_PX = 8;
const LEAST_RING = 12;

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
    if (next.length < LEAST_RING) break;
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
  return around >= MOSTLY_AROUND;
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
  const x = i % width;
  return checker.across((x + 0.5) * scale).wave * checker.down(((i - x) / width + 0.5) * scale).wave > 0;
}

/** Whether the picture is drawn on plain white. */
function isDrawn({ clean, backdrop: [luma], colored }: Sight): boolean {
  const mean = luma.reduce((sum, value) => sum + value, 0) / luma.length;
  return clean && !colored && mean > WHITE;
}

/**
 * What drawings tell of their enclosed areas, for those that look the same. White inside of a white page may be a hole or
 * white paint; the reasons, in this order: in lettering all are holes; an area on which shade lies is paint; so is one that holds
 * parts of its own, unless it is wide for the lines around it, and all within such areas; so is, behind a wall as wide as itself, all white of a body of which most does, and an
 * area that is a small part of a solid body; what remains is open work.
 */
function drawnReasons(
  sight: Sight,
  goes: Uint8Array,
  regions: Regions,
  found: readonly Candidate[],
): ReadonlyMap<number, AreaReason> {
  const { width, height } = sight.planes;
  const bodies = regionsOf(width, height, (i) => goes[i] === 0);
  const isLettering =
    bodies.list.filter(({ pixels }) => pixels > LEAST_LETTER * goes.length).length >= LETTERS;
  const subject = bodies.places.length > 0 ? bodies.list.reduce((sum, { pixels }) => sum + pixels, 0) : 0;
  const bodyOf = (region: Region) => bodies.of[regions.places[region.from]!]!;
  const toOutside = distancesTo(width, height, (i) => goes[i] === 1);
  const toInk = distancesTo(width, height, (i) => regions.of[i]! < 0);
  const toOpen = distancesTo(width, height, (i) => goes[i] === 1 || regions.of[i]! >= 0);
  const thickness = new Uint8Array(bodies.list.length);
  for (let i = 0; i < goes.length; i++)
    if (goes[i] === 0) thickness[bodies.of[i]!] = Math.max(thickness[bodies.of[i]!]!, toOpen[i]!);
  const enclosed = new Float64Array(bodies.list.length);
  const holding = new Float64Array(bodies.list.length);
  const within = new Uint8Array(goes.length);
  const shade = shadedBy(sight, goes, regions);
  const holes = found
    .filter(({ looksSame }) => looksSame)
    .map(({ region }) => {
      let wall = Infinity;
      let deep = 0;
      for (let k = region.from; k < region.to; k++) {
        wall = Math.min(wall, toOutside[regions.places[k]!]!);
        deep = Math.max(deep, toInk[regions.places[k]!]!);
      }
      const body = bodyOf(region);
      const ink = thickness[body]!;
      const inner = insideOf(regions, region, width, height);
      const parts = inner.filter((i) => sight.deviation[i]! >= PART).length / region.pixels;
      const isShaded = shade(regions, region);
      const holds = parts > HOLDS_PARTS && deep <= (parts > 1 ? AROUND_PARTS : WIDE) * ink;
      enclosed[body]! += region.pixels;
      if (holds || isShaded) {
        holding[body]! += region.pixels;
        for (const i of inner) within[i] = 1;
      }
      return { region, body, holds, isShaded, isWalled: wall >= WALL * deep };
    });
  return new Map(
    holes.map(({ region, body, holds, isShaded, isWalled }): [number, AreaReason] => {
      const { pixels } = bodies.list[body]!;
      const reason = (): AreaReason => {
        if (isLettering && pixels < MOSTLY * subject) return 'lettering';
        if (isShaded) return 'shaded';
        if (within[regions.places[region.from]!] === 1) return 'within';
        if (holds || (isWalled && holding[body]! > MOSTLY * enclosed[body]!)) return 'holds-parts';
        return isWalled && enclosed[body]! < SOLID * pixels ? 'solid' : 'open-work';
      };
      return [region.index, reason()];
    }),
  );
}

/** How far each pixel is from the nearest that is one of those, in thirds of a pixel, at most 255. */
export function distancesTo(width: number, height: number, isOne: (i: number) => boolean): Uint8Array {
  const ones = new Uint8Array(width * height);
  for (let i = 0; i < ones.length; i++) ones[i] = isOne(i) ? 1 : 0;
  const out = new Uint8Array(ones.length);
  chamferDistances(ones, 0, width, height, out);
  return out;
}

/** Tells whether shade lies on a white area: whether gray is beside it, with no line between. */
function shadedBy({ planes, backdrop }: Sight, goes: Uint8Array, { of }: Regions) {
  const { width, height, channels } = planes;
  const share = (i: number) => channels[0][i]! / backdrop[0][i]!;
  const isNeutral = (i: number) =>
    lengthOf(channels[1][i]! - backdrop[1][i]!, channels[2][i]! - backdrop[2][i]!) < SHADE_CHROMA;
  const toOther = distancesTo(
    width,
    height,
    (i) =>
      goes[i] === 1 || of[i]! >= 0 || share(i) < SHADE_LUMA[0] || share(i) > SHADE_LUMA[1] || !isNeutral(i),
  );
  const shades = regionsOf(width, height, (i) => toOther[i]! > SHADE_PX * CHAMFER_UNIT);
  const isLarge = (index: number) => index >= 0 && shades.list[index]!.pixels > LEAST_SHADOW * of.length;
  const toShade = distancesTo(width, height, (i) => isLarge(shades.of[i]!));
  const toDark = distancesTo(width, height, (i) => share(i) < DARK_LUMA);
  return (regions: Regions, region: Region): boolean => {
    let rim = 0;
    let shaded = 0;
    forEachOutside(regions, region, width, (i) => {
      rim++;
      if (toShade[i]! <= BESIDE_SHADE_PX * CHAMFER_UNIT && toDark[i]! > BESIDE_DARK_PX * CHAMFER_UNIT)
        shaded++;
    });
    return shaded >= SHADED * rim && shaded <= MOST_SHADED * rim;
  };
}

/** The pixels that a region encloses, without its own. */
function insideOf({ of, places }: Regions, region: Region, width: number, height: number): number[] {
  const [left, top, right, bottom] = boxOf(places, region, width);
  const across = right - left + 3;
  const down = bottom - top + 3;
  const outside = new Uint8Array(across * down);
  const queue = [0];
  outside[0] = 1;
  const at = (k: number) => {
    const x = left - 1 + (k % across);
    const y = top - 1 + Math.floor(k / across);
    return x >= 0 && y >= 0 && x < width && y < height ? y * width + x : -1;
  };
  const isOwn = (k: number) => at(k) >= 0 && of[at(k)] === region.index;
  for (let next = queue.pop(); next !== undefined; next = queue.pop()) {
    const x = next % across;
    for (const k of [
      x > 0 ? next - 1 : -1,
      x < across - 1 ? next + 1 : -1,
      next - across,
      next + across < outside.length ? next + across : -1,
    ]) {
      if (k < 0 || outside[k] === 1 || isOwn(k)) continue;
      outside[k] = 1;
      queue.push(k);
    }
  }
  const inside: number[] = [];
  for (let k = 0; k < outside.length; k++) if (outside[k] === 0 && !isOwn(k)) inside.push(at(k));
  return inside;
}

function boxOf(places: Int32Array, { from, to }: Region, width: number): [number, number, number, number] {
  let left = Infinity;
  let top = Infinity;
  let right = 0;
  let bottom = 0;
  for (let k = from; k < to; k++) {
    const x = places[k]! % width;
    const y = (places[k]! - x) / width;
    left = Math.min(left, x);
    right = Math.max(right, x);
    top = Math.min(top, y);
    bottom = Math.max(bottom, y);
  }
  return [left, top, right, bottom];
}

/** Where a region lies: a pixel deep inside, and its box. */
export function placeOf({ places }: Regions, region: Region, depths: Uint8Array, width: number) {
  let deep = places[region.from]!;
  for (let k = region.from; k < region.to; k++) if (depths[places[k]!]! > depths[deep]!) deep = places[k]!;
  const x = deep % width;
  return { x, y: (deep - x) / width, box: boxOf(places, region, width) };
}
