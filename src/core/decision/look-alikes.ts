import { sumBox } from '../numeric/box';
import { distancesTo } from '../numeric/chamfer-distance';
import type { Area } from './area';
import type { Enclosed } from './enclosed';
import { placeOf, regionsOf } from './regions';
import { NEVER, type Sight } from './sight';

// What the figures of this file rest on: docs/decisions/013-one-decision-for-the-picture.md

/** Shade that is this share of the subject is worth a question; on a colored backdrop its color tells enough. */
const LEAST_SHADE_SHARE = 0.02;
const LEAST_PICTURE_SHARE = 0.001;

/** Background is in the shade from this share of the backdrop's luma down. */
const DARKER_SHARE = 0.92;

/** Tells whether a pixel could be the backdrop in the shade, and is no part of the backdrop itself. */
export function isInShade({ clearance, reach, calm, backdrop }: Sight): (i: number) => boolean {
  return (i) =>
    clearance[i]! >= 0.5 * reach && clearance[i]! < NEVER && calm[0][i]! < DARKER_SHARE * backdrop[0][i]!;
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
  const least = Math.max(LEAST_SHADE_SHARE * subject, LEAST_PICTURE_SHARE * goes.length);
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
const LIKE_BACKDROP_ENCODED = 16;
const LIKE_AROUND_PX = 5;
const MOSTLY_LIKE_SHARE = 0.5;

/** Smaller parts, as a share of the subject, are not worth a question. */
const LEAST_LIKE_SHARE = 0.06;

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
    if (luma * luma + blue * blue + red * red < LIKE_BACKDROP_ENCODED * LIKE_BACKDROP_ENCODED) alike[i] = 1;
  }
  const likes = sumBox({ data: alike, width, height }, LIKE_AROUND_PX);
  const all = sumBox({ data: stays, width, height }, LIKE_AROUND_PX);
  const regions = regionsOf(width, height, (i) => stays[i] === 1 && likes[i]! > MOSTLY_LIKE_SHARE * all[i]!);
  const large = regions.list.filter(({ pixels }) => pixels >= LEAST_LIKE_SHARE * subject);
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
