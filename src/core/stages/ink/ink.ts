import type { Plane } from '../../raster/plane';
import { rgbOfHex } from '../../color/hex';
import { labOf, rgbOfLab } from '../../color/oklab';
import type { Cut } from '../../cut/schema';
import { sumBox } from '../../numeric/box';
import { wordsOf, type Raster, type Rect } from '../../raster/raster';

/** What the Ink stage does to a cutout. */
export interface Inking {
  /** One color for all, or the cutout's own. */
  readonly color: { readonly red: number; readonly green: number; readonly blue: number } | null;
  readonly light: boolean;
  /** 0 to 1. */
  readonly density: number;
  /** How far around a place the densest ink is looked for, in pixels of the raster at hand. */
  readonly reachPx: number;
}

/** Density makes faint ink at most this many times as dense: what is fainter is a stain. */
const MOST_GAIN_TIMES = 4;

/** The densest ink is looked for within so many pixels of the original: beyond the soft rim of a stroke. */
const REACH_PX = 6;

/** The Ink settings that act; null where the stage changes nothing. */
export function inkingOf({ ink }: Cut, reduction: number): Inking | null {
  if (!ink.on || (ink.color === null && ink.density === 0 && !ink.light)) return null;
  return {
    color: ink.color === null ? null : rgbOfHex(ink.color),
    light: ink.light,
    density: ink.density / 100,
    reachPx: Math.max(1, REACH_PX >> reduction),
  };
}

/** How much around a part decides what becomes of it. */
export function inkMargin({ density, reachPx }: Inking): number {
  return density > 0 ? 2 * reachPx : 0;
}

/**
 * Makes ink denser in the part `rect` of a cutout, of which `wide` holds the part `around` that is larger by `inkMargin`, into
 * `out`: alpha is raised toward full by the same factor for a whole stroke - the one that makes its densest part around full -
 * so that a stroke's outline stays where it is.
 */
export function denserInto(wide: Raster, around: Rect, rect: Rect, out: Raster, inking: Inking): void {
  const peaks = peaksOf(wide, inking.reachPx);
  for (let y = 0; y < rect.height; y++) {
    let i = (rect.y + y - around.y) * around.width + rect.x - around.x;
    for (let x = 0, q = y * rect.width * 4; x < rect.width; x++, i++, q += 4) {
      const p = i * 4;
      const alpha = wide.data[p + 3]!;
      out.data[q] = wide.data[p]!;
      out.data[q + 1] = wide.data[p + 1]!;
      out.data[q + 2] = wide.data[p + 2]!;
      out.data[q + 3] = alpha > 0 ? denser(alpha, peaks[i]!, inking.density) : alpha;
    }
  }
}

function denser(alpha: number, peak: number, density: number): number {
  const gain = 1 + density * (Math.min(MOST_GAIN_TIMES, 255 / Math.max(1, peak)) - 1);
  return Math.min(255, Math.round(alpha * gain));
}

/** The densest alpha near each place, smoothed. Whole numbers until the end, so equal wherever a part begins. */
function peaksOf({ width, height, data }: Raster, reach: number): Float64Array {
  const alphas = new Uint8Array(width * height);
  for (let i = 0, p = 3; i < alphas.length; i++, p += 4) alphas[i] = data[p]!;
  const peaks = largestAround(
    { data: largestAround({ data: alphas, width, height }, 1, reach), width, height },
    width,
    reach,
  );
  const sums = sumBox({ data: peaks, width, height }, reach >> 1);
  const counts = sumBox({ data: new Uint8Array(alphas.length).fill(1), width, height }, reach >> 1);
  for (let i = 0; i < sums.length; i++) sums[i]! /= counts[i]!;
  return sums;
}

/** The largest value within `reach` along rows (step 1) or columns (step width). */
function largestAround({ data: values, width, height }: Plane, step: number, reach: number): Uint8Array {
  const out = values.slice();
  const length = step === 1 ? width : height;
  for (let i = 0; i < values.length; i++) {
    if (values[i] === 0) continue;
    const at = step === 1 ? i % width : Math.floor(i / width);
    const value = values[i]!;
    const from = -Math.min(reach, at);
    const to = Math.min(reach, length - 1 - at);
    for (let k = from; k <= to; k++) {
      const j = i + k * step;
      if (out[j]! < value) out[j] = value;
    }
  }
  return out;
}

/** Exchanges the colors of a raster for one color, or lightens them: lightness is mirrored, hue stays. In place; alpha stays. */
export function colorInto(raster: Raster, { color, light }: Inking): void {
  const { data } = raster;
  const known = new Map<number, number>();
  const lightened = (red: number, green: number, blue: number): number => {
    const key = (red << 16) | (green << 8) | blue;
    let found = known.get(key);
    if (found === undefined) {
      const lab = labOf(red, green, blue);
      const [r, g, b] = rgbOfLab({ ...lab, lightness: 1 - lab.lightness });
      known.set(key, (found = (r << 16) | (g << 8) | b));
    }
    return found;
  };
  const one = color && (light ? lightened(color.red, color.green, color.blue) : rgbOf(color));
  if (one !== null) {
    fill(raster, one);
    return;
  }
  if (!light) return;
  for (let p = 0; p < data.length; p += 4) {
    if (data[p + 3] === 0) continue;
    const value = lightened(data[p]!, data[p + 1]!, data[p + 2]!);
    data[p] = value >> 16;
    data[p + 1] = (value >> 8) & 255;
    data[p + 2] = value & 255;
  }
}

/** The color of a pixel in its number. */
const WITHOUT_ALPHA = 0xffffff;

/** Gives all that is seen one color, `0xrrggbb`. */
function fill(raster: Raster, color: number): void {
  const { data } = raster;
  const [red, green, blue] = [color >> 16, (color >> 8) & 255, color & 255];
  const { words, shares } = wordsOf(raster);
  if (shares) {
    const seen = (blue << 16) | (green << 8) | red;
    for (let i = 0; i < words.length; i++)
      if (words[i]! > WITHOUT_ALPHA) words[i] = (words[i]! & ~WITHOUT_ALPHA) | seen;
    return;
  }
  for (let p = 0; p < data.length; p += 4) {
    if (data[p + 3] === 0) continue;
    data[p] = red;
    data[p + 1] = green;
    data[p + 2] = blue;
  }
}

function rgbOf({ red, green, blue }: { red: number; green: number; blue: number }): number {
  return (red << 16) | (green << 8) | blue;
}
