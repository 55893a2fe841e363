import { square } from '../numeric/exact';
import { CUBIC_TERMS, cubicPlace, fillCubic, solvedCubics } from '../numeric/cubic';
import { quantile } from '../numeric/statistics';
import type { Planes } from './planes';

// What the figures of this file rest on: docs/decisions/013-one-decision-for-the-picture.md

/** A smooth backdrop: for each channel of `Planes` a polynomial of order up to 3 in the place, which runs from -1 to 1. */
export type Smooth = readonly [Float64Array, Float64Array, Float64Array];

export const PLANE_TERMS = 3;
export const BENT_TERMS = 6;
export const FULL = CUBIC_TERMS;

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
  const read = readingOf(planes, pixels);
  let smooth: Smooth | null = null;
  for (let round = 0; round < rounds; round++) {
    // Few terms first, so that what is not backdrop cannot bend the surface to itself.
    smooth = solve(read, weights, Math.min(terms, round === 0 ? 1 : round < 3 ? PLANE_TERMS : CUBIC_TERMS));
    if (!smooth) return null;
    reweigh(read, smooth, weights);
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
  fillResiduals(readingOf(planes, pixels), smooth, out);
  return out;
}

/** What a fit reads of its pixels: the value of each channel, and of each term at their places. */
interface Reading {
  readonly values: readonly Float32Array[];
  readonly terms: readonly Float64Array[];
}

function readingOf({ width, height, channels }: Planes, pixels: Int32Array): Reading {
  const terms = Array.from({ length: CUBIC_TERMS }, () => new Float64Array(pixels.length));
  const values = channels.map(() => new Float32Array(pixels.length));
  const basis = new Float64Array(CUBIC_TERMS);
  for (let k = 0; k < pixels.length; k++) {
    const i = pixels[k]!;
    const x = i % width;
    fillCubic(basis, cubicPlace(x, width), cubicPlace((i - x) / width, height));
    for (let j = 0; j < CUBIC_TERMS; j++) terms[j]![k] = basis[j]!;
    for (let c = 0; c < 3; c++) values[c]![k] = channels[c]![i]!;
  }
  return { values, terms };
}

function solve({ values, terms: all }: Reading, weights: Float32Array, terms: number): Smooth | null {
  const matrix = new Float64Array(terms * terms);
  const rights = values.map(() => new Float64Array(terms));
  const shares = new Float64Array(weights.length);
  for (let j = 0; j < terms; j++) {
    const own = all[j]!;
    for (let k = 0; k < shares.length; k++) shares[k] = own[k]! * weights[k]!;
    for (let m = 0; m <= j; m++) matrix[j * terms + m] = dot(shares, all[m]!);
    for (let c = 0; c < 3; c++) rights[c]![j] = dotSingle(shares, values[c]!);
  }
  return solvedCubics(matrix, terms, rights) as Smooth | null;
}

function dot(one: Float64Array, other: Float64Array): number {
  let sum = 0;
  for (let k = 0; k < one.length; k++) sum += one[k]! * other[k]!;
  return sum;
}

/** The same with single precision, so that either is compiled for one kind of plane. */
function dotSingle(one: Float64Array, other: Float32Array): number {
  let sum = 0;
  for (let k = 0; k < one.length; k++) sum += one[k]! * other[k]!;
  return sum;
}

function reweigh(read: Reading, smooth: Smooth, weights: Float32Array): void {
  fillResiduals(read, smooth, weights);
  const limit = CUT_OFF_TIMES * Math.max(LEAST_SPREAD_ENCODED, quantile(weights, 0.5));
  for (let k = 0; k < weights.length; k++)
    weights[k] = weights[k]! < limit ? square(1 - square(weights[k]! / limit)) : 0;
}

function fillResiduals({ values, terms }: Reading, smooth: Smooth, out: Float32Array): void {
  const squares = new Float64Array(out.length);
  const off = new Float64Array(out.length);
  for (let c = 0; c < 3; c++) {
    for (let k = 0; k < off.length; k++) off[k] = -values[c]![k]!;
    for (let j = 0; j < CUBIC_TERMS; j++) addTimes(off, terms[j]!, smooth[c]![j]!);
    for (let k = 0; k < off.length; k++) squares[k]! += off[k]! * off[k]!;
  }
  for (let k = 0; k < out.length; k++) out[k] = Math.sqrt(squares[k]!);
}

function addTimes(sums: Float64Array, values: Float64Array, times: number): void {
  for (let k = 0; k < sums.length; k++) sums[k]! += times * values[k]!;
}

/** Columns between two places at which the surface is computed; what lies between is interpolated. */
const NODE_PX = 8;

/** The surface's values in every pixel, for each channel. */
export function surfaceOf(smooth: Smooth, width: number, height: number): Planes['channels'] {
  const basis = new Float64Array(CUBIC_TERMS);
  const planes = smooth.map(() => new Float32Array(width * height));
  const left = [0, 0, 0];
  const read = (own: Float64Array) => {
    let value = 0;
    for (let j = 0; j < CUBIC_TERMS; j++) value += own[j]! * basis[j]!;
    return value;
  };
  for (let y = 0; y < height; y++) {
    const v = cubicPlace(y, height);
    fillCubic(basis, cubicPlace(0, width), v);
    for (let c = 0; c < 3; c++) left[c] = read(smooth[c]!);
    for (let x = 0; x < width; x += NODE_PX) {
      fillCubic(basis, cubicPlace(x + NODE_PX, width), v);
      const start = y * width + x;
      const count = Math.min(NODE_PX, width - x);
      for (let c = 0; c < 3; c++) {
        const right = read(smooth[c]!);
        const from = left[c]!;
        const out = planes[c]!;
        for (let k = 0; k < count; k++) out[start + k] = from + ((right - from) * k) / NODE_PX;
        left[c] = right;
      }
    }
  }
  return planes as unknown as Planes['channels'];
}
