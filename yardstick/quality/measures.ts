import { ciede2000, cieLabOf } from '../../src/core/color/ciede2000';
import { labelRuns } from '../../src/core/numeric/label';
import { nearestPixel, pixelDistance } from '../../src/core/numeric/distance-transform';
import type { Raster } from '../../src/core/raster/raster';

/** How far a cutout is from the truth; definitions and their sources are in docs/quality.md. */
export interface Measures {
  /** Sum of absolute alpha differences, in thousands of pixels. */
  readonly sad: number;
  /** Mean squared alpha difference, times 1000. */
  readonly mse: number;
  /** Sum of squared differences of alpha's gradient, in thousands. */
  readonly gradient: number;
  /** Mean CIEDE2000 in the band around the true edge, over black, white and magenta. */
  readonly edgeColor: number;
  /** Background pixels that are still seen, per megapixel. */
  readonly leftover: number;
  /** Share of opaque subject pixels that lost alpha, in percent. */
  readonly loss: number;
}

const BAND_PX = 6;
const BACKINGS = [
  [0, 0, 0],
  [255, 255, 255],
  [255, 0, 255],
] as const;

/** Everything about a case that does not depend on the cutout. */
export interface Yardstick {
  readonly truth: Raster;
  readonly band: Int32Array;
  readonly far: Uint8Array;
  readonly gradients: { readonly x: Float32Array; readonly y: Float32Array };
}

export function yardstickOf(truth: Raster): Yardstick {
  const { width, height, data } = truth;
  const count = width * height;
  const subject = new Uint8Array(count);
  const edge = new Uint8Array(count);
  for (let i = 0; i < count; i++) subject[i] = data[i * 4 + 3]! > 0 ? 1 : 0;
  for (let i = 0; i < count; i++) {
    const alpha = data[i * 4 + 3]!;
    const right = (i + 1) % width === 0 ? alpha : data[i * 4 + 7]!;
    const below = i + width >= count ? alpha : data[(i + width) * 4 + 3]!;
    edge[i] =
      (alpha > 0 && alpha < 255) || Math.abs(alpha - right) > 127 || Math.abs(alpha - below) > 127 ? 1 : 0;
  }
  const toEdge = nearestPixel({ data: edge, width, height }, 1);
  const toSubject = nearestPixel({ data: subject, width, height }, 1);
  const band = Int32Array.from(
    [...toEdge.keys()].filter((i) => toEdge[i]! >= 0 && pixelDistance(i, toEdge[i]!, width) <= BAND_PX),
  );
  const far = Uint8Array.from(toSubject, (j, i) => (j >= 0 && pixelDistance(i, j, width) > 2 ? 1 : 0));
  return { truth, band, far, gradients: gradientsOf(truth) };
}

export function measure(yardstick: Yardstick, result: Raster): Measures {
  const { truth, band, far } = yardstick;
  const count = truth.width * truth.height;
  let absolute = 0;
  let squared = 0;
  let leftover = 0;
  let opaque = 0;
  let lost = 0;
  for (let i = 0, p = 3; i < count; i++, p += 4) {
    const alpha = truth.data[p]!;
    const found = result.data[p]!;
    const difference = (found - alpha) / 255;
    absolute += Math.abs(difference);
    squared += difference * difference;
    if (far[i] === 1 && found > 8) leftover++;
    if (alpha === 255) {
      opaque++;
      if (found < 247) lost++;
    }
  }
  return {
    sad: absolute / 1000,
    mse: (1000 * squared) / count,
    gradient: gradientError(yardstick, result),
    edgeColor: edgeColorError(truth, result, band),
    leftover: (leftover * 1e6) / count,
    loss: (100 * lost) / Math.max(1, opaque),
  };
}

function edgeColorError(truth: Raster, result: Raster, band: Int32Array): number {
  let sum = 0;
  for (const i of band) {
    const p = i * 4;
    for (const backing of BACKINGS) {
      const lay = ({ data }: Raster) => {
        const alpha = data[p + 3]! / 255;
        const mix = (c: number) => data[p + c]! * alpha + backing[c]! * (1 - alpha);
        return cieLabOf(mix(0), mix(1), mix(2));
      };
      sum += ciede2000(lay(truth), lay(result));
    }
  }
  return sum / Math.max(1, band.length * BACKINGS.length);
}

const SIGMA = 1.4;

/** Derivatives of alpha by Gaussian derivative filters of SIGMA (Rhemann and others, 2009). */
function gradientsOf(raster: Raster): Yardstick['gradients'] {
  const { width, height, data } = raster;
  const radius = Math.ceil(3 * SIGMA);
  const kernel: number[] = [];
  const slope: number[] = [];
  for (let k = -radius; k <= radius; k++) {
    const g = Math.exp(-(k * k) / (2 * SIGMA * SIGMA));
    kernel.push(g);
    slope.push((-k / (SIGMA * SIGMA)) * g);
  }
  const total = kernel.reduce((sum, value) => sum + value, 0);
  const normed = (values: number[]) => values.map((value) => value / total);
  const alpha = Float32Array.from({ length: width * height }, (_, i) => data[i * 4 + 3]! / 255);
  const along = (plane: Float32Array, weights: number[], step: 'x' | 'y') =>
    Float32Array.from(plane, (_, i) => {
      const x = i % width;
      const y = (i - x) / width;
      let sum = 0;
      for (let k = -radius; k <= radius; k++) {
        const sx = step === 'x' ? Math.min(width - 1, Math.max(0, x + k)) : x;
        const sy = step === 'y' ? Math.min(height - 1, Math.max(0, y + k)) : y;
        sum += plane[sy * width + sx]! * weights[k + radius]!;
      }
      return sum;
    });
  const smooth = normed(kernel);
  const derive = normed(slope);
  return {
    x: along(along(alpha, derive, 'x'), smooth, 'y'),
    y: along(along(alpha, smooth, 'x'), derive, 'y'),
  };
}

function gradientError({ gradients }: Yardstick, result: Raster): number {
  const found = gradientsOf(result);
  let sum = 0;
  for (let i = 0; i < found.x.length; i++) {
    const there = Math.hypot(gradients.x[i]!, gradients.y[i]!);
    const here = Math.hypot(found.x[i]!, found.y[i]!);
    sum += (there - here) ** 2;
  }
  return sum / 1000;
}

/** Alpha from which the truth counts as a stroke, and from which the result still does. */
const STROKE_ALPHA = 96;
const SEEN_ALPHA = 32;

/** Truth strokes smaller than this are dots. */
const STROKE_PX = 12;

/** Pieces of the result smaller than this, along a stroke, are no piece of it. */
const PIECE_PX = 4;

/**
 * Breaks in strokes: for each stroke that hangs together in the truth, the pieces it has in the result, less one; a stroke
 * that is gone counts as one break.
 */
export function brokenStrokes(truth: Raster, result: Raster): number {
  const { width, height } = truth;
  const strokes = labelRuns({ data: alphaOf(truth), width, height }, STROKE_ALPHA);
  const owner = new Int32Array(width * height).fill(-1);
  strokes.forEachRun((part, start, length) => owner.fill(part, start, start + length));
  const seen = new Uint8Array(width * height);
  const alphas = alphaOf(result);
  // A piece may leave its stroke by a pixel where it crosses a corner.
  for (let i = 0; i < seen.length; i++) if (alphas[i]! >= SEEN_ALPHA && isNear(truth, i)) seen[i] = 1;
  const pieces = labelRuns({ data: seen, width, height }, 1);
  const shared = strokes.areas.map(() => new Map<number, number>());
  pieces.forEachRun((piece, start, length) => {
    for (let i = start; i < start + length; i++) {
      const of = owner[i]!;
      if (of >= 0) shared[of]!.set(piece, (shared[of]!.get(piece) ?? 0) + 1);
    }
  });
  let broken = 0;
  strokes.areas.forEach((area, k) => {
    if (area < STROKE_PX) return;
    const count = [...shared[k]!.values()].filter((pixels) => pixels >= PIECE_PX).length;
    broken += count === 0 ? 1 : count - 1;
  });
  return broken;
}

function alphaOf({ data }: Raster): Uint8Array {
  return Uint8Array.from({ length: data.length >> 2 }, (_, i) => data[i * 4 + 3]!);
}

function isNear({ width, height, data }: Raster, i: number): boolean {
  const x = i % width;
  const y = (i - x) / width;
  for (let dy = -1; dy <= 1; dy++)
    for (let dx = -1; dx <= 1; dx++) {
      const [u, v] = [x + dx, y + dy];
      if (u >= 0 && v >= 0 && u < width && v < height && data[(v * width + u) * 4 + 3]! > 0) return true;
    }
  return false;
}
