import { CHAMFER_UNIT, distancesTo } from '../numeric/chamfer-distance';
import { lengthOf } from '../numeric/exact';
import type { AreaReason } from './area';
import { boxOf, forEachOutside, regionsOf, type Region, type Regions } from './regions';
import type { Sight } from './sight';

// What the figures of this file rest on: docs/decisions/013-one-decision-for-the-picture.md

/** From this luma on a drawn backdrop is white as paint is: then colors alone tell nothing of what is enclosed. */
const WHITE_LUMA = 250;

/**
 * Shade lies on white where a neutral color of this share of white's luma is beside it, no line between: so much of it that
 * it is deeper than SHADE_PX and takes LEAST_SHADOW_SHARE of the picture, no farther than BESIDE_SHADE_PX, along at least SHADED_SHARE of the rim; gray all around is the body
 * itself.
 */
const SHADE_LUMA = [0.55, 0.97] as const;
const SHADE_CHROMA_ENCODED = 7;
const SHADE_PX = 2;
const LEAST_SHADOW_SHARE = 0.0002;
const BESIDE_SHADE_PX = 4;
const DARK_LUMA_SHARE = 0.5;
const BESIDE_DARK_PX = 3;
const SHADED_SHARE = 0.02;
const MOST_SHADED_SHARE = 0.6;

/** Reasons in drawings; see docs/decisions. */
const HOLDS_PARTS_SHARE = 0.05;
const PART_NOISE = 12;
const FEWEST_LETTERS = 6;
const LEAST_LETTER_SHARE = 0.0004;
const MOSTLY_SHARE = 0.5;
const WIDE_TIMES = 2.5;
const AROUND_PARTS_SHARE = 0.5;
const WALL_SHARE = 0.9;
const SOLID_SHARE = 0.2;

/** Sizes, and places on a body, that differ by less than this share are the same. */
const SAME_SIZE_SHARE = 0.06;

/** An enclosed region, and whether its light, color and rim are those of the backdrop. */
export interface Candidate {
  readonly region: Region;
  readonly looksSame: boolean;
  readonly why: AreaReason;
}

/** Whether the picture is drawn on plain white. */
export function isDrawn({ clean, backdrop: [luma], colored }: Sight): boolean {
  const mean = luma.reduce((sum, value) => sum + value, 0) / luma.length;
  return clean && !colored && mean > WHITE_LUMA;
}

/**
 * What drawings tell of their enclosed areas, for those that look the same. White inside of a white page may be a hole or
 * white paint; the reasons, in this order: in lettering all are holes; an area on which shade lies is paint; so is one that holds
 * parts of its own, unless it is wide for the lines around it, and all within such areas; so is, behind a wall as wide as
 * itself, all white of a body of which most does; so is what has the size and place of an area that holds parts, on the same
 * body; so is, behind such a wall, a small part of a solid body; what remains is open work.
 */
export function drawnReasons(
  sight: Sight,
  goes: Uint8Array,
  regions: Regions,
  found: readonly Candidate[],
): ReadonlyMap<number, AreaReason> {
  const { width, height } = sight.planes;
  const bodies = regionsOf(width, height, (i) => goes[i] === 0);
  const isLettering =
    bodies.list.filter(({ pixels }) => pixels > LEAST_LETTER_SHARE * goes.length).length >= FEWEST_LETTERS;
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
  const middles = new Map<number, { readonly x: number; readonly y: number }>();
  const middleOf = (body: number) => {
    let middle = middles.get(body);
    if (!middle) {
      const [left, top, right, bottom] = boxOf(bodies.places, bodies.list[body]!, width);
      middles.set(body, (middle = { x: (left + right) / 2, y: (top + bottom) / 2 }));
    }
    return middle;
  };
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
      const parts = inner.filter((i) => sight.deviation[i]! >= PART_NOISE).length / region.pixels;
      const isShaded = shade(region);
      const holds = parts > HOLDS_PARTS_SHARE && deep <= (parts > 1 ? AROUND_PARTS_SHARE : WIDE_TIMES) * ink;
      enclosed[body]! += region.pixels;
      if (holds || isShaded) {
        holding[body]! += region.pixels;
        for (const i of inner) within[i] = 1;
      }
      const lie = lieOf(regions, region, inner, middleOf(body), width);
      return { region, body, holds, isShaded, isWalled: wall >= WALL_SHARE * deep, lie };
    });
  const models = holes.filter(({ holds }) => holds);
  return new Map(
    holes.map(({ region, body, holds, isShaded, isWalled, lie }): [number, AreaReason] => {
      const { pixels } = bodies.list[body]!;
      const isTwin = () =>
        models.some(
          (other) =>
            other.body === body &&
            isAbout(lie.pixels, other.lie.pixels) &&
            isAbout(lie.fromMiddle, other.lie.fromMiddle),
        );
      const reason = (): AreaReason => {
        if (isLettering && pixels < MOSTLY_SHARE * subject) return 'lettering';
        if (isShaded) return 'shaded';
        if (within[regions.places[region.from]!] === 1) return 'within';
        if (holds || (isWalled && holding[body]! > MOSTLY_SHARE * enclosed[body]!)) return 'holds-parts';
        if (isTwin()) return 'twin';
        return isWalled && enclosed[body]! < SOLID_SHARE * pixels ? 'solid' : 'open-work';
      };
      return [region.index, reason()];
    }),
  );
}

/** How large a region is with all that it holds, and how far its center lies from the middle of its body, in pixels. */
function lieOf(
  { places }: Regions,
  region: Region,
  inner: readonly number[],
  middle: { readonly x: number; readonly y: number },
  width: number,
): { readonly pixels: number; readonly fromMiddle: number } {
  const pixels = region.pixels + inner.length;
  let x = 0;
  let y = 0;
  const take = (i: number) => {
    x += i % width;
    y += Math.floor(i / width);
  };
  for (let k = region.from; k < region.to; k++) take(places[k]!);
  inner.forEach(take);
  return { pixels, fromMiddle: lengthOf(x / pixels - middle.x, y / pixels - middle.y) };
}

/** Whether two sizes are the same to within what drawing makes of them. */
function isAbout(one: number, other: number): boolean {
  return Math.abs(one - other) <= SAME_SIZE_SHARE * Math.max(one, other);
}

/** Tells whether shade lies on a white area: whether gray is beside it, with no line between. */
function shadedBy({ planes, backdrop }: Sight, goes: Uint8Array, regions: Regions) {
  const { of } = regions;
  const { width, height, channels } = planes;
  const share = (i: number) => channels[0][i]! / backdrop[0][i]!;
  const isNeutral = (i: number) =>
    lengthOf(channels[1][i]! - backdrop[1][i]!, channels[2][i]! - backdrop[2][i]!) < SHADE_CHROMA_ENCODED;
  const toOther = distancesTo(
    width,
    height,
    (i) =>
      goes[i] === 1 || of[i]! >= 0 || share(i) < SHADE_LUMA[0] || share(i) > SHADE_LUMA[1] || !isNeutral(i),
  );
  const shades = regionsOf(width, height, (i) => toOther[i]! > SHADE_PX * CHAMFER_UNIT);
  const isLarge = (index: number) =>
    index >= 0 && shades.list[index]!.pixels > LEAST_SHADOW_SHARE * of.length;
  const toShade = distancesTo(width, height, (i) => isLarge(shades.of[i]!));
  const toDark = distancesTo(width, height, (i) => share(i) < DARK_LUMA_SHARE);
  return (region: Region): boolean => {
    let rim = 0;
    let shaded = 0;
    forEachOutside(regions, region, width, (i) => {
      rim++;
      if (toShade[i]! <= BESIDE_SHADE_PX * CHAMFER_UNIT && toDark[i]! > BESIDE_DARK_PX * CHAMFER_UNIT)
        shaded++;
    });
    return shaded >= SHADED_SHARE * rim && shaded <= MOST_SHADED_SHARE * rim;
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

/** Whether what was found is a hole. */
export function isHole(why: AreaReason): boolean {
  return why === 'lettering' || why === 'open-work' || why === 'same-light';
}
