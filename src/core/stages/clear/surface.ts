import { colorDistance, labOf, type Lab } from '../../color/oklab';
import { square } from '../../numeric/exact';
import { floatsBy } from '../../numeric/plane';
import { solveSymmetric } from '../../numeric/solve';
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
  /** Ten coefficients for each channel: 1, u, v, uu, uv, vv, uuu, uuv, uvv, vvv. */
  readonly channels: readonly [Float64Array, Float64Array, Float64Array];
  /** Spread of the backdrop's pixels around the surface, in units of tolerance (1.48 times the median distance). */
  readonly spread: number;
}

const TERMS = 10;

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
    const terms = round === 0 ? 3 : round < 3 ? 6 : TERMS;
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
  const u = (2 * (x + 0.5)) / surface.width - 1;
  const v = (2 * (y + 0.5)) / surface.height - 1;
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
  const basis = new Float64Array(TERMS);
  for (let i = 0; i < weights.length; i++) {
    const weight = weights[i]!;
    if (weight === 0) continue;
    fillBasis(basis, (2 * ((i % width) + 0.5)) / width - 1, (2 * (Math.floor(i / width) + 0.5)) / height - 1);
    for (let j = 0; j < terms; j++) {
      const share = basis[j]! * weight;
      for (let k = 0; k <= j; k++) matrix[j * terms + k]! += share * basis[k]!;
      for (let c = 0; c < 3; c++) rights[c]![j]! += share * data[i * 4 + c]!;
    }
  }
  for (let j = 0; j < terms; j++) for (let k = 0; k < j; k++) matrix[k * terms + j] = matrix[j * terms + k]!;
  const solved = solveSymmetric(matrix, terms, rights);
  if (!solved) return null;
  const padded = solved.map((values) => {
    const all = new Float64Array(TERMS);
    all.set(values);
    return all;
  });
  return padded as unknown as Surface['channels'];
}

function fillBasis(basis: Float64Array, u: number, v: number): void {
  basis[0] = 1;
  basis[1] = u;
  basis[2] = v;
  basis[3] = u * u;
  basis[4] = u * v;
  basis[5] = v * v;
  basis[6] = u * u * u;
  basis[7] = u * u * v;
  basis[8] = u * v * v;
  basis[9] = v * v * v;
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
