import { blurBox } from '../../numeric/box';
import { square } from '../../numeric/exact';
import type { Raster } from '../../raster/raster';

// What the figures of this file rest on: docs/decisions/008-ink-and-paper.md

/** Radius of the filter's window. */
const RADIUS_PX = 2;

/** At full strength, what varies less than this many times the noise is taken for noise. */
const CALMED_NOISE = 2.5;

/** Rows handled at a time; fixed, since sums run along from the first of them. */
export const CALM_ROWS = 128;

/** Noise below this, encoded, is rounding. */
const LEAST_NOISE_ENCODED = 0.3;

/** Standard deviation of the grain of each channel, encoded, 0 to 255. */
export type Noise = readonly [number, number, number];

/**
 * Estimates the grain of a picture from second differences along rows, whose median does not see edges (after Immerkaer,
 * 1996, with the median in place of the mean).
 */
export function estimateNoise({ width, height, data }: Raster): Noise {
  const step = Math.max(1, Math.floor((width * height) / 200_000));
  const counts = [0, 1, 2].map(() => new Uint32Array(1021));
  for (let i = 1; i < width * height - 1; i += step) {
    const x = i % width;
    if (x === 0 || x === width - 1) continue;
    for (let c = 0; c < 3; c++) {
      const p = i * 4 + c;
      counts[c]![Math.abs(data[p - 4]! + data[p + 4]! - 2 * data[p]!)]!++;
    }
  }
  return counts.map((of) => deviationFrom(of)) as unknown as Noise;
}

/** The deviation whose second differences have the median of a histogram, found within a step by its share. */
function deviationFrom(counts: Uint32Array): number {
  const total = counts.reduce((sum, count) => sum + count, 0);
  let below = 0;
  for (let value = 0; value < counts.length; value++) {
    const here = counts[value]!;
    if (below + here < total / 2) {
      below += here;
      continue;
    }
    const median = value === 0 ? 0 : value - 0.5 + (total / 2 - below) / here;
    return median / (0.6745 * Math.sqrt(6));
  }
  return 0;
}

/**
 * Calms the rows `from` up to `to` (at most CALM_ROWS) of `source` into `out` by a guided filter of the picture by itself
 * (He, Sun and Tang, 2010): what varies as little as the grain is averaged, what varies more, hairlines too, stays.
 * `strength` 0 to 1. Alpha stays as it is.
 */
export function calmRows(
  source: Raster,
  noise: Noise,
  strength: number,
  from: number,
  to: number,
  out: Raster,
): void {
  const { width, height, data } = source;
  const top = Math.max(0, from - 2 * RADIUS_PX);
  const bottom = Math.min(height, to + 2 * RADIUS_PX);
  const rows = bottom - top;
  const plane = new Float32Array(width * rows);
  const squares = new Float32Array(width * rows);
  for (let c = 0; c < 3; c++) {
    for (let i = 0, p = top * width * 4 + c; i < plane.length; i++, p += 4) {
      plane[i] = data[p]!;
      squares[i] = data[p]! * data[p]!;
    }
    const means = blurBox({ data: plane, width, height: rows }, RADIUS_PX);
    const share = blurBox({ data: squares, width, height: rows }, RADIUS_PX);
    const noisy = square(CALMED_NOISE * strength * Math.max(LEAST_NOISE_ENCODED, noise[c]!));
    for (let i = 0; i < plane.length; i++) {
      const variance = Math.max(0, share[i]! - square(means[i]!));
      const kept = variance / (variance + noisy);
      share[i] = kept;
      means[i] = means[i]! * (1 - kept);
    }
    const factors = blurBox({ data: share, width, height: rows }, RADIUS_PX);
    const offsets = blurBox({ data: means, width, height: rows }, RADIUS_PX);
    for (let y = from; y < to; y++) {
      for (let x = 0, i = (y - top) * width, p = y * width * 4 + c; x < width; x++, i++, p += 4)
        out.data[p] = Math.min(255, Math.max(0, Math.round(factors[i]! * plane[i]! + offsets[i]!)));
    }
  }
}
