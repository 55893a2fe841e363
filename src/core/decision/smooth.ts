import { square } from '../numeric/exact';
import { solveSymmetric } from '../numeric/solve';
import { quantile } from '../numeric/statistics';
import type { Planes } from './planes';

// What the figures of this file rest on: docs/decisions/013-one-decision-for-the-picture.md

/** A smooth backdrop: for each channel of `Planes` a polynomial of order up to 3 in the place, which runs from -1 to 1. */
export type Smooth = readonly [Float64Array, Float64Array, Float64Array];

const TERMS = 10;
export const PLANE_TERMS = 3;
export const BENT_TERMS = 6;
export const FULL = TERMS;

/** Pixels that a fit looks at, at most. */
const MOST_PIXELS = 6000;

/** Residuals beyond so many times the median count nothing; and the least median, in levels. */
const CUT_OFF_TIMES = 3;
const LEAST_SPREAD_ENCODED = 1.5;

/** A fit and how much each of its pixels counted, 0 to 1. */
export interface Fit {
  readonly smooth: Smooth;
  readonly pixels: Int32Array;
  readonly weights: Float32Array;
}

/**
 * Fits a smooth surface to pixels by iteratively reweighted least squares with Tukey's biweight (Huber, 1981), so that what
 * is not backdrop among them does not count. Null where they do not tell enough.
 */
export function fitSmooth(planes: Planes, all: Int32Array, terms: number, rounds: number): Fit | null {
  const pixels = thinned(all, MOST_PIXELS);
  const weights = new Float32Array(pixels.length).fill(1);
  const bases = basesOf(planes, pixels);
  let smooth: Smooth | null = null;
  for (let round = 0; round < rounds; round++) {
    // Few terms first, so that what is not backdrop cannot bend the surface to itself.
    smooth = solve(
      planes,
      pixels,
      weights,
      bases,
      Math.min(terms, round === 0 ? 1 : round < 3 ? PLANE_TERMS : TERMS),
    );
    if (!smooth) return null;
    reweigh(planes, pixels, bases, smooth, weights);
  }
  return smooth && { smooth, pixels, weights };
}

/** Evenly taken pixels, `most` at most. */
export function thinned(pixels: Int32Array, most: number): Int32Array {
  const every = Math.ceil(pixels.length / most);
  return every <= 1 ? pixels : pixels.filter((_, k) => k % every === 0);
}

/** How far pixels lie from a surface, in levels. */
export function residuals(planes: Planes, pixels: Int32Array, smooth: Smooth): Float32Array {
  const out = new Float32Array(pixels.length);
  fillResiduals(planes, pixels, basesOf(planes, pixels), smooth, out);
  return out;
}

function basesOf({ width, height }: Planes, pixels: Int32Array): Float64Array {
  const bases = new Float64Array(pixels.length * TERMS);
  pixels.forEach((i, k) => {
    const x = i % width;
    fillBasis(bases, k * TERMS, placeOf(x, width), placeOf((i - x) / width, height));
  });
  return bases;
}

function solve(
  { channels }: Planes,
  pixels: Int32Array,
  weights: Float32Array,
  bases: Float64Array,
  terms: number,
): Smooth | null {
  const matrix = new Float64Array(terms * terms);
  const rights = channels.map(() => new Float64Array(terms));
  for (let k = 0; k < pixels.length; k++) {
    const weight = weights[k]!;
    if (weight === 0) continue;
    const base = k * TERMS;
    for (let j = 0; j < terms; j++) {
      const share = bases[base + j]! * weight;
      for (let m = 0; m <= j; m++) matrix[j * terms + m]! += share * bases[base + m]!;
      for (let c = 0; c < 3; c++) rights[c]![j]! += share * channels[c]![pixels[k]!]!;
    }
  }
  for (let j = 0; j < terms; j++) for (let m = 0; m < j; m++) matrix[m * terms + j] = matrix[j * terms + m]!;
  const solved = solveSymmetric(matrix, terms, rights);
  if (!solved) return null;
  return solved.map((values) => {
    const all = new Float64Array(TERMS);
    all.set(values);
    return all;
  }) as unknown as Smooth;
}

function reweigh(
  planes: Planes,
  pixels: Int32Array,
  bases: Float64Array,
  smooth: Smooth,
  weights: Float32Array,
): void {
  fillResiduals(planes, pixels, bases, smooth, weights);
  const limit = CUT_OFF_TIMES * Math.max(LEAST_SPREAD_ENCODED, quantile(Array.from(weights), 0.5));
  for (let k = 0; k < weights.length; k++)
    weights[k] = weights[k]! < limit ? square(1 - square(weights[k]! / limit)) : 0;
}

function fillResiduals(
  { channels }: Planes,
  pixels: Int32Array,
  bases: Float64Array,
  smooth: Smooth,
  out: Float32Array,
): void {
  for (let k = 0; k < pixels.length; k++) {
    let off = 0;
    for (let c = 0; c < 3; c++) {
      let value = -channels[c]![pixels[k]!]!;
      for (let j = 0; j < TERMS; j++) value += smooth[c]![j]! * bases[k * TERMS + j]!;
      off += value * value;
    }
    out[k] = Math.sqrt(off);
  }
}

/** Columns between two places at which the surface is computed; what lies between is interpolated. */
const NODE_PX = 8;

/** The surface's values in every pixel, for each channel. */
export function surfaceOf(smooth: Smooth, width: number, height: number): Planes['channels'] {
  const base = new Float64Array(TERMS);
  const planes = smooth.map((own) => {
    const at = (x: number, y: number) => {
      fillBasis(base, 0, placeOf(x, width), placeOf(y, height));
      let value = 0;
      for (let j = 0; j < TERMS; j++) value += own[j]! * base[j]!;
      return value;
    };
    const out = new Float32Array(width * height);
    for (let y = 0; y < height; y++) {
      let left = at(0, y);
      for (let x = 0; x < width; x += NODE_PX) {
        const right = at(x + NODE_PX, y);
        const end = Math.min(width, x + NODE_PX);
        for (let k = x; k < end; k++) out[y * width + k] = left + ((right - left) * (k - x)) / NODE_PX;
        left = right;
      }
    }
    return out;
  });
  return planes as unknown as Planes['channels'];
}

function placeOf(at: number, length: number): number {
  return (2 * (at + 0.5)) / length - 1;
}

function fillBasis(out: Float64Array, from: number, u: number, v: number): void {
  out[from] = 1;
  out[from + 1] = u;
  out[from + 2] = v;
  out[from + 3] = u * u;
  out[from + 4] = u * v;
  out[from + 5] = v * v;
  out[from + 6] = u * u * u;
  out[from + 7] = u * u * v;
  out[from + 8] = u * v * v;
  out[from + 9] = v * v * v;
}
