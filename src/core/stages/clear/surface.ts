import { colorDistance, labOf, type Lab } from '../../color/oklab';
import { square } from '../../numeric/exact';
import { floatsBy } from '../../numeric/plane';
import { CUBIC_TERMS, cubicPlace, fillCubic, solvedCubics } from '../../numeric/cubic';
import { halve, halvingsTo, smallCopy, type Reduced } from '../../raster/reduce';
import { median } from '../../numeric/statistics';
import type { Raster } from '../../raster/raster';
import type { Rgb } from './sample-color';

// What the figures of this file rest on: docs/decisions/003-backdrops-and-shade.md

/**
 * A backdrop that changes smoothly: for each channel a polynomial of order 3 in the place, encoded sRGB, 0 to 255.
 * Places are scaled to -1 to 1 over the original's width and height.
 */
export interface Surface {
  readonly width: number;
  readonly height: number;
  /** Coefficients for each channel; see CUBIC_TERMS. */
  readonly channels: readonly [Float64Array, Float64Array, Float64Array];
  /** Spread of the backdrop's pixels around the surface, in units of tolerance (1.48 times the median distance). */
  readonly spread: number;
}

/** Pixels that a fit looks at. */
const FIT_PIXELS = 20_000;

/** Neighbors that differ by less than this, in units of tolerance, belong to one smooth region. */
const SMOOTH_STEP_TOLERANCE = 2.2;

const ROUNDS = 6;

/**
 * Fits a surface to the smooth region around the places given (pixels of the original): grown over small steps, then
 * fitted by iteratively reweighted least squares with Tukey's biweight against what is not backdrop (Huber, 1981),
 * taking in after each round what the surface explains. Null where too little is smooth. `small` is the original's
 * small copy, for those who have it already.
 */
export function fitSurface(
  original: Raster,
  places: readonly { readonly x: number; readonly y: number }[],
  small: Reduced = smallCopy(original),
): Surface | null {
  const reduction = halvingsTo(FIT_PIXELS, original.width, original.height);
  let { raster } = small;
  for (let k = small.reduction; k < reduction; k++) raster = halve(raster);
  const { data } = raster;
  const labs = Array.from({ length: raster.width * raster.height }, (_, i) =>
    labOf(data[i * 4]!, data[i * 4 + 1]!, data[i * 4 + 2]!),
  );
  const region = growSmooth(raster, labs, places, reduction);
  let weights = Float32Array.from(region);
  let channels: Surface['channels'] | null = null;
  let spread = 0;
  for (let round = 0; round < ROUNDS; round++) {
    const terms = round === 0 ? 3 : round < 3 ? 6 : CUBIC_TERMS;
    channels = fitWeighted(raster, weights, terms) ?? channels;
    if (!channels) return null;
    const distances = distancesTo(raster, labs, channels);
    const counted = weights;
    const inside = distances.filter((_, i) => counted[i]! > 0.2);
    if (inside.length < raster.width * raster.height * 0.01) return null;
    spread = 1.4826 * median(inside);
    const limit = Math.max(2.5, 4.7 * spread);
    weights = distances.map((distance) => (distance < limit ? square(1 - square(distance / limit)) : 0));
  }
  return { width: original.width, height: original.height, channels: channels!, spread };
}

/** The surface's color at a place of the original; channels are decimals between 0 and 255. */
export function surfaceColor(surface: Surface, x: number, y: number): Rgb {
  const u = cubicPlace(x, surface.width);
  const v = cubicPlace(y, surface.height);
  const [red, green, blue] = surface.channels;
  return { red: valueAt(red, u, v), green: valueAt(green, u, v), blue: valueAt(blue, u, v) };
}

function valueAt(c: Float64Array, u: number, v: number): number {
  const value =
    c[0]! +
    c[1]! * u +
    c[2]! * v +
    c[3]! * u * u +
    c[4]! * u * v +
    c[5]! * v * v +
    c[6]! * u * u * u +
    c[7]! * u * u * v +
    c[8]! * u * v * v +
    c[9]! * v * v * v;
  return Math.min(255, Math.max(0, value));
}

/** Marks what can be reached from the places over small steps. */
function growSmooth(
  { width, height }: Raster,
  labs: readonly Lab[],
  places: readonly { x: number; y: number }[],
  reduction: number,
): Uint8Array {
  const region = new Uint8Array(width * height);
  const stack: number[] = [];
  const take = (i: number) => {
    if (region[i] === 1) return;
    region[i] = 1;
    stack.push(i);
  };
  const takeNear = (i: number, j: number) => {
    if (region[j] === 0 && colorDistance(labs[i]!, labs[j]!) <= SMOOTH_STEP_TOLERANCE) take(j);
  };
  for (const { x, y } of places)
    take(Math.min(height - 1, y >> reduction) * width + Math.min(width - 1, x >> reduction));
  while (stack.length > 0) {
    const i = stack.pop()!;
    const x = i % width;
    if (x > 0) takeNear(i, i - 1);
    if (x < width - 1) takeNear(i, i + 1);
    if (i >= width) takeNear(i, i - width);
    if (i < region.length - width) takeNear(i, i + width);
  }
  return region;
}

function fitWeighted(raster: Raster, weights: Float32Array, terms: number): Surface['channels'] | null {
  const { width, height, data } = raster;
  const matrix = new Float64Array(terms * terms);
  const rights = [0, 1, 2].map(() => new Float64Array(terms));
  const basis = new Float64Array(CUBIC_TERMS);
  for (let i = 0; i < weights.length; i++) {
    const weight = weights[i]!;
    if (weight === 0) continue;
    fillCubic(basis, cubicPlace(i % width, width), cubicPlace(Math.floor(i / width), height));
    for (let j = 0; j < terms; j++) {
      const share = basis[j]! * weight;
      for (let k = 0; k <= j; k++) matrix[j * terms + k]! += share * basis[k]!;
      for (let c = 0; c < 3; c++) rights[c]![j]! += share * data[i * 4 + c]!;
    }
  }
  return solvedCubics(matrix, terms, rights) as Surface['channels'] | null;
}

function distancesTo(
  { width, height }: Raster,
  labs: readonly Lab[],
  channels: Surface['channels'],
): Float32Array {
  const surface = { width, height, channels, spread: 0 };
  return floatsBy(width * height, (i) => {
    const { red, green, blue } = surfaceColor(surface, i % width, Math.floor(i / width));
    return colorDistance(labs[i]!, labOf(Math.round(red), Math.round(green), Math.round(blue)));
  });
}
