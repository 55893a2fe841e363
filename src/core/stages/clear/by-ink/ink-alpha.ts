import type { Raster } from '../../../raster/raster';
import type { ByInk } from '../settings';
import { LEVEL_STEPS } from './levels';
import { READINGS } from './reading';

/** Alpha of one pixel by its reading. */
export function alphaAt(
  data: Uint8Array,
  p: number,
  { ink, table }: { readonly ink: ByInk; readonly table: Uint8Array },
): number {
  const { red, green, blue, plus } = READINGS[ink.channel];
  const value = red * data[p]! + green * data[p + 1]! + blue * data[p + 2]! + plus;
  return table[Math.min(255 * LEVEL_STEPS, Math.max(0, Math.round(value * LEVEL_STEPS)))]!;
}

/** Alpha by ink of every pixel of a raster. */
export function inkAlphaInto(raster: Raster, ink: ByInk, table: Uint8Array, out: Uint8Array): void {
  const { data } = raster;
  const { red, green, blue, plus } = READINGS[ink.channel];
  const last = 255 * LEVEL_STEPS;
  for (let i = 0, p = 0; i < out.length; i++, p += 4) {
    const value = (red * data[p]! + green * data[p + 1]! + blue * data[p + 2]! + plus) * LEVEL_STEPS + 0.5;
    out[i] = table[value <= 0 ? 0 : value >= last ? last : value | 0]!;
  }
}
