import type { Cut, FindingKind } from '../cut/schema';
import { MOST_MENDS, type Mend } from '../stages/touch-up/settings';
import type { Point } from '../numeric/matrix3';
import { wordsOf, type Raster, type Rect } from '../raster/raster';
import { AlphaBlocks } from './alpha-blocks';
import type { Bearings } from './bearings';

/** Where something was found, in pixels of the cutout: its box, a pixel that belongs to it, and how many do. */
export interface Place extends Rect {
  readonly at: Point;
  readonly pixels: number;
  /** The old background that was found there, `#rrggbb`. */
  readonly background?: string;
  /** The sample that it is about, and the tolerance that would suit it. */
  readonly sample?: { readonly id: string; readonly tolerance: number };
}

/** How bad a finding is: surely wrong in a delivered file; probably so; good to know. */
export type Severity = 'fault' | 'doubt' | 'note';

/** Something the checks noticed. */
export interface Finding {
  readonly kind: FindingKind;
  readonly severity: Severity;
  /** What is wrong, in one plain sentence. */
  readonly sentence: string;
  /** How many places there are; `places` lists at most MOST_PLACES of them, largest first. */
  readonly count: number;
  readonly pixels: number;
  readonly places: readonly Place[];
  /** What was measured, where that is a number: see each check. */
  readonly amount: number | null;
}

/** Places that are told of at most. */
export const MOST_PLACES = 400;

/** A finished cutout as the checks read it. */
export interface Finished {
  readonly raster: Raster;
  /** The alpha of every pixel. */
  readonly alpha: Uint8Array;
  readonly blocks: AlphaBlocks;
}

/** A change of the cut that puts places of a finding right. */
export type Fix = (cut: Cut, places: readonly Place[], bearings: Bearings) => Cut;

/** A finished cutout with its alpha taken out. */
export function finishedOf(raster: Raster): Finished {
  const { width, height } = raster;
  const alpha = new Uint8Array(width * height);
  const { words } = wordsOf(raster);
  for (let i = 0; i < alpha.length; i++) alpha[i] = words[i]! >>> 24;
  return { raster, alpha, blocks: new AlphaBlocks({ data: alpha, width, height }) };
}

/** A finding of these places, or null where there are none. */
export function foundAt(
  kind: FindingKind,
  severity: Severity,
  places: readonly Place[],
  sentence: string,
  amount: number | null = null,
): Finding | null {
  if (places.length === 0) return null;
  const sorted = [...places].sort((one, other) => other.pixels - one.pixels);
  const pixels = sorted.reduce((sum, place) => sum + place.pixels, 0);
  return {
    kind,
    severity,
    sentence,
    count: sorted.length,
    pixels,
    places: sorted.slice(0, MOST_PLACES),
    amount,
  };
}

/** A finding without some of its places; null where none is left. */
export function without(finding: Finding, isGone: (place: Place) => boolean): Finding | null {
  const places = finding.places.filter((place) => !isGone(place));
  const gone = finding.places.length - places.length;
  if (gone === 0) return finding;
  if (places.length === 0) return null;
  const pixels = places.reduce((sum, place) => sum + place.pixels, 0);
  return { ...finding, places, pixels, count: finding.count - gone };
}

/** Whether a pixel lies in a place's box or no farther than `nearPx` from it. */
export function holds({ x, y, width, height }: Rect, at: Point, nearPx = 0): boolean {
  return at.x >= x - nearPx && at.y >= y - nearPx && at.x < x + width + nearPx && at.y < y + height + nearPx;
}

/** The cut with these places put right too, as many as it can hold: the others stay findings. */
export function withMends(cut: Cut, mends: readonly Mend[]): Cut {
  const all = [...cut.touchUp.mends, ...mends].slice(0, MOST_MENDS);
  return { ...cut, touchUp: { ...cut.touchUp, on: true, mends: all } };
}

/** "1 speck", "12 specks". */
export function counted(count: number, one: string, many = `${one}s`): string {
  return `${count} ${count === 1 ? one : many}`;
}

/** The largest area in square pixels of what counts as a small thing in a cutout of that size. */
export function smallArea({ width, height }: { readonly width: number; readonly height: number }): number {
  return Math.min(400, Math.max(12, Math.round(Math.sqrt(width * height) / 16)));
}
