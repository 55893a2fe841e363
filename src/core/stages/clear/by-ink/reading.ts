import type { Channel } from '../settings';
import type { Raster } from '../../../raster/raster';

/** A reading is a weighted sum of encoded red, green and blue plus a constant, 0 to 255. */
export interface Weights {
  readonly red: number;
  readonly green: number;
  readonly blue: number;
  readonly plus: number;
}

/**
 * Luminance is the luma of ITU-R BT.709; the opponent directions are half of red less green, and half of yellow (the mean
 * of red and green) less blue, around the middle.
 */
export const READINGS: Readonly<Record<Channel, Weights>> = {
  luminance: { red: 0.2126, green: 0.7152, blue: 0.0722, plus: 0 },
  red: { red: 1, green: 0, blue: 0, plus: 0 },
  green: { red: 0, green: 1, blue: 0, plus: 0 },
  blue: { red: 0, green: 0, blue: 1, plus: 0 },
  'red-green': { red: 0.5, green: -0.5, blue: 0, plus: 127.5 },
  'yellow-blue': { red: 0.25, green: 0.25, blue: -0.5, plus: 127.5 },
};

export const CHANNELS = Object.keys(READINGS) as Channel[];

/** Readings in a histogram: HISTOGRAM_BINS of equal width over 0 to 255. */
export const HISTOGRAM_BINS = 256;

/** How often each reading occurs in a raster; transparent pixels do not count. */
export function histogramOf({ data }: Raster, channel: Channel): Uint32Array {
  const { red, green, blue, plus } = READINGS[channel];
  const counts = new Uint32Array(HISTOGRAM_BINS);
  for (let p = 0; p < data.length; p += 4) {
    if (data[p + 3] === 0) continue;
    const value = red * data[p]! + green * data[p + 1]! + blue * data[p + 2]! + plus;
    counts[Math.min(255, Math.max(0, Math.round(value)))]!++;
  }
  return counts;
}
